import { describe, expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { applyChanges } from '@/core/design/step';
import { IDLE, planStep, type Outcome, type Target, type ToolContext, type ToolEvent, type ToolState } from './machine';
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
  newId: () => `new-${++ids}`,
};
const NOTHING: Target = { apId: null, wallId: null };
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
  test.each(Object.keys(PLAN_TOOLS) as ToolId[])(
    '%s: a press that moves pans the plan, one that stays is a click, Escape ends what is under way',
    (tool) => {
      const [, small, far, end] = play(tool, [down(5, 5), move(5.1, 5), move(7, 6), up(7, 6)]);
      expect(small!.view).toBeUndefined();
      expect(far!.view).toEqual({ pxPerM: 20, leftM: -2, topM: -1 });
      expect(end).toEqual({ state: { gesture: { phase: 'idle' }, line: null } });
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

describe('select', () => {
  const AP = 'cottage-ap-001';
  const onAp = { target: { apId: AP, wallId: null } };
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
    const onWall = { target: { apId: null, wallId: id } };
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
  test('walls go on from click to click, and snap to ends of others', () => {
    const outcomes = play('wall', [down(3, 7), up(3, 7), move(5, 7.3), down(5.9, 5.1), up(5.9, 5.1), down(8, 7), up(8, 7)]);
    expect(outcomes[2]!.state.line).toEqual({ fromM: { xM: 3, yM: 7 }, toM: { xM: 5, yM: 7.3 }, done: false, dashed: false });
    const walls = [outcomes[4]!, outcomes[6]!].map((one) => Object.values(after(one).walls).find((wall) => wall.id.startsWith('new-'))!);
    // The end at (6, 5) belongs to the wall between net loft and kitchen.
    expect(walls[0]).toMatchObject({ axM: 3, ayM: 7, bxM: 6, byM: 5, materialId: 'brick' });
    expect(walls[1]).toMatchObject({ axM: 6, ayM: 5, bxM: 8, byM: 7 });
  });
  test('with Shift a wall keeps to steps of 45 degrees', () => {
    const [, , aimed] = play('wall', [down(3, 7), up(3, 7), move(5, 7.3, true)]);
    expect(aimed!.state.line!.toM.yM).toBeCloseTo(7, 9);
    expect(aimed!.state.line!.toM.xM).toBeCloseTo(3 + Math.hypot(2, 0.3), 9);
  });
  test('a length is measured by two clicks, stays to be read, and the third begins anew', () => {
    const [, first, , , second, moved, , third] = play('length', [
      down(1, 1),
      up(1, 1),
      move(2, 1),
      down(4, 5),
      up(4, 5),
      move(9, 9),
      down(2, 2),
      up(2, 2),
    ]);
    expect(first!.state.line).toMatchObject({ done: false, dashed: true });
    expect(second!.state.line).toMatchObject({ fromM: { xM: 1, yM: 1 }, toM: { xM: 4, yM: 5 }, done: true });
    expect(moved!.state.line).toBe(second!.state.line);
    expect(third!.state.line).toMatchObject({ fromM: { xM: 2, yM: 2 }, done: false });
  });
  test('a walk goes where it was clicked', () => expect(play('walk', [down(4.001, 1), up(4.001, 1)])[1]!.walkTo).toEqual({ xM: 4, yM: 1 }));
});
