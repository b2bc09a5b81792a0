import { describe, expect, test } from '@jest/globals';
import { SITE_KINDS, fitOfSite, surveyedSite, unheardOn, type SiteChange } from '../../../../bench/sites';
import { joinPanes, panesOf } from '../../building/panes';
import { seeded } from '../../random';
import { screensIn } from '../measured';
import { faultsOf, type Fault } from './faults';
import { crossValidatedDb, doubtOf, noiseOf, stretchesOf, type Fit } from './fit';
import { HISTOGRAM, countsOf, spreadDb, summaryOf } from './summary';
import { decay } from './decay';
import { nearbyOf } from './nearby';
import { normalQuantile, normalShare } from './normal';
import { cholesky, inverseOf, logDeterminant, simplexLeast, solveLower, solveUpper } from './linear';
import { joined, NOTHING_COUNTED } from '../heard';
import { evenlyOf, readingsOf, spreadM, type Reading } from './readings';
import { estimatorOf, learnedMedium, nodeCells, ownGainDb, surveyedOf, type Estimate } from './surveyed';
import { correctedMedium, predictedDbm, trendOf, withWallLoss } from './trend';
import { mediumOf, type Medium } from '../../propagation/medium';
import { sightLine } from '../../propagation/ray';
import { addProducts, joinRows, leftOver, mixingOf, slopeRowsOf, squareOf, whiten } from './slopes';
import { earlierOf, krigeAt, nearestOf, newKriging, ofEachRadio, othersOf, standingOf, type Places, type Scatter } from './whiten';
import { lossFields } from '../../fields/lossField';
import { outlinesOf } from '../../fields/outlines';
import { middlePowerDbm } from '../../radio/channel';

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
  test('the simplex finds the least of a bent valley, and ends early where its corners are alike', () => {
    let asked = 0;
    const valley = ([x, y]: Float64Array) => {
      asked++;
      return (1 - x!) ** 2 + 100 * (y! - x! ** 2) ** 2;
    };
    const at = simplexLeast(valley, [-1, 1], 0.5, 300);
    expect(at[0]).toBeCloseTo(1, 2);
    expect(at[1]).toBeCloseTo(1, 2);
    expect(asked).toBeGreaterThanOrEqual(300);
    asked = 0;
    expect(valley(simplexLeast(valley, [-1, 1], 0.5, 300, 1e-3))).toBeLessThan(1e-3);
    expect(asked).toBeLessThan(150);
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
  test('the nearest are the nearest of brute force, the own left out', () => {
    const uniform = seeded(3);
    const places = placesAt(Array.from({ length: 60 }, () => [uniform() * 20, uniform() * 20] as const));
    const all = Int32Array.from({ length: 60 }, (_, i) => i);
    const near = new Int32Array(8);
    nearestOf(places, all, 60, places.xM[7]!, places.yM[7]!, 8, near, 0, 7);
    const away = (i: number) => Math.hypot(places.xM[i]! - places.xM[7]!, places.yM[i]! - places.yM[7]!);
    expect(Array.from(near)).toEqual(
      Array.from(all)
        .filter((i) => i !== 7)
        .sort((a, b) => away(a) - away(b))
        .slice(0, 8),
    );
  });
  test('of equally near ones the lower, whichever is looked at first', () => {
    const places = placesAt([
      [1, 0],
      [0, 1],
      [-1, 0],
      [0, -1],
    ]);
    for (const among of [
      [0, 1, 2, 3],
      [3, 2, 1, 0],
      [2, 0, 3, 1],
    ]) {
      const near = new Int32Array(2);
      nearestOf(places, Int32Array.from(among), 4, 0, 0, 2, near, 0);
      expect(Array.from(near)).toEqual([0, 1]);
    }
    // Only as many as take part.
    const near = new Int32Array(2);
    nearestOf(places, Int32Array.of(3, 2, 1, 0), 1, 0, 0, 2, near, 0);
    expect(Array.from(near)).toEqual([3, -1]);
  });
  test('the decay of shadows is the exponential, and nothing far away', () => {
    for (let t = 0; t < 39.9; t += 0.0137) expect(Math.abs(decay(t) / Math.exp(-t) - 1)).toBeLessThan(1e-11);
    expect([decay(0), decay(40), decay(1e9), decay(Infinity)]).toEqual([1, 0, 0, 0]);
  });
  test('the nearest of many, asked spot after spot, are those that all were looked through for', () => {
    const uniform = seeded(8);
    const places = placesAt(Array.from({ length: 400 }, (_, i) => [uniform() * 60 - 20, uniform() * 40, i % 2] as const));
    const own = ofEachRadio(places).get(1)!;
    const find = nearbyOf(places, own, 10);
    const [fast, slow] = [new Int32Array(10), new Int32Array(10)];
    for (let k = 0; k < 2000; k++) {
      // Also far from all of them, and without one of the nearest.
      const [x, y] = [uniform() * 100 - 40, uniform() * 80 - 20];
      nearestOf(places, own, own.length, x, y, 10, slow, 0);
      const without = k % 2 === 0 ? -1 : slow[k % 10]!;
      nearestOf(places, own, own.length, x, y, 10, slow, 0, without);
      find(x, y, fast, without);
      expect(fast).toEqual(slow);
    }
    // Of fewer than are asked for: all.
    const few = nearbyOf(places, own.slice(0, 3), 10);
    few(0, 0, fast);
    expect([...fast.subarray(0, 3)].sort((a, b) => a - b)).toEqual([...own.slice(0, 3)]);
    expect(fast[3]).toBe(-1);
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

const rooms = SITE_KINDS[0]!;

/** What a medium says of a reading, at the places of its beacons. */
const predictedOver = (medium: Medium, { radios, zM }: Fit, { radio, spots }: Reading): number =>
  spots.reduce((sum, spot) => sum + predictedDbm(medium, radios[radio]!, { ...spot, zM }), 0) / spots.length;

describe('what a reading varies by', () => {
  const at = (...spots: ReadonlyArray<readonly [number, number]>): Reading => {
    const places = spots.map(([xM, yM]) => ({ xM, yM }));
    return { radio: 0, xM: 0, yM: 0, dbm: -60, count: spots.length, tMs: 0, spots: places };
  };
  test('of many some, evenly; of few all', () => {
    const all = Array.from({ length: 10 }, (_, i) => i);
    expect(evenlyOf(all, 10)).toEqual(all);
    expect(evenlyOf(all, 12)).toEqual(all);
    expect(evenlyOf(all, 5)).toEqual([1, 3, 5, 7, 9]);
    expect(evenlyOf(all, 4)).toHaveLength(4);
  });
  test('who stands for long keeps the places of some beacons, and the mean of all', () => {
    const sample = { leg: 0, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20 };
    const samples = Array.from({ length: 320 }, (_, i) => ({ ...sample, tMs: i, xM: i < 160 ? 0.2 : 0.6, yM: -0.5, rssiDbm: i < 160 ? -60 : -70 }));
    const [reading, ...others] = readingsOf(samples, [{ apId: 'a', band: '5' }], () => false);
    expect(others).toEqual([]);
    expect(reading).toMatchObject({ xM: expect.closeTo(0.4, 9), yM: -0.5, dbm: -65, count: 320 });
    expect(reading!.spots).toEqual([0.2, 0.6].flatMap((xM) => Array(8).fill({ xM, yM: -0.5 })));
  });
  test('how far two of its beacons lie from each other', () => {
    expect(spreadM([])).toBe(0);
    expect(spreadM([{ xM: 3, yM: 4 }])).toBe(0);
    expect(spreadM(at([0, 0], [0.6, 0.8]).spots)).toBeCloseTo(1, 12);
    // Three at the corners of a triangle with sides 3, 4 and 5: the mean of 9, 16 and 25.
    expect(spreadM(at([0, 0], [3, 0], [0, 4]).spots)).toBeCloseTo(Math.sqrt(50 / 3), 12);
  });
  test('by its beacons, averaged, less what their shadows average to: by hand', () => {
    const [one, same, apart, far] = noiseOf([at([0, 0]), at([0, 0], [0, 0]), at([0, 0], [0.3, 0.4]), at([0, 0], [3, 4])], scatter);
    expect(one).toBe(4);
    expect(same).toBe(2);
    // Of two, half of 16 (1 - e^-0.1) is averaged out.
    expect(apart).toBeCloseTo(2 - 8 * (1 - Math.exp(-0.1)), 10);
    // Never below a quarter of what beacons scatter.
    expect(far).toBe(0.5);
  });
  test('how they vary is learned from those that are heard for certain, in whole stretches; from all where most are not', () => {
    const of = (levels: readonly number[], radio: (i: number) => number = () => 0) =>
      stretchesOf(
        levels.map((_, i) => ({ radio: radio(i) })),
        { rows: levels.map((baseDbm) => ({ baseDbm })) },
      );
    expect(of([-60, -81, -80, -70])).toEqual([0, 2, 3]);
    expect(of([-60, -81, -90, -95])).toEqual([0, 1, 2, 3]);
    // Of nine radios the eight that have most; of more than 900 whole stretches of 30, evenly.
    expect(new Set(of(Array(90).fill(-60), (i) => (i < 4 ? 8 : i % 8)).map((i) => (i < 4 ? 8 : i % 8)))).toEqual(new Set([0, 1, 2, 3, 4, 5, 6, 7]));
    const many = of(Array(3600).fill(-60), (i) => i % 2);
    expect(many).toHaveLength(900);
    for (let k = 0; k < 900; k += 30) for (let j = 1; j < 30; j++) expect(many[k + j]).toBe(many[k]! + 2 * j);
    expect(Math.max(...many)).toBeGreaterThan(3400);
  });
  test('from few readings nobody knows for certain what shadows vary by: as Student has it', () => {
    // 4 + 120 / 20 = 10 degrees of freedom: 10 / 8.
    expect([0, 120, 1e9].map(doubtOf)).toEqual([2, 1.25, expect.closeTo(1, 6)]);
  });
  test('a reading is foretold at the places of its beacons, one in the shadow of a wall and one beside it', () => {
    const wall = { id: 'w', floorId: 'f', axM: 5, ayM: 0, bxM: 5, byM: 10, baseM: 0, topM: 3, materialId: 'plasterboard' };
    const medium = mediumOf(panesOf([wall], []), { exponent: 2 });
    const radio = { ...surveyedSite(rooms, 1).radios[0]!, pose: { xM: 0, yM: 0, zM: 2, azimuthDeg: 0, tiltDeg: 0 } };
    // Seen from the origin the wall ends on the line to (10, 20).
    const spots = [
      { xM: 9.9, yM: 20, zM: 1 },
      { xM: 10.3, yM: 20, zM: 1 },
    ];
    const trend = trendOf(
      medium,
      [radio],
      Array.from({ length: 5 }, () => ({ radio: 0, spots })),
    );
    const [row] = trend.rows;
    const [beside, behind] = spots.map((spot) => trend.rowAt(0, spot));
    expect(beside!.columns).toEqual([0, 1, 2]);
    expect(behind!.columns).toEqual([0, 1, 2, 3, 4]);
    expect(row!.baseDbm).toBeCloseTo((beside!.baseDbm + behind!.baseDbm) / 2, 9);
    expect(row!.columns).toEqual([0, 1, 2, 3, 4]);
    expect(row!.slopes).toEqual([1, expect.closeTo((beside!.slopes[1]! + behind!.slopes[1]!) / 2, 9), 1, -0.5, -0.5]);
    // Four readings look through it, with a beacon each: it is told apart; three are too few.
    const ofSome = (count: number, at: typeof spots) => trendOf(medium, [radio], Array(count).fill({ radio: 0, spots: at }));
    expect(ofSome(4, spots).parameters).toHaveLength(5);
    expect(ofSome(3, [spots[1]!, spots[1]!]).parameters).toHaveLength(4);
    // What has no parameter of its own is crossed by one beacon of two.
    expect(ofSome(3, spots).rows[0]!.free).toBe(0.5);
  });
});

describe('readings', () => {
  const sample = { leg: 0, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20 };
  const never = () => false;
  test('beacons of one square are one reading, at their mean place and level; another leg, radio or square is another', () => {
    const samples = [
      { ...sample, tMs: 0, xM: 0.2, yM: 0.2, rssiDbm: -60 },
      { ...sample, tMs: 900, xM: 0.8, yM: 0.4, rssiDbm: -64 },
      { ...sample, tMs: 1800, xM: 1.1, yM: 0.4, rssiDbm: -50 },
      { ...sample, tMs: 2000, xM: 0.2, yM: 0.2, rssiDbm: -40, leg: 1 },
      { ...sample, tMs: 2000, xM: 0.2, yM: 0.2, rssiDbm: -40, apId: null },
    ];
    const readings = readingsOf(samples, [{ apId: 'a', band: '5' }], never);
    expect(readings).toHaveLength(3);
    const spots = [
      { xM: 0.2, yM: 0.2 },
      { xM: 0.8, yM: 0.4 },
    ];
    expect(readings[0]).toEqual({ radio: 0, xM: 0.5, yM: expect.closeTo(0.3, 9), dbm: -62, count: 2, tMs: 0, spots });
    // Of two walks over the same square, at the same times: a reading each, one walk after the other.
    const both = joined([samples.slice(0, 3), [], samples.slice(0, 4)].map((own) => ({ ...NOTHING_COUNTED, samples: own }))).samples;
    expect(both.map(({ leg }) => leg)).toEqual([0, 0, 0, 1, 1, 1, 2]);
    expect(readingsOf(both, [{ apId: 'a', band: '5' }], never).map(({ dbm, tMs }) => [dbm, tMs])).toEqual([
      [-62, 0],
      [-50, 1800],
      [-62, 0],
      [-50, 1800],
      [-40, 2000],
    ]);
    // A wall at x = 0.5 parts the square.
    expect(readingsOf(samples, [{ apId: 'a', band: '5' }], (ax, _ay, bx) => ax < 0.5 !== bx < 0.5)).toHaveLength(4);
  });
});

describe('learning from a walk', () => {
  const fits = [1, 2, 3].map((seed) => ({ site: surveyedSite(rooms, seed), fit: fitOfSite(surveyedSite(rooms, seed)) }));
  test('a row says what the corrected medium says: what is learned is what is mapped', () => {
    const { fit } = fits[0]!;
    for (let i = 0; i < fit.readings.length; i += 97) {
      const { radio, xM, yM } = fit.readings[i]!;
      const at = { xM, yM, zM: fit.zM };
      const row = fit.trend.rowAt(radio, at);
      const linear = row.baseDbm + row.columns.reduce((sum, c, k) => sum + fit.estimates[c]! * row.slopes[k]!, 0);
      const [medium, gainDb] = [learnedMedium(fit), ownGainDb(fit, radio)];
      // Whole units of loss, and no wall below nothing.
      expect(Math.abs(predictedDbm(medium, fit.radios[radio]!, at) + gainDb - linear)).toBeLessThan(1.5);
      const walls = sightLine(fit.medium, fit.radios[radio]!.pose, fit.radios[radio]!.antenna, '5', at).walls.length;
      expect(row.slopes.slice(3).reduce((sum, slope) => sum - slope, 0) + row.free).toBe(2 * walls);
    }
  });
  test('spots that nobody walked: nearer to the truth than the plan, and 90 % intervals that hold 85 to 95 %', () => {
    let [plain, learned, inside, count] = [0, 0, 0, 0];
    const out: Estimate = { leftDb: 0, varianceDb2: 0 };
    for (const { site, fit } of fits)
      site.radios.forEach((radio, r) => {
        const estimate = estimatorOf(fit, r);
        const [medium, gainDb] = [learnedMedium(fit), ownGainDb(fit, r)];
        for (const at of site.heldOut) {
          const truth = at.levelsDbm[r]!;
          if (truth < -85 || estimate(at.xM, at.yM, out) > 4) continue;
          const off = predictedDbm(medium, radio, at) + gainDb + out.leftDb - truth;
          plain += (predictedDbm(site.medium, radio, at) - truth) ** 2;
          learned += off * off;
          if (Math.abs(off) < 1.645 * Math.sqrt(out.varianceDb2)) inside++;
          count++;
        }
      });
    expect(count).toBeGreaterThan(2000);
    expect(Math.sqrt(learned / count)).toBeLessThan(2.6);
    expect(Math.sqrt(plain / count)).toBeGreaterThan(4);
    expect(inside / count).toBeGreaterThan(0.85);
    expect(inside / count).toBeLessThan(0.95);
  });
  test('what was told of the exponent and of scatter holds the truth within three of its deviations', () => {
    for (const { site, fit } of fits) {
      expect(Math.abs(fit.estimates[1]! - site.exponentOffset)).toBeLessThan(3 * fit.sd[1]!);
      expect(fit.sd[1]).toBeLessThan(fit.priorSd[1]! / 2);
      expect(fit.scatter.shadowVar).toBeGreaterThan(16 / 2);
      expect(fit.scatter.shadowVar).toBeLessThan(16 * 2);
      expect(crossValidatedDb(fit)).toBeGreaterThan(2);
      expect(crossValidatedDb(fit)).toBeLessThan(4);
    }
  });
  test('what is held to the drawing does not move, and is not told of', () => {
    const held = fitOfSite(fits[0]!.site, ['exponent', 'wall']);
    const still = held.trend.parameters.flatMap(({ kind }, i) => (kind === 'exponent' || kind === 'wall' ? [i] : []));
    expect(still.length).toBeGreaterThan(3);
    for (const i of still) expect(Math.abs(held.estimates[i]!)).toBeLessThan(1e-3);
    // The rest takes over what it can.
    expect(Math.abs(held.estimates[0]! - fits[0]!.fit.estimates[0]!)).toBeGreaterThan(0.1);
    const summary = summaryOf(held, [], ['exponent', 'wall']);
    expect(summary.held).toEqual(['exponent', 'wall']);
  });
  test('what taking would bring is what the readings scatter by around the drawing so changed, each radio’s own mean apart', () => {
    const { fit } = fits[1]!;
    const apIds = fits[1]!.site.radios.map(({ apId }) => apId);
    const summary = summaryOf(fit, apIds);
    const spreadAround = (taken: readonly number[]): number => {
      const only = fit.estimates.map((estimate, i) => (taken.includes(i) ? estimate : 0));
      const medium = correctedMedium(fit.medium, '5', fit.trend.parameters, only);
      const off = fit.readings.map((reading) => reading.dbm - predictedOver(medium, fit, reading));
      const means = apIds.map((_, r) => {
        const own = off.filter((_, i) => fit.readings[i]!.radio === r);
        return own.reduce((sum, db) => sum + db, 0) / own.length;
      });
      return Math.sqrt(off.reduce((sum, db, i) => sum + (db - means[fit.readings[i]!.radio]!) ** 2, 0) / off.length);
    };
    const kindsOf = (...kinds: string[]) => summary.learned.flatMap(({ kind }, i) => (kinds.includes(kind) ? [i] : []));
    for (const taken of [[], kindsOf('exponent'), kindsOf('material'), kindsOf('exponent', 'material', 'wall')])
      // Losses are whole units of 0.05 dB, and none below 0.
      expect(Math.abs(spreadDb(summary, taken) - spreadAround(taken))).toBeLessThan(0.05);
    expect(spreadDb(summary, kindsOf('exponent', 'material', 'wall'))).toBeLessThan(spreadDb(summary, []) - 0.3);
    // What a radio or the receiver is off by changes nothing of that.
    expect(spreadDb(summary, kindsOf('offset', 'radio'))).toBeCloseTo(spreadDb(summary, []), 6);
    expect(summary.histogram.drawn.reduce((sum, n) => sum + n, 0)).toBe(fit.readings.length);
    expect(summary.histogram.foretold[10]).toBeGreaterThan(summary.histogram.drawn[10]!);
  });
  test('a histogram has what lies within a step of each middle, and in its last all beyond', () => {
    const counts = countsOf([-100, -1.1, -0.9, 0, 0.9, 1.1, 20, 100]);
    expect(counts).toHaveLength(HISTOGRAM.steps);
    expect([counts[0], counts[9], counts[10], counts[11], counts[20]]).toEqual([1, 1, 3, 1, 2]);
  });
  test('walls that nobody looked through leave more unknown behind them', () => {
    const { site } = fits[1]!;
    const fit = fitOfSite({ ...site, samples: site.samples.filter(({ xM }) => xM < 8) });
    const [known, unknown] = [0, 100].map((wallVar) => estimatorOf({ ...fit, scatter: { ...fit.scatter, wallVar } }, 0));
    const [one, other]: Estimate[] = [
      { leftDb: 0, varianceDb2: 0 },
      { leftDb: 0, varianceDb2: 0 },
    ];
    const free = site.heldOut.map(({ xM, yM }) => {
      known!(xM, yM, one!);
      unknown!(xM, yM, other!);
      const row = fit.trend.rowAt(0, { xM, yM, zM: fit.zM });
      expect(other!.varianceDb2 - one!.varianceDb2).toBeCloseTo(100 * row.free, 6);
      return row.free;
    });
    expect(Math.max(...free)).toBeGreaterThan(0);
  });
  test('the map has the estimate at its nodes, and claims nothing beyond its reach', () => {
    const { fit } = fits[1]!;
    // Off the walls, which stand on whole metres.
    const grid = { originXM: 2.05, originYM: 2.05, cellM: 0.5, cols: 40, rows: 20 };
    const [medium, gainDb] = [learnedMedium(fit), ownGainDb(fit, 0)];
    const radio = fit.radios[0]!;
    const station = { pose: radio.pose, antennas: [null, radio.antenna, null], centresMhz: [null, 5180, null] };
    const lossDb = lossFields(outlinesOf(medium), station, { grid, zM: fit.zM, gainDbi: 0 })[1]!;
    const map = surveyedOf(fit, 0, grid, lossDb, middlePowerDbm(radio), 3);
    const estimate = estimatorOf(fit, 0);
    const out: Estimate = { leftDb: 0, varianceDb2: 0 };
    const screened = screensIn(fit.medium.panes, '5', fit.zM);
    const seen = (at: { xM: number; yM: number }) =>
      fit.readings.some(({ radio: of, xM, yM }) => of === 0 && Math.hypot(xM - at.xM, yM - at.yM) <= 3 && !screened(xM, yM, at.xM, at.yM));
    let [claimed, checked, squares] = [0, 0, 0];
    const step = nodeCells(fit, grid);
    for (let row = 0; row < 20; row += step)
      for (let col = 0; col < 40; col += step) {
        const at = { xM: 2.05 + col * 0.5, yM: 2.05 + row * 0.5, zM: fit.zM };
        const near = estimate(at.xM, at.yM, out);
        const value = map.levelDbm[row * 40 + col]!;
        if (near > 3) expect(value).toBeNaN();
        // Behind a wall from every reading that is near enough.
        if (Number.isNaN(value)) expect(seen(at)).toBe(false);
        if (Number.isNaN(value)) continue;
        expect(seen(at)).toBe(true);
        claimed++;
        // What is unknown besides shadows is worked out every two and a half metres.
        const off = map.sdDb[row * 40 + col]! - Math.sqrt(out.varianceDb2);
        expect(Math.abs(off)).toBeLessThan(0.3);
        squares += off * off;
        if (Math.abs(value - (predictedDbm(medium, radio, at) + gainDb + out.leftDb)) < 0.06) checked++;
      }
    expect(claimed).toBeGreaterThan(50);
    expect(checked).toBe(claimed);
    expect(Math.sqrt(squares / claimed)).toBeLessThan(0.1);
    // Doubt makes shadows vary more, on the map as in the estimate, and nothing else.
    const doubted = surveyedOf({ ...fit, doubt: fit.doubt + 1 }, 0, grid, lossDb, middlePowerDbm(radio), 3);
    const doubting = estimatorOf({ ...fit, doubt: fit.doubt + 1 }, 0);
    for (let i = 0; i < 800; i += 40 * step) {
      if (Number.isNaN(map.levelDbm[i]!)) continue;
      estimate(2.05, 2.05 + (i / 40) * 0.5, out);
      const before = out.varianceDb2;
      doubting(2.05, 2.05 + (i / 40) * 0.5, out);
      const more = out.varianceDb2 - before;
      expect(more).toBeGreaterThan(0.3);
      expect(more).toBeLessThan(fit.scatter.shadowVar);
      expect(doubted.sdDb[i]! ** 2 - map.sdDb[i]! ** 2).toBeCloseTo(more, 1);
      expect(doubted.levelDbm[i]).toBe(map.levelDbm[i]);
    }
    // Between its nodes it lies between what they say, near the estimate.
    [squares, claimed] = [0, 0];
    map.levelDbm.forEach((value, i) => {
      if (Number.isNaN(value)) return;
      const at = { xM: 2.05 + (i % 40) * 0.5, yM: 2.05 + Math.floor(i / 40) * 0.5, zM: fit.zM };
      estimate(at.xM, at.yM, out);
      squares += (value - (predictedDbm(medium, radio, at) + gainDb + out.leftDb)) ** 2;
      claimed++;
    });
    expect(Math.sqrt(squares / claimed)).toBeLessThan(0.35);
    // A third of how far shadows reach, in whole cells, within bounds.
    const cells = [0.3, 3, 4.5, 30].map((correlationM) => nodeCells({ scatter: { ...fit.scatter, correlationM } }, grid));
    expect(cells).toEqual([1, 2, 3, 4]);
    expect(nodeCells({ scatter: { ...fit.scatter, correlationM: 3 } }, { ...grid, cellM: 3 })).toBe(1);
  });
  test('one beacon that lies wildly off is believed less', () => {
    const site = surveyedSite(rooms, 1);
    const at = site.samples.findIndex(({ rssiDbm }) => rssiDbm < -60 && rssiDbm > -70);
    const fit = fitOfSite({ ...site, samples: site.samples.map((sample, i) => (i === at ? { ...sample, rssiDbm: -20 } : sample)) });
    const { xM, yM, apId } = site.samples[at]!;
    const radio = site.radios.findIndex((one) => one.apId === apId);
    const i = fit.readings.findIndex((r) => r.radio === radio && Math.hypot(r.xM - xM, r.yM - yM) < 0.8 && r.dbm > -62);
    expect(fit.noise[i]).toBeGreaterThan(15 * (fit.scatter.beaconVar / fit.readings[i]!.count));
  });
  test('too few readings: a reason, no map', () => {
    const site = surveyedSite(rooms, 1);
    expect(() => fitOfSite({ ...site, samples: site.samples.slice(0, 5) })).toThrow('too few spots');
  });
});

describe('what is not as drawn', () => {
  const found = (seed: number, change?: SiteChange, deaf = false): Fault[] => {
    const site = surveyedSite(rooms, seed, change);
    const steps = faultsOf(fitOfSite(site), deaf ? [] : unheardOn(site));
    let step = steps.next();
    while (!step.done) step = steps.next();
    return step.value;
  };
  const move =
    (r: number, pose: { xM?: number; yM?: number }, moreDb = 0): SiteChange =>
    (transmitters, medium) => ({
      medium,
      transmitters: transmitters.map((t, i) => (i === r ? { ...t, txPowerDbm: t.txPowerDbm + moreDb, pose: { ...t.pose, ...pose } } : t)),
    });
  // In the last one an access point hangs so close to two walls that a place 1.6 m off fits better: that is no finding.
  test('a floor as drawn: nothing', () => expect([2, 4, 3].flatMap((seed) => found(seed))).toEqual([]));
  test('10 dB weak: that one, and about as much', () => {
    const [first] = found(2, move(4, {}, -10));
    expect(first).toMatchObject({ kind: 'level', radio: 4 });
    expect(Math.abs((first as Fault & { kind: 'level' }).offDb + 10)).toBeLessThan(3 * (first as Fault & { kind: 'level' }).sdDb);
  });
  test('hung 6 m from where it is drawn: that one, to within 1.5 m', () => {
    const [first] = found(5, move(2, { xM: 27.2, yM: 3 }));
    expect(first).toMatchObject({ kind: 'elsewhere', radio: 2 });
    const { xM, yM } = first as Fault & { kind: 'elsewhere' };
    expect(Math.hypot(xM - 27.2, yM - 3)).toBeLessThan(1.5);
  });
  test('hung 1.5 m off is told; what fits better half a metre off is not', () => {
    const site = surveyedSite(rooms, 5);
    const told = found(5, move(0, { xM: site.radios[0]!.pose.xM + 1.5 }));
    expect(told).toHaveLength(1);
    expect(told[0]).toMatchObject({ kind: 'elsewhere', radio: 0 });
    expect((told[0] as Fault & { kind: 'elsewhere' }).awayM).toBeCloseTo(1.5, 0);
  });
  test('two that were swapped', () => {
    const swapped = found(4, (transmitters, medium) => ({
      medium,
      transmitters: transmitters.map((t, i) =>
        i === 1 ? { ...t, pose: transmitters[2]!.pose } : i === 2 ? { ...t, pose: transmitters[1]!.pose } : t,
      ),
    }));
    expect(swapped.map(({ excess: _, ...fault }) => fault)).toEqual([{ kind: 'swapped', radio: 1, other: 2 }]);
  });
  test('a drawn wall that is not there: that wall, and about what it was drawn to lose', () => {
    const { medium: drawn } = surveyedSite(rooms, 2);
    const unitsOf = (id: string) => drawn.panes.lossUnits[drawn.panes.wallIds.indexOf(id) * 3 + 1]!;
    const gone = drawn.panes.wallIds.find((id, i) => unitsOf(id) === Math.max(...drawn.panes.wallIds.map(unitsOf)) && i > 6)!;
    const told = found(2, (transmitters, medium) => ({
      transmitters,
      medium: {
        ...medium,
        panes: {
          ...medium.panes,
          lossUnits: medium.panes.lossUnits.map((units, i) =>
            medium.panes.wallIds[medium.panes.wallIndex[Math.floor(i / 3)]!] === gone ? 0 : units,
          ),
        },
      },
    }));
    const wall = told.find((fault) => fault.kind === 'wall' && fault.wallId === gone) as Fault & { kind: 'wall' };
    expect(wall.materialId).toBe('concrete');
    expect(wall.offDb).toBeLessThan(-5);
  });
  test('of a wall with a door the loss of one material is changed, in one band', () => {
    const door = { id: 'd', wallId: 'w', kind: 'door' as const, atM: 4, widthM: 1, sillM: 0, headM: 3, materialId: 'glass' };
    const wall = { id: 'w', floorId: 'f', axM: 5, ayM: 0, bxM: 5, byM: 10, baseM: 0, topM: 3, materialId: 'brick' };
    const medium = mediumOf(panesOf([wall], [door]), { exponent: 2 });
    const less = withWallLoss(medium, { wallId: 'w', materialId: 'brick' }, -3, '5');
    const db = ({ panes }: typeof medium, p: number, lane: number) => panes.lossUnits[p * 3 + lane]! * 0.05;
    for (let p = 0; p < medium.panes.count; p++) {
      const brick = medium.panes.materials[medium.panes.materialIndex[p]!]!.id === 'brick';
      expect(db(less, p, 1)).toBeCloseTo(db(medium, p, 1) - (brick ? 3 : 0), 6);
      expect(db(less, p, 0)).toBe(db(medium, p, 0));
    }
    // Never less than nothing.
    expect(db(withWallLoss(medium, { wallId: 'w', materialId: 'glass' }, -90, '5'), 1, 1)).toBe(0);
  });
  /** A wall of 10 dB along the floor, 6 m long, that is not drawn. */
  const wallFrom =
    (axM: number, yM: number): SiteChange =>
    (transmitters, medium) => {
      const extra = panesOf([{ id: 'hidden', floorId: 'f', axM, ayM: yM, bxM: axM + 6, byM: yM, baseM: 0, topM: 3, materialId: 'plasterboard' }], []);
      return { transmitters, medium: { ...medium, panes: joinPanes([medium.panes, { ...extra, lossUnits: extra.lossUnits.map(() => 200) }]) } };
    };
  const offM = (fault: Fault | undefined, xM: number, yM: number): number =>
    fault?.kind === 'obstacle' ? Math.hypot((fault.fromM[0] + fault.toM[0]) / 2 - xM, (fault.fromM[1] + fault.toM[1]) / 2 - yM) : Infinity;
  test('a wall of 10 dB that nobody drew', () => expect(offM(found(2, wallFrom(16, 14.3))[0], 19, 14.3)).toBeLessThan(2));
  test('one that hides what is behind it: by where nothing was heard', () => {
    const [first] = found(3, wallFrom(9, 14.3));
    expect(offM(first, 12, 14.3)).toBeLessThan(2);
    const { rays, unheard } = first as Fault & { kind: 'obstacle' };
    expect(rays).toBeLessThan(15);
    expect(unheard).toBeGreaterThan(rays);
    // Five readings look through it.
    expect(found(3, wallFrom(9, 14.3), true)).toEqual([]);
  });
});
