import { describe, expect, test } from '@jest/globals';
import { passableOf, type Opening, type Wall } from '../building/wall';
import { gridOver, maskOf } from '../geometry/grid';
import { distanceM, type PointM } from '../geometry/point';
import { regionOf } from '../geometry/polygon';
import { distanceToM } from '../geometry/segment';
import { seeded } from '../random';
import { planRoute, tourOf, walkableOn, type WalkGround } from './route';

const box = (westM: number, northM: number, eastM: number, southM: number): PointM[] => [
  { xM: westM, yM: northM },
  { xM: eastM, yM: northM },
  { xM: eastM, yM: southM },
  { xM: westM, yM: southM },
];
const wall = (axM: number, ayM: number, bxM: number, byM: number, fields: Partial<Wall> = {}): Wall => ({
  id: 'w',
  floorId: 'f',
  axM,
  ayM,
  bxM,
  byM,
  baseM: 0,
  topM: 3,
  materialId: 'brick',
  ...fields,
});
const opening = (fields: Partial<Opening> = {}): Opening => ({
  id: 'o',
  wallId: 'w',
  kind: 'door',
  atM: 4,
  widthM: 1.2,
  sillM: 0,
  headM: 2,
  materialId: 'door',
  ...fields,
});
const run = (ground: WalkGround, everyM = 5, start: PointM | null = null, seen = ground.outline) => {
  const grid = gridOver(ground.outline, 0.5);
  const steps = planRoute(ground, grid, maskOf(grid, [regionOf(seen)]), everyM, start);
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
};

const barriersOf = (...args: Parameters<typeof passableOf>) => passableOf(...args).barriers;

describe('what nobody walks through', () => {
  test('a wall without its door; windows, low doors and other walls leave it whole', () => {
    const east = wall(0, 0, 10, 0);
    expect(barriersOf([east], [opening()])).toEqual([
      { a: { xM: 0, yM: 0 }, b: { xM: 4, yM: 0 } },
      { a: { xM: 5.2, yM: 0 }, b: { xM: 10, yM: 0 } },
    ]);
    const whole = [{ a: { xM: 0, yM: 0 }, b: { xM: 10, yM: 0 } }];
    for (const fields of [{ kind: 'window' }, { kind: 'shutter' }, { sillM: 0.5 }, { headM: 1.5 }, { wallId: 'other' }] as const)
      expect(barriersOf([east], [opening(fields)])).toEqual(whole);
    expect(barriersOf([east], [opening({ atM: 0, widthM: 12 })])).toEqual([]);
    expect(barriersOf([east], [opening({ atM: 3, widthM: 3 }), opening({ id: 'p', atM: 4, widthM: 1, kind: 'passage' })])).toHaveLength(2);
  });
  test('what hangs over heads and what is stepped over is none', () => {
    expect(barriersOf([wall(0, 0, 10, 0, { baseM: 2 }), wall(0, 0, 10, 0, { topM: 0.1 })], [])).toEqual([]);
    expect(barriersOf([wall(0, 0, 10, 0, { topM: 1 })], [])).toHaveLength(1);
  });
  test('cells: inside, off walls, not over holes', () => {
    const { grid, free } = walkableOn({
      outline: box(0, 0, 10, 10),
      holes: [regionOf(box(6, 6, 9, 9))],
      barriers: [{ a: { xM: 5, yM: 0 }, b: { xM: 5, yM: 5 } }],
      doors: [],
    });
    const at = (xM: number, yM: number) =>
      free[Math.round((yM - grid.originYM) / grid.cellM) * grid.cols + Math.round((xM - grid.originXM) / grid.cellM)];
    expect([at(2, 2), at(5, 2), at(5, 8), at(7.5, 7.5), at(4.4, 2)]).toEqual([1, 0, 1, 0, 1]);
  });
});

describe('a route', () => {
  // Two rooms of 20 x 10 m, a door between them.
  const ground: WalkGround = {
    outline: box(0, 0, 40, 10),
    holes: [],
    ...passableOf([wall(20, 0, 20, 10)], [opening({ atM: 7 })]),
  };
  test('past every place that is to be seen, through the door, through no wall', () => {
    const { turns, lengthM, stops, unreached } = run(ground);
    expect(unreached).toBe(0);
    expect(stops).toBe(16);
    const legs = turns.slice(1).map((to, i) => ({ a: turns[i]!, b: to }));
    for (const { a, b } of legs)
      for (let at = 0; at <= 1; at += 0.02)
        for (const barrier of ground.barriers)
          expect(distanceToM(barrier, { xM: a.xM + (b.xM - a.xM) * at, yM: a.yM + (b.yM - a.yM) * at })).toBeGreaterThan(0.15);
    expect(lengthM).toBeCloseTo(
      legs.reduce((sum, { a, b }) => sum + distanceM(a, b), 0),
      6,
    );
    // Every spot is seen from within the diagonal of a square of the lattice.
    for (let xM = 1; xM < 40; xM += 1)
      for (let yM = 1; yM < 10; yM += 1) expect(Math.min(...legs.map(({ a, b }) => distanceToM({ a, b }, { xM, yM })))).toBeLessThan(4);
    // Two rows of four stops a room, 5 m apart: up and down in both, and through the door.
    expect(lengthM).toBeGreaterThan(60);
    expect(lengthM).toBeLessThan(90);
  });
  test('through a narrow door too, straight or slanting, however coarse the cells are', () => {
    for (const widthM of [0.6, 0.75, 0.9])
      for (const lean of [0, 3, 9])
        for (const size of [1, 4]) {
          const outline = box(0, 0, 40 * size, 10 * size);
          const parted = passableOf([wall(20, 0, 20 + lean, 10 * size)], [opening({ atM: 6.13, widthM })]);
          expect(run({ outline, holes: [], ...parted }, 5 * size).unreached).toBeLessThan(0.02);
        }
  });
  test('from where one stands; what is shut off is told and not walked', () => {
    const start = { xM: 38, yM: 2 };
    expect(distanceM(run(ground, 5, start).turns[0]!, start)).toBeLessThan(0.5);
    const shut = { ...ground, ...passableOf([wall(20, 0, 20, 10)], []) };
    const { turns, unreached } = run(shut, 5, start);
    expect(unreached).toBeCloseTo(0.5, 1);
    expect(turns.every(({ xM }) => xM > 20)).toBe(true);
  });
  test('only what is to be seen is walked to; where nothing is there is no route', () => {
    const { turns } = run(ground, 5, null, box(0, 0, 10, 10));
    expect(Math.max(...turns.map(({ xM }) => xM))).toBeLessThan(12);
    expect(run(ground, 5, null, box(90, 90, 95, 95))).toEqual({ turns: [], lengthM: 0, stops: 0, unreached: 0 });
  });
  test('a straight way has no turns but its stops, and the same question has the same route', () => {
    const hall: WalkGround = { outline: box(0, 0, 30, 4), holes: [], barriers: [], doors: [] };
    const { turns, lengthM } = run(hall, 6, { xM: 1, yM: 2 });
    expect(turns.length).toBeLessThanOrEqual(6);
    expect(lengthM).toBeLessThan(30);
    expect(run(hall, 6, { xM: 1, yM: 2 })).toEqual(run(hall, 6, { xM: 1, yM: 2 }));
  });
});

test('an order of stops: within a few percent of the best of all, from the first', () => {
  let [found, best] = [0, 0];
  for (let seed = 1; seed <= 10; seed++) {
    const uniform = seeded(seed);
    const spots = Array.from({ length: 8 }, () => ({ xM: 30 * uniform(), yM: 20 * uniform() }));
    const lengthM = spots.map((a) => Float32Array.from(spots, (b) => distanceM(a, b)));
    const lengthOf = (order: readonly number[]) => order.reduce((sum, to, i) => sum + (i === 0 ? 0 : lengthM[order[i - 1]!]![to]!), 0);
    const order = tourOf(lengthM);
    expect([...order].sort()).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    expect(order[0]).toBe(0);
    found += lengthOf(order);
    let least = Infinity;
    const go = (way: number[], left: number[], so: number): void => {
      if (so >= least) return;
      if (left.length === 0) least = so;
      for (const one of left)
        go(
          [...way, one],
          left.filter((other) => other !== one),
          so + lengthM[way.at(-1)!]![one]!,
        );
    };
    go([0], [1, 2, 3, 4, 5, 6, 7], 0);
    best += least;
  }
  expect(found / best).toBeLessThan(1.04);
});
