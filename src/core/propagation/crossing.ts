import type { Panes } from '../building/panes';
import { obstaclesOf } from '../building/obstacles';
import type { Slab } from '../building/slab';
import { BANDS, bandIndex, type Band } from '../radio/band';
import { bendingAt } from './diffraction';
import type { Medium } from './medium';
import { sectorOf, sectorsFrom, type Sectors } from './sectors';
import { panesMetFrom } from './slant';

/** Where an antenna hangs and points. Height in the building's z. */
export type Pose = Readonly<{ xM: number; yM: number; zM: number; azimuthDeg: number; tiltDeg: number }>;

/** Where a ray ends, in the building's coordinates. */
export type Spot = Readonly<{ xM: number; yM: number; zM: number }>;

/**
 * Every transmitter is shifted by this before its rays are drawn, so that an access point on a wall, at a wall's end or in line with a
 * wall falls on a definite side. Micrometres: far below what any value shows, far above rounding. Fast and reference code share it.
 */
export const POSE_SHIFT_M = { xM: 7.3891e-6, yM: -5.4366e-6, zM: 4.6692e-6 } as const;

/** At which share of the way (0 to 1) from A to C what stands from P to Q is passed, seen from above; -1 when it is not. All are told from A. */
export function wayShare(px: number, py: number, qx: number, qy: number, cx: number, cy: number): number {
  const sideP = cx * py - cy * px;
  const sideQ = cx * qy - cy * qx;
  if (sideP > 0 === sideQ > 0) return -1;
  const area = px * qy - py * qx;
  const share = area / (sideQ - sideP);
  return share > 0 && share < 1 ? share : -1;
}

/** The same of pane `p`. A is the shifted transmitter. */
export function planShare({ ends }: Panes, p: number, ax: number, ay: number, cx: number, cy: number): number {
  const e = p * 4;
  return wayShare(ends[e]! - ax, ends[e + 1]! - ay, ends[e + 2]! - ax, ends[e + 3]! - ay, cx - ax, cy - ay);
}

/**
 * Whether, and at which share of the way (0 to 1), the ray from A to C passes through pane `p`; -1 when it does not.
 * Base is inside, top outside, so that stacked panes never both count.
 */
export function crossingShare(panes: Panes, p: number, ax: number, ay: number, az: number, cx: number, cy: number, cz: number): number {
  // Most panes of other storeys lie above or below the whole ray.
  if (panes.heights[p * 2]! > (az > cz ? az : cz) || panes.heights[p * 2 + 1]! <= (az < cz ? az : cz)) return -1;
  const share = planShare(panes, p, ax, ay, cx, cy);
  if (share < 0) return -1;
  const zM = az + share * (cz - az);
  return zM >= panes.heights[p * 2]! && zM < panes.heights[p * 2 + 1]! ? share : -1;
}

/** At which share of the way (0 to 1) from height `az` to `cz` a slab's height is passed; -1 when it is not. */
export function slabShare({ zM }: Slab, az: number, cz: number): number {
  const share = (zM - az) / (cz - az);
  return share > 0 && share < 1 ? share : -1;
}

/**
 * What rays from one antenna pass straight through in a band: `pieces` of panes as they are met from there; of the last ray that was asked for which of them, in `pane`, and where on the way, in
 * `share`, nearest the antenna first, so many as `meet` says.
 */
export type Crossings = Readonly<{ pieces: Panes; pane: readonly number[]; share: readonly number[]; meet: (end: Spot) => number }>;

/** So many rays are drawn past every pane before it is worth knowing in which directions the panes stand. */
const FEW_RAYS = 4;

/** What rays from an antenna meet, of a medium as its frequency meets it (`mediumAt`). What costs nothing in the band, and what may be gone round, is not named. */
export function crossingsFrom(met: Medium, pose: Pose, band: Band): Crossings {
  const { panes } = met;
  const lane = bandIndex(band);
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const { of } = obstaclesOf(panes);
  const { panes: pieces, origin } = panesMetFrom(met, ax, ay);
  const pane: number[] = [];
  const share: number[] = [];
  let sectors: Sectors | null = null;
  let rays = 0;
  return {
    pieces,
    pane,
    share,
    meet: ({ xM, yM, zM }) => {
      const bending = bendingAt(panes, ax, ay, az, zM);
      let count = 0;
      const take = (p: number): void => {
        const at = crossingShare(pieces, p, ax, ay, az, xM, yM, zM);
        if (at < 0 || pieces.lossUnits[p * BANDS.length + lane] === 0 || (of[origin[p]!]! >= 0 && bending[of[origin[p]!]!] === 1)) return;
        let to = count++;
        for (; to > 0 && share[to - 1]! > at; to--) {
          share[to] = share[to - 1]!;
          pane[to] = pane[to - 1]!;
        }
        share[to] = at;
        pane[to] = p;
      };
      if (rays++ < FEW_RAYS) for (let p = 0; p < pieces.count; p++) take(p);
      else {
        sectors ??= sectorsFrom(pieces, ax, ay);
        const sector = sectorOf(xM - ax, yM - ay);
        for (let k = sectors.starts[sector]!; k < sectors.starts[sector + 1]!; k++) take(sectors.panes[k]!);
      }
      return count;
    },
  };
}
