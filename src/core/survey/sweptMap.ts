import type { Grid } from '../geometry/grid';
import { nearestOf } from './fit/nearby';
import type { Places } from './fit/places';
import { krigeAt, newKriging, type Scatter } from './fit/whiten';
import { eachCellSeeing, type MeasuredSpot, type HiddenFrom } from './measured';

/** How the level of what is swept goes over a floor: with whatever sends it, and faster than that by walls and shadows. Working values, in dB2 and m. */
const SCATTER: Scatter = { shadowVar: 100, correlationM: 8, beaconVar: 1, wallVar: 0 };
/** Looks by which a spot is estimated. */
const NEAR = 8;

/**
 * What looks say of every cell in reach of one with no wall between, in dBm; NaN elsewhere. Each cell goes by the nearest looks that see it: kriging about their mean. At a look it is what
 * was measured there, but for what a look itself scatters.
 * @param hiddenFrom whether a wall stands between a look and a spot
 */
export function sweptMap(spots: readonly MeasuredSpot[], grid: Grid, reachM: number, hiddenFrom: HiddenFrom): Float32Array {
  const { cols, rows, cellM, originXM, originYM } = grid;
  const out = new Float32Array(cols * rows).fill(NaN);
  const seenBy: Array<number[] | undefined> = [];
  spots.forEach((spot, i) => eachCellSeeing(spot, grid, reachM, hiddenFrom(spot), (cell) => (seenBy[cell] ??= []).push(i)));
  const places: Places = {
    xM: Float64Array.from(spots, ({ xM }) => xM),
    yM: Float64Array.from(spots, ({ yM }) => yM),
    radio: new Int32Array(spots.length),
  };
  const noise = new Float64Array(spots.length).fill(SCATTER.beaconVar);
  const near = new Int32Array(NEAR);
  const among = new Int32Array(spots.length);
  const kriging = newKriging(NEAR);
  for (let cell = 0; cell < out.length; cell++) {
    const own = seenBy[cell];
    if (own === undefined) continue;
    const [x, y] = [originXM + (cell % cols) * cellM, originYM + Math.floor(cell / cols) * cellM];
    among.set(own);
    nearestOf(places, among, own.length, x, y, NEAR, near, 0);
    const { count } = krigeAt(places, noise, SCATTER, near, 0, NEAR, x, y, kriging);
    let mean = 0;
    for (let a = 0; a < count; a++) mean += spots[near[a]!]!.levelDbm / count;
    let left = 0;
    for (let a = 0; a < count; a++) left += kriging.weights[a]! * (spots[near[a]!]!.levelDbm - mean);
    out[cell] = mean + left;
  }
  return out;
}
