import { expect, test } from '@jest/globals';
import { gridOver, maskOf } from '../geometry/grid';
import { regionOf } from '../geometry/polygon';
import type { PointM } from '../geometry/point';
import { nextPlaces, PLACE_RADIUS_M } from './next';
import type { WalkGround } from './route';

const box = (westM: number, northM: number, eastM: number, southM: number): PointM[] => [
  { xM: westM, yM: northM },
  { xM: eastM, yM: northM },
  { xM: eastM, yM: southM },
  { xM: westM, yM: southM },
];
const ground: WalkGround = { outline: box(0, 0, 60, 20), holes: [], barriers: [], doors: [] };
const grid = gridOver(ground.outline, 0.5);
const places = (boxes: ReadonlyArray<readonly PointM[]>, start: PointM | null = { xM: 2, yM: 10 }, of = ground) => {
  const steps = nextPlaces(of, grid, maskOf(grid, boxes.map(regionOf)), 3, start);
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
};

test('a place near by comes before one as large that is far; their shares are of what is not sure', () => {
  const [near, far] = places([box(8, 6, 14, 14), box(46, 6, 52, 14)]);
  expect(near!.at.xM).toBeLessThan(20);
  expect(far!.at.xM).toBeGreaterThan(40);
  expect(near!.share).toBeCloseTo(0.5, 1);
  expect(near!.share + far!.share).toBeCloseTo(1, 2);
  expect(far!.route.lengthM).toBeGreaterThan(near!.route.lengthM + 25);
  expect(near!.route.turns[0]!.xM).toBeCloseTo(2, 0);
});
test('a far one that settles far more comes first', () => {
  const [first] = places([box(8, 9, 9, 10), box(40, 4, 52, 16)]);
  expect(first!.at.xM).toBeGreaterThan(35);
  expect(first!.share).toBeGreaterThan(0.9);
});
test('no more than three, none counted twice, and each no larger than a room', () => {
  const all = places([ground.outline]);
  expect(all).toHaveLength(3);
  const whole = Math.PI * PLACE_RADIUS_M ** 2;
  for (const { share } of all) expect(share * 1200).toBeLessThan(1.03 * whole);
  expect(all.reduce((sum, { share }) => sum + share, 0)).toBeLessThan(1);
});
test('nothing is unsure: nowhere; what no door leads to is no place', () => {
  expect(places([])).toEqual([]);
  const shut: WalkGround = { ...ground, barriers: box(40, 2, 58, 18).map((a, i, all) => ({ a, b: all[(i + 1) % 4]! })) };
  expect(places([box(46, 6, 52, 14)], { xM: 2, yM: 10 }, shut)).toEqual([]);
});
