import type { Grid } from '../../geometry/grid';
import type { PointM } from '../../geometry/point';
import type { Medium } from '../../propagation/medium';
import { eachCellSeeing, hiddenWithin } from '../measured';
import { MAP_NEAR, type Fit } from './fit';
import { latticeOver, overLattice, placesOfNodes } from './lattice';
import { ofEachRadio } from './nearby';
import { shadowsAt } from './shadows';
import { correctedMedium, type Slopes } from './trend';

/** What a radio's level is taken to be at every cell, in dBm, and the standard deviation of that, in dB; NaN where nobody measured near enough. */
export type Surveyed = Readonly<{ levelDbm: Float32Array; sdDb: Float32Array }>;

/**
 * Shadows are smooth: they are worked out at nodes and taken straight between. Nodes lie a third of the shadows' reach apart, within these bounds, in m. What walls do is exact in every cell.
 * What is unknown besides changes slower still.
 */
const NODES_PER_REACH = 3;
const NODE_M = { least: 0.5, most: 2 } as const;
const REST_NODE_M = 3;

/** How many cells lie from node to node: whole ones, so that what is said at a node is said in a cell. */
export const nodeCells = ({ scatter: { correlationM } }: Pick<Fit, 'scatter'>, { cellM }: Grid): number =>
  Math.max(1, Math.round(Math.max(NODE_M.least, Math.min(NODE_M.most, correlationM / NODES_PER_REACH)) / cellM));
/** How many nodes lie from one at which all is worked out to the next. */
const restNodes = (fit: Fit, grid: Grid): number => Math.max(1, Math.round(REST_NODE_M / (nodeCells(fit, grid) * grid.cellM)));

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

/**
 * Says of a spot the variance of what stays unknown besides the shadow, in dB2: of the parameters, as the level there and those of the readings that it stands on hang on them, and of walls without
 * one.
 * @returns a function of how the level hangs on the parameters, and of the readings and their weights: `MAP_NEAR` from `at`, or up to the first -1
 */
function unknownOf({
  trend,
  covariance,
  slopes: known,
  scatter,
}: Fit): (here: Slopes, near: Int32Array, weights: Float64Array, at: number) => number {
  const p = trend.parameters.length;
  const u = new Float64Array(p);
  const seen = new Uint8Array(p);
  const touched = new Int32Array(p);
  const values = new Float64Array(p);
  let count = 0;
  const add = (c: number, value: number): void => {
    if (seen[c] === 0) {
      seen[c] = 1;
      touched[count++] = c;
    }
    u[c]! += value;
  };
  return (here, near, weights, at) => {
    count = 0;
    for (let k = 0; k < here.columns.length; k++) add(here.columns[k]!, here.slopes[k]!);
    for (let a = at; a < at + MAP_NEAR && near[a]! >= 0; a++) {
      const i = near[a]!;
      for (let k = known.starts[i]!; k < known.starts[i + 1]!; k++) add(known.columns[k]!, -weights[a]! * known.slopes[k]!);
    }
    let unknown = 0;
    for (let a = 0; a < count; a++) {
      const c = touched[a]!;
      const row = c * p;
      const value = u[c]!;
      let others = 0;
      for (let b = 0; b < a; b++) others += values[b]! * covariance[row + touched[b]!]!;
      unknown += value * (value * covariance[row + c]! + 2 * others);
      values[a] = value;
      u[c] = seen[c] = 0;
    }
    return unknown + here.free * scatter.wallVar;
  };
}

/**
 * What the readings of a radio make of some spots beyond the corrected model, in dB; the variance of all that is said there, in dB2; and how far the nearest reading lies, in m, Infinity without any.
 */
export type Estimates = Readonly<{ leftDb: Float64Array; varianceDb2: Float64Array; nearestM: Float64Array }>;

/**
 * Estimates one radio at some spots: by its nearest readings' shadows, with what of the parameters stays unknown there.
 * @param rows of each spot, how the level there hangs on the parameters, where that is known already
 * @param without of each spot a reading that it is not to know, -1 for none
 */
export function estimatesAt(
  fit: Fit,
  radio: number,
  spots: readonly PointM[],
  rows: readonly Slopes[] = spots.map(({ xM, yM }) => fit.trend.slopesAt(radio, { xM, yM, zM: fit.zM })),
  without: Int32Array | null = null,
): Estimates {
  const { places, doubt } = fit;
  const [x, y] = [Float64Array.from(spots, ({ xM }) => xM), Float64Array.from(spots, ({ yM }) => yM)];
  const { levelDb, varianceDb2, near, weights } = shadowsAt(fit, ofRadio(fit, radio), MAP_NEAR, x, y, spots.length, without);
  const unknownAt = unknownOf(fit);
  const nearestM = new Float64Array(spots.length).fill(Infinity);
  for (let s = 0; s < spots.length; s++) {
    const nearest = near[s * MAP_NEAR]!;
    if (nearest >= 0) nearestM[s] = Math.hypot(places.xM[nearest]! - x[s]!, places.yM[nearest]! - y[s]!);
    varianceDb2[s] = doubt * varianceDb2[s]! + unknownAt(rows[s]!, near, weights, s * MAP_NEAR);
  }
  return { leftDb: levelDb, varianceDb2, nearestM };
}

/**
 * The measured map of one radio: what the corrected model says, and the shadows that its readings show.
 * @param lossDb of the radio through `learnedMedium`, with the path as in loss fields, for what receives without gain
 * @param powerDbm what the radio sends, less what its channel's path differs by (`middlePowerDbm`)
 * @param reachM further from its nearest reading, or behind a wall from all that are near enough, nothing is claimed
 */
export function surveyedOf(fit: Fit, radio: number, grid: Grid, lossDb: Float32Array, powerDbm: number, reachM: number): Surveyed {
  const { cols, rows } = grid;
  const levelDbm = new Float32Array(cols * rows).fill(NaN);
  const sdDb = new Float32Array(cols * rows).fill(NaN);
  const gainDb = ownGainDb(fit, radio);
  const own = ofRadio(fit, radio);
  const wanted = new Uint8Array(cols * rows);
  const hiddenFrom = hiddenWithin(fit.medium.panes, fit.radios[radio]!.channel.band, fit.zM, reachM);
  for (const i of own) {
    const reading = fit.readings[i]!;
    // Behind a wall that nobody stood behind nothing is claimed.
    eachCellSeeing(reading, grid, reachM, hiddenFrom(reading), (cell) => (wanted[cell] = 1), wanted);
  }
  for (let i = 0; i < wanted.length; i++) if (powerDbm + gainDb - lossDb[i]! < LEAST_DBM) wanted[i] = 0;
  const lattice = latticeOver(grid, nodeCells(fit, grid), restNodes(fit, grid), wanted);
  const { xM, yM } = placesOfNodes(lattice, grid);
  const { levelDb, varianceDb2, near, weights } = shadowsAt(fit, own, MAP_NEAR, xM, yM, lattice.restCount);
  for (let i = 0; i < varianceDb2.length; i++) varianceDb2[i]! *= fit.doubt;
  const unknownAt = unknownOf(fit);
  const restDb2 = new Float64Array(lattice.restCount);
  for (let i = 0; i < restDb2.length; i++) {
    const row = fit.trend.slopesAt(radio, { xM: xM[i]!, yM: yM[i]!, zM: fit.zM });
    restDb2[i] = unknownAt(row, near, weights, i * MAP_NEAR);
  }
  overLattice(grid, lattice, { levelDb, varianceDb2, restDb2 }, wanted, levelDbm, sdDb);
  for (let i = 0; i < wanted.length; i++) {
    if (wanted[i] === 0) continue;
    levelDbm[i] = powerDbm + gainDb - lossDb[i]! + levelDbm[i]!;
    sdDb[i] = Math.sqrt(sdDb[i]!);
  }
  return { levelDbm, sdDb };
}
