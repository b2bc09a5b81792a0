import { describe, expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { toFloor } from '../building/drawing';
import { addArea } from './areaCommands';
import { addAccessPoint, newProject, remove } from './commands';
import { EMPTY_DESIGN, accessPointsAround, floorsOf, onFloor, openingsOf, variantsOf, type Design } from './design';
import { addDrawing } from './drawingCommands';
import { addFloor, duplicateFloor, floorBelow, registerFloor, registration, restackFloor } from './floorCommands';
import { addOpening } from './openingCommands';
import { readRecord } from './registry';
import { applyChanges, invert } from './step';
import { addWall } from './wallCommands';

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'g', variantId: 'v', widthM: 40, heightM: 25 }),
);
const p = (xM: number, yM: number) => ({ xM, yM });
const names = (design: Design) => floorsOf(design).map(({ id, elevationM }) => [id, elevationM]);
const counted = (prefix: string) => {
  let n = 0;
  return () => `${prefix}${++n}`;
};

describe('the stack of floors', () => {
  // 3 m clear and 0.2 m of concrete.
  const two = applyChanges(bare, addFloor(bare, 'one'));
  test('a floor is added on top, a slab above the ceiling', () => {
    expect(names(two)).toEqual([
      ['g', 0],
      ['one', 3.2],
    ]);
    expect([two.floors.one!.registeredWorstM, floorBelow(two, 'one')!.id, floorBelow(two, 'g')]).toEqual([null, 'g', null]);
  });
  test('storeys change places and keep their heights', () => {
    const tall = { ...two, floors: { ...two.floors, one: { ...two.floors.one!, ceilingM: 5 } } };
    const three = applyChanges(tall, addFloor(tall, 'two'));
    expect(names(three).at(-1)).toEqual(['two', 8.4]);
    const up = applyChanges(three, restackFloor(three, 'g', 'up'));
    expect(names(up)).toEqual([
      ['one', 0],
      ['g', 5.2],
      ['two', 8.4],
    ]);
    // A measured storey, higher than ceiling and slab, goes along as it is.
    const hall = { ...three, floors: { ...three.floors, two: { ...three.floors.two!, elevationM: 10 } } };
    expect(names(applyChanges(hall, restackFloor(hall, 'g', 'up')))).toEqual([
      ['one', 0],
      ['g', 6.8],
      ['two', 10],
    ]);
    expect(restackFloor(three, 'g', 'down')).toEqual([]);
    expect(restackFloor(three, 'two', 'up')).toEqual([]);
    expect(applyChanges(up, restackFloor(up, 'g', 'down'))).toEqual(three);
  });
  test('a copy of a floor has all of it under new ids, and goes as a whole', () => {
    const design = museum();
    const [quay, gallery] = floorsOf(design);
    const changes = duplicateFloor(design, quay!.id, { walls: true, zones: true, accessPoints: true }, counted('copy-'));
    const after = applyChanges(design, changes);
    expect(after.floors['copy-1']).toMatchObject({ name: 'Quay level, copy', elevationM: 12.3, ceilingM: 4.2, registeredWorstM: 0 });
    // A copy of what was never laid over anything lies over nothing for certain.
    const loose = { ...design, floors: { ...design.floors, [gallery!.id]: { ...gallery!, registeredWorstM: null } } };
    const copied = applyChanges(loose, duplicateFloor(loose, gallery!.id, { walls: false, zones: false, accessPoints: false }, counted('c-')));
    expect(copied.floors['c-1']!.registeredWorstM).toBeNull();
    for (const table of ['walls', 'zones', 'accessPoints'] as const)
      expect(onFloor(after, table, 'copy-1')).toHaveLength(onFloor(design, table, quay!.id).length);
    expect(openingsOf(after, 'copy-1')).toHaveLength(openingsOf(design, quay!.id).length);
    const apNames = onFloor(after, 'accessPoints', 'copy-1').map(({ name, variantId }) => `${variantId} ${name}`);
    expect(new Set(apNames).size).toBe(apNames.length);
    expect(applyChanges(after, remove(after, 'floors', ['copy-1']))).toEqual(design);
    expect(applyChanges(after, invert(changes))).toEqual(design);
    const empty = applyChanges(design, duplicateFloor(design, quay!.id, { walls: false, zones: false, accessPoints: false }, counted('copy-')));
    expect([onFloor(empty, 'walls', 'copy-1').length, openingsOf(empty, 'copy-1').length]).toEqual([0, 0]);
  });
  test('access points of the building come floor by floor, the own floor first', () => {
    const design = museum();
    const gallery = floorsOf(design)[1]!;
    const all = accessPointsAround(design, gallery.id, variantsOf(design).at(-1)!.id).map(({ name }) => name);
    expect(all).toHaveLength(24);
    expect([all[0], all[7], all[17]]).toEqual(['G-01', 'Q-01', 'U-01']);
  });
});

describe('laying a floor over another', () => {
  let upper = applyChanges(bare, addFloor(bare, 'one'));
  upper = applyChanges(upper, addWall(upper, { id: 'w', floorId: 'one', axM: 10, ayM: 0, bxM: 10, byM: 4, materialId: 'brick' }));
  upper = applyChanges(upper, addOpening(upper, { id: 'o', wallId: 'w', kind: 'door', middleM: 2 }));
  upper = applyChanges(upper, addArea(upper, { id: 'z', floorId: 'one', kind: 'room', polygon: [p(0, 0), p(10, 0), p(10, 4)] }));
  upper = applyChanges(upper, addAccessPoint(upper, { id: 'a', floorId: 'one', variantId: 'v', modelId: 'wren-w2', xM: 9, yM: 1, azimuthDeg: 350 }));
  upper = applyChanges(
    upper,
    addDrawing(upper, {
      id: 'd',
      floorId: 'one',
      name: 'Plan',
      assetId: 'b'.repeat(64),
      widthPx: 400,
      heightPx: 200,
      scale: { mPerPx: 0.1, from: 'file' },
      source: null,
    }),
  );
  test('everything on it moves as one; what is left between the points is told', () => {
    // A quarter turn clockwise and a shift: (x, y) -> (20 - y, 5 + x).
    const pairs = [
      { from: p(0, 0), to: p(20, 5) },
      { from: p(10, 0), to: p(20, 15) },
    ];
    const laid = applyChanges(upper, registerFloor(upper, 'one', pairs, false));
    expect(laid.walls.w).toMatchObject({ axM: 20, ayM: 15, bxM: 16, byM: 15 });
    expect(laid.openings.o).toEqual(upper.openings.o);
    expect(laid.zones.z!.polygon[1]).toEqual(p(20, 15));
    expect(laid.accessPoints.a).toMatchObject({ xM: 19, yM: 14, azimuthDeg: 80 });
    const corner = toFloor(laid.drawings.d!, { x: 100, y: 0 });
    expect([corner.xM, corner.yM]).toEqual([expect.closeTo(20, 6), expect.closeTo(15, 6)]);
    expect(laid.floors.one!.registeredWorstM).toBe(0);
    expect(laid.floors.g).toEqual(upper.floors.g);
  });
  test('with a scale lengths, doors and drawings grow along; without it the rest is told in metres', () => {
    const pairs = [
      { from: p(0, 0), to: p(0, 0) },
      { from: p(10, 0), to: p(11, 0) },
    ];
    const laid = applyChanges(upper, registerFloor(upper, 'one', pairs, true));
    expect(laid.walls.w).toMatchObject({ axM: 11, byM: 4.4 });
    expect(laid.openings.o).toMatchObject({ atM: 1.705, widthM: 0.99 });
    expect(laid.drawings.d!.mPerPxX).toBeCloseTo(0.11, 9);
    expect(applyChanges(upper, registerFloor(upper, 'one', pairs, false)).floors.one!.registeredWorstM).toBe(0.5);
    // Of three pairs one is off: the worst is told, and it is the middle one.
    const three = [...pairs, { from: p(5, 0), to: p(5.5, 0.9) }];
    const { residualsM } = registration(three, true);
    expect(residualsM[2]).toBeGreaterThan(residualsM[0]! + 0.2);
    expect(applyChanges(upper, registerFloor(upper, 'one', three, true)).floors.one!.registeredWorstM).toBeCloseTo(residualsM[2]!, 3);
  });
  test('one pair is too few', () =>
    expect(() => registerFloor(upper, 'one', [{ from: p(0, 0), to: p(1, 1) }], false)).toThrow(expect.objectContaining({ code: 'PAIRS_TOO_FEW' })));
});

test('floors of before a slant counted do not count it', () => {
  const { slant, ...v2 } = floorsOf(museum())[0]!;
  expect(slant).toBe(false);
  expect(readRecord('floors', 2, v2)).toEqual({ ...v2, slant: false });
  expect(() => readRecord('floors', 3, v2)).toThrow(expect.objectContaining({ code: 'RECORD_UNREADABLE' }));
});
