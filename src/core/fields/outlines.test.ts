import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { panesOf } from '../building/panes';
import { LOSS_UNIT_DB, materialLossDb, materialOf, type Material, type MaterialLookup } from '../building/material';
import type { Opening, Wall } from '../building/wall';
import { gridOver, type Grid } from '../geometry/grid';
import type { RegionM } from '../geometry/polygon';
import { mediumOf } from '../propagation/medium';
import type { Pose } from '../propagation/crossing';
import { rayLossUnits, sightLine } from '../propagation/ray';
import { BANDS } from '../radio/band';
import { modelOf } from '../radio/catalogue';
import { slabOf, type Slab } from '../building/slab';
import { compiledKernel } from './kernel/kernel';
import { kernelUnitsInto } from './kernel/straight';
import { LANES, lossUnitsInto, outlinesOf } from './outlines';

const FLOOR = 'floor';
let nextId = 0;
const wall = (axM: number, ayM: number, bxM: number, byM: number, materialId = 'brick', baseM = 0, topM = 4.2): Wall => ({
  id: `w${nextId++}`,
  floorId: FLOOR,
  axM,
  ayM,
  bxM,
  byM,
  baseM,
  topM,
  materialId,
});
const pose = (xM: number, yM: number, zM = 3): Pose => ({ xM, yM, zM, azimuthDeg: 0, tiltDeg: 0 });
const grid = (widthM: number, heightM: number, cellM = 0.5): Grid =>
  gridOver(
    [
      { xM: 0, yM: 0 },
      { xM: widthM, yM: 0 },
      { xM: widthM, yM: heightM },
      { xM: 0, yM: heightM },
    ],
    cellM,
  );

/** Cells whose sums, in TypeScript or compiled, differ from trying every pane against every cell's ray. */
function differences(
  walls: readonly Wall[],
  openings: readonly Opening[],
  at: Pose,
  planeZM: number,
  over: Grid,
  slabs: readonly Slab[] = [],
  materials: MaterialLookup = materialOf,
  slant = false,
): number {
  const medium = mediumOf(panesOf(walls, openings, 0, materials), { exponent: 2, slant }, slabs);
  const fast = new Int32Array(over.cols * over.rows * LANES);
  lossUnitsInto(outlinesOf(medium), at, planeZM, over, fast);
  const compiled = new Int32Array(fast.length);
  kernelUnitsInto(compiledKernel()!, outlinesOf(medium), at, planeZM, over, compiled);
  const slow = new Int32Array(LANES);
  let different = 0;
  for (let row = 0, i = 0; row < over.rows; row++) {
    for (let col = 0; col < over.cols; col++, i += LANES) {
      rayLossUnits(medium, at, over.originXM + col * over.cellM, over.originYM + row * over.cellM, planeZM, slow);
      if (slow.some((units, lane) => units !== fast[i + lane] || units !== compiled[i + lane])) different++;
    }
  }
  return different;
}

const square = [wall(5, 5, 15, 5), wall(15, 5, 15, 15), wall(15, 15, 5, 15), wall(5, 15, 5, 5)];

describe('degenerate scenes agree with brute force in every cell', () => {
  const g = grid(20, 20);
  test.each<[string, readonly Wall[], Pose]>([
    ['no walls', [], pose(10, 10)],
    ['inside a closed square', square, pose(10, 10)],
    ['outside a closed square', square, pose(2, 9)],
    ['on a wall', square, pose(10, 5)],
    ['on a corner', square, pose(5, 5)],
    ['in line with a wall', square, pose(1, 5)],
    ['a wall through the access point', [wall(0, 10, 20, 10), wall(10, 0, 10, 20)], pose(10, 10)],
    ['walls on cell centres', [wall(0.25, 3.25, 19.25, 3.25), wall(7.25, 0.25, 7.25, 19.75)], pose(7.25, 9.25)],
    ['a diagonal through cell centres', [wall(0.25, 0.25, 19.75, 19.75), wall(0.25, 19.75, 19.75, 0.25, 'glass')], pose(3, 12)],
    ['two walls on the same spot', [wall(4, 4, 16, 4), wall(4, 4, 16, 4, 'glass'), wall(16, 4, 4, 4, 'wood')], pose(10, 12)],
    ['walls that cross', [wall(2, 2, 18, 18), wall(2, 18, 18, 2), wall(10, 0, 10, 20)], pose(10, 3)],
    ['a polyline of one material', [wall(3, 3, 8, 9), wall(8, 9, 14, 9), wall(14, 9, 18, 2)], pose(9, 16)],
    ['far outside the grid', square, pose(-40, 63)],
    ['straight below the origin', square, pose(0, 0)],
  ])('%s', (_name, walls, at) => {
    expect(differences(walls, [], at, 1, g)).toBe(0);
  });

  test.each<[string, number, number, number, number]>([
    ['a half wall below both', 0, 0.8, 3, 1],
    ['a shelf between client and antenna', 0, 2.3, 3, 1],
    ['a lintel', 2.1, 4.2, 3, 1],
    ['a band between', 1.4, 2.2, 3, 1],
    ['an antenna below the client', 1.2, 2.2, 0.4, 1.9],
    ['an antenna at the very height of the client', 0, 1, 1, 1],
    ['a top at the antenna', 0, 3, 3, 1],
    ['a base at the client', 1, 4, 3, 1],
  ])('limited height: %s', (_name, baseM, topM, apHeightM, clientHeightM) => {
    const walls = square.map((w) => ({ ...w, baseM, topM }));
    expect(differences(walls, [], pose(10.3, 8.8, apHeightM), clientHeightM, g)).toBe(0);
    expect(differences(walls, [], pose(10, 5, apHeightM), clientHeightM, g)).toBe(0);
    expect(differences(walls, [], pose(1.1, 18.2, apHeightM), clientHeightM, g)).toBe(0);
  });

  test('walls that take loss in one band alone, sharing their corners with walls of another', () => {
    const only = (band: '2.4' | '5' | '6', db: number) => ({ ...materialOf('glass'), measuredDb: { '2.4': 0, '5': 0, '6': 0, [band]: db } });
    const own: Record<string, Material> = {
      low: only('2.4', 7),
      mid: only('5', 11),
      high: only('6', 5),
      both: { ...materialOf('glass'), measuredDb: { '2.4': 7, '5': 11, '6': 0 } },
    };
    const free = [wall(2, 17, 6, 18, 'low'), wall(8, 17, 12, 18, 'mid'), wall(14, 17, 18, 18, 'high')];
    const mixed = [...square.map((w, i) => ({ ...w, materialId: Object.keys(own)[i]! })), ...free];
    for (const at of [pose(10, 10), pose(2, 9), pose(10, 5), pose(5, 5), pose(18.3, 17.1)])
      expect(differences(mixed, [], at, 1, g, [], (id) => own[id]!)).toBe(0);
  });

  test('doors and windows replace the wall over their interval and height', () => {
    const w = wall(0, 10, 20, 10, 'brick-heavy');
    const openings: Opening[] = [
      { id: 'o1', wallId: w.id, kind: 'door', atM: 4, widthM: 1, sillM: 0, headM: 2.1, materialId: 'wood' },
      { id: 'o2', wallId: w.id, kind: 'window', atM: 9, widthM: 3, sillM: 0.9, headM: 2.4, materialId: 'glass' },
      { id: 'o3', wallId: w.id, kind: 'passage', atM: 15, widthM: 2, sillM: 0, headM: 9, materialId: 'open' },
    ];
    expect(differences([w], openings, pose(8, 3), 1, g)).toBe(0);
    expect(differences([w], openings, pose(9.5, 10), 1, g)).toBe(0);
    expect(differences([w], openings, pose(8, 3, 0.5), 1.8, g)).toBe(0);
  });
});

test('random floors agree with brute force in every cell', () => {
  // Coordinates on a coarse lattice make shared ends, collinear walls and walls through the antenna common.
  const lattice = fc.integer({ min: -2, max: 26 }).map((k) => k / 2);
  const anyWall = fc.tuple(
    lattice,
    lattice,
    lattice,
    lattice,
    fc.constantFrom('brick', 'glass', 'metal', 'wood'),
    fc.constantFrom([0, 4.2], [0, 1.3], [1.2, 2.6], [2, 4.2]),
  );
  fc.assert(
    fc.property(fc.array(anyWall, { maxLength: 25 }), lattice, lattice, fc.constantFrom(0.3, 1, 2.6, 3), (rows, x, y, apHeightM) => {
      const walls = rows.map(([ax, ay, bx, by, material, [base, top]]) => wall(ax, ay, bx, by, material, base, top));
      expect(differences(walls, [], pose(x, y, apHeightM), 1, grid(12, 12, 0.5))).toBe(0);
      expect(differences(walls.slice(0, 8), [], pose(x, y, apHeightM), 1, grid(12, 12, 0.5), [], materialOf, true)).toBe(0);
    }),
    { numRuns: 150, seed: 20261123 },
  );
});

describe('slabs', () => {
  const ring = (...xy: number[]) => Array.from({ length: xy.length / 2 }, (_, i) => ({ xM: xy[2 * i]!, yM: xy[2 * i + 1]! }));
  const floorRing = ring(2, 1, 18, 1, 18, 12, 9, 12, 9, 19, 2, 19);
  const atrium = ring(5, 4, 10, 4, 10, 9, 5, 9);
  const slab = slabOf(materialOf('concrete'), 4.2, floorRing, [{ polygon: atrium, holes: [] }]);
  const g = grid(20, 20);
  test.each<[string, Pose, number]>([
    ['from the floor above', pose(7, 6, 7.4), 1],
    ['from beside the outline', pose(19.5, 15, 8), 1],
    ['from below, looking up', pose(6.5, 5, 1), 5.4],
    ['straight over the edge of the atrium', pose(5, 4, 9), 1],
    ['both below it', pose(7, 6, 3), 1],
  ])('%s: as trying every cell’s ray', (_name, at, planeZM) => {
    expect(differences(square, [], at, planeZM, g, [slab])).toBe(0);
    const backward = {
      ...slab,
      solid: slab.solid.map(({ polygon, holes }) => ({ polygon: [...polygon].reverse(), holes: holes.map((hole) => [...hole].reverse()) })),
    };
    expect(differences([], [], at, planeZM, g, [backward, slabOf(materialOf('wood'), 4.9, floorRing)])).toBe(0);
  });
  test('openings over each other, beyond the outline and across each other’s holes: a spot is solid or it is not', () => {
    const through = (openings: readonly RegionM[], at: Pose, xM: number, yM: number) => {
      const out = new Int32Array(LANES);
      rayLossUnits(mediumOf(panesOf([], []), { exponent: 2 }, [slabOf(materialOf('concrete'), 4.2, floorRing, openings)]), at, xM, yM, 1, out);
      return out[1]! * LOSS_UNIT_DB;
    };
    const openings = [
      { polygon: atrium, holes: [ring(6, 5, 8, 5, 8, 7, 6, 7)] },
      { polygon: ring(8, 3, 14, 3, 14, 7, 8, 7), holes: [] },
      { polygon: ring(16, 8, 25, 8, 25, 15, 16, 15), holes: [] },
      { polygon: ring(0, 0, 3, 0, 3, 3, 0, 3), holes: [] },
    ];
    for (const at of [pose(7, 6, 7.4), pose(17, 10, 6), pose(1, 1, 9)])
      expect(differences([], [], at, 1, g, [slabOf(materialOf('concrete'), 4.2, floorRing, openings)])).toBe(0);
    // Straight down: through the pillar in the atrium, through both openings at once, past the outline.
    const down = (xM: number, yM: number) => through(openings, pose(xM, yM, 7), xM, yM);
    const concreteDb = materialLossDb('concrete', '5');
    expect([down(7, 6), down(9, 5), down(2.5, 2.5), down(19, 10), down(12, 10)]).toEqual(
      [concreteDb, 0, 0, 0, concreteDb].map((db) => expect.closeTo(db, 9)),
    );
  });
  test('a ring that crosses itself is solid by turns, and never a gain', () => {
    const bow = slabOf(materialOf('brick'), 4.2, ring(2, 2, 18, 18, 18, 2, 2, 18));
    for (const at of [pose(10, 5, 7.4), pose(4, 10, 9)]) expect(differences([], [], at, 1, g, [bow])).toBe(0);
  });
  test('by hand: of several slabs the heaviest in full, each other as a further one; through an opening the rest', () => {
    const heavy = slabOf(materialOf('concrete'), 4.2, floorRing, [{ polygon: atrium, holes: [] }]);
    const stack = [heavy, slabOf(materialOf('concrete'), 8, floorRing), slabOf(materialOf('wood'), 12, floorRing)];
    const medium = mediumOf(panesOf([], []), { exponent: 2 }, stack);
    const out = new Int32Array(LANES);
    const throughDb = (xM: number, yM: number) => {
      rayLossUnits(medium, pose(7.5, 6.5, 14), xM, yM, 1, out);
      return Array.from(out, (units) => units * LOSS_UNIT_DB);
    };
    const [concrete, wood] = (['concrete', 'wood'] as const).map((id) => BANDS.map((band) => materialLossDb(id, band)));
    // Below (17, 6.5) the lowest slab is passed at (14.7, 6.5): concrete, concrete, wood. Straight below it is the atrium.
    [4, 6, 6].forEach((further, lane) => {
      const wooden = Math.min(further, wood![lane]!);
      expect(throughDb(17, 6.5)[lane]).toBeCloseTo(concrete![lane]! + further + wooden, 9);
      expect(throughDb(7.5, 6.5)[lane]).toBeCloseTo(concrete![lane]! + wooden, 9);
    });
    const line = sightLine(medium, pose(7.5, 6.5, 14), modelOf('heron-c4').radios[1]!.antenna, '5', { xM: 17, yM: 6.5, zM: 1 });
    expect(line.slabs.reduce((sum, { lossDb }) => sum + lossDb, 0)).toBeCloseTo(throughDb(17, 6.5)[1]!, 9);
    expect(line.slabLossDb).toBeCloseTo(throughDb(17, 6.5)[1]!, 9);
  });
  test('random stacks of slabs of many materials, with openings, agree with brute force in every cell', () => {
    const half = fc.integer({ min: -6, max: 46 }).map((k) => k / 2);
    const kinds = ['concrete', 'wood', 'brick', 'metal', 'glass', 'plasterboard', 'marble'];
    fc.assert(
      fc.property(
        half,
        half,
        fc.array(fc.tuple(fc.constantFrom(...kinds), fc.boolean()), { minLength: 2, maxLength: 8 }),
        fc.boolean(),
        (x, y, made, up) => {
          const slabs = made.map(([material, open], i) =>
            slabOf(materialOf(material), 3 + 2 * i, i % 2 === 0 ? floorRing : [...floorRing].reverse(), open ? [{ polygon: atrium, holes: [] }] : []),
          );
          expect(differences([], [], pose(x, y, up ? 0.5 : 19.3), up ? 18.2 : 1, g, slabs)).toBe(0);
        },
      ),
      { numRuns: 60, seed: 20261129 },
    );
  });
  test('by hand: through the slab, through the atrium, past the edge', () => {
    const medium = mediumOf(panesOf([], []), { exponent: 2 }, [slab]);
    const out = new Int32Array(LANES);
    const through = (xM: number, yM: number) => {
      rayLossUnits(medium, pose(7.5, 6.5, 7.2), xM, yM, 1.2, out);
      return out[1]! * LOSS_UNIT_DB;
    };
    const concreteDb = materialLossDb('concrete', '5');
    // The slab is passed half way: under (12, 6.5) that is at (9.75, 6.5), in the atrium; under (14, 6.5) at (10.75, 6.5), in concrete.
    expect(through(12, 6.5)).toBe(0);
    expect(through(14, 6.5)).toBeCloseTo(concreteDb, 9);
    expect(through(19.9, 18.5)).toBe(0);
  });
  test('random rings with an opening agree with brute force in every cell', () => {
    const half = fc.integer({ min: -6, max: 40 }).map((k) => k / 2);
    fc.assert(
      fc.property(
        half,
        half,
        fc.integer({ min: 3, max: 9 }),
        fc.constantFrom(0.4, 3, 6, 9),
        fc.constantFrom(1, 5.2),
        (x, y, corners, zM, planeZM) => {
          const star = Array.from({ length: corners }, (_, i) => {
            const angle = (i / corners) * 2 * Math.PI;
            const reachM = 4 + ((i * 7) % 5);
            return { xM: Math.round(10 + reachM * Math.cos(angle)), yM: Math.round(10 + reachM * Math.sin(angle)) };
          });
          expect(differences([], [], pose(x, y, zM), planeZM, g, [slabOf(materialOf('concrete'), 4, star)])).toBe(0);
        },
      ),
      { numRuns: 80, seed: 20261123 },
    );
  });
});
