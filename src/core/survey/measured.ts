import type { Grid } from '../geometry/grid';
import { distanceM, type PointM } from '../geometry/point';
import { LOSS_UNIT_DB } from '../building/material';
import type { Panes } from '../building/panes';
import { planShare, wayShare } from '../propagation/crossing';
import { BANDS, bandIndex, type Band } from '../radio/band';
import type { Sample } from './sample';

/** A spot of a walk with the level that counts there. */
export type MeasuredSpot = Readonly<{ xM: number; yM: number; levelDbm: number }>;

/** One full round of the scan list takes about this long; samples within it belong to one spot. */
export const ROUND_MS = 2200;

/**
 * Spots of a walk with the n-th strongest level heard there in the band. Samples of one scan round (`roundMs`) in one leg make a spot,
 * placed at their mean position; an access point heard twice counts with its mean.
 * @param apIds only these access points; `null` for any of the project's own
 */
export function measuredSpots(
  samples: readonly Sample[],
  band: Band,
  apIds: ReadonlySet<string> | null,
  rank: 0 | 1 | 2,
  roundMs = ROUND_MS,
): MeasuredSpot[] {
  const rounds = new Map<string, Sample[]>();
  for (const sample of samples) {
    if (sample.band !== band || sample.apId === null || (apIds !== null && !apIds.has(sample.apId))) continue;
    const key = `${sample.leg}/${Math.floor(sample.tMs / roundMs)}`;
    const round = rounds.get(key);
    if (round === undefined) rounds.set(key, [sample]);
    else round.push(sample);
  }
  const spots: MeasuredSpot[] = [];
  for (const round of rounds.values()) {
    const byAp = new Map<string, { sum: number; count: number }>();
    for (const { bssid, rssiDbm } of round) {
      const entry = byAp.get(bssid) ?? { sum: 0, count: 0 };
      byAp.set(bssid, { sum: entry.sum + rssiDbm, count: entry.count + 1 });
    }
    const levels = [...byAp.values()].map(({ sum, count }) => sum / count).sort((a, b) => b - a);
    const levelDbm = levels[rank];
    if (levelDbm === undefined) continue;
    spots.push({ xM: round.reduce((s, p) => s + p.xM, 0) / round.length, yM: round.reduce((s, p) => s + p.yM, 0) / round.length, levelDbm });
  }
  return spots;
}

/** A wall that takes this much, in dB, makes a measured level another one behind it: half of the power. */
const SCREENS_DB = 3;

/**
 * Whether a wall stands between two spots at a height of the building, as far as the band goes: one of 3 dB or more. A door that takes less does not.
 */
export function screensIn(panes: Panes, band: Band, zM: number): (ax: number, ay: number, bx: number, by: number) => boolean {
  const { ends } = panes;
  const heavy = heavyIn(panes, band, zM);
  return (ax, ay, bx, by) => {
    const west = Math.min(ax, bx);
    const east = Math.max(ax, bx);
    const north = Math.min(ay, by);
    const south = Math.max(ay, by);
    for (let k = 0; k < heavy.length; k++) {
      const p = heavy[k]!;
      const px = ends[p * 4]!;
      const py = ends[p * 4 + 1]!;
      const qx = ends[p * 4 + 2]!;
      const qy = ends[p * 4 + 3]!;
      if ((px < west && qx < west) || (px > east && qx > east) || (py < north && qy < north) || (py > south && qy > south)) continue;
      if (planShare(panes, p, ax, ay, bx, by) < 0) continue;
      // What stands in the way of one spot mostly stands in that of the next: it is asked first.
      heavy[k] = heavy[0]!;
      heavy[0] = p;
      return true;
    }
    return false;
  };
}

/** Whether a wall hides a spot from one that lies within reach. */
export type HiddenFrom = (spot: PointM) => (xM: number, yM: number) => boolean;

/** As `screensIn`, of all spots within reach of one: only the walls that come so near to it are asked. */
export function hiddenWithin(panes: Panes, band: Band, zM: number, reachM: number): HiddenFrom {
  const { ends } = panes;
  const heavy = heavyIn(panes, band, zM);
  return ({ xM, yM }) => {
    // Where the ends of those walls lie from the spot.
    const near: number[] = [];
    for (const p of heavy) {
      const px = ends[p * 4]! - xM;
      const py = ends[p * 4 + 1]! - yM;
      const qx = ends[p * 4 + 2]! - xM;
      const qy = ends[p * 4 + 3]! - yM;
      const isAway = (px < -reachM && qx < -reachM) || (px > reachM && qx > reachM) || (py < -reachM && qy < -reachM) || (py > reachM && qy > reachM);
      if (!isAway) near.push(px, py, qx, qy);
    }
    let last = 0;
    return (x, y) => {
      if (near.length === 0) return false;
      const cx = x - xM;
      const cy = y - yM;
      // What hides one spot mostly hides the next.
      if (wayShare(near[last]!, near[last + 1]!, near[last + 2]!, near[last + 3]!, cx, cy) >= 0) return true;
      for (let k = 0; k < near.length; k += 4)
        if (k !== last && wayShare(near[k]!, near[k + 1]!, near[k + 2]!, near[k + 3]!, cx, cy) >= 0) {
          last = k;
          return true;
        }
      return false;
    };
  };
}

/** The panes at a height that hide what lies behind them. */
function heavyIn({ count, lossUnits, heights }: Panes, band: Band, zM: number): number[] {
  const lane = bandIndex(band);
  const heavy: number[] = [];
  for (let p = 0; p < count; p++)
    if (lossUnits[p * BANDS.length + lane]! * LOSS_UNIT_DB >= SCREENS_DB && zM >= heights[p * 2]! && zM < heights[p * 2 + 1]!) heavy.push(p);
  return heavy;
}

/**
 * Calls `each` for every cell of a grid that lies within reach of a spot and that no wall hides from it.
 * @param done cells that are marked in it need not be looked at
 */
export function eachCellSeeing(
  { xM, yM }: PointM,
  { cols, rows, cellM, originXM, originYM }: Grid,
  reachM: number,
  isHidden: (xM: number, yM: number) => boolean,
  each: (cell: number) => void,
  done: Uint8Array | null = null,
): void {
  const fromRow = Math.max(0, Math.ceil((yM - reachM - originYM) / cellM));
  const toRow = Math.min(rows - 1, Math.floor((yM + reachM - originYM) / cellM));
  for (let row = fromRow; row <= toRow; row++) {
    const y = originYM + row * cellM;
    const halfM = Math.sqrt(Math.max(0, reachM * reachM - (y - yM) ** 2));
    const fromCol = Math.max(0, Math.ceil((xM - halfM - originXM) / cellM));
    const toCol = Math.min(cols - 1, Math.floor((xM + halfM - originXM) / cellM));
    for (let col = fromCol; col <= toCol; col++) {
      const cell = row * cols + col;
      if (done !== null && done[cell] === 1) continue;
      if (!isHidden(originXM + col * cellM, y)) each(cell);
    }
  }
}

/** Mean of the samples of each BSSID within `reachM` of a spot, in dBm: what the readout shows beside the prediction. */
export function measuredNear(samples: readonly Sample[], at: PointM, reachM: number): Map<string, { meanDbm: number; count: number }> {
  const near = new Map<string, { sum: number; count: number }>();
  for (const sample of samples) {
    if (distanceM(sample, at) > reachM) continue;
    const entry = near.get(sample.bssid) ?? { sum: 0, count: 0 };
    near.set(sample.bssid, { sum: entry.sum + sample.rssiDbm, count: entry.count + 1 });
  }
  return new Map([...near].map(([bssid, { sum, count }]) => [bssid, { meanDbm: sum / count, count }]));
}
