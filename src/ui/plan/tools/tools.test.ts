import { describe, expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { applyChanges } from '@/core/design/step';
import { IDLE, planStep, type Outcome, type Target, type ToolContext, type ToolEvent, type ToolState } from './machine';
import { angleOfDeg, boxEnd, lineEnd } from './typed';
import { PLAN_TOOLS, planToolOf, type ToolId } from './tools';

const design = cottage();
const view = { pxPerM: 20, leftM: 0, topM: 0 };
let ids = 0;
const context: ToolContext = {
  design,
  floorId: 'cottage-floor-001',
  variantId: 'cottage-variant-001',
  stage: 'design',
  view,
  selection: null,
  modelId: 'dunlin-c2',
  materialId: 'brick',
  openingKind: 'door',
  areaKind: 'room',
  areaShape: 'rectangle',
  wallShape: 'straight',
  newId: () => `new-${++ids}`,
};
const NOTHING: Target = null;
const at = (xM: number, yM: number) => ({ m: { xM, yM }, px: { x: xM * view.pxPerM, y: yM * view.pxPerM } });
const down = (x: number, y: number, fields: Partial<ToolEvent & { type: 'down' }> = {}): ToolEvent => ({
  type: 'down',
  at: at(x, y),
  button: 0,
  shift: false,
  target: NOTHING,
  ...fields,
});
const move = (x: number, y: number, shift = false): ToolEvent => ({ type: 'move', at: at(x, y), shift });
const up = (x: number, y: number, shift = false): ToolEvent => ({ type: 'up', at: at(x, y), shift });

/** Feeds events in turn; returns every outcome. */
function play(tool: ToolId, events: readonly ToolEvent[], fields: Partial<ToolContext> = {}, from: ToolState = IDLE): Outcome[] {
  let state = from;
  return events.map((event) => {
    const outcome = planStep(planToolOf(tool), state, event, { ...context, ...fields });
    state = outcome.state;
    return outcome;
  });
}
const after = (outcome: Outcome) => applyChanges(design, outcome.commit!.command(design));

describe('any tool', () => {
  test.each((Object.keys(PLAN_TOOLS) as ToolId[]).filter((tool) => tool !== 'review'))(
    '%s: a press that moves pans the plan, one that stays is a click, Escape ends what is under way',
    (tool) => {
      const [, small, far, end] = play(tool, [down(5, 5), move(5.1, 5), move(7, 6), up(7, 6)]);
      expect(small!.view).toBeUndefined();
      expect(far!.view).toEqual({ pxPerM: 20, leftM: -2, topM: -1 });
      expect(end!.state).toEqual(IDLE);
      expect([end!.commit, end!.selection]).toEqual([undefined, undefined]);
      const [pressed, cancelled] = play(tool, [down(5, 5), { type: 'cancel' }]);
      expect([pressed!.state.gesture.phase, cancelled!.cancelled, cancelled!.state]).toEqual(['pan', true, IDLE]);
      expect(play(tool, [{ type: 'cancel' }])[0]!.cancelled).toBe(false);
    },
  );
  test('other buttons only pan', () => {
    const [first, , last] = play('ap', [down(5, 5, { button: 1 }), move(5, 5), up(5, 5)]);
    expect(first!.state.gesture.phase).toBe('pan');
    expect(last!.commit).toBeUndefined();
  });
});

test('review: a press begins a box, whose release judges what lies in it; one that stays judges what lies under it', () => {
  const [pressed, , , released] = play('review', [down(5, 5), move(5.1, 5), move(7, 6), up(7, 6)]);
  expect(pressed!.state.gesture.phase).toBe('marquee');
  expect(released).toMatchObject({ state: IDLE, judged: { fromM: { xM: 5, yM: 5 }, toM: { xM: 7, yM: 6 }, reachM: 0.8 } });
  expect([released!.selection, released!.view, released!.commit]).toEqual([undefined, undefined, undefined]);
  expect(play('review', [down(5, 5), up(5, 5)])[1]!.judged).toMatchObject({ fromM: { xM: 5, yM: 5 }, toM: { xM: 5, yM: 5 } });
  expect(play('review', [down(5, 5), { type: 'cancel' }])[1]!).toMatchObject({ cancelled: true, state: IDLE });
});

describe('arcs and holes', () => {
  const clicks = (...spots: Array<readonly [number, number]>) => spots.flatMap(([x, y]) => [down(x, y), up(x, y)]);
  test('an arc: both ends, then a spot that it goes over; its walls join and end where they should', () => {
    const outcomes = play('wall', clicks([2, 30], [8, 30], [5, 27]), { wallShape: 'arc' });
    expect(outcomes.map(({ commit }) => commit !== undefined)).toEqual([false, false, false, false, false, true]);
    const walls = Object.values(after(outcomes.at(-1)!).walls).filter(({ id }) => !Object.hasOwn(design.walls, id));
    expect(walls.length).toBeGreaterThan(4);
    expect([walls[0]!.axM, walls[0]!.ayM, walls.at(-1)!.bxM, walls.at(-1)!.byM]).toEqual([2, 30, 8, 30]);
    walls.slice(1).forEach((wall, i) => expect([wall.axM, wall.ayM]).toEqual([walls[i]!.bxM, walls[i]!.byM]));
    // Half a circle of 3 m about (5, 30), above it.
    for (const { axM, ayM } of walls) expect(Math.hypot(axM - 5, ayM - 30)).toBeCloseTo(3, 2);
    expect(Math.min(...walls.map(({ ayM }) => ayM))).toBeCloseTo(27, 1);
    expect(outcomes.at(-1)!.state.line).toBeNull();
  });
  test('a second click on the first end gives the arc up', () =>
    expect(play('wall', clicks([2, 30], [2, 30]), { wallShape: 'arc' }).at(-1)!.state.line).toBeNull());
  test('a hole is cut into the area round it, which is then selected', () => {
    const outcomes = play('area', clicks([2, 2], [4, 4]), { areaKind: 'hole' });
    const { table, ids: chosen } = outcomes.at(-1)!.selection!;
    expect(table).toBe('zones');
    expect(after(outcomes.at(-1)!).zones[chosen[0]!]!.holes).toEqual([
      [
        { xM: 2, yM: 2 },
        { xM: 4, yM: 2 },
        { xM: 4, yM: 4 },
        { xM: 2, yM: 4 },
      ],
    ]);
    const outside = play('area', clicks([2, 32], [4, 34]), { areaKind: 'hole' }).at(-1)!;
    expect(() => after(outside)).toThrow(expect.objectContaining({ code: 'NO_AREA_HERE' }));
  });
});

describe('select', () => {
  const AP = 'cottage-ap-001';
  const onAp = { target: { table: 'accessPoints', id: AP } as const };
  test('a drag previews freely and commits one step on release', () => {
    const [pressed, still, dragged, released] = play('select', [down(3, 2.5, onAp), move(3.1, 2.5), move(5, 3.5), up(5, 3.5)]);
    expect(pressed!.selection).toEqual({ table: 'accessPoints', ids: [AP] });
    expect(still!.preview).toBeUndefined();
    expect(applyChanges(design, dragged!.preview!).accessPoints[AP]).toMatchObject({ xM: 5, yM: 3.5 });
    expect(released!.preview).toBeNull();
    expect(released!.commit!.title).toBe('Move C-01');
    expect(after(released!).accessPoints[AP]).toMatchObject({ xM: 5, yM: 3.5 });
  });
  test('Escape in the middle takes the preview back and commits nothing', () => {
    const [, , cancelled, released] = play('select', [down(3, 2.5, onAp), move(5, 3.5), { type: 'cancel' }, up(5, 3.5)]);
    expect([cancelled!.preview, released!.commit]).toEqual([null, undefined]);
  });
  test('a press on one of several selected drags them all; Shift adds and takes away', () => {
    const two = { table: 'accessPoints', ids: [AP, 'cottage-ap-002'] } as const;
    const [, , released] = play('select', [down(3, 2.5, onAp), move(4, 2.5), up(4, 2.5)], { selection: two });
    expect(released!.commit!.title).toBe('Move 2 access points');
    expect(after(released!).accessPoints['cottage-ap-002']!.xM).toBe(11);
    expect(play('select', [down(3, 2.5, { ...onAp, shift: true })], { selection: two })[0]!.selection).toEqual({
      table: 'accessPoints',
      ids: ['cottage-ap-002'],
    });
    const one = { table: 'accessPoints', ids: ['cottage-ap-002'] } as const;
    const [added] = play('select', [down(3, 2.5, { ...onAp, shift: true })], { selection: one });
    expect(added!.selection).toEqual({ table: 'accessPoints', ids: ['cottage-ap-002', AP] });
    expect(added!.state.gesture.phase).toBe('idle');
  });
  test('outside Design access points are picked but not moved', () => {
    const [pressed, , released] = play('select', [down(3, 2.5, onAp), move(6, 2.5), up(6, 2.5)], { stage: 'survey' });
    expect(pressed!.selection).toEqual({ table: 'accessPoints', ids: [AP] });
    expect(released!.commit).toBeUndefined();
  });
  test('a wall is moved whole, or by the end that was pressed, and never onto its other end', () => {
    const id = 'cottage-wall-005';
    const wall = design.walls[id]!;
    const onWall = { target: { table: 'walls', id: id } as const };
    const building = { stage: 'building' } as const;
    const middle = play('select', [down(7, 5, onWall), move(7, 6), up(7, 6)], building);
    expect(middle[0]!.selection).toEqual({ table: 'walls', ids: [id] });
    expect(after(middle[2]!).walls[id]).toMatchObject({ ayM: 6, byM: 6 });
    const end = play('select', [down(wall.bxM - 0.2, wall.byM, onWall), move(wall.bxM - 2.2, wall.byM), up(wall.bxM - 2.2, wall.byM)], building);
    expect(after(end[2]!).walls[id]).toMatchObject({ axM: wall.axM, bxM: wall.bxM - 2 });
    const closed = play('select', [down(wall.bxM, wall.byM, onWall), move(wall.axM, wall.ayM)], building)[1]!;
    expect(closed.preview).toBeUndefined();
    expect(play('select', [down(7, 5, onWall)])[0]!.state.gesture.phase).toBe('pan');
  });
  test('a shared corner can be moved a little: its neighbours go along and do not hold it', () => {
    // The north wall meets the west wall at the plan's corner.
    const north = 'cottage-wall-001';
    const dragged = play('select', [down(14, 0, { target: { table: 'walls', id: north } }), move(14, 0.3), up(14, 0.3)], { stage: 'building' })[2]!;
    const moved = after(dragged);
    expect(moved.walls[north]!.byM).toBeCloseTo(0.3, 9);
    expect(moved.walls['cottage-wall-002']!.ayM).toBeCloseTo(0.3, 9);
  });
  test('several walls are moved as one; an opening slides along its wall only', () => {
    const ids = ['cottage-wall-006', 'cottage-wall-007'];
    const building = { stage: 'building', selection: { table: 'walls', ids } } as const;
    const both = play('select', [down(6, 2, { target: { table: 'walls', id: ids[0]! }, alt: true }), move(6, 2.5), up(6, 2.5)], building)[2]!;
    expect(both.commit!.command(design).map(({ id }) => id)).toEqual(ids);
    const opening = Object.values(design.openings).find((one) => one.wallId === 'cottage-wall-005')!;
    const pressed = down(opening.atM + 0.4, 5, { target: { table: 'openings', id: opening.id } });
    const slid = play('select', [pressed, move(opening.atM + 1.4, 7), up(opening.atM + 1.4, 7)], { stage: 'building' });
    expect(slid[0]!.selection).toEqual({ table: 'openings', ids: [opening.id] });
    expect(after(slid[2]!).openings[opening.id]!.atM).toBeCloseTo(opening.atM + 1);
  });
  test('in Building the box picks walls that lie in it', () => {
    const [, , picked] = play('select', [down(14.5, 9.5, { shift: true }), move(8.5, 4.5), up(8.5, 4.5)], { stage: 'building' });
    expect(picked!.selection!.table).toBe('walls');
    expect(picked!.selection!.ids).toContain('cottage-wall-007');
    expect(picked!.selection!.ids).not.toContain('cottage-wall-005');
  });
  test('Shift on the bare plan draws a box that picks what is inside; a click pins', () => {
    const [, , picked] = play('select', [down(12, 4, { shift: true }), move(1, 1), up(1, 1)]);
    expect(picked!.selection).toEqual({ table: 'accessPoints', ids: ['cottage-ap-001', 'cottage-ap-002'] });
    expect(play('select', [down(0.1, 8, { shift: true }), up(0.2, 8.1)])[1]!.selection).toBeNull();
    expect(play('select', [down(4, 4), up(4, 4)])[1]).toMatchObject({ pin: { xM: 4, yM: 4 } });
    expect(play('select', [down(4, 4), up(4, 4)])[1]!.selection).toBeUndefined();
    expect(play('select', [down(4, 4), up(4, 4)], { stage: 'building' })[1]!.selection).toBeNull();
  });
});

describe('drawing', () => {
  test('an access point hangs where it was clicked, to the centimetre, and is selected', () => {
    const [, hung] = play('ap', [down(4.567, 1.234), up(4.567, 1.234)]);
    const id = hung!.selection!.ids[0]!;
    expect(after(hung!).accessPoints[id]).toMatchObject({ xM: 4.57, yM: 1.23, modelId: 'dunlin-c2' });
  });
  test('walls go on from click to click, keep to the plan’s axes, and end where they arrive at another', () => {
    const outcomes = play('wall', [down(3, 7), up(3, 7), move(4.5, 7.3), down(4.5, 7.3), up(4.5, 7.3), down(5.9, 5.1), up(5.9, 5.1)]);
    expect(outcomes[2]!.state.line).toMatchObject({ fromM: { xM: 3, yM: 7 }, toM: { xM: 4.5, yM: 7 }, done: false });
    expect(outcomes[2]!.state.snapped!.mark).toBe('angle');
    const [first, second] = [outcomes[4]!, outcomes[6]!].map((one) => Object.values(after(one).walls).find((wall) => wall.id.startsWith('new-'))!);
    expect(first).toMatchObject({ axM: 3, ayM: 7, bxM: 4.5, byM: 7, materialId: 'brick' });
    expect(outcomes[4]!.state.line).toMatchObject({ fromM: { xM: 4.5, yM: 7 } });
    // The end at (6, 5) belongs to the wall between net loft and kitchen.
    expect(second).toMatchObject({ axM: 4.5, ayM: 7, bxM: 6, byM: 5 });
    expect(outcomes[6]!.state.line).toBeNull();
  });
  test('with Alt nothing is drawn to anything; a second click on the spot ends the chain', () => {
    const alt = (event: ToolEvent): ToolEvent => ({ ...event, alt: true }) as ToolEvent;
    const outcomes = play('wall', [down(3, 7), alt(up(3.013, 7)), down(5.9, 5.1), alt(up(5.9, 5.1)), down(5.95, 5.1), alt(up(5.95, 5.1))]);
    expect(Object.values(after(outcomes[3]!).walls).at(-1)).toMatchObject({ axM: 3.013, ayM: 7, bxM: 5.9, byM: 5.1 });
    expect([outcomes[5]!.commit, outcomes[5]!.state.line]).toEqual([undefined, null]);
  });
  test('a typed end is taken as it is', () => {
    const outcomes = play('wall', [down(3, 7), up(3, 7), { type: 'put', m: { xM: 5.9, yM: 5.1 } }]);
    expect(Object.values(after(outcomes[2]!).walls).at(-1)).toMatchObject({ axM: 3, ayM: 7, bxM: 5.9, byM: 5.1 });
  });
  test('two clicks make a room; what stands already is not drawn twice', () => {
    const outcomes = play('room', [down(9, 5), up(9, 5), move(11, 7), down(12, 8), up(12, 8)]);
    expect(outcomes[2]!.state.line).toMatchObject({ shape: 'box', toM: { xM: 11, yM: 7 } });
    // North lies on the spine, west on the parlour's wall.
    const drawn = outcomes[4]!.commit!.command(design).map(({ after: wall }) => wall as { axM: number; ayM: number; bxM: number; byM: number });
    expect(drawn.map(({ axM, ayM, bxM, byM }) => [axM, ayM, bxM, byM])).toEqual([
      [12, 5, 12, 8],
      [12, 8, 9, 8],
    ]);
  });
  test('an opening goes into the nearest wall within reach and shows itself before', () => {
    const [shown] = play('opening', [move(5, 5.4)]);
    expect(shown!.preview).toMatchObject([{ table: 'openings', after: { kind: 'door', wallId: 'cottage-wall-005', atM: 4.55 } }]);
    expect(play('opening', [move(5, 6.5)])[0]!.preview).toBeNull();
    const [, put] = play('opening', [down(5, 5.4), up(5, 5.4)], { openingKind: 'window' });
    expect(put!.preview).toBeNull();
    const [id] = put!.selection!.ids;
    expect(after(put!).openings[id!]).toMatchObject({ kind: 'window', wallId: 'cottage-wall-005', atM: 4.4, widthM: 1.2 });
    const [, missed] = play('opening', [down(5, 6.5), up(5, 6.5)]);
    expect(() => after(missed!)).toThrow(expect.objectContaining({ code: 'NO_WALL_HERE' }));
  });
  test('with Shift a wall keeps to steps of 45 degrees', () => {
    const [, , aimed] = play('wall', [down(3, 7), up(3, 7), move(5, 7.3, true)]);
    expect(aimed!.state.line!.toM.yM).toBeCloseTo(7, 9);
    expect(aimed!.state.line!.toM.xM).toBeCloseTo(3 + Math.hypot(2, 0.3), 9);
  });
  test('lengths are measured along a chain of clicks; a second click on the last spot ends it, one on the first closes it, and the next begins anew', () => {
    const clicks = (...spots: ReadonlyArray<readonly [number, number]>) => spots.flatMap(([x, y]) => [down(x, y), up(x, y)]);
    const last = (...spots: ReadonlyArray<readonly [number, number]>) => play('length', [...clicks(...spots), move(9, 9)]).at(-1)!.state.line!;
    expect(last([1, 1])).toMatchObject({ corners: [{ xM: 1, yM: 1 }], toM: { xM: 9, yM: 9 }, done: false, dashed: true });
    expect(last([1, 1], [4, 5])).toMatchObject({ corners: [{ xM: 1 }, { xM: 4 }], fromM: { xM: 4, yM: 5 }, toM: { xM: 9 }, done: false });
    // Ended it stays to be read, wherever the pointer goes.
    expect(last([1, 1], [4, 5], [4, 5])).toMatchObject({ corners: [{ xM: 1 }], toM: { xM: 4, yM: 5 }, done: true });
    expect(last([1, 1], [4, 1], [4, 5], [1, 1])).toMatchObject({ corners: [{ xM: 1 }, { xM: 4 }, { yM: 5 }], toM: { xM: 1, yM: 1 }, done: true });
    expect(last([1, 1], [4, 5], [4, 5], [2, 2])).toMatchObject({ corners: [{ xM: 2, yM: 2 }], done: false });
    // Two clicks on one spot measure nothing.
    expect(play('length', clicks([1, 1], [1, 1])).at(-1)!.state.line).toBeNull();
  });
  test('a walk goes where it was clicked', () => expect(play('walk', [down(4.001, 1), up(4.001, 1)])[1]!.walkTo).toEqual({ xM: 4, yM: 1 }));
});

describe('typed ends', () => {
  const from = { xM: 3, yM: 4 };
  test('a length in the pointer’s direction, or at an angle counted up from the right', () => {
    expect(lineEnd({ fromM: from, toM: { xM: 6, yM: 8 } }, 10, null)).toEqual({ xM: 9, yM: 12 });
    const up = lineEnd({ fromM: from, toM: { xM: 6, yM: 8 } }, 2, 90);
    expect([up.xM, up.yM]).toEqual([expect.closeTo(3, 9), expect.closeTo(2, 9)]);
    expect(lineEnd({ fromM: from, toM: from }, 2, null)).toEqual({ xM: 5, yM: 4 });
    expect(angleOfDeg({ fromM: from, toM: { xM: 3, yM: 2 } })).toBeCloseTo(90, 9);
  });
  test('a box toward the pointer', () => {
    expect(boxEnd({ fromM: from, toM: { xM: 6, yM: 8 } }, 5, 2)).toEqual({ xM: 8, yM: 6 });
    expect(boxEnd({ fromM: from, toM: { xM: 1, yM: 1 } }, 5, 2)).toEqual({ xM: -2, yM: 2 });
  });
});
