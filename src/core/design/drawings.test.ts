import { expect, test } from '@jest/globals';
import { errorOf, toDrawing, toFloor } from '../building/drawing';
import { addAccessPoint, newProject } from './commands';
import { EMPTY_DESIGN, isToScale, onFloor, type Design } from './design';
import { addArea } from './areaCommands';
import { addDrawing, drawingMeant, edgeOf, layDrawing, measureDrawing, referenceAt, worstError } from './drawingCommands';
import { addOpening } from './openingCommands';
import { KINDS } from './registry';
import { applyChanges } from './step';
import { addWall } from './wallCommands';

const bare = applyChanges(
  EMPTY_DESIGN,
  newProject({ name: 'Bare', units: 'metric', domain: 'EU', floorId: 'f', variantId: 'v', widthM: 40, heightM: 25 }),
);
const spotOf = (xM: number, yM: number) => ({ xM, yM });
const asset = 'a'.repeat(64);
const brought = (design: Design, id: string, mPerPx: number | null = null) =>
  applyChanges(
    design,
    addDrawing(design, {
      id,
      floorId: 'f',
      name: 'Plan',
      assetId: asset,
      widthPx: 800,
      heightPx: 500,
      source: null,
      scale: mPerPx === null ? null : { mPerPx, from: 'file' },
    }),
  );
const measured = (design: Design, id: string, a: readonly [number, number], b: readonly [number, number], lengthM: number, along = true) => {
  const reference = referenceAt(design.drawings.d!, id, { xM: a[0], yM: a[1] }, { xM: b[0], yM: b[1] }, lengthM);
  return applyChanges(design, measureDrawing(design, 'd', [{ id, reference }], { along }));
};

test('on a bare floor a drawing brings its outline, as wide as the grid was; measured, it has its true size', () => {
  const design = brought(bare, 'd');
  expect(design.floors.f!.outline).toEqual([
    { xM: 0, yM: 0 },
    { xM: 40, yM: 0 },
    { xM: 40, yM: 25 },
    { xM: 0, yM: 25 },
  ]);
  expect([isToScale(bare, 'f'), isToScale(design, 'f')]).toEqual([true, false]);
  const known = measured(design, 'r', [0, 0], [20, 0], 8);
  expect(known.floors.f!.outline[2]).toEqual({ xM: 16, yM: 10 });
  expect([
    isToScale(known, 'f'),
    worstError(
      known.drawings.d!,
      onFloor(known, 'drawings', 'f').flatMap(() => Object.values(known.references)),
    ),
  ]).toEqual([true, 0]);
});

test('a line is meant for the drawing that is selected, else for the topmost under its middle, else for the topmost', () => {
  const design = brought(brought(brought(bare, 'd'), 'e', 0.1), 'g', 0.01);
  const all = onFloor(design, 'drawings', 'f');
  const over = (xM: number, yM: number, selected: string[] = []) => drawingMeant(all, selected, { a: spotOf(xM - 1, yM), b: spotOf(xM + 1, yM) })?.id;
  expect([over(4, 2), over(60, 30), over(200, 2), over(60, 30, ['d']), drawingMeant([], [], { a: spotOf(0, 0), b: spotOf(1, 1) })]).toEqual([
    'g',
    'e',
    'g',
    'd',
    undefined,
  ]);
});

test('a file that says its scale is taken at its word; a second drawing leaves the outline alone', () => {
  const known = brought(bare, 'd', 0.02);
  expect([isToScale(known, 'f'), known.floors.f!.outline[2]]).toEqual([true, { xM: 16, yM: 10 }]);
  expect(brought(known, 'e').floors.f!.outline[2]).toEqual({ xM: 16, yM: 10 });
});

test('what was traced goes along with the drawing, or keeps its metres', () => {
  let design = brought(bare, 'd');
  design = applyChanges(design, addWall(design, { id: 'w', floorId: 'f', axM: 10, ayM: 5, bxM: 20, byM: 5, materialId: 'brick' }));
  design = applyChanges(design, addOpening(design, { id: 'o', wallId: 'w', kind: 'door', middleM: 5 }));
  design = applyChanges(design, addAccessPoint(design, { id: 'a', floorId: 'f', variantId: 'v', modelId: 'dunlin-c2', xM: 30, yM: 20 }));
  design = applyChanges(
    design,
    addArea(design, { id: 'h', floorId: 'f', kind: 'slab opening', polygon: [spotOf(4, 4), spotOf(8, 4), spotOf(8, 8)] }),
  );
  design = brought(design, 'other');
  design = applyChanges(
    design,
    measureDrawing(design, 'other', [{ id: 'q', reference: referenceAt(design.drawings.other!, 'q', spotOf(0, 0), spotOf(40, 0), 40) }], {
      along: false,
    }),
  );
  const along = measured(design, 'r', [0, 0], [20, 0], 10);
  // What else lies on the floor goes along as well: the slab's openings, and another drawing with its known lengths.
  expect(along.slabOpenings.h!.polygon[1]).toEqual(spotOf(4, 2));
  expect([along.drawings.other!.mPerPxX, along.references.q!.lengthM]).toEqual([0.025, 20]);
  expect(along.walls.w).toMatchObject({ axM: 5, ayM: 2.5, bxM: 10, byM: 2.5 });
  expect(along.openings.o).toMatchObject({ atM: 2.275, widthM: 0.45 });
  expect(along.accessPoints.a).toMatchObject({ xM: 15, yM: 10 });
  const alone = measured(design, 'r', [0, 0], [20, 0], 10, false);
  expect([alone.walls.w, alone.drawings.d!.mPerPxX]).toEqual([design.walls.w, 0.025]);
});

test('a cropped drawing shows what is left; without its reference the scale stays', () => {
  const design = measured(brought(bare, 'd'), 'r', [0, 0], [20, 0], 10);
  const cropped = { ...design.drawings.d!, crop: { leftPx: 80, topPx: 0, rightPx: 0, bottomPx: 100 } };
  expect(edgeOf(cropped)).toEqual([
    { xM: 2, yM: 0 },
    { xM: 20, yM: 0 },
    { xM: 20, yM: 10 },
    { xM: 2, yM: 10 },
  ]);
  const without = applyChanges(design, measureDrawing(design, 'd', [{ id: 'r', reference: null }], { along: true }));
  expect([without.drawings.d!.mPerPxX, Object.keys(without.references)]).toEqual([0.025, []]);
});

test('a reference whose ends lie on one spot is refused', () =>
  expect(() => measured(brought(bare, 'd'), 'r', [1, 1], [1.05, 1], 3)).toThrow(expect.objectContaining({ code: 'REFERENCE_TOO_SHORT' })));

test('a newer drawing is laid over the walls by two pairs: it moves, turns and grows, the walls stay', () => {
  const design = measured(brought(bare, 'd'), 'r', [0, 0], [20, 0], 10);
  // What lies at (2, 2) and (12, 2) belongs to (5, 5) and (5, 25): a quarter turn clockwise, twice the size.
  const laid = applyChanges(
    design,
    layDrawing(design, 'd', [
      { from: { xM: 2, yM: 2 }, to: { xM: 5, yM: 5 } },
      { from: { xM: 12, yM: 2 }, to: { xM: 5, yM: 25 } },
    ]),
  );
  const spot = toFloor(laid.drawings.d!, toDrawing(design.drawings.d!, { xM: 12, yM: 2 }));
  expect([spot.xM, spot.yM]).toEqual([expect.closeTo(5, 3), expect.closeTo(25, 3)]);
  expect(laid.drawings.d).toMatchObject({ turnDeg: expect.closeTo(90, 9), mPerPxX: 0.05, scaleFrom: 'walls' });
  expect(laid.references.r!.lengthM).toBe(20);
  expect(errorOf(laid.references.r!, laid.drawings.d!).errorM).toBeCloseTo(0, 9);
});

test('a floor is as true as what it was drawn by', () => {
  const guessed = brought(bare, 'd');
  const pairs = [
    { from: spotOf(0, 0), to: spotOf(1, 1) },
    { from: spotOf(20, 0), to: spotOf(11, 1) },
  ];
  // Laid over walls that were drawn in metres it is as true as they; beside a drawing that nobody measured it is no measure.
  const laid = applyChanges(guessed, layDrawing(guessed, 'd', pairs));
  expect([isToScale(guessed, 'f'), isToScale(laid, 'f')]).toEqual([false, true]);
  const beside = brought(guessed, 'e');
  const second = applyChanges(beside, layDrawing(beside, 'e', pairs));
  expect(isToScale(second, 'f')).toBe(false);
  expect(isToScale(measured(second, 'r', [0, 0], [20, 0], 8), 'f')).toBe(true);
});

test('a drawing lies at the outline’s corner, as wide as the outline where the file says no scale; only a floor without anything takes its outline', () => {
  const outline = [spotOf(10, 5), spotOf(50, 5), spotOf(50, 30), spotOf(10, 30)];
  const aside = { ...bare, floors: { ...bare.floors, f: { ...bare.floors.f!, outline } } };
  const laid = brought(aside, 'd').drawings.d!;
  expect(laid).toMatchObject({ xM: 10, yM: 5, mPerPxX: 0.05, mPerPxY: 0.05, turnDeg: 0, scaleFrom: 'guess' });
  expect(laid).toMatchObject({ apart: false, opacity: 0.6, hidden: false, invertAtNight: true });
  expect(brought(aside, 'd', 0.02).drawings.d).toMatchObject({ mPerPxX: 0.02, mPerPxY: 0.02, scaleFrom: 'file' });
  expect(brought(aside, 'd', 0.02).floors.f!.outline[2]).toEqual({ xM: 26, yM: 15 });
  // Without an outline it is taken to be 50 m wide and lies at the origin.
  const none = { ...aside, floors: { ...aside.floors, f: { ...aside.floors.f!, outline: [] } } };
  expect(brought(none, 'd').drawings.d).toMatchObject({ xM: 0, yM: 0, mPerPxX: 0.0625 });
  for (const [what, design] of Object.entries({
    walls: applyChanges(aside, addWall(aside, { id: 'w', floorId: 'f', axM: 12, ayM: 6, bxM: 20, byM: 6, materialId: 'brick' })),
    aps: applyChanges(aside, addAccessPoint(aside, { id: 'a', floorId: 'f', variantId: 'v', modelId: 'heron-c4', xM: 12, yM: 8 })),
    drawings: brought(aside, 'e', 0.05),
  }))
    expect([what, brought(design, 'd', 0.02).floors.f!.outline]).toEqual([what, design.floors.f!.outline]);
});

test.each([
  ['nothing', { leftPx: 0, topPx: 0, rightPx: 0, bottomPx: 0 }, true],
  ['all but a column', { leftPx: 400, topPx: 0, rightPx: 399, bottomPx: 0 }, true],
  ['all across', { leftPx: 400, topPx: 0, rightPx: 400, bottomPx: 0 }, false],
  ['all but a row', { leftPx: 0, topPx: 250, rightPx: 0, bottomPx: 249 }, true],
  ['all down', { leftPx: 0, topPx: 250, rightPx: 0, bottomPx: 250 }, false],
  ['more than there is, on one side alone', { leftPx: 0, topPx: 0, rightPx: 0, bottomPx: 501 }, false],
])('cropping %s of 800 x 500 px', (_what, crop, taken) => {
  expect(KINDS.drawings.schema.safeParse({ ...brought(bare, 'd').drawings.d!, crop }).success).toBe(taken);
});
