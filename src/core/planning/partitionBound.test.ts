import { describe, expect, test } from '@jest/globals';
import { seeded } from '../random';
import { finish } from './line.testing';
import { certified, leastPairs, partitionBound as search } from './partitionBound';

const WORK = { work: 2e7 };
const partitionBound = (...args: Parameters<typeof search>): number => finish(search(...args));

/** The least weight of pairs in one class, by trying all sortings. */
function leastByForce(n: number, weight: Float64Array, k: number): number {
  let best = Infinity;
  const classes = new Int32Array(n);
  const go = (i: number, used: number, cost: number): void => {
    if (cost >= best) return;
    if (i === n) {
      best = cost;
      return;
    }
    for (let c = 0; c <= Math.min(used, k - 1); c++) {
      let more = 0;
      for (let j = 0; j < i; j++) if (classes[j] === c) more += weight[i * n + j]!;
      classes[i] = c;
      go(i + 1, Math.max(used, c + 1), cost + more);
    }
  };
  go(0, 0, 0);
  return best;
}
function symmetric(n: number, of: (i: number, j: number) => number): Float64Array {
  const weight = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) weight[i * n + j] = weight[j * n + i] = of(i, j);
  return weight;
}

test('pairs that must be alike: by hand', () => {
  expect([leastPairs(3, 3), leastPairs(4, 3), leastPairs(7, 3), leastPairs(6, 2), leastPairs(9, 4)]).toEqual([0, 1, 5, 6, 6]);
});

describe('against all sortings', () => {
  test.each(Array.from({ length: 24 }, (_, i) => i + 1))('seed %d: never above the least', (seed) => {
    const uniform = seeded(seed);
    const n = 6 + (seed % 4);
    const k = 2 + (seed % 3);
    const weight = symmetric(n, () => (uniform() < 0.75 ? uniform() ** 2 * 5 : 0));
    const least = leastByForce(n, weight, k);
    expect(partitionBound(n, weight, k, WORK)).toBeLessThanOrEqual(least + 1e-9);
  });
  test('and near it: nine tenths on the whole', () => {
    let [bounds, leasts] = [0, 0];
    for (let seed = 1; seed <= 12; seed++) {
      const uniform = seeded(100 + seed);
      const weight = symmetric(9, () => uniform());
      leasts += leastByForce(9, weight, 3);
      bounds += partitionBound(9, weight, 3, WORK);
    }
    expect(bounds / leasts).toBeGreaterThan(0.9);
  });
});

test('complete sets of equal weights need what Turan says; what has room costs nothing', () => {
  for (const [n, k] of [
    [4, 3],
    [7, 3],
    [10, 4],
    [5, 2],
  ] as const) {
    const bound = partitionBound(
      n,
      symmetric(n, () => 2),
      k,
      WORK,
    );
    expect(bound).toBeLessThanOrEqual(2 * leastPairs(n, k) + 1e-9);
    expect(bound).toBeGreaterThan(2 * leastPairs(n, k) * (n > 2 * k ? 0.85 : 0.97));
  }
  expect(
    partitionBound(
      3,
      symmetric(3, () => 1),
      3,
      WORK,
    ),
  ).toBe(0);
  expect(partitionBound(5, new Float64Array(25), 2, WORK)).toBe(0);
  // A ring of five in two classes: one pair must be alike. Of six none.
  const ring = (n: number) => symmetric(n, (i, j) => (i - j === 1 || i - j === n - 1 ? 1 : 0));
  const five = partitionBound(5, ring(5), 2, WORK);
  expect(five).toBeLessThanOrEqual(1 + 1e-9);
  expect(five).toBeGreaterThan(0.4);
  expect(partitionBound(6, ring(6), 2, WORK)).toBeLessThanOrEqual(1e-9);
  expect(
    partitionBound(
      4,
      symmetric(4, () => 3),
      1,
      WORK,
    ),
  ).toBe(18);
});

test('the same each time, and whatever the unit of the weights', () => {
  const uniform = seeded(5);
  const weight = symmetric(12, () => uniform());
  const one = partitionBound(12, weight, 3, WORK);
  expect(partitionBound(12, weight, 3, WORK)).toBe(one);
  expect(
    partitionBound(
      12,
      weight.map((w) => w * 1000),
      3,
      WORK,
    ),
  ).toBeCloseTo(1000 * one, 3);
});

test('whatever the diagonal is, what is left of the charges is no bound before it has no negative eigenvalue', () => {
  // Two whose product costs 1: at -1 the least is -1.
  const two = Float64Array.of(0, 1, 1, 0);
  expect(certified(2, two, Float64Array.of(0, 0), 5)).toBeCloseTo(4, 6);
  expect(certified(2, two, Float64Array.of(-1, -1), 5)).toBeCloseTo(4, 6);
  expect(certified(2, two, Float64Array.of(-1, -1), 5)).toBeLessThan(4);
  expect(certified(2, two, Float64Array.of(-3, -3), 5)).toBeCloseTo(2, 6);
  // Three alike: eigenvalues -1, -1 and 2; the least of three products of vectors is -3/2.
  const three = Float64Array.of(0, 1, 1, 1, 0, 1, 1, 1, 0);
  expect(certified(3, three, Float64Array.of(0, 0, 0), 0)).toBeCloseTo(-1.5, 6);
  expect(certified(3, three, Float64Array.of(-0.5, 0, 0), 0)).toBeLessThanOrEqual(-1.5 + 1e-9);
});
