import { expect, test } from '@jest/globals';
import { segmentOf, wallLengthM } from '../building/wall';
import type { FoundWall } from '../finding/wholes';
import { newProject } from './commands';
import { EMPTY_DESIGN, isToScale, openingsOf, type Design } from './design';
import { addDrawing, guessScale } from './drawingCommands';
import { drawFittings, drawFound, fittingStands, materialByThickness, standsAlready } from './foundCommands';
import { designSchema } from '@/contract/steps';
import { applyChanges } from './step';

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'f', variantId: 'v', widthM: 40, heightM: 25 }),
);
/** A drawing of 0.05 m a pixel, turned a quarter about (10, 2): its x runs down the floor, its y to the west. */
const base = applyChanges(
  bare,
  addDrawing(bare, { id: 'd', floorId: 'f', name: 'Plan', assetId: 'a'.repeat(64), widthPx: 800, heightPx: 500, scale: null, source: null }),
);
const design: Design = { ...base, drawings: { d: { ...base.drawings.d!, xM: 10, yM: 2, mPerPxX: 0.05, mPerPxY: 0.05, turnDeg: 90 } } };
const drawing = design.drawings.d!;
const found = (fields: Partial<FoundWall> = {}): FoundWall => ({
  ax: 20,
  ay: 40,
  bx: 220,
  by: 40,
  thickPx: 5,
  confidence: 0.9,
  openings: [],
  ...fields,
});
let count = 0;
const newId = () => `n${count++}`;

test('a found wall is drawn where the drawing has it, with its door as it hangs and its window', () => {
  const wall = found({
    openings: [
      { kind: 'door', atPx: 20, widthPx: 18, hinge: 'b', swing: 'right' },
      { kind: 'window', atPx: 180, widthPx: 20, hinge: 'a', swing: 'left' },
    ],
  });
  const after = applyChanges(design, drawFound(design, drawing, [wall], newId));
  expect(designSchema.parse(after)).toEqual(after);
  const [drawn] = Object.values(after.walls);
  expect(segmentOf(drawn!)).toEqual({ a: { xM: 8, yM: 3 }, b: { xM: 8, yM: 13 } });
  expect(drawn).toMatchObject({ materialId: 'brick', baseM: 0, topM: design.floors.f!.ceilingM });
  const [door, window] = [...openingsOf(after, 'f')].sort((p, q) => p.atM - q.atM);
  expect(door).toMatchObject({ kind: 'door', hinge: 'b', swing: 'right', wallId: drawn!.id });
  expect([door!.atM + door!.widthM / 2, door!.widthM].map((m) => Number(m.toFixed(2)))).toEqual([1.45, 0.9]);
  expect(window!.atM + window!.widthM).toBeLessThanOrEqual(wallLengthM(drawn!));
  expect(window!.atM + window!.widthM).toBeCloseTo(10, 2);
});

test('two openings side by side and one as long as its wall find their room; a speck is no wall', () => {
  const side = found({
    openings: [
      { kind: 'door', atPx: 0, widthPx: 100, hinge: 'a', swing: 'left' },
      { kind: 'window', atPx: 100, widthPx: 100, hinge: 'a', swing: 'left' },
    ],
  });
  const whole = found({ ay: 80, by: 80, openings: [{ kind: 'door', atPx: 0, widthPx: 200, hinge: 'a', swing: 'left' }] });
  const after = applyChanges(design, drawFound(design, drawing, [side, whole, found({ bx: 20.5 })], newId));
  expect([Object.keys(after.walls).length, Object.keys(after.openings).length]).toEqual([2, 3]);
});

test('materials are proposed by thickness', () => {
  expect([0.05, 0.12, 0.16, 0.17, 0.25, 0.33, 0.34, 0.9].map(materialByThickness)).toEqual([
    'plasterboard',
    'plasterboard',
    'plasterboard',
    'brick-half',
    'brick',
    'brick',
    'brick-heavy',
    'brick-heavy',
  ]);
});

test('a wall that stands is not proposed again: one along it, not one across, beside or longer than it', () => {
  const after = applyChanges(design, drawFound(design, drawing, [found()], newId));
  const stands = (fields: Partial<FoundWall>) => standsAlready(after, drawing, found(fields));
  expect([
    stands({}),
    stands({ ax: 60, bx: 180, ay: 44, by: 44 }),
    stands({ ax: 220, bx: 20 }),
    stands({ ay: 46, by: 46 }),
    stands({ ax: 120, bx: 120, ay: 38, by: 42 }),
    stands({ bx: 420 }),
    standsAlready(design, drawing, found()),
  ]).toEqual([true, true, true, false, false, false, false]);
});

test('a guessed scale takes along what was drawn, and is a guess still', () => {
  const drawn = applyChanges(design, drawFound(design, drawing, [found()], newId));
  const after = applyChanges(drawn, guessScale(drawn, 'd', 40));
  expect([after.drawings.d!.mPerPxX, after.drawings.d!.mPerPxY, isToScale(after, 'f')]).toEqual([0.025, 0.025, false]);
  expect(segmentOf(Object.values(after.walls)[0]!)).toEqual({ a: { xM: 9, yM: 2.5 }, b: { xM: 9, yM: 7.5 } });
});

test('stairs and lifts that were found become rooms of that name, each with its own, and are not proposed again', () => {
  const square = (x: number, y: number) => [
    { x, y },
    { x: x + 40, y },
    { x: x + 40, y: y + 60 },
    { x, y: y + 60 },
  ];
  const fittings = [
    { kind: 'stairs', corners: square(20, 40) },
    { kind: 'stairs', corners: square(200, 40) },
    { kind: 'lift', corners: square(300, 40) },
  ] as const;
  expect(fittings.map((fitting) => fittingStands(design, drawing, fitting))).toEqual([false, false, false]);
  const after = applyChanges(design, drawFittings(design, drawing, fittings, newId));
  expect(designSchema.parse(after)).toEqual(after);
  expect(Object.values(after.zones).map(({ kind, name }) => [kind, name])).toEqual([
    ['room', 'Stairs'],
    ['room', 'Stairs 2'],
    ['room', 'Lift'],
  ]);
  // x of the drawing runs down the floor from (10, 2), y to the west, 0.05 m a pixel.
  expect(Object.values(after.zones)[0]!.polygon).toEqual([
    { xM: 8, yM: 3 },
    { xM: 8, yM: 5 },
    { xM: 5, yM: 5 },
    { xM: 5, yM: 3 },
  ]);
  expect(fittings.map((fitting) => fittingStands(after, drawing, fitting))).toEqual([true, true, true]);
});
