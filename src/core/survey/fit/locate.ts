import type { Grid } from '../../geometry/grid';
import { normalShare } from './normal';
import { cholesky, solveLower } from './linear';
import { evenlyOf, type Reading, type Unheard } from './readings';
import { noiseOf } from './scatter';
import { SPREAD_DB } from './unheard';
import { shadowDb2, type Scatter } from './whiten';

/** Where a transmitter is taken to be: the likeliest spot, and the cells that hold it nine times in ten, the likeliest first counted. */
export type Located = Readonly<{ xM: number; yM: number; region: Uint8Array; regionM2: number; eirpDbm: number; readings: number }>;

/** What an unknown transmitter sends, before anything is known: mean and deviation, in dBm and dB, an antenna without direction taken. */
const EIRP = { dbm: 17, sdDb: 6 } as const;
/** Readings and spots without one that are looked at, at most, taken evenly. */
const MOST_READINGS = 110;
const MOST_UNHEARD = 90;
/** Spots at which it was not heard nearer to each other than shadows reach say the same: one in so many correlation lengths. */
const APART = 1;
/** A beacon may be lost for any reason: share of them. */
const LOST = 0.02;
/** Clicks of a walk miss where one stood by about this much, in m: likelihoods are blurred by it. */
const CLICK_M = 0.7;
/** How often the region shall hold the transmitter. */
const HOLDS = 0.9;
/** How sure the exponent is where nothing was learned of it. */
export const EXPONENT_SD = 0.5;
/** Fewer readings say nothing of a place. */
export const LEAST_TO_LOCATE = 5;

const dot = (a: Float64Array, b: Float64Array, n: number): number => {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += a[i]! * b[i]!;
  return sum;
};

/** Spots further apart than a distance, in the order in which they come. */
function thinned(spots: readonly Unheard[], apartM: number): Unheard[] {
  const kept: Unheard[] = [];
  for (const spot of spots) if (!kept.some(({ xM, yM }) => Math.hypot(xM - spot.xM, yM - spot.yM) < apartM)) kept.push(spot);
  return kept;
}

/**
 * Where a transmitter is, from what was heard of it and where it was not: for every cell of a grid the likelihood of its readings, what it sends and how fast levels fall being unknown, shadows being a Gaussian
 * field along the walk (their covariance is the same wherever it stands).
 * @param grid of places at the transmitter's height
 * @param mask cells in which it may be
 * @param lossTo loss in dB between a spot at the receiver's height and every cell, antennas without gain
 * @param offsetDb what the receiver reads more than what arrives
 * @param exponentSd how sure the path loss exponent is, standard deviation
 * @returns null where too little was heard
 */
export function locate(
  heard: readonly Reading[],
  unheard: readonly Unheard[],
  grid: Grid,
  mask: Uint8Array,
  lossTo: (xM: number, yM: number) => Float32Array,
  scatter: Scatter,
  offsetDb: number,
  exponentSd: number,
): Located | null {
  if (heard.length < LEAST_TO_LOCATE) return null;
  const readings = evenlyOf(heard, MOST_READINGS);
  const silent = evenlyOf(thinned(unheard, APART * scatter.correlationM), MOST_UNHEARD);
  const n = readings.length;
  const losses = readings.map(({ xM, yM }) => lossTo(xM, yM));
  const silentLosses = silent.map(({ xM, yM }) => lossTo(xM, yM));
  const { shadowVar } = scatter;
  const noise = noiseOf(readings, scatter);
  const lower = new Float64Array(n * n);
  for (let i = 0; i < n; i++) {
    const a = readings[i]!;
    for (let j = 0; j < i; j++) {
      const b = readings[j]!;
      lower[i * n + j] = shadowDb2(scatter, a.xM - b.xM, a.yM - b.yM);
    }
    lower[i * n + i] = shadowVar + noise[i]!;
  }
  cholesky(lower, n);
  const ones = new Float64Array(n).fill(1);
  solveLower(lower, n, ones);
  const onesSquare = dot(ones, ones, n) + 1 / EIRP.sdDb ** 2;
  const spread = Math.sqrt(SPREAD_DB ** 2 + shadowVar);
  const cells = grid.cols * grid.rows;
  const logs = new Float64Array(cells).fill(-Infinity);
  const more = new Float64Array(cells);
  const squares = new Float64Array(cells);
  const z = new Float64Array(n);
  const slopes = new Float64Array(n);
  for (let cell = 0; cell < cells; cell++) {
    if (mask[cell] === 0) continue;
    const [x, y] = [grid.originXM + (cell % grid.cols) * grid.cellM, grid.originYM + Math.floor(cell / grid.cols) * grid.cellM];
    const slopeAt = ({ xM, yM }: { xM: number; yM: number }): number => -10 * Math.log10(Math.max(1, Math.hypot(xM - x, yM - y)));
    for (let i = 0; i < n; i++) {
      z[i] = readings[i]!.dbm - (EIRP.dbm + offsetDb - losses[i]![cell]!);
      slopes[i] = slopeAt(readings[i]!);
    }
    solveLower(lower, n, z);
    solveLower(lower, n, slopes);
    // What it sends more than expected, and how much faster levels fall, as its readings have them from here: two unknowns with priors.
    const [a, b, c] = [onesSquare, dot(ones, slopes, n), dot(slopes, slopes, n) + 1 / exponentSd ** 2];
    const [u, v] = [dot(ones, z, n), dot(slopes, z, n)];
    const determinant = a * c - b * b;
    const moreDb = (c * u - b * v) / determinant;
    const steeper = (a * v - b * u) / determinant;
    more[cell] = moreDb;
    squares[cell] = dot(z, z, n) - moreDb * u - steeper * v;
    let log = -0.5 * (squares[cell]! + Math.log(determinant));
    for (let k = 0; k < silent.length; k++) {
      const f = EIRP.dbm + offsetDb + moreDb + steeper * slopeAt(silent[k]!) - silentLosses[k]![cell]!;
      log += Math.log(LOST + (1 - LOST) * normalShare((silent[k]!.hearsFromDbm - f) / spread));
    }
    logs[cell] = log;
  }
  // Where even the likeliest spot leaves more than shadows and beacons scatter by, the building is not as it is taken to be: all is believed so much less (quasi-likelihood).
  const likeliest = logs.reduce((best, log, cell) => (log > logs[best]! ? cell : best), 0);
  const doubt = Math.max(1, squares[likeliest]! / n);
  const shares = blurred(
    logs.map((log) => log / doubt),
    mask,
    grid,
  );
  const order = Array.from({ length: cells }, (_, i) => i)
    .filter((i) => shares[i]! > 0)
    .sort((a, b) => shares[b]! - shares[a]!);
  const best = order[0];
  if (best === undefined) return null;
  const region = new Uint8Array(cells);
  let [held, count] = [0, 0];
  for (const cell of order) {
    region[cell] = 1;
    count++;
    held += shares[cell]!;
    if (held >= HOLDS) break;
  }
  return {
    xM: grid.originXM + (best % grid.cols) * grid.cellM,
    yM: grid.originYM + Math.floor(best / grid.cols) * grid.cellM,
    region,
    regionM2: count * grid.cellM ** 2,
    eirpDbm: EIRP.dbm + more[best]!,
    readings: heard.length,
  };
}

/** Likelihoods as shares of 1, each spread over its neighbours as clicks scatter; nothing outside the mask. */
function blurred(logs: Float64Array, mask: Uint8Array, { cols, rows, cellM }: Grid): Float64Array {
  const most = logs.reduce((a, b) => Math.max(a, b), -Infinity);
  const reach = Math.ceil((3 * CLICK_M) / cellM);
  const weights = Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-0.5 * (((i - reach) * cellM) / CLICK_M) ** 2));
  let from = logs.map((log) => Math.exp(log - most));
  // Along rows, then along columns: a Gaussian is both.
  for (const [step, length, other, jump] of [
    [1, cols, rows, cols],
    [cols, rows, cols, 1],
  ] as const) {
    const to = new Float64Array(from.length);
    for (let line = 0; line < other; line++)
      for (let i = 0; i < length; i++) {
        const value = from[line * jump + i * step]!;
        if (value === 0) continue;
        for (let k = -reach; k <= reach; k++) if (i + k >= 0 && i + k < length) to[line * jump + (i + k) * step]! += value * weights[k + reach]!;
      }
    from = to;
  }
  let sum = 0;
  for (let i = 0; i < from.length; i++) sum += from[i]! *= mask[i]!;
  return from.map((value) => value / sum);
}
