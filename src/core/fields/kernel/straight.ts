import { LOSS_UNIT_DB } from '../../building/material';
import { obstaclesOf } from '../../building/obstacles';
import type { Panes } from '../../building/panes';
import { partsOf } from '../../building/slab';
import type { Grid } from '../../geometry/grid';
import { ringsOf, signedAreaM2, type PolygonM } from '../../geometry/polygon';
import { bendingAt } from '../../propagation/diffraction';
import { POSE_SHIFT_M, slabShare, type Pose } from '../../propagation/crossing';
import type { Station } from '../../propagation/station';
import { LANES, metFrom, type Outlines } from '../outlines';
import type { Plane } from '../plane';
import { kernelBentInto } from './bent';
import { placesFor, type Kernel } from './kernel';
import { NEAR_M2, gainTable, pathTable } from './tables';

const strideOf = (cols: number): number => (cols + 4) & ~3;

/** The three bands' losses of each pane as one number of 64 bits, 21 bits each. Made once for the same panes. */
const packedOf = new WeakMap<Panes, Uint32Array>();
function packedUnits(panes: Panes): Uint32Array {
  const known = packedOf.get(panes);
  if (known !== undefined) return known;
  const { lossUnits, count } = panes;
  const packed = new Uint32Array(count * 2);
  for (let p = 0; p < count; p++) {
    const [j0, j1, j2] = [lossUnits[p * LANES]!, lossUnits[p * LANES + 1]!, lossUnits[p * LANES + 2]!];
    packed[p * 2] = j0 | (j1 << 21);
    packed[p * 2 + 1] = (j1 >>> 11) | (j2 << 10);
  }
  packedOf.set(panes, packed);
  return packed;
}

/**
 * Sums up in the kernel's memory what rays from an access point to every cell pass through. `lossUnitsInto` is the reference.
 * @returns where the numbers lie that come on top, 0 for none, and what is free from where on
 */
function addSums(kernel: Kernel, outlines: Outlines, pose: Pose, planeZM: number, grid: Grid): { most: number; free: number } {
  const { run, memory, base } = kernel;
  const { slabs } = outlines.medium;
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const { panes, origin, vertexM, endVertex, vertexCount } = metFrom(outlines, ax, ay);
  const passed = slabs.flatMap((slab) => {
    const share = slabShare(slab, az, planeZM);
    return share < 0 ? [] : [{ slab, ...partsOf(slab), k: 1 / share }];
  });
  const several = passed.length > 1;
  const longest = passed.reduce((most, { slab }) => Math.max(most, ...slab.solid.flatMap((region) => ringsOf(region).map((ring) => ring.length))), 0);
  const sums = grid.rows * strideOf(grid.cols) * 8;
  const [diff, more, ends, heights, units, ids, skip, vertices, jumps, ring, free] = placesFor(kernel, base, [
    sums,
    several ? 2 * sums : 0,
    panes.count * 32,
    panes.count * 16,
    panes.count * 8,
    panes.count * 8,
    panes.count,
    vertexCount * 16,
    vertexCount * 8,
    longest * 16,
    0,
  ]) as [number, number, number, number, number, number, number, number, number, number, number];
  const { buffer } = memory;
  new Float64Array(buffer, ends).set(panes.ends);
  new Float64Array(buffer, heights).set(panes.heights);
  new Uint32Array(buffer, units).set(packedUnits(panes));
  new Int32Array(buffer, ids).set(endVertex);
  new Float64Array(buffer, vertices).set(vertexM);
  const skipped = new Uint8Array(buffer, skip, panes.count).fill(0);
  const { of } = obstaclesOf(outlines.medium.panes);
  const bending = bendingAt(outlines.medium.panes, ax, ay, az, planeZM);
  if (bending.length > 0)
    for (let p = 0; p < panes.count; p++) {
      const obstacle = of[origin[p]!]!;
      if (obstacle >= 0 && bending[obstacle] === 1) skipped[p] = 1;
    }

  const perCell = 1 / grid.cellM;
  const u = (ax - grid.originXM) * perCell;
  const v = (ay - grid.originYM) * perCell;
  const corners = new Float64Array(buffer, ring, longest * 2);
  const addRing = (polygon: PolygonM, k: number, j0: number, j1: number, j2: number): void => {
    const back = signedAreaM2(polygon) < 0;
    polygon.forEach((_, i) => {
      const { xM, yM } = polygon[back ? polygon.length - 1 - i : i]!;
      corners[i * 2] = u + k * ((xM - grid.originXM) * perCell - u);
      corners[i * 2 + 1] = v + k * ((yM - grid.originYM) * perCell - v);
    });
    run.addRing(polygon.length, ring, j0, j1, j2);
  };
  const addSlab = ({ slab, k }: (typeof passed)[number], [j0, j1, j2]: readonly number[]): void => {
    for (const region of slab.solid)
      ringsOf(region).forEach((ring, i) => (i === 0 ? addRing(ring, k, j0!, j1!, j2!) : addRing(ring, k, -j0!, -j1!, -j2!)));
  };

  if (several) {
    // First what comes on top, in room of its own: of several slabs the one met that costs most costs more than a further one.
    new Uint8Array(buffer, more, sums).fill(0);
    const kinds = [...new Map(passed.map(({ excess }) => [excess.join(), excess])).entries()];
    for (let from = 0; from < kinds.length; from += LANES) {
      const three = kinds.slice(from, from + LANES);
      run.begin(grid.rows, grid.cols, more + sums);
      for (const one of passed) {
        const kind = three.findIndex(([key]) => key === one.excess.join());
        if (kind >= 0) addSlab(one, [Number(kind === 0), Number(kind === 1), Number(kind === 2)]);
      }
      const [e0, e1, e2] = [0, 1, 2].map((kind) => three[kind]?.[1] ?? [0, 0, 0]) as [number[], number[], number[]];
      run.raiseMost(more, e0[0]!, e0[1]!, e0[2]!, e1[0]!, e1[1]!, e1[2]!, e2[0]!, e2[1]!, e2[2]!);
    }
  }
  run.begin(grid.rows, grid.cols, diff);
  // prettier-ignore
  run.addPanes(
    panes.count, ends, heights, units, ids, skip, vertexCount, vertices, jumps,
    grid.originXM, grid.originYM, perCell, u, v, az, planeZM,
  );
  for (const one of passed) addSlab(one, several ? one.further : one.slab.lossUnits);
  return { most: several ? more : 0, free };
}

/** As `lossUnitsInto`: what the kernel sums up, in LOSS_UNIT_DB, LANES values a cell. */
export function kernelUnitsInto(kernel: Kernel, outlines: Outlines, pose: Pose, planeZM: number, grid: Grid, out: Int32Array): void {
  const { most, free } = addSums(kernel, outlines, pose, planeZM, grid);
  const length = grid.rows * grid.cols * LANES;
  const [at] = placesFor(kernel, free, [length * 4]) as [number];
  kernel.run.writeSums(most, at);
  out.set(new Int32Array(kernel.memory.buffer, at, length));
}

/**
 * Loss in dB from an access point to every cell of a plane, in every band, straight and round obstacles; clutter is not in it. Wall sums are exact, path and gains come from
 * tables: within 0.002 dB, of antennas that send more one way than another within 0.05 dB.
 */
export function kernelFieldInto(kernel: Kernel, outlines: Outlines, { pose, antennas }: Station, plane: Plane, outs: readonly Float32Array[]): void {
  const { grid, zM, gainDbi } = plane;
  const { cols, rows, cellM } = grid;
  const { exponent } = outlines.medium.propagation;
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const riseM = zM - (pose.zM + POSE_SHIFT_M.zM);
  const farX = Math.max(Math.abs(grid.originXM - ax), Math.abs(grid.originXM + cols * cellM - ax));
  const farY = Math.max(Math.abs(grid.originYM - ay), Math.abs(grid.originYM + rows * cellM - ay));
  // The kernel looks up to three cells beyond a row's end.
  const table = pathTable(antennas, riseM, exponent, gainDbi, Math.hypot(farX + 3 * cellM, farY));
  const gains = gainTable(antennas, pose.tiltDeg, riseM);
  const { most, free } = addSums(kernel, outlines, pose, zM, grid);
  const planeBytes = (rows * cols * 4 + 31) & ~15;
  const [tableAt, out, rest] = placesFor(kernel, free, [table.byteLength, planeBytes * LANES, 0]) as [number, number, number];
  const { run, memory } = kernel;
  new Float32Array(memory.buffer, tableAt).set(table);
  if (gains !== null && gains.key !== kernel.gainsKey) {
    new Float32Array(memory.buffer, kernel.gains).set(gains.table);
    kernel.gainsKey = gains.key;
  }
  const azimuth = (pose.azimuthDeg * Math.PI) / 180;
  // prettier-ignore
  run.cells(
    rows, cols, most, out, planeBytes, tableAt, NEAR_M2, gains === null ? 0 : kernel.gains,
    grid.originXM - ax, grid.originYM - ay, cellM, riseM, Math.sin(azimuth), -Math.cos(azimuth), LOSS_UNIT_DB,
  );
  kernelBentInto(kernel, outlines.medium.panes, { x: ax, y: ay, z: pose.zM + POSE_SHIFT_M.zM }, zM, grid, out, planeBytes, rest);
  outs.forEach((field, band) => {
    if (antennas[band]) field.set(new Float32Array(memory.buffer, out + band * planeBytes, rows * cols));
    else field.fill(NaN);
  });
}
