import type { Grid } from '../../geometry/grid';
import type { Medium } from '../../propagation/medium';
import { eachCellSeeing, screensIn } from '../measured';
import { MAP_NEAR, type Fit } from './fit';
import { correctedMedium, type Row } from './trend';
import { nearbyOf } from './nearby';
import { covariancesOf, krigeAt, newKriging, ofEachRadio, type Covariances } from './whiten';

/** What a radio's level is taken to be at every cell, in dBm, and the standard deviation of that, in dB; NaN where nobody measured near enough. */
export type Surveyed = Readonly<{ levelDbm: Float32Array; sdDb: Float32Array }>;

/**
 * Shadows are smooth: they are worked out at nodes and taken straight between. Nodes lie a third of the shadows' reach apart, within these bounds, in m. What walls do is exact in every cell.
 * What is unknown besides changes slower still.
 */
const NODES_PER_REACH = 3;
const NODE_M = { least: 0.5, most: 2 } as const;
const REST_NODE_M = 2.5;

/** How many cells lie from node to node: whole ones, so that what is said at a node is said in a cell. */
export const nodeCells = ({ scatter: { correlationM } }: Pick<Fit, 'scatter'>, { cellM }: Grid): number =>
  cellsIn(Math.max(NODE_M.least, Math.min(NODE_M.most, correlationM / NODES_PER_REACH)), cellM);
const cellsIn = (nodeM: number, cellM: number): number => Math.max(1, Math.round(nodeM / cellM));

/** Far below what any receiver hears nothing is claimed: nobody asks for it, and shadows cost time. */
const LEAST_DBM = -110;

/** The medium as the readings have it. */
export const learnedMedium = ({ trend, estimates, medium, radios }: Fit): Medium =>
  correctedMedium(medium, radios[0]!.channel.band, trend.parameters, estimates);

/** The readings of each radio of a fit: maps of one radio after the other ask for them. */
const byRadio = new WeakMap<Fit, Map<number, Int32Array>>();
function ofRadio(fit: Fit, radio: number): Int32Array {
  const known = byRadio.get(fit) ?? ofEachRadio(fit.places);
  byRadio.set(fit, known);
  return known.get(radio) ?? new Int32Array(0);
}

/** What of a radio's level is its own and the receiver's, beyond the design, in dB. */
export const ownGainDb = ({ trend, estimates }: Fit, radio: number): number =>
  trend.parameters.reduce((sum, p, i) => sum + (p.kind === 'offset' || (p.kind === 'radio' && p.radio === radio) ? estimates[i]! : 0), 0);

/** What the readings of a radio make of a spot beyond the corrected model, in dB, and the variance of all that is said there, in dB2. */
export type Estimate = { leftDb: number; varianceDb2: number };

/**
 * Estimates one radio at any spot: by its nearest readings' shadows, with what of the parameters stays unknown there.
 * @returns a function that says the distance of the nearest reading in m, Infinity without any, and writes the rest into `out`; `without`: a reading that it is not to know; `row`: how the level
 * there hangs on the parameters, where that is known already
 */
export function estimatorOf(fit: Fit, radio: number): (xM: number, yM: number, out: Estimate, without?: number, row?: Row) => number {
  return estimatorsOf(fit, radio, null).whole;
}

/** As `estimatorOf`; one that says the shadow alone, its level in dB and variance in dB2, which costs less; and one that says the variance of all the rest. */
function estimatorsOf(
  fit: Fit,
  radio: number,
  covariances: Covariances | null,
): {
  whole: (xM: number, yM: number, out: Estimate, without?: number, row?: Row) => number;
  shadow: (xM: number, yM: number, out: Float64Array) => void;
  rest: (xM: number, yM: number, out: Float64Array) => void;
} {
  const { places, left, noise, scatter, doubt, trend, covariance, zM, slopes: known } = fit;
  const p = trend.parameters.length;
  const own = ofRadio(fit, radio);
  const near = new Int32Array(MAP_NEAR);
  const find = nearbyOf(places, own, MAP_NEAR);
  const kriging = newKriging(MAP_NEAR, true);
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
    find(xM, yM, near);
    inOneOrder();
    const { count: neighbours, varianceDb2 } = krige(xM, yM);
    let sum = 0;
    for (let a = 0; a < neighbours; a++) sum += kriging.weights[a]! * left[near[a]!]!;
    out[0] = sum;
    out[1] = doubt * varianceDb2;
  };
  const parts: Estimate = { leftDb: 0, varianceDb2: 0 };
  let krigedDb2 = 0;
  const rest = (xM: number, yM: number, out: Float64Array): void => {
    whole(xM, yM, parts);
    out[0] = parts.varianceDb2 - krigedDb2;
  };
  const whole = (xM: number, yM: number, out: Estimate, without = -1, row: Row | null = null): number => {
    if (own.length === 0) return Infinity;
    find(xM, yM, near, without);
    const nearest = near[0]!;
    inOneOrder();
    const { count: neighbours, varianceDb2 } = krige(xM, yM);
    const here = row ?? trend.rowAt(radio, { xM, yM, zM });
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
    krigedDb2 = doubt * varianceDb2;
    out.varianceDb2 = krigedDb2 + unknown + here.free * scatter.wallVar;
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
  const { shadow, rest } = estimatorsOf(fit, radio, covariancesOf(fit.places, ofRadio(fit, radio), fit.scatter));
  const shadowAt = nodesOver(grid, nodeCells(fit, grid), 2, shadow);
  const restAt = nodesOver(grid, cellsIn(REST_NODE_M, cellM), 1, rest);
  const here = new Float64Array(2);
  const beside = new Float64Array(1);
  const claimed = claimedOf(
    Array.from(ofRadio(fit, radio), (i) => fit.readings[i]!),
    grid,
    reachM,
    (reading) => screensIn(fit.medium.panes, fit.radios[radio]!.channel.band, fit.zM, { ...reading, reachM }),
  );
  for (let row = 0, i = 0; row < rows; row++) {
    for (let col = 0; col < cols; col++, i++) {
      if (claimed[i] === 0 || powerDbm + gainDb - lossDb[i]! < LEAST_DBM) continue;
      shadowAt(col, row, here);
      restAt(col, row, beside);
      levelDbm[i] = powerDbm + gainDb - lossDb[i]! + here[0]!;
      sdDb[i] = Math.sqrt(here[1]! + beside[0]!);
    }
  }
  return { levelDbm, sdDb };
}

/**
 * Values that are worked out at nodes of a lattice over a grid, each node when it is first needed, and taken straight between; asked by cell.
 * @param nodeCells cells from node to node
 * @param count of values
 */
function nodesOver(
  { cols, rows, cellM, originXM, originYM }: Grid,
  nodeCells: number,
  count: number,
  valuesAt: (xM: number, yM: number, out: Float64Array) => void,
): (col: number, row: number, out: Float64Array) => void {
  const [across, down] = [betweenNodes(cols, nodeCells), betweenNodes(rows, nodeCells)];
  const nodeCols = across.after[cols - 1]! + 1;
  const nodeRows = down.after[rows - 1]! + 1;
  const values = new Float32Array(nodeCols * nodeRows * count).fill(NaN);
  const found = new Float64Array(count);
  const nodeAt = (k: number, l: number): number => {
    const at = (l * nodeCols + k) * count;
    if (Number.isNaN(values[at]!)) {
      valuesAt(originXM + k * nodeCells * cellM, originYM + l * nodeCells * cellM, found);
      for (let v = 0; v < count; v++) values[at + v] = found[v]!;
    }
    return at;
  };
  return (col, row, out) => {
    const fu = across.share[col]!;
    const fv = down.share[row]!;
    const a = nodeAt(across.before[col]!, down.before[row]!);
    const b = nodeAt(across.after[col]!, down.before[row]!);
    const c = nodeAt(across.before[col]!, down.after[row]!);
    const d = nodeAt(across.after[col]!, down.after[row]!);
    for (let v = 0; v < count; v++)
      out[v] = (1 - fv) * ((1 - fu) * values[a + v]! + fu * values[b + v]!) + fv * ((1 - fu) * values[c + v]! + fu * values[d + v]!);
  };
}

/** Between which nodes each cell along one side of a grid lies, and which share of the way from the one to the other; twice the same where it lies on a node. */
function betweenNodes(cells: number, nodeCells: number): Readonly<{ before: Int32Array; after: Int32Array; share: Float64Array }> {
  const share = Float64Array.from({ length: cells }, (_, cell) => (cell % nodeCells) / nodeCells);
  const before = Int32Array.from({ length: cells }, (_, cell) => Math.floor(cell / nodeCells));
  return { before, after: before.map((node, cell) => (share[cell]! > 0 ? node + 1 : node)), share };
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
