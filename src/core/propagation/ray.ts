import { LOSS_UNIT_DB } from '../building/material';
import type { Panes } from '../building/panes';
import { gainDbi, type Antenna } from '../radio/antenna';
import { BANDS, BAND_CENTRE_MHZ, bandIndex, type Band } from '../radio/band';
import { pathLossDb } from './pathLoss';

/** Where an antenna hangs and points. Height above the floor. */
export type Pose = Readonly<{ xM: number; yM: number; heightM: number; azimuthDeg: number; tiltDeg: number }>;

/**
 * Every transmitter is shifted by this before its rays are drawn, so that an access point on a wall, at a wall's end or in line with a
 * wall falls on a definite side. Micrometres: far below what any value shows, far above rounding. Fast and reference code share it.
 */
export const POSE_SHIFT_M = { xM: 7.3891e-6, yM: -5.4366e-6, heightM: 4.6692e-6 } as const;

/**
 * Whether, and at which share of the way (0 to 1), the ray from A to C passes through pane `p`; -1 when it does not.
 * A is the shifted transmitter. Base is inside, top outside, so that stacked panes never both count.
 */
export function crossingShare(panes: Panes, p: number, ax: number, ay: number, az: number, cx: number, cy: number, cz: number): number {
  const e = p * 4;
  const px = panes.ends[e]! - ax;
  const py = panes.ends[e + 1]! - ay;
  const qx = panes.ends[e + 2]! - ax;
  const qy = panes.ends[e + 3]! - ay;
  const dx = cx - ax;
  const dy = cy - ay;
  const sideP = dx * py - dy * px;
  const sideQ = dx * qy - dy * qx;
  if (sideP > 0 === sideQ > 0) return -1;
  const area = px * qy - py * qx;
  const share = area / (sideQ - sideP);
  if (!(share > 0 && share < 1)) return -1;
  const heightM = az + share * (cz - az);
  return heightM >= panes.heights[p * 2]! && heightM < panes.heights[p * 2 + 1]! ? share : -1;
}

/** Total wall loss of one ray, in LOSS_UNIT_DB, per band into `out`. Exact by definition: every pane is tried. */
export function rayLossUnits(panes: Panes, pose: Pose, cx: number, cy: number, cz: number, out: Int32Array): void {
  out.fill(0);
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.heightM + POSE_SHIFT_M.heightM;
  for (let p = 0; p < panes.count; p++) {
    if (crossingShare(panes, p, ax, ay, az, cx, cy, cz) < 0) continue;
    for (let b = 0; b < BANDS.length; b++) out[b]! += panes.lossUnits[p * BANDS.length + b]!;
  }
}

/** One wall's part in a sight line. */
export type WallCharge = Readonly<{ wallId: string; share: number; heightM: number; lossDb: number }>;

/** The link budget of one ray in one band, all in dB: `lossDb = pathLossDb + sum of walls - antennaGainDbi`. */
export type SightLine = Readonly<{
  distanceM: number;
  pathLossDb: number;
  antennaGainDbi: number;
  wallLossDb: number;
  lossDb: number;
  walls: readonly WallCharge[];
}>;

/** The budget of the ray from an access point's antenna to a spot, wall by wall, nearest the access point first. */
export function sightLine(
  panes: Panes,
  pose: Pose,
  antenna: Antenna,
  exponent: number,
  band: Band,
  xM: number,
  yM: number,
  heightM: number,
): SightLine {
  const lane = bandIndex(band);
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.heightM + POSE_SHIFT_M.heightM;
  const walls: WallCharge[] = [];
  let units = 0;
  for (let p = 0; p < panes.count; p++) {
    const share = crossingShare(panes, p, ax, ay, az, xM, yM, heightM);
    const laneUnits = panes.lossUnits[p * BANDS.length + lane]!;
    if (share < 0 || laneUnits === 0) continue;
    units += laneUnits;
    walls.push({ wallId: panes.wallIds[panes.wallIndex[p]!]!, share, heightM: az + share * (heightM - az), lossDb: laneUnits * LOSS_UNIT_DB });
  }
  walls.sort((p, q) => p.share - q.share);
  const distanceM = Math.sqrt((xM - ax) ** 2 + (yM - ay) ** 2 + (heightM - az) ** 2);
  const path = pathLossDb(BAND_CENTRE_MHZ[band], distanceM, exponent);
  const gain = gainDbi(antenna, pose.azimuthDeg, pose.tiltDeg, xM - ax, yM - ay, heightM - az);
  const wallLossDb = units * LOSS_UNIT_DB;
  return { distanceM, pathLossDb: path, antennaGainDbi: gain, wallLossDb, lossDb: path + wallLossDb - gain, walls };
}
