import { describe, expect, test } from '@jest/globals';
import { compiledKernel } from '../../fields/kernel/kernel';
import { seeded } from '../../random';
import { decay } from './decay';
import { normalQuantile, normalShare } from './normal';
import { cholesky, inverseOf, logDeterminant, solveLower, solveUpper } from './linear';
import { addProducts, joinRows, leftOver, mixingOf, slopeRowsOf, squareOf, whiten } from './slopes';
import { earlierOf, othersOf } from './nearby';
import type { Places } from './places';
import { productsOf } from './solve';
import { krigeAt, newKriging, standingOf, type Scatter } from './whiten';

describe('small linear algebra', () => {
  const matrix = Float64Array.of(4, 2, 2, 3);
  test('a factor, its solution, inverse and determinant by hand', () => {
    const l = Float64Array.from(matrix);
    expect(cholesky(l, 2)).toBe(true);
    expect([l[0], l[2], l[3]]).toEqual([2, 1, Math.SQRT2]);
    const b = Float64Array.of(8, 7);
    solveLower(l, 2, b);
    solveUpper(l, 2, b);
    // 4 x 1.25 + 2 x 1.5 = 8, 2 x 1.25 + 3 x 1.5 = 7.
    expect([b[0], b[1]]).toEqual([expect.closeTo(1.25, 12), expect.closeTo(1.5, 12)]);
    const inverse = Array.from(inverseOf(l, 2));
    [3 / 8, -2 / 8, -2 / 8, 4 / 8].forEach((value, i) => expect(inverse[i]).toBeCloseTo(value, 12));
    expect(logDeterminant(l, 2)).toBeCloseTo(Math.log(8), 12);
    expect(cholesky(Float64Array.of(1, 2, 2, 1), 2)).toBe(false);
  });
  test('factor and inverse of larger ones, of even and odd size, give the matrix and 1 again', () => {
    for (const n of [5, 6]) {
      const uniform = seeded(n);
      const half = Float64Array.from({ length: n * n }, () => uniform() - 0.5);
      const product = (of: (i: number, j: number) => number) => Float64Array.from({ length: n * n }, (_, at) => of(Math.floor(at / n), at % n));
      const sumOver = (term: (k: number) => number) => Array.from({ length: n }, (_, k) => term(k)).reduce((sum, value) => sum + value, 0);
      const whole = product((i, j) => sumOver((k) => half[i * n + k]! * half[j * n + k]!) + (i === j ? 1 : 0));
      const l = Float64Array.from(whole);
      expect(cholesky(l, n)).toBe(true);
      const inverse = inverseOf(l, n);
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          const low = (row: number, k: number) => (k <= row ? l[row * n + k]! : 0);
          expect(sumOver((k) => low(i, k) * low(j, k))).toBeCloseTo(whole[i * n + j]!, 12);
          expect(sumOver((k) => whole[i * n + k]! * inverse[k * n + j]!)).toBeCloseTo(i === j ? 1 : 0, 10);
        }
    }
  });
  test('the normal distribution as in tables', () => {
    expect(normalShare(1)).toBeCloseTo(0.8413447, 6);
    expect(normalShare(-1.96)).toBeCloseTo(0.0249979, 6);
    expect(normalQuantile(0.95)).toBeCloseTo(1.644854, 4);
  });
});

const scatter: Scatter = { shadowVar: 16, correlationM: 5, beaconVar: 4, wallVar: 1 };
const placesAt = (at: ReadonlyArray<readonly [number, number, number?]>): Places => ({
  xM: Float64Array.from(at, ([x]) => x),
  yM: Float64Array.from(at, ([, y]) => y),
  radio: Int32Array.from(at, ([, , radio]) => radio ?? 0),
});

describe('kriging', () => {
  const krige = (at: ReadonlyArray<readonly [number, number]>, noise: number[], x: number, y: number) => {
    const kriging = newKriging(8);
    const near = Int32Array.from({ length: 8 }, (_, k) => (k < at.length ? k : -1));
    const { count, varianceDb2 } = krigeAt(placesAt(at), Float64Array.from(noise), scatter, near, 0, 8, x, y, kriging);
    return { weights: Array.from(kriging.weights.subarray(0, count)), varianceDb2 };
  };
  test('one reading 5 m away with noise: 16 / e over 16 + 4, and what that leaves', () => {
    const { weights, varianceDb2 } = krige([[0, 0]], [4], 3, 4);
    expect(weights[0]).toBeCloseTo((16 * Math.exp(-1)) / 20, 12);
    expect(varianceDb2).toBeCloseTo(16 - (16 * Math.exp(-1)) ** 2 / 20, 12);
  });
  test('two readings either side, by hand: both alike, w (16 + 16 e^-2) = 16 e^-1', () => {
    const { weights } = krige(
      [
        [0, 0],
        [10, 0],
      ],
      [0, 0],
      5,
      0,
    );
    const w = Math.exp(-1) / (1 + Math.exp(-2));
    expect(weights).toEqual([expect.closeTo(w, 12), expect.closeTo(w, 12)]);
  });
  test('without noise it is exact at its readings, sure of itself there, and knows nothing far away', () => {
    const at = krige(
      [
        [0, 0],
        [3, 0],
        [0, 7],
      ],
      [0, 0, 0],
      3,
      0,
    );
    expect(at.weights).toEqual([expect.closeTo(0, 9), expect.closeTo(1, 9), expect.closeTo(0, 9)]);
    expect(at.varianceDb2).toBeCloseTo(0, 9);
    expect(krige([[0, 0]], [0], 200, 0).varianceDb2).toBeCloseTo(16, 9);
  });
  test('the decay of shadows is the exponential, and nothing far away', () => {
    for (let t = 0; t < 39.9; t += 0.0137) expect(Math.abs(decay(t) / Math.exp(-t) - 1)).toBeLessThan(1e-11);
    expect([decay(0), decay(40), decay(1e9), decay(Infinity)]).toEqual([1, 0, 0, 0]);
  });
  test('what stands on the same noise as before is not worked out again, and all comes out as if it were', () => {
    const uniform = seeded(9);
    const places = placesAt(Array.from({ length: 60 }, (_, i) => [uniform() * 30, uniform() * 30, i % 3] as const));
    const noise = Float64Array.from({ length: 60 }, () => 1 + uniform());
    const others = othersOf(places, 6);
    // Nobody stands on itself, or on another radio.
    for (let i = 0; i < 60; i++)
      for (const j of others.near.subarray(i * 6, i * 6 + 6)) expect(j !== i && places.radio[j] === places.radio[i]).toBe(true);
    const before = standingOf(places, noise, scatter, others);
    noise[7] = 30;
    const [again, whole] = [standingOf(places, noise, scatter, others, before), standingOf(places, noise, scatter, others)];
    expect(again).toEqual(whole);
    expect(before.noise[7]).toBeLessThan(2);
    expect(whole.variance[7]).toBeGreaterThan(before.variance[7]! + 25);
  });
  test('the kernel says how readings stand on each other as the reference says it: of all, and of some again', () => {
    const uniform = seeded(11);
    // On whole metres, several at one spot; some of a radio that is heard twice.
    const places = placesAt(Array.from({ length: 90 }, (_, i) => [Math.round(uniform() * 20), Math.round(uniform() * 20), i < 2 ? 1 : 0] as const));
    const noise = Float64Array.from({ length: 90 }, () => 0.3 + 4 * uniform());
    const kernel = compiledKernel()!;
    for (const most of [1, 7, 8]) {
      const earlier = earlierOf(places, most);
      const [fast, slow] = [kernel, null].map((by) => standingOf(places, noise, scatter, earlier, null, by));
      const changed = noise.map((variance, i) => (i % 30 === 4 ? 3 * variance : variance));
      const [again, whole] = [standingOf(places, changed, scatter, earlier, fast, kernel), standingOf(places, changed, scatter, earlier, null, null)];
      expect(again.variance).not.toEqual(fast!.variance);
      for (const [one, other] of [
        [fast!, slow!],
        [again, whole],
      ] as const)
        for (const what of ['variance', 'weights'] as const) one[what].forEach((value, i) => expect(value).toBeCloseTo(other[what][i]!, 11));
    }
  });
  test('readings that come after others stand on these, which stay as they were; together they are as if all had been worked out at once', () => {
    const uniform = seeded(10);
    const places = placesAt(Array.from({ length: 50 }, (_, i) => [uniform() * 30, uniform() * 30, i % 2] as const));
    const [early, n] = [30, 50];
    const head = { xM: places.xM.slice(0, early), yM: places.yM.slice(0, early), radio: places.radio.slice(0, early) };
    const noise = Float64Array.from({ length: n }, () => 1 + uniform());
    const rest = Float64Array.from({ length: n }, () => uniform() - 0.5);
    const own = Array.from({ length: n }, (_, i) => ({ columns: [i % 3, 3], slopes: [uniform(), 1 + uniform()] }));
    const before = earlierOf(head, 6);
    const earlier = earlierOf(places, 6, before);
    expect([...earlier.order.subarray(0, early)]).toEqual([...before.order]);
    expect([...earlier.order.subarray(early)].sort((a, b) => a - b)).toEqual(Array.from({ length: n - early }, (_, k) => early + k));
    expect([...earlier.order.subarray(early)]).not.toEqual(Array.from({ length: n - early }, (_, k) => early + k));
    const placeInOrder = new Map([...earlier.order].map((i, at) => [i, at]));
    for (let at = 0; at < n; at++) {
      const i = earlier.order[at]!;
      const all = [...earlier.order.subarray(0, at)].filter((j) => places.radio[j] === places.radio[i]);
      const near = [...earlier.near.subarray(i * 6, i * 6 + 6)].filter((j) => j >= 0);
      expect(near).toHaveLength(Math.min(6, all.length));
      for (const j of near) expect(placeInOrder.get(j)! < at && places.radio[j] === places.radio[i]).toBe(true);
    }
    const first = standingOf(head, noise.slice(0, early), scatter, before);
    const whole = standingOf(places, noise, scatter, earlier);
    expect(standingOf(places, noise, scatter, earlier, first)).toEqual(whole);
    const rows = slopeRowsOf(own, rest);
    const parts = [own.slice(0, early), own.slice(early)].map((some, k) => slopeRowsOf(some, k === 0 ? rest.slice(0, early) : rest.slice(early)));
    expect(joinRows(parts[0]!, parts[1]!)).toEqual(rows);
    const white = joinRows(whiten(first, parts[0]!, mixingOf(parts[0]!, before, 4)), whiten(whole, rows, mixingOf(rows, earlier, 4, early)));
    expect(white).toEqual(whiten(whole, rows, mixingOf(rows, earlier, 4)));
    // What least squares needs of them is added up likewise.
    const [ofFirst, ofAll] = [productsOf(whiten(first, parts[0]!, mixingOf(parts[0]!, before, 4)), 4), productsOf(white, 4)];
    const added = productsOf(whiten(whole, rows, mixingOf(rows, earlier, 4, early)), 4, ofFirst);
    expect(added.square).toBeCloseTo(ofAll.square, 12);
    for (const what of ['sums', 'right'] as const) added[what].forEach((value, i) => expect(value).toBeCloseTo(ofAll[what][i]!, 12));
    expect(ofFirst.square).toBeLessThan(ofAll.square - 0.1);
  });
  test('whitened by all that come earlier, squares are those of the whole covariance; radios have nothing in common', () => {
    const uniform = seeded(5);
    const places = placesAt(Array.from({ length: 12 }, (_, i) => [uniform() * 10, uniform() * 10, i % 2] as const));
    const noise = Float64Array.from({ length: 12 }, () => 1 + uniform());
    const z = Float64Array.from({ length: 12 }, () => uniform() - 0.5);
    const standing = standingOf(places, noise, scatter, earlierOf(places, 12));
    // Of three parameters; on the last, in any order, one row in three hangs.
    const own = Array.from({ length: 12 }, (_, i) =>
      i % 3 === 0 ? { columns: [2, 0], slopes: [1 + i, 1] } : { columns: [0, 1], slopes: [1, uniform()] },
    );
    const rows = slopeRowsOf(own, z);
    const white = whiten(standing, rows, mixingOf(rows, standing.earlier, 3));
    // The first stands on nobody: it hangs on its own parameters alone.
    const first = standing.earlier.order[0]!;
    expect([...white.columns.subarray(white.starts[first], white.starts[first + 1])]).toEqual(own[first]!.columns.toSorted());
    const covariance = new Float64Array(144);
    for (let i = 0; i < 12; i++)
      for (let j = 0; j < 12; j++) {
        if (i % 2 !== j % 2) continue;
        covariance[i * 12 + j] =
          16 * Math.exp(-Math.hypot(places.xM[i]! - places.xM[j]!, places.yM[i]! - places.yM[j]!) / 5) + (i === j ? noise[i]! : 0);
      }
    cholesky(covariance, 12);
    const solved = Float64Array.from(z);
    solveLower(covariance, 12, solved);
    const product = (a: Float64Array, b: Float64Array) => a.reduce((sum, value, i) => sum + value * b[i]!, 0);
    expect(squareOf(white)).toBeCloseTo(product(solved, solved), 9);
    // Products of slopes too, and with what is to be explained: of the rows that take part.
    const [sums, right] = [new Float64Array(9), new Float64Array(3)];
    addProducts(white, 3, sums, right);
    const dense = [0, 1, 2].map((c) => {
      const column = Float64Array.from(own, ({ columns, slopes }) => slopes[columns.indexOf(c)] ?? 0);
      solveLower(covariance, 12, column);
      return column;
    });
    for (const c of [0, 1, 2]) {
      expect(right[c]).toBeCloseTo(product(dense[c]!, solved), 9);
      for (let d = 0; d <= c; d++) expect(sums[c * 3 + d]).toBeCloseTo(product(dense[c]!, dense[d]!), 9);
    }
    const [some, rest] = [new Float64Array(9), new Float64Array(3)];
    for (const parity of [0, 1]) addProducts(white, 3, some, rest, (i) => i % 2 === parity);
    expect([...some, ...rest].map((value, i) => Math.abs(value - [...sums, ...right][i]!) < 1e-9)).toEqual(Array(12).fill(true));
    expect(squareOf({ rest: leftOver(rows, Float64Array.of(0, 0, 0)) })).toBeCloseTo(product(z, z), 12);
    expect(leftOver(rows, Float64Array.of(0.5, 0, 2))[3]).toBeCloseTo(z[3]! - 0.5 - 2 * 4, 12);
    expect(standing.variance.reduce((sum, variance) => sum + Math.log(variance), 0)).toBeCloseTo(logDeterminant(covariance, 12), 9);
  });
});
