import type { Grid } from '../../geometry/grid';
import type { Medium } from '../../propagation/medium';
import { screensIn } from '../measured';
import { MAP_NEAR, type Fit } from './fit';
import { correctedMedium } from './trend';
import { krigeAt, nearestOf, newKriging } from './whiten';

/** What a radio's level is taken to be at every cell, in dBm, and the standard deviation of that, in dB; NaN where nobody measured near enough. */
export type Surveyed = Readonly<{ levelDbm: Float32Array; sdDb: Float32Array }>;

/** Shadows are smooth: they are worked out at nodes this far apart, in m, and taken straight between. What walls do is exact in every cell. */
const NODE_M = 1;

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
  const { places, left, noise, scatter, trend, covariance, zM, readings, rows } = fit;
  const p = trend.parameters.length;
  const own = Int32Array.from(readings.flatMap((reading, i) => (reading.radio === radio ? [i] : [])));
  const near = new Int32Array(MAP_NEAR);
  const kriging = newKriging(MAP_NEAR);
  const u = new Float64Array(p);
  return (xM, yM, out, without = -1) => {
    if (own.length === 0) return Infinity;
    nearestOf(places, own, xM, yM, MAP_NEAR, near, 0, without);
    const { count, varianceDb2 } = krigeAt(places, noise, scatter, near, 0, MAP_NEAR, xM, yM, kriging);
    const here = trend.rowAt(radio, { xM, yM, zM });
    u.fill(0);
    here.columns.forEach((c, k) => (u[c]! += here.slopes[k]!));
    let leftDb = 0;
    for (let a = 0; a < count; a++) {
      const weight = kriging.weights[a]!;
      leftDb += weight * left[near[a]!]!;
      const row = rows[near[a]!]!;
      row.columns.forEach((c, k) => (u[c]! -= weight * row.slopes[k]!));
    }
    let unknown = 0;
    for (let c = 0; c < p; c++) {
      if (u[c] === 0) continue;
      for (let d = 0; d < p; d++) if (u[d] !== 0) unknown += u[c]! * u[d]! * covariance[c * p + d]!;
    }
    out.leftDb = leftDb;
    out.varianceDb2 = varianceDb2 + unknown + here.free * scatter.wallVar;
    return count === 0 ? Infinity : Math.hypot(places.xM[near[0]!]! - xM, places.yM[near[0]!]! - yM);
  };
}

/**
 * The measured map of one radio: what the corrected model says, and the shadows that its readings show.
 * @param lossDb of the radio through `learnedMedium`, with the path as in loss fields, for what receives without gain
 * @param powerDbm what the radio sends, less what its channel's path differs by (`middlePowerDbm`)
 * @param reachM further from its nearest reading, or behind a wall from all that are near enough, nothing is claimed
 */
export function surveyedOf(fit: Fit, radio: number, grid: Grid, lossDb: Float32Array, powerDbm: number, reachM: number): Surveyed {
  const { cols, rows, cellM, originXM, originYM } = grid;
  const levelDbm = new Float32Array(cols * rows).fill(NaN);
  const sdDb = new Float32Array(cols * rows).fill(NaN);
  const gainDb = ownGainDb(fit, radio);
  const estimate = estimatorOf(fit, radio);
  const nodeCols = Math.ceil(((cols - 1) * cellM) / NODE_M) + 2;
  const nodeRows = Math.ceil(((rows - 1) * cellM) / NODE_M) + 2;
  const leftAt = new Float32Array(nodeCols * nodeRows).fill(NaN);
  const varianceAt = new Float32Array(nodeCols * nodeRows);
  const out: Estimate = { leftDb: 0, varianceDb2: 0 };
  const own = fit.readings.filter((reading) => reading.radio === radio);
  const claimed = claimedOf(own, grid, reachM, screensIn(fit.medium.panes, fit.radios[radio]!.channel.band, fit.zM));
  for (let row = 0, i = 0; row < rows; row++) {
    for (let col = 0; col < cols; col++, i++) {
      if (claimed[i] === 0) continue;
      const u = (col * cellM) / NODE_M;
      const v = (row * cellM) / NODE_M;
      const [k, l] = [Math.floor(u), Math.floor(v)];
      const [fu, fv] = [u - k, v - l];
      let [leftDb, varianceDb2] = [0, 0];
      for (let corner = 0; corner < 4; corner++) {
        const [dk, dl] = [corner & 1, corner >> 1];
        const share = (dk === 1 ? fu : 1 - fu) * (dl === 1 ? fv : 1 - fv);
        if (share === 0) continue;
        const node = (l + dl) * nodeCols + k + dk;
        if (Number.isNaN(leftAt[node]!)) {
          estimate(originXM + (k + dk) * NODE_M, originYM + (l + dl) * NODE_M, out);
          leftAt[node] = out.leftDb;
          varianceAt[node] = out.varianceDb2;
        }
        leftDb += share * leftAt[node]!;
        varianceDb2 += share * varianceAt[node]!;
      }
      levelDbm[i] = powerDbm + gainDb - lossDb[i]! + leftDb;
      sdDb[i] = Math.sqrt(varianceDb2);
    }
  }
  return { levelDbm, sdDb };
}

/** The cells within reach of any of some readings that no wall hides from it: behind a wall that nobody stood behind nothing is claimed. */
function claimedOf(
  readings: ReadonlyArray<Readonly<{ xM: number; yM: number }>>,
  { cols, rows, cellM, originXM, originYM }: Grid,
  reachM: number,
  screened: (ax: number, ay: number, bx: number, by: number) => boolean,
): Uint8Array {
  const claimed = new Uint8Array(cols * rows);
  for (const { xM, yM } of readings) {
    const fromCol = Math.max(0, Math.ceil((xM - reachM - originXM) / cellM));
    const toCol = Math.min(cols - 1, Math.floor((xM + reachM - originXM) / cellM));
    const fromRow = Math.max(0, Math.ceil((yM - reachM - originYM) / cellM));
    const toRow = Math.min(rows - 1, Math.floor((yM + reachM - originYM) / cellM));
    for (let row = fromRow; row <= toRow; row++)
      for (let col = fromCol; col <= toCol; col++) {
        if (claimed[row * cols + col] === 1) continue;
        const [x, y] = [originXM + col * cellM, originYM + row * cellM];
        if ((x - xM) ** 2 + (y - yM) ** 2 > reachM * reachM || screened(xM, yM, x, y)) continue;
        claimed[row * cols + col] = 1;
      }
  }
  return claimed;
}
