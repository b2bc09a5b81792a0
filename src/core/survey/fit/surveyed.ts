import type { Grid } from '../../geometry/grid';
import type { Medium } from '../../propagation/medium';
import { eachCellSeeing, screensIn } from '../measured';
import { MAP_NEAR, type Fit } from './fit';
import { correctedMedium } from './trend';
import { covariancesOf, krigeAt, nearestOf, newKriging } from './whiten';

/** What a radio's level is taken to be at every cell, in dBm, and the standard deviation of that, in dB; NaN where nobody measured near enough. */
export type Surveyed = Readonly<{ levelDbm: Float32Array; sdDb: Float32Array }>;

/** Shadows are smooth: they are worked out at nodes this far apart, in m, and taken straight between. What walls do is exact in every cell. What is unknown besides changes slower still. */
const NODE_M = 1;
const REST_NODE_M = 2.5;

/** Far below what any receiver hears nothing is claimed: nobody asks for it, and shadows cost time. */
const LEAST_DBM = -110;

/** The medium as the readings have it. */
export const learnedMedium = ({ trend, estimates, medium, radios }: Fit): Medium =>
  correctedMedium(medium, radios[0]!.channel.band, trend.parameters, estimates);

/** What of a radio's level is its own and the receiver's, beyond the design, in dB. */
export const ownGainDb = ({ trend, estimates }: Fit, radio: number): number =>
  trend.parameters.reduce((sum, p, i) => sum + (p.kind === 'offset' || (p.kind === 'radio' && p.radio === radio) ? estimates[i]! : 0), 0);

/** What the readings of a radio make of a spot beyond the corrected model, in dB, and the variance of all that is said there, in dB2. */
export type Estimate = { leftDb: number; varianceDb2: number };

/**
 * Estimates one radio at any spot: by its nearest readings' shadows, with what of the parameters stays unknown there.
 * @returns a function that says the distance of the nearest reading in m, Infinity without any, and writes the rest into `out`; `without`: a reading that it is not to know
 */
export function estimatorOf(fit: Fit, radio: number): (xM: number, yM: number, out: Estimate, without?: number) => number {
  return estimatorsOf(fit, radio).whole;
}

/** As `estimatorOf`; one that says the shadow alone, its level in dB and variance in dB2, which costs less; and one that says the variance of all the rest. */
function estimatorsOf(
  fit: Fit,
  radio: number,
): {
  whole: (xM: number, yM: number, out: Estimate, without?: number) => number;
  shadow: (xM: number, yM: number, out: Float64Array) => void;
  rest: (xM: number, yM: number, out: Float64Array) => void;
} {
  const { places, left, noise, scatter, trend, covariance, zM, readings, slopes: known } = fit;
  const p = trend.parameters.length;
  const own = Int32Array.from(readings.flatMap((reading, i) => (reading.radio === radio ? [i] : [])));
  const placeIn = new Int32Array(readings.length);
  own.forEach((i, k) => (placeIn[i] = k));
  const near = new Int32Array(MAP_NEAR);
  const kriging = newKriging(MAP_NEAR, true);
  const covariances = covariancesOf(places, own, scatter);
  const u = new Float64Array(p);
  const seen = new Uint8Array(p);
  const touched = new Int32Array(p);
  let count = 0;
  const add = (c: number, value: number): void => {
    if (seen[c] === 0) {
      seen[c] = 1;
      touched[count++] = c;
    }
    u[c]! += value;
  };
  const find = (xM: number, yM: number, without: number): void => {
    nearestOf(places, own, own.length, xM, yM, MAP_NEAR, near, 0, without);
    // The spot that is asked next mostly lies beside this one: looked at first, its neighbours spare the others a place in the list.
    for (let k = 0; k < MAP_NEAR && near[k]! >= 0; k++) {
      const other = own[k]!;
      const at = placeIn[near[k]!]!;
      own[at] = other;
      placeIn[other] = at;
      own[k] = near[k]!;
      placeIn[near[k]!] = k;
    }
  };
  /** Spots side by side have mostly the same neighbours, if not at the same distances: in one order their matrix is factored once. */
  const inOneOrder = (): void => {
    if (near[MAP_NEAR - 1]! < 0) return;
    for (let a = 1; a < MAP_NEAR; a++) {
      const one = near[a]!;
      let b = a;
      for (; b > 0 && near[b - 1]! > one; b--) near[b] = near[b - 1]!;
      near[b] = one;
    }
  };
  const krige = (xM: number, yM: number) => krigeAt(places, noise, scatter, near, 0, MAP_NEAR, xM, yM, kriging, covariances);
  const shadow = (xM: number, yM: number, out: Float64Array): void => {
    find(xM, yM, -1);
    inOneOrder();
    const { count: neighbours, varianceDb2 } = krige(xM, yM);
    let sum = 0;
    for (let a = 0; a < neighbours; a++) sum += kriging.weights[a]! * left[near[a]!]!;
    out[0] = sum;
    out[1] = varianceDb2;
  };
  const parts: Estimate = { leftDb: 0, varianceDb2: 0 };
  let krigedDb2 = 0;
  const rest = (xM: number, yM: number, out: Float64Array): void => {
    whole(xM, yM, parts);
    out[0] = parts.varianceDb2 - krigedDb2;
  };
  const whole = (xM: number, yM: number, out: Estimate, without = -1): number => {
    if (own.length === 0) return Infinity;
    find(xM, yM, without);
    const nearest = near[0]!;
    inOneOrder();
    const { count: neighbours, varianceDb2 } = krige(xM, yM);
    const here = trend.rowAt(radio, { xM, yM, zM });
    for (let k = 0; k < count; k++) u[touched[k]!] = seen[touched[k]!] = 0;
    count = 0;
    here.columns.forEach((c, k) => add(c, here.slopes[k]!));
    let leftDb = 0;
    for (let a = 0; a < neighbours; a++) {
      const weight = kriging.weights[a]!;
      const i = near[a]!;
      leftDb += weight * left[i]!;
      for (let k = known.starts[i]!; k < known.starts[i + 1]!; k++) add(known.columns[k]!, -weight * known.slopes[k]!);
    }
    let unknown = 0;
    for (let a = 0; a < count; a++) {
      const c = touched[a]!;
      let others = 0;
      for (let b = 0; b < a; b++) others += u[touched[b]!]! * covariance[c * p + touched[b]!]!;
      unknown += u[c]! * (u[c]! * covariance[c * p + c]! + 2 * others);
    }
    out.leftDb = leftDb;
    krigedDb2 = varianceDb2;
    out.varianceDb2 = varianceDb2 + unknown + here.free * scatter.wallVar;
    return neighbours === 0 ? Infinity : Math.hypot(places.xM[nearest]! - xM, places.yM[nearest]! - yM);
  };
  return { whole, shadow, rest };
}

/**
 * The measured map of one radio: what the corrected model says, and the shadows that its readings show.
 * @param lossDb of the radio through `learnedMedium`, with the path as in loss fields, for what receives without gain
 * @param powerDbm what the radio sends, less what its channel's path differs by (`middlePowerDbm`)
 * @param reachM further from its nearest reading, or behind a wall from all that are near enough, nothing is claimed
 */
export function surveyedOf(fit: Fit, radio: number, grid: Grid, lossDb: Float32Array, powerDbm: number, reachM: number): Surveyed {
  const { cols, rows, cellM } = grid;
  const levelDbm = new Float32Array(cols * rows).fill(NaN);
  const sdDb = new Float32Array(cols * rows).fill(NaN);
  const gainDb = ownGainDb(fit, radio);
  const { shadow, rest } = estimatorsOf(fit, radio);
  const shadowAt = nodesOver(grid, NODE_M, 2, shadow);
  const restAt = nodesOver(grid, REST_NODE_M, 1, rest);
  const here = new Float64Array(2);
  const beside = new Float64Array(1);
  const own = fit.readings.filter((reading) => reading.radio === radio);
  const claimed = claimedOf(own, grid, reachM, (reading) =>
    screensIn(fit.medium.panes, fit.radios[radio]!.channel.band, fit.zM, { ...reading, reachM }),
  );
  for (let row = 0, i = 0; row < rows; row++) {
    for (let col = 0; col < cols; col++, i++) {
      if (claimed[i] === 0 || powerDbm + gainDb - lossDb[i]! < LEAST_DBM) continue;
      shadowAt(col * cellM, row * cellM, here);
      restAt(col * cellM, row * cellM, beside);
      levelDbm[i] = powerDbm + gainDb - lossDb[i]! + here[0]!;
      sdDb[i] = Math.sqrt(here[1]! + beside[0]!);
    }
  }
  return { levelDbm, sdDb };
}

/**
 * Values that are worked out at nodes of a lattice over a grid, each node when it is first needed, and taken straight between; asked by the distance from the grid's origin, in m.
 * @param count of values
 */
function nodesOver(
  { cols, rows, cellM, originXM, originYM }: Grid,
  nodeM: number,
  count: number,
  valuesAt: (xM: number, yM: number, out: Float64Array) => void,
): (x: number, y: number, out: Float64Array) => void {
  const nodeCols = Math.ceil(((cols - 1) * cellM) / nodeM) + 2;
  const nodeRows = Math.ceil(((rows - 1) * cellM) / nodeM) + 2;
  const values = new Float32Array(nodeCols * nodeRows * count).fill(NaN);
  const found = new Float64Array(count);
  const add = (k: number, l: number, share: number, out: Float64Array): void => {
    // A corner that has no share is not worked out.
    if (share === 0) return;
    const at = (l * nodeCols + k) * count;
    if (Number.isNaN(values[at]!)) {
      valuesAt(originXM + k * nodeM, originYM + l * nodeM, found);
      for (let v = 0; v < count; v++) values[at + v] = found[v]!;
    }
    for (let v = 0; v < count; v++) out[v]! += share * values[at + v]!;
  };
  return (x, y, out) => {
    const k = Math.floor(x / nodeM);
    const l = Math.floor(y / nodeM);
    const fu = x / nodeM - k;
    const fv = y / nodeM - l;
    out.fill(0);
    add(k, l, (1 - fu) * (1 - fv), out);
    add(k + 1, l, fu * (1 - fv), out);
    add(k, l + 1, (1 - fu) * fv, out);
    add(k + 1, l + 1, fu * fv, out);
  };
}

/** The cells within reach of any of some readings that no wall hides from it: behind a wall that nobody stood behind nothing is claimed. */
function claimedOf(
  readings: ReadonlyArray<Readonly<{ xM: number; yM: number }>>,
  grid: Grid,
  reachM: number,
  screensNear: (reading: Readonly<{ xM: number; yM: number }>) => ReturnType<typeof screensIn>,
): Uint8Array {
  const claimed = new Uint8Array(grid.cols * grid.rows);
  for (const reading of readings) eachCellSeeing(reading, grid, reachM, screensNear(reading), (cell) => (claimed[cell] = 1), claimed);
  return claimed;
}
