import { shareInside } from '../building/clutter';
import { LOSS_UNIT_DB } from '../building/material';
import { gainAtAnglesDbi, isOmni, type Antenna } from '../radio/antenna';
import { BANDS, centreOfBandMhz } from '../radio/band';
import { MIN_DISTANCE_M, oneMetreLossDb } from '../propagation/pathLoss';
import type { Medium } from '../propagation/medium';
import { POSE_SHIFT_M, type Pose } from '../propagation/crossing';
import type { Station } from '../propagation/station';
import { addBent, columnsIn, shadowOf } from './bent';
import type { Plane } from './plane';

import { compiledKernel, type Kernel } from './kernel/kernel';
import { kernelFieldInto } from './kernel/straight';
import { LANES, lossUnitsInto, outlinesAt, type Outlines } from './outlines';

export type { Plane } from './plane';

/** Entries per metre of horizontal distance in the tables below: linear interpolation stays within 0.1 dB even under the antenna. */
const PER_METRE = 64;
const DEG = 180 / Math.PI;

type Base = { lossDb: Float32Array; elevationDeg: Float32Array };
const bases = new Map<string, Base>();

/**
 * Path loss less an omni antenna's gain, by horizontal distance, in dB. By the horizontal, not the 3-D distance: there it would
 * have a kink under the access point. For a directional antenna the path loss alone; its gain is added per cell.
 */
function baseOf(antenna: Antenna, band: number, riseM: number, exponent: number, reachM: number): Base {
  const size = Math.ceil(reachM * PER_METRE) + 2;
  const omni = isOmni(antenna);
  const key = `${band}/${riseM}/${exponent}/${omni ? `${antenna.peakDbi};${antenna.horizontalDb[0]};${antenna.verticalDb.join()}` : 'path'}`;
  const known = bases.get(key);
  if (known !== undefined && known.lossDb.length >= size) return known;
  if (bases.size > 200) bases.clear();
  const lossDb = new Float32Array(size);
  const elevationDeg = new Float32Array(size);
  const atOneMetreDb = oneMetreLossDb(centreOfBandMhz(BANDS[band]!));
  for (let i = 0; i < size; i++) {
    const horizontalM = i / PER_METRE;
    const distanceM = Math.max(MIN_DISTANCE_M, Math.sqrt(horizontalM * horizontalM + riseM * riseM));
    elevationDeg[i] = Math.atan2(riseM, horizontalM) * DEG;
    const gain = omni ? gainAtAnglesDbi(antenna, 0, 0, 1, elevationDeg[i]!) : 0;
    lossDb[i] = atOneMetreDb + 10 * exponent * Math.log10(distanceM) - gain;
  }
  const base = { lossDb, elevationDeg };
  bases.set(key, base);
  return base;
}

let units = new Int32Array(0);

/** Loss in dB straight to every cell, without what may be gone round and without clutter. With `addBent` what `kernelFieldInto` does: its reference, and where no kernel runs. */
function straightInto(outlines: Outlines, station: Station, plane: Plane, outs: readonly Float32Array[]): void {
  const { grid, zM, gainDbi } = plane;
  const { exponent } = outlines.medium.propagation;
  const { cols, rows, cellM } = grid;
  const cells = cols * rows;
  if (units.length < cells * LANES) units = new Int32Array(cells * LANES);
  lossUnitsInto(outlines, station.pose, zM, grid, units);

  const ax = station.pose.xM + POSE_SHIFT_M.xM;
  const ay = station.pose.yM + POSE_SHIFT_M.yM;
  const riseM = zM - (station.pose.zM + POSE_SHIFT_M.zM);
  const farX = Math.max(Math.abs(grid.originXM - ax), Math.abs(grid.originXM + cols * cellM - ax));
  const farY = Math.max(Math.abs(grid.originYM - ay), Math.abs(grid.originYM + rows * cellM - ay));
  const reachM = Math.sqrt(farX * farX + farY * farY);

  for (let band = 0; band < LANES; band++) {
    const out = outs[band]!;
    const antenna = station.antennas[band];
    if (antenna === null || antenna === undefined) {
      out.fill(NaN);
      continue;
    }
    const { lossDb, elevationDeg } = baseOf(antenna, band, riseM, exponent, reachM);
    const omni = isOmni(antenna);
    const { azimuthDeg, tiltDeg } = station.pose;
    const aimX = Math.sin(azimuthDeg / DEG);
    const aimY = -Math.cos(azimuthDeg / DEG);
    for (let row = 0, i = 0, u = band; row < rows; row++) {
      const dy = grid.originYM + row * cellM - ay;
      const dySq = dy * dy;
      let dx = 0;
      for (let col = 0; col < cols; col++, i++, u += LANES) {
        dx = grid.originXM + col * cellM - ax;
        const horizontalM = Math.sqrt(dx * dx + dySq);
        const at = horizontalM * PER_METRE;
        const k = at | 0;
        const rest = at - k;
        const low = lossDb[k]!;
        let loss = low + (lossDb[k + 1]! - low) * rest + units[u]! * LOSS_UNIT_DB - gainDbi;
        if (!omni) {
          const facing = (dx * aimX + dy * aimY) / horizontalM;
          const offAxisDeg = Math.atan2(dx, -dy) * DEG - azimuthDeg;
          loss -= gainAtAnglesDbi(antenna, tiltDeg, offAxisDeg, facing, elevationDeg[k]! + (elevationDeg[k + 1]! - elevationDeg[k]!) * rest);
        }
        out[i] = loss;
      }
    }
  }
}

/**
 * Loss from one access point to every cell of a plane in every band: path + walls + slabs + clutter - both antennas' gain, in dB.
 * Walls and slabs are met at the station's frequencies, the path is at the band's middle: its channel's share (`offMiddleDb`) is carried with the power. Power is not in it; changing it
 * computes nothing here.
 * @param outs one array per band of grid.cols * grid.rows; bands without antenna are filled with NaN
 * @param kernel what does it, but for clutter; null for TypeScript
 */
export function lossFieldInto(
  plan: Outlines,
  station: Station,
  plane: Plane,
  outs: readonly Float32Array[],
  kernel: Kernel | null = compiledKernel(),
): void {
  const outlines = outlinesAt(plan, station.centresMhz ?? []);
  if (kernel === null) {
    straightInto(outlines, station, plane, outs);
    addBent(outlines.medium.panes, station.pose, plane, outs);
  } else kernelFieldInto(kernel, outlines, station, plane, outs);
  if (outlines.medium.clutter.length > 0) addClutter(outlines.medium, station.pose, plane, outs);
}

/** Adds what is lost on the way through clutter, exact. Only cells whose way passes a body are touched. */
function addClutter({ clutter }: Medium, pose: Pose, { grid, zM }: Plane, outs: readonly Float32Array[]): void {
  const { rows, cols, cellM, originXM, originYM } = grid;
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const [out0, out1, out2] = outs as readonly [Float32Array, Float32Array, Float32Array];
  for (const body of clutter) {
    const [db0, db1, db2] = body.dbPerM as readonly [number, number, number];
    const shadow = shadowOf(body.sides, ax, ay);
    for (let row = 0; row < rows; row++) {
      const y = originYM + row * cellM;
      const [from, to] = columnsIn(shadow, ax, y - ay, grid);
      for (let col = from, i = row * cols + from; col < to; col++, i++) {
        const x = originXM + col * cellM;
        const share = shareInside(body, ax, ay, az, x, y, zM);
        if (share === 0) continue;
        const lengthM = share * Math.sqrt((x - ax) * (x - ax) + (y - ay) * (y - ay) + (zM - az) * (zM - az));
        out0[i]! += lengthM * db0;
        out1[i]! += lengthM * db1;
        out2[i]! += lengthM * db2;
      }
    }
  }
}

/** As `lossFieldInto`, into new arrays. */
export function lossFields(outlines: Outlines, station: Station, plane: Plane, kernel: Kernel | null = compiledKernel()): Float32Array[] {
  const outs = BANDS.map(() => new Float32Array(plane.grid.cols * plane.grid.rows));
  lossFieldInto(outlines, station, plane, outs, kernel);
  return outs;
}
