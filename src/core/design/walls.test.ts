import { describe, expect, test } from '@jest/globals';
import type { Wall } from '../building/wall';
import { newProject } from './commands';
import { EMPTY_DESIGN, type Design, type Opening } from './design';
import { addOpening, editOpenings, roomFor, slideOpening } from './openingCommands';
import { applyChanges, type Change } from './step';
import { addRoom, addWall, connectedWalls, copyWalls, joinWalls, meetWall, moveWalls, offsetWalls, splitWall } from './wallCommands';

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'f', variantId: 'v', widthM: 40, heightM: 25 }),
);
const wall =
  (id: string, ends: readonly [number, number, number, number], fields: Partial<Wall> = {}) =>
  (design: Design): Design =>
    applyChanges(design, [
      ...addWall(design, { id, floorId: 'f', axM: ends[0], ayM: ends[1], bxM: ends[2], byM: ends[3], materialId: 'brick' }).map((one) => ({
        ...one,
        after: { ...(one.after as Wall), ...fields },
      })),
    ] as Change[]);
const drawn = (...steps: ReadonlyArray<(design: Design) => Design>): Design => steps.reduce((design, step) => step(design), bare);
const door =
  (id: string, wallId: string, middleM: number, fields: Partial<Opening> = {}) =>
  (design: Design): Design =>
    applyChanges(design, addOpening(design, { id, wallId, kind: 'door', middleM, ...fields }));
const ends = ({ walls }: Design, id: string) => [walls[id]!.axM, walls[id]!.ayM, walls[id]!.bxM, walls[id]!.byM];
const ids = (prefix: string) => {
  let n = 0;
  return () => `${prefix}${++n}`;
};

describe('moving walls', () => {
  // A box of four walls, 10 x 6, and a wall that butts against the south wall from inside.
  const box = drawn(
    wall('n', [0, 0, 10, 0]),
    wall('e', [10, 0, 10, 6]),
    wall('s', [10, 6, 0, 6]),
    wall('w', [0, 6, 0, 0]),
    wall('butt', [4, 2, 4, 6]),
    wall('far', [20, 0, 20, 5]),
  );
  test('neighbours that share a corner go along, one that butts is made longer, others stay', () => {
    const moved = applyChanges(box, moveWalls(box, ['s'], 'whole', 1, 2, 'neighbours'));
    expect(ends(moved, 's')).toEqual([11, 8, 1, 8]);
    expect(ends(moved, 'e')).toEqual([10, 0, 11, 8]);
    expect(ends(moved, 'w')).toEqual([1, 8, 0, 0]);
    // Only in its own direction: it still stands at x = 4.
    expect(ends(moved, 'butt')).toEqual([4, 2, 4, 8]);
    expect(ends(moved, 'far')).toEqual([20, 0, 20, 5]);
    expect(ends(moved, 'n')).toEqual([0, 0, 10, 0]);
  });
  test('alone: nothing goes along', () => {
    expect(moveWalls(box, ['s'], 'whole', 0, 2, 'none').map(({ id }) => id)).toEqual(['s']);
  });
  test('an end takes the corner along, not the other end', () => {
    const moved = applyChanges(box, moveWalls(box, ['n'], 'b', 2, -1, 'neighbours'));
    expect([ends(moved, 'n'), ends(moved, 'e'), ends(moved, 'w')]).toEqual([
      [0, 0, 12, -1],
      [12, -1, 10, 6],
      [0, 6, 0, 0],
    ]);
  });
  test('openings keep their distance from the end that stays, and stay in the wall', () => {
    const withDoor = drawn(wall('n', [0, 0, 10, 0]), door('d', 'n', 3));
    const longer = applyChanges(withDoor, moveWalls(withDoor, ['n'], 'a', -5, 0, 'none'));
    // 2.55 m from A before; A has gone 5 m away.
    expect(longer.openings.d!.atM).toBeCloseTo(7.55);
    expect(applyChanges(withDoor, moveWalls(withDoor, ['n'], 'b', 5, 0, 'none')).openings.d!.atM).toBeCloseTo(2.55);
    expect(applyChanges(withDoor, moveWalls(withDoor, ['n'], 'b', -8, 0, 'none')).openings.d!.atM).toBeCloseTo(1.1);
    expect(applyChanges(withDoor, moveWalls(withDoor, ['n'], 'whole', 3, 3, 'none')).openings.d!.atM).toBeCloseTo(2.55);
  });
  test('a neighbour may not be made shorter than a wall can be', () => {
    const pair = drawn(wall('p', [0, 0, 10, 0]), wall('q', [10, 0, 10, 1]));
    expect(() => moveWalls(pair, ['p'], 'whole', 0, 1, 'neighbours')).toThrow(expect.objectContaining({ code: 'RECORD_INVALID' }));
  });
});

test('a room is four walls but for the pieces that stand already', () => {
  const design = drawn(wall('spine', [0, 5, 6, 5]));
  const room = addRoom(design, { floorId: 'f', materialId: 'plasterboard', from: { xM: 2, yM: 5 }, to: { xM: 9, yM: 8 } }, ids('r'));
  const after = applyChanges(design, room);
  expect(room.map(({ id }) => ends(after, id))).toEqual([
    [6, 5, 9, 5],
    [9, 5, 9, 8],
    [9, 8, 2, 8],
    [2, 8, 2, 5],
  ]);
  // Beside a wall, not on it: all four.
  expect(addRoom(design, { floorId: 'f', materialId: 'plasterboard', from: { xM: 2, yM: 5.1 }, to: { xM: 9, yM: 8 } }, ids('r'))).toHaveLength(4);
  // A wall that only crosses or leaves the line takes nothing of it.
  const askew = drawn(wall('askew', [2, 4.5, 6, 5]), wall('other', [4, 5, 8, 5.6]));
  expect(addRoom(askew, { floorId: 'f', materialId: 'plasterboard', from: { xM: 2, yM: 5 }, to: { xM: 9, yM: 8 } }, ids('r'))).toHaveLength(4);
  // Twice the same room: nothing is left to draw.
  expect(addRoom(after, { floorId: 'f', materialId: 'plasterboard', from: { xM: 2, yM: 5 }, to: { xM: 9, yM: 8 } }, ids('t'))).toEqual([]);
});

describe('splitting and joining', () => {
  const whole = drawn(wall('w', [0, 0, 10, 0]), door('left', 'w', 2), door('right', 'w', 7, { hinge: 'b' }));
  test('openings go with the piece they lie in; a cut in an opening is refused', () => {
    const cut = applyChanges(whole, splitWall(whole, 'w', { xM: 5, yM: 0.3 }, 'x'));
    expect([ends(cut, 'w'), ends(cut, 'x')]).toEqual([
      [0, 0, 5, 0],
      [5, 0, 10, 0],
    ]);
    expect([cut.openings.left!.wallId, cut.openings.left!.atM, cut.openings.right!.wallId, cut.openings.right!.atM]).toEqual(['w', 1.55, 'x', 1.55]);
    expect(() => splitWall(whole, 'w', { xM: 2.1, yM: 0 }, 'x')).toThrow(expect.objectContaining({ code: 'OPENING_NO_ROOM' }));
    expect(() => splitWall(whole, 'w', { xM: 0.01, yM: 0 }, 'x')).toThrow(expect.objectContaining({ code: 'RECORD_INVALID' }));
    // Joined again it is what it was.
    expect(applyChanges(cut, joinWalls(cut, 'w', 'x'))).toEqual(whole);
  });
  test('a wall drawn the other way joins with its doors at their places, hung and opening as before', () => {
    const pair = drawn(wall('w', [0, 0, 5, 0]), wall('x', [9, 0, 5, 0]), door('d', 'x', 1, { hinge: 'a', swing: 'left' }));
    const joined = applyChanges(pair, joinWalls(pair, 'w', 'x'));
    expect(ends(joined, 'w')).toEqual([0, 0, 9, 0]);
    // 0.55 to 1.45 m from x = 9 is 7.55 to 8.45 m from x = 0.
    expect(joined.openings.d).toMatchObject({ wallId: 'w', atM: 7.55, hinge: 'b', swing: 'right' });
  });
  test.each([
    ['of other materials', drawn(wall('w', [0, 0, 5, 0]), wall('x', [5, 0, 9, 0], { materialId: 'glass' }))],
    ['of other heights', drawn(wall('w', [0, 0, 5, 0]), wall('x', [5, 0, 9, 0], { topM: 2 }))],
    ['at an angle', drawn(wall('w', [0, 0, 5, 0]), wall('x', [5, 0, 9, 1]))],
    ['apart', drawn(wall('w', [0, 0, 5, 0]), wall('x', [6, 0, 9, 0]))],
    ['of other bases', drawn(wall('w', [0, 0, 5, 0]), wall('x', [5, 0, 9, 0], { baseM: 1 }))],
    ['bent at the far end alone', drawn(wall('w', [0, 0, 5, 0]), wall('x', [9, 1, 5, 0]))],
  ])('walls %s are not joined', (_what, design) => {
    expect(() => joinWalls(design, 'w', 'x')).toThrow(expect.objectContaining({ code: 'WALLS_NOT_JOINED' }));
  });
});

test('a wall is drawn beside to the right of its way, with a minus to the left', () => {
  const design = drawn(wall('w', [0, 0, 10, 0]), door('d', 'w', 3));
  const beside = (byM: number) =>
    applyChanges(
      design,
      offsetWalls(design, ['w'], byM, () => 'x'),
    );
  // From west to east the right hand is south, and y runs south.
  expect(ends(beside(2), 'x')).toEqual([0, 2, 10, 2]);
  expect(ends(beside(-2), 'x')).toEqual([0, -2, 10, -2]);
  expect(Object.keys(beside(2).openings)).toEqual(['d']);
});

test('copies take their openings along; a mirrored one turns about the middle of what is copied', () => {
  const design = drawn(wall('w', [0, 0, 10, 0]), wall('x', [10, 0, 10, 4]), door('d', 'w', 3, { hinge: 'a', swing: 'left' }));
  const copied = applyChanges(design, copyWalls(design, ['w', 'x'], { floorId: 'f', dxM: 1, dyM: 2 }, ids('c')));
  expect([ends(copied, 'c1'), ends(copied, 'c3')]).toEqual([
    [1, 2, 11, 2],
    [11, 2, 11, 6],
  ]);
  expect(copied.openings.c2).toMatchObject({ wallId: 'c1', atM: 2.55, swing: 'left' });
  const mirrored = applyChanges(design, copyWalls(design, ['w', 'x'], { floorId: 'f', dxM: 0, dyM: 0, mirror: 'x' }, ids('m')));
  expect([ends(mirrored, 'm1'), ends(mirrored, 'm3')]).toEqual([
    [10, 0, 0, 0],
    [0, 0, 0, 4],
  ]);
  expect(mirrored.openings.m2!.swing).toBe('right');
});

describe('extending and trimming', () => {
  const design = drawn(wall('w', [0, 0, 10, 0]), door('d', 'w', 8), wall('cross', [4, -2, 4, -1]), wall('along', [0, 1, 5, 1]));
  test('the nearer end goes to where the lines cross; a door beyond it goes', () => {
    const met = applyChanges(design, meetWall(design, 'w', 'cross'));
    expect(ends(met, 'w')).toEqual([4, 0, 10, 0]);
    expect(met.openings.d!.atM).toBeCloseTo(3.55);
    const other = drawn(wall('w', [0, 0, 10, 0]), door('d', 'w', 8), wall('cross', [6, -2, 6, -1]));
    const trimmed = applyChanges(other, meetWall(other, 'w', 'cross'));
    expect([ends(trimmed, 'w'), Object.keys(trimmed.openings)]).toEqual([[0, 0, 6, 0], []]);
  });
  test('parallel walls never meet', () => expect(() => meetWall(design, 'w', 'along')).toThrow(expect.objectContaining({ code: 'WALLS_PARALLEL' })));
});

test('all that hangs together: end to end, butting, and through others', () => {
  const design = drawn(wall('a', [0, 0, 10, 0]), wall('b', [5, 0, 5, 5]), wall('c', [5, 5, 9, 9]), wall('d', [20, 0, 20, 5]));
  expect(connectedWalls(design, ['a']).sort()).toEqual(['a', 'b', 'c']);
  expect(connectedWalls(design, ['d'])).toEqual(['d']);
});

describe('openings', () => {
  test.each([
    ['in the middle of a bare wall', 10, [], 5, 4.5],
    ['kept within the wall at its beginning', 10, [], 0.1, 0],
    ['and at its end', 10, [], 9.9, 9],
    ['beside another, on the nearer side', 10, [[4, 2]], 4.9, 3],
    ['and on the other side', 10, [[4, 2]], 5.1, 6],
    [
      'in the one gap that is wide enough',
      10,
      [
        [0.5, 5],
        [6.4, 3.6],
      ],
      2,
      -1,
    ],
    ['in a wall of just its width', 1, [], 0.2, 0],
  ] as const)('%s', (_what, lengthM, others, middleM, expected) => {
    const place = () =>
      roomFor(
        lengthM,
        others.map(([atM, widthM]) => ({ atM, widthM })),
        middleM,
        1,
      );
    if (expected < 0) expect(place).toThrow(expect.objectContaining({ code: 'OPENING_NO_ROOM' }));
    else expect(place()).toBeCloseTo(expected);
  });
  const design = drawn(wall('w', [0, 0, 10, 0]), door('d', 'w', 3), door('e', 'w', 7));
  test('slide along the wall, not over each other', () => {
    expect(applyChanges(design, slideOpening(design, 'd', 1)).openings.d!.atM).toBeCloseTo(3.55);
    // 3.9 m on its middle would be at 6.9 m, over the other: it stops before it.
    expect(applyChanges(design, slideOpening(design, 'd', 3.9)).openings.d!.atM).toBeCloseTo(5.65);
  });
  test('grow from the middle; wider than the wall is refused and nothing is lost', () => {
    expect(applyChanges(design, editOpenings(design, ['d'], { widthM: 1.9 })).openings.d).toMatchObject({ atM: 2.05, widthM: 1.9 });
    expect(() => editOpenings(design, ['d'], { widthM: 11 })).toThrow(expect.objectContaining({ code: 'OPENING_NO_ROOM' }));
    expect(applyChanges(design, editOpenings(design, ['d'], { hinge: 'b' })).openings.d).toMatchObject({ hinge: 'b', atM: 2.55 });
  });
  test('in a half wall they are no higher than it', () => {
    const low = drawn(wall('w', [0, 0, 10, 0], { topM: 1.1 }));
    const window = applyChanges(low, addOpening(low, { id: 'o', wallId: 'w', kind: 'window', middleM: 5 })).openings.o!;
    expect([window.sillM, window.headM]).toEqual([0.9, 1.1]);
  });
});

test('a skew wall is drawn beside at its distance everywhere, on the side that is asked for', () => {
  const design = drawn(wall('w', [1, 2, 4, 6]));
  // 3-4-5: the way goes by (0.6, 0.8), its right by (-0.8, 0.6).
  for (const [byM, expected] of [
    [2, [-0.6, 3.2, 2.4, 7.2]],
    [-0.5, [1.4, 1.7, 4.4, 5.7]],
  ] as const)
    expect(
      ends(
        applyChanges(
          design,
          offsetWalls(design, ['w'], byM, () => 'x'),
        ),
        'x',
      ).map((m) => Number(m.toFixed(6))),
    ).toEqual([...expected]);
});

test('walls drawn the same way join with their doors as they hang', () => {
  const pair = drawn(
    wall('w', [0, 0, 5, 0]),
    wall('x', [5, 0, 9, 0]),
    door('d', 'x', 1, { hinge: 'a', swing: 'left' }),
    door('e', 'w', 2, { hinge: 'b', swing: 'right' }),
  );
  const joined = applyChanges(pair, joinWalls(pair, 'w', 'x'));
  expect(joined.openings.d).toMatchObject({ wallId: 'w', atM: 5.55, hinge: 'a', swing: 'left' });
  expect(joined.openings.e).toMatchObject({ wallId: 'w', atM: 1.55, hinge: 'b', swing: 'right' });
});
