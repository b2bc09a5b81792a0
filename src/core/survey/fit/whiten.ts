import { seeded } from '../../random';
import { decay } from './decay';
import { cholesky, solveLower, solveUpper } from './linear';

/** What is known of how readings scatter: the field of shadows (variance in dB2, correlation length in m), the variance of one beacon and of single walls, in dB2. */
export type Scatter = Readonly<{ shadowVar: number; correlationM: number; beaconVar: number; wallVar: number }>;

/** Places of readings, and of which radio each is: shadows of different radios have nothing in common. */
export type Places = Readonly<{ xM: Float64Array; yM: Float64Array; radio: Int32Array }>;

/** For each reading, in an order in which each stands only on earlier ones, the nearest earlier of its radio; -1 where there are no more. */
export type Earlier = Readonly<{ order: Int32Array; near: Int32Array; most: number }>;

/** Indices of the `most` nearest of `among` to a spot, the nearest first and of equally near ones the lower, into `out`; -1 for what is missing. @param amongCount how many of `among` take part @param without left out */
export function nearestOf(
  { xM, yM }: Places,
  among: Int32Array,
  amongCount: number,
  x: number,
  y: number,
  most: number,
  out: Int32Array,
  at: number,
  without = -1,
): void {
  const from = at;
  const distances = nearestDistances;
  let count = 0;
  for (let k = 0; k < amongCount; k++) {
    const i = among[k]!;
    if (i === without) continue;
    const d = (xM[i]! - x) ** 2 + (yM[i]! - y) ** 2;
    if (count === most && !isNearer(d, i, distances[count - 1]!, out[from + count - 1]!)) continue;
    let to = count < most ? count++ : count - 1;
    while (to > 0 && isNearer(d, i, distances[to - 1]!, out[from + to - 1]!)) {
      distances[to] = distances[to - 1]!;
      out[from + to] = out[from + to - 1]!;
      to--;
    }
    distances[to] = d;
    out[from + to] = i;
  }
  for (let k = count; k < most; k++) out[from + k] = -1;
}
const isNearer = (d: number, i: number, other: number, j: number): boolean => d < other || (d === other && i < j);
/** As many neighbours as are ever asked for. */
const nearestDistances = new Float64Array(64);

/** The readings of each radio. */
export function ofEachRadio({ radio }: Places): Map<number, Int32Array> {
  const lists = new Map<number, number[]>();
  radio.forEach((r, i) => {
    const own = lists.get(r);
    if (own === undefined) lists.set(r, [i]);
    else own.push(i);
  });
  return new Map([...lists].map(([r, own]) => [r, Int32Array.from(own)]));
}

/**
 * The nearest earlier readings of each, in a shuffled order: so that each has some near and some far.
 * @param first the same of the first of them: the others come after these
 */
export function earlierOf(places: Places, most: number, first: Earlier | null = null, seed = 1): Earlier {
  const n = places.radio.length;
  const order = Int32Array.from(places.radio.keys());
  const known = first?.order.length ?? 0;
  if (first !== null) order.set(first.order);
  const uniform = seeded(seed);
  for (let i = n - 1; i > known; i--) {
    const j = known + Math.floor(uniform() * (i - known + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  const near = new Int32Array(n * most).fill(-1);
  if (first !== null) near.set(first.near);
  const before = new Map([...ofEachRadio(places)].map(([radio, all]) => [radio, { own: new Int32Array(all.length), count: 0 }]));
  order.forEach((i, at) => {
    const own = before.get(places.radio[i]!)!;
    if (at >= known) nearestOf(places, own.own, own.count, places.xM[i]!, places.yM[i]!, most, near, i * most);
    own.own[own.count++] = i;
  });
  return { order, near, most };
}

/** The nearest other readings of each, of the same radio: what it stands on where all but itself is known. */
export function othersOf(places: Places, most: number): Earlier {
  const near = new Int32Array(places.radio.length * most);
  for (const own of ofEachRadio(places).values())
    for (const i of own) nearestOf(places, own, own.length, places.xM[i]!, places.yM[i]!, most, near, i * most, i);
  return { order: Int32Array.from(places.radio.keys()), near, most };
}

/** Covariance of the shadow at two spots, in dB2, by how far they lie from each other. */
export const shadowDb2 = ({ shadowVar, correlationM }: Scatter, dx: number, dy: number): number =>
  shadowVar * decay(Math.sqrt(dx * dx + dy * dy) / correlationM);

/**
 * Room for one kriging; `weights` of the neighbours are its answer. `solved`: of which readings, in their order, the matrix is factored already; null where that is not remembered.
 */
export type Kriging = Readonly<{ matrix: Float64Array; weights: Float64Array; against: Float64Array; solved: Int32Array | null }>;
/** @param steady whether it is only ever asked of the same readings, noise and scatter: what is factored is then used again for the same neighbours */
export const newKriging = (most: number, steady = false): Kriging => ({
  matrix: new Float64Array(most * most),
  weights: new Float64Array(most),
  against: new Float64Array(most),
  solved: steady ? new Int32Array(most + 1).fill(-1) : null,
});

/** Whether the matrix is factored for just these readings. */
function isSolved(solved: Int32Array | null, near: Int32Array, at: number, count: number): boolean {
  if (solved === null || solved[0] !== count) return false;
  for (let a = 0; a < count; a++) if (solved[a + 1] !== near[at + a]) return false;
  return true;
}

/**
 * Weights of some readings for the shadow at a spot, exact where readings have no noise: (K + N)^-1 k.
 * @param near indices of the readings, from `at`; ends at the first -1
 * @param noise variance of each reading, in dB2
 * @returns how many there are, and the variance of the shadow that is left, in dB2
 */
export function krigeAt(
  { xM, yM }: Places,
  noise: Float64Array,
  scatter: Scatter,
  near: Int32Array,
  at: number,
  most: number,
  x: number,
  y: number,
  { matrix, weights, against, solved }: Kriging,
  known: Covariances | null = null,
): { count: number; varianceDb2: number } {
  const { shadowVar } = scatter;
  let count = 0;
  while (count < most && near[at + count]! >= 0) count++;
  const again = isSolved(solved, near, at, count);
  for (let a = 0; a < count; a++) {
    const i = near[at + a]!;
    for (let b = 0; b < a && !again; b++) {
      const j = near[at + b]!;
      matrix[a * count + b] =
        known === null ? shadowDb2(scatter, xM[i]! - xM[j]!, yM[i]! - yM[j]!) : known.db2[known.place[i]! * known.count + known.place[j]!]!;
    }
    if (!again) matrix[a * count + a] = shadowVar + noise[i]!;
    against[a] = weights[a] = shadowDb2(scatter, xM[i]! - x, yM[i]! - y);
  }
  if (!again) {
    cholesky(matrix, count);
    if (solved !== null) {
      solved[0] = count;
      for (let a = 0; a < count; a++) solved[a + 1] = near[at + a]!;
    }
  }
  solveLower(matrix, count, weights);
  solveUpper(matrix, count, weights);
  let explained = 0;
  for (let a = 0; a < count; a++) explained += weights[a]! * against[a]!;
  return { count, varianceDb2: Math.max(0, shadowVar - explained) };
}

/** Covariances of the shadow between some readings, in dB2, worked out once; `place`: of a reading among them. */
export type Covariances = Readonly<{ db2: Float64Array; place: Int32Array; count: number }>;

/** Of more readings than this they would take too much room. */
const MOST_COVARIANCES = 1200;

/** The covariances between some readings; null where they are too many. */
export function covariancesOf({ xM, yM }: Places, among: ArrayLike<number>, scatter: Scatter): Covariances | null {
  const count = among.length;
  if (count > MOST_COVARIANCES) return null;
  const place = new Int32Array(xM.length);
  const db2 = new Float64Array(count * count);
  for (let a = 0; a < count; a++) {
    const i = among[a]!;
    place[i] = a;
    for (let b = 0; b <= a; b++) {
      const j = among[b]!;
      db2[a * count + b] = db2[b * count + a] = shadowDb2(scatter, xM[i]! - xM[j]!, yM[i]! - yM[j]!);
    }
  }
  return { db2, place, count };
}

/** How each reading stands on its earlier ones: weights in the order of `Earlier.near`, 0 where there are none, and the variance of what is left, in dB2. Noise is what it was made with. */
export type Standing = Readonly<{ earlier: Earlier; noise: Float64Array; weights: Float64Array; variance: Float64Array }>;

/**
 * What makes readings independent of each other: Vecchia's factor of their covariance.
 * @param before the same of the first of these readings, with the same scatter and earlier ones: of them only what stands on another noise than there is worked out
 */
export function standingOf(places: Places, noise: Float64Array, scatter: Scatter, earlier: Earlier, before: Standing | null = null): Standing {
  const { near, most } = earlier;
  const n = places.radio.length;
  const weights = new Float64Array(n * most);
  const variance = new Float64Array(n);
  if (before !== null) {
    weights.set(before.weights);
    variance.set(before.variance);
  }
  const kriging = newKriging(most);
  for (let i = 0; i < n; i++) {
    if (before !== null && standsOnSame(i, near, most, noise, before.noise)) continue;
    const { count, varianceDb2 } = krigeAt(places, noise, scatter, near, i * most, most, places.xM[i]!, places.yM[i]!, kriging);
    variance[i] = varianceDb2 + noise[i]!;
    for (let a = 0; a < count; a++) weights[i * most + a] = kriging.weights[a]!;
  }
  return { earlier, noise: noise.slice(), weights, variance };
}

function standsOnSame(i: number, near: Int32Array, most: number, noise: Float64Array, before: Float64Array): boolean {
  if (noise[i] !== before[i]) return false;
  for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) if (noise[near[a]!] !== before[near[a]!]) return false;
  return true;
}
