import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { obstaclesOf } from '../building/obstacles';
import { panesOf, type Panes } from '../building/panes';
import type { Wall } from '../building/wall';
import { gridOver } from '../geometry/grid';
import { mediumOf } from '../propagation/medium';
import { newPassing, passObstacle, passingEdge } from '../propagation/diffraction';
import type { Pose } from '../propagation/crossing';
import { sightLine } from '../propagation/ray';
import type { Antenna } from '../radio/antenna';
import { BANDS } from '../radio/band';
import { compiledKernel } from './kernel/kernel';
import { lossFields } from './lossField';
import { outlinesOf } from './outlines';

const CEILING_M = 4;
const wall = (axM: number, ayM: number, bxM: number, byM: number, topM = CEILING_M, materialId = 'metal'): Wall => ({
  id: `w${axM}/${ayM}/${bxM}/${byM}`,
  floorId: 'f',
  axM,
  ayM,
  bxM,
  byM,
  baseM: 0,
  topM,
  materialId,
});
const made = (walls: readonly Wall[]): Panes => panesOf(walls, [], 0, undefined, CEILING_M);
const out = newPassing();
/** Loss at 5 GHz of the first obstacle alone. */
const aloneDb = (panes: Panes, a: readonly number[], c: readonly number[]): number => {
  const passes = passObstacle(obstaclesOf(panes).list[0]!, panes, a[0]!, a[1]!, a[2]!, c[0]!, c[1]!, c[2]!, out);
  return passes ? -10 * Math.log10(out.share[1]!) : 0;
};
const omni: Antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };
const pose = (xM: number, yM: number, zM: number): Pose => ({ xM, yM, zM, azimuthDeg: 0, tiltDeg: 0 });
const losses = (walls: readonly Wall[], at: Pose, end: readonly [number, number, number], band: (typeof BANDS)[number] = '5') =>
  sightLine(mediumOf(made(walls), { exponent: 2 }), at, omni, band, { xM: end[0], yM: end[1], zM: end[2] });

describe('a knife edge', () => {
  // ITU-R P.526-15, figure 7 and eq. (31): J(0) = 6.0 dB, J(1) = 13.9, J(2.4) = 20.5, J(-0.78) = 0.
  test.each([
    [0, 6.03],
    [1, 13.93],
    [2.4, 20.54],
    [-0.78, 0],
    [-3, 0],
    [1e6, 132.95],
    [Infinity, Infinity],
  ])('v = %d: %d dB', (v, lossDb) => expect(-10 * Math.log10(passingEdge(v))).toBeCloseTo(lossDb, 1));
});

describe('a metal screen in an open hall, by the definition worked in another program', () => {
  const screen = made([wall(10, -2, 10, 2)]);
  test.each([
    [0.5, 30.4],
    [1, 29.6],
    [3, 27.3],
    [9, 24.5],
    [20, 23.1],
    [40, 22.3],
  ])('4 m wide, to the ceiling, %d m behind it: %d dB', (behindM, lossDb) =>
    expect(Math.abs(aloneDb(screen, [0, 1e-6, 1], [10 + behindM, 0, 1]) - lossDb)).toBeLessThan(0.1),
  );
  const low = made([wall(10, -1.5, 10, 1.5, 2)]);
  test.each([
    [0.5, 25.6],
    [1, 23.9],
    [3, 18.9],
    [9, 9.3],
    [20, 2.2],
    [40, 0],
  ])('3 m wide, 2 m high, below an antenna at 2.8 m, %d m behind it: %d dB', (behindM, lossDb) =>
    expect(Math.abs(aloneDb(low, [0, 1e-6, 2.8], [10 + behindM, 0, 1]) - lossDb)).toBeLessThan(0.1),
  );
  test('in a row of shelves each adds less: 5.7, 11.7, 16.8, 21.0 dB', () => {
    // Edges at grazing: N of them are 20 log10(N + 1) where each alone is 6 dB.
    const rows = (n: number) => Array.from({ length: n }, (_, i) => wall(10 + i, -30, 10 + i, 30, 2));
    const level = (n: number) => losses(rows(n), pose(0, 0, 2), [40, 0, 2]).wallLossDb;
    for (const n of [1, 2, 3, 7]) expect(Math.abs(level(n) - 20 * Math.log10(n + 1))).toBeLessThan(0.35);
  });
});

describe('how an edge is passed', () => {
  test('grazing is the same from both sides, and nothing jumps anywhere across a shadow', () => {
    const panes = made([wall(10, -2, 10, 2), wall(14, 1, 15, 6, 2.2)]);
    const medium = mediumOf(panes, { exponent: 2 });
    let before: number | null = null;
    let steepest = 0;
    for (let y = -12; y <= 12; y += 0.002) {
      const { wallLossDb } = sightLine(medium, pose(0, 0.3, 2.8), omni, '5', { xM: 20, yM: y, zM: 1 });
      if (before !== null) steepest = Math.max(steepest, Math.abs(wallLossDb - before));
      before = wallLossDb;
    }
    expect(steepest).toBeLessThan(0.1);
  });
  test('never more than through it, never less than none; higher and denser never lose less', () => {
    const spot = fc.double({ min: -15, max: 15, noNaN: true });
    fc.assert(
      fc.property(spot, spot, fc.double({ min: 0.3, max: 3.9, noNaN: true }), (x, y, top) => {
        const at = pose(-14, 3, 2.8);
        const end = [x, y, 1] as const;
        const walls = (topM: number, material: string) => [wall(-3, -4, 1, 5, topM, material)];
        const [low, high] = [losses(walls(Math.max(0.3, top - 0.2), 'metal'), at, end), losses(walls(top, 'metal'), at, end)];
        expect(high.wallLossDb).toBeGreaterThanOrEqual(low.wallLossDb - 1e-9);
        expect(high.wallLossDb).toBeLessThanOrEqual(40 + 1e-9);
        expect(low.wallLossDb).toBeGreaterThanOrEqual(0);
        expect(high.wallLossDb).toBeGreaterThanOrEqual(losses(walls(top, 'concrete'), at, end).wallLossDb - 1e-9);
      }),
      { numRuns: 400, seed: 20261124 },
    );
  });
  test('the sight line says by which way it comes, and where', () => {
    const over = losses([wall(10, -8, 10, 8, 2)], pose(0, 0, 2.8), [14, 0, 1]);
    expect(over.walls).toEqual([expect.objectContaining({ way: 'over the top', share: expect.closeTo(10 / 14, 4) })]);
    const round = losses([wall(10, -1, 10, 1)], pose(0, 0, 2.8), [14, 0, 1]);
    expect(round.walls).toEqual([expect.objectContaining({ way: 'round the end' })]);
    const through = losses([wall(10, -9, 10, 9, CEILING_M, 'brick-heavy')], pose(0, 0, 2.8), [12, 0, 1]);
    expect(through.walls).toEqual([expect.objectContaining({ way: 'through' })]);
    expect(round.wallLossDb).toBeCloseTo(
      round.walls.reduce((sum, { lossDb }) => sum + lossDb, 0),
      9,
    );
  });
});

describe('what may be gone round', () => {
  const obstacles = (walls: readonly Wall[]) => obstaclesOf(made(walls));
  test('heavy walls with a free end; light ones and closed rooms are passed through', () => {
    expect(obstacles([wall(0, 0, 5, 0)]).list).toHaveLength(1);
    expect(obstacles([wall(0, 0, 5, 0, CEILING_M, 'plasterboard')]).list).toHaveLength(0);
    const room = (side: number) => [wall(0, 0, side, 0), wall(side, 0, side, side), wall(side, side, 0, side), wall(0, side, 0, 0)];
    expect(obstacles(room(20)).list).toHaveLength(0);
    expect(obstacles(room(3)).list).toMatchObject([{ closed: true, topZM: Infinity }]);
  });
  test('one that joins others at both ends has no way round; a loose end of much has one', () => {
    // A comb of fourteen teeth on a spine: too many corners to be one thing.
    const comb = [wall(0, 0, 28, 0), ...Array.from({ length: 14 }, (_, i) => wall(2 * i + 1, 0, 2 * i + 1, 5))];
    const { list } = obstacles(comb);
    const tooth = list.find((o) => o.corners[0] === 3)!;
    expect([...tooth.free]).toEqual([0, 1]);
    expect([...list.find((o) => o.corners[2] === 28)!.free]).toEqual([1, 1]);
  });
  test('a shelf against a wall is a thing of its own, and is not passed on the wall’s side', () => {
    const { list, of } = obstacles([wall(0, 0, 30, 0), wall(10, 0, 10, 6, 2)]);
    expect(list).toHaveLength(2);
    const shelf = list[of[1]!]!;
    expect([shelf.topZM, ...shelf.free]).toEqual([2, 0, 1]);
    // Half a metre from the wall, 1 m behind the shelf, whose top is half a metre higher. By hand, over the top: d = sqrt(2^2 + 0.5^2) + sqrt(1 + 0.5^2) - 3 = 0.180 m,
    // v = 2 sqrt(0.180 / 0.0546) = 3.63, J = 6.9 + 20 log10(sqrt(3.53^2 + 1) + 3.53) = 24.0 dB; round the far end 33 dB, and nothing round the near one.
    const from = pose(8, 0.5, 1.5);
    const behindDb = (walls: readonly Wall[]) => losses(walls, from, [11, 0.5, 1.5]).wallLossDb;
    const leaning = behindDb([wall(0, 0, 30, 0), wall(10, 0, 10, 6, 2)]);
    expect(leaning).toBeGreaterThan(23);
    expect(leaning).toBeLessThan(24.1);
    // In the open hall as much again comes round its near end, which is as long a way: 3 dB less.
    expect(leaning - behindDb([wall(10, 0, 10, 6, 2)])).toBeCloseTo(3, 0);
  });
  test('walls that hang are passed under, and of a wall with a window only what is whole is gone round', () => {
    expect(obstacles([{ ...wall(0, 0, 5, 0), baseM: 1 }]).list).toHaveLength(0);
    const outer = wall(0, 0, 9, 0, CEILING_M, 'concrete');
    const window = { id: 'o', wallId: outer.id, kind: 'window' as const, atM: 4, widthM: 2, sillM: 0.9, headM: 2.6, materialId: 'glass' };
    const panes = panesOf([outer], [window], 0, undefined, CEILING_M);
    // Two whole pieces; sill, pane and lintel between them are passed through.
    expect(panes.count).toBe(5);
    expect(obstaclesOf(panes).list.map(({ corners }) => [...corners])).toEqual([
      [0, 0, 4, 0],
      [6, 0, 9, 0],
    ]);
  });
  test('from inside a cabinet, and from another storey, walls are passed through', () => {
    const cabinet = [wall(5, 5, 8, 5), wall(8, 5, 8, 8), wall(8, 8, 5, 8), wall(5, 8, 5, 5)];
    const inside = losses(cabinet, pose(6.5, 6.5, 2), [12, 6.5, 1]);
    expect(inside.walls).toEqual([expect.objectContaining({ way: null, lossDb: 40 })]);
    expect(losses(cabinet, pose(2, 6.5, 2), [6.5, 6.5, 1]).wallLossDb).toBeCloseTo(40, 1);
    expect(losses([wall(10, -1, 10, 1)], pose(0, 0, 7), [11, 0, 1]).walls).toEqual([expect.objectContaining({ way: null })]);
  });
  test('screens on a long wall do not darken what lies before them', () => {
    expect(losses([wall(10, -1, 10, 1)], pose(0, 0, 2), [8, 0.5, 1]).wallLossDb).toBe(0);
  });
});

describe('the field agrees with the ray in every cell', () => {
  const layouts: ReadonlyArray<readonly [string, readonly Wall[]]> = [
    ['screens', [wall(6, 3, 6, 7), wall(12, 8, 15, 10), wall(3, 11, 5, 11), wall(16, 2, 18, 5)]],
    ['shelves', Array.from({ length: 6 }, (_, i) => wall(5 + 2 * i, 3, 5 + 2 * i, 11, 2.1))],
    [
      'a cabinet, a pillar, an L',
      [wall(5, 5, 7, 5), wall(7, 5, 7, 7), wall(7, 7, 5, 7), wall(5, 7, 5, 5), wall(12, 9, 12.4, 9), wall(14, 3, 17, 3), wall(17, 3, 17, 6)],
    ],
    [
      'a room with a door and shelves that lean on it',
      [wall(4, 3, 4, 12), wall(4, 12, 16, 12), wall(16, 12, 16, 3), wall(16, 3, 9, 3), wall(8, 3, 4, 3), wall(10, 12, 10, 8, 2)],
    ],
  ];
  const ring = [
    { xM: 0, yM: 0 },
    { xM: 20, yM: 0 },
    { xM: 20, yM: 14 },
    { xM: 0, yM: 14 },
  ];
  const grid = gridOver(ring, 0.5);
  test.each(
    layouts.flatMap(([name, walls]) =>
      [pose(9.1, 6.3, 2.8), pose(1.2, 12.7, 1.05), pose(5, 4.2, 3.3)].flatMap((at) => [
        { name, walls, at, code: 'compiled', kernel: compiledKernel()! },
        { name, walls, at, code: 'TypeScript', kernel: null },
      ]),
    ),
  )('$name, from $at.xM, $at.yM, $at.zM, $code', ({ walls, at, kernel }) => {
    const medium = mediumOf(made(walls), { exponent: 2 });
    const open = mediumOf(made([]), { exponent: 2 });
    const plane = { grid, zM: 1, gainDbi: 0 };
    const station = { pose: at, antennas: BANDS.map(() => omni) };
    const fields = lossFields(outlinesOf(medium), station, plane, kernel);
    const bare = lossFields(outlinesOf(open), station, plane, kernel);
    let worst = 0;
    let bent = 0;
    for (let i = 0; i < grid.cols * grid.rows; i++) {
      const end = { xM: grid.originXM + (i % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(i / grid.cols) * grid.cellM, zM: 1 };
      BANDS.forEach((band, lane) => {
        const { wallLossDb, walls: charged } = sightLine(medium, at, omni, band, end);
        worst = Math.max(worst, Math.abs(fields[lane]![i]! - bare[lane]![i]! - wallLossDb));
        if (charged.some(({ way, lossDb }) => way !== null && lossDb > 3)) bent++;
      });
    }
    expect(bent).toBeGreaterThan(50);
    // Single precision of the fields, and how far light reaches beside an edge.
    expect(worst).toBeLessThan(0.005);
  });
});
