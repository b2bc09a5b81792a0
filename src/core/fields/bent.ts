import { obstaclesOf, type Obstacle } from '../building/obstacles';
import type { Panes } from '../building/panes';
import type { Grid } from '../geometry/grid';
import { LIT_V, LONGEST_WAVE_M, bendingAt, newPassing, obstaclesLossDb, passObstacle } from '../propagation/diffraction';
import { POSE_SHIFT_M, type Pose } from '../propagation/crossing';
import type { Plane } from './plane';
import { LANES } from './outlines';

const passing = newPassing();
let product = new Float64Array(0);
let edges = new Float64Array(0);

/** Half the angle by which light reaches behind an edge, at most, in radians: wider and the whole floor is looked at. */
const WIDEST_RAD = 1.4;

/**
 * Adds the loss of what may be gone round to the fields of one access point. Only cells in an obstacle's wedge, seen from the access point and widened by
 * as much as its edges darken the light beside them, can lose anything; in all others the share that passes is 1.
 */
export function addBent(panes: Panes, pose: Pose, { grid, zM }: Plane, outs: readonly Float32Array[]): void {
  const { list } = obstaclesOf(panes);
  if (list.length === 0) return;
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const bending = bendingAt(panes, ax, ay, az, zM);
  if (!bending.includes(1)) return;
  const { cols, rows, cellM, originXM, originYM } = grid;
  const cells = cols * rows;
  if (product.length < cells * LANES) {
    product = new Float64Array(cells * LANES);
    edges = new Float64Array(cells * LANES);
  }
  product.fill(1, 0, cells * LANES);
  edges.fill(0, 0, cells * LANES);
  list.forEach((o, k) => {
    if (bending[k] !== 1) return;
    const wedge = wedgeOf(o, panes, ax, ay, zM - az);
    for (let row = 0; row < rows; row++) {
      const y = originYM + row * cellM;
      const [from, to] = columnsIn(wedge, ax, y - ay, grid);
      for (let col = from; col < to; col++) {
        const x = originXM + col * cellM;
        if (!passObstacle(o, panes, ax, ay, az, x, y, zM, passing)) continue;
        const i = (row * cols + col) * LANES;
        for (let b = 0; b < LANES; b++) {
          product[i + b]! *= passing.share[b]!;
          edges[i + b]! += 1 / Math.sqrt(passing.fill[b]!) - 1;
        }
      }
    }
  });
  for (let b = 0; b < LANES; b++) {
    const out = outs[b]!;
    for (let i = 0, at = b; i < cells; i++, at += LANES) if (product[at]! < 1) out[i]! += obstaclesLossDb(product[at]!, edges[at]!);
  }
}

/**
 * Where an obstacle can cost anything, as half planes through or near the access point: `x p + y q >= c` for a cell at (p, q) from it, three numbers each.
 */
export type Wedge = Readonly<{ planes: Float64Array }>;

/** Path difference, in m, beyond which an edge costs nothing in the light: (LIT_V / 2)^2 of the longest waves. */
const LIT_M = (LIT_V / 2) ** 2 * LONGEST_WAVE_M;

/** The wedge of an obstacle: four half planes at most. */
export function wedgeOf(o: Obstacle, panes: Panes, ax: number, ay: number, riseM: number): Wedge {
  const planes: number[] = [];
  let [first, last] = [Infinity, -Infinity];
  const [mx, my] = [o.corners[0]! - ax, o.corners[1]! - ay];
  const middle = Math.atan2(my, mx);
  let farthest = 0;
  for (let k = 0; k < o.free.length; k++) {
    const vx = o.corners[k * 2]! - ax;
    const vy = o.corners[k * 2 + 1]! - ay;
    const away = Math.hypot(vx, vy);
    farthest = Math.max(farthest, away);
    const angle = Math.atan2(mx * vy - my * vx, mx * vx + my * vy);
    // Steep ways gain less by an angle than level ones.
    const steep = away / Math.hypot(away, riseM);
    const wider = WIDER * Math.sqrt((2 * LIT_M) / (away * steep));
    first = Math.min(first, angle - wider);
    last = Math.max(last, angle + wider);
  }
  if (last - first < 2 * WIDEST_RAD) {
    planes.push(-Math.sin(middle + first), Math.cos(middle + first), 0);
    planes.push(Math.sin(middle + last), -Math.cos(middle + last), 0);
    // Nothing before its nearest corner, seen in the direction of its middle.
    const ahead = middle + (first + last) / 2;
    const [ux, uy] = [Math.cos(ahead), Math.sin(ahead)];
    let nearest = Infinity;
    for (let k = 0; k < o.free.length; k++) nearest = Math.min(nearest, (o.corners[k * 2]! - ax) * ux + (o.corners[k * 2 + 1]! - ay) * uy);
    planes.push(ux, uy, nearest - BEFORE_M);
  }
  if (o.panes.length === 1) {
    // Of one straight pane nothing on the access point's own side, but for what lies along it.
    const e = o.panes[0]! * 4;
    const [px, py] = [panes.ends[e]! - ax, panes.ends[e + 1]! - ay];
    const [dx, dy] = [panes.ends[e + 2]! - ax - px, panes.ends[e + 3]! - ay - py];
    const length = Math.hypot(dx, dy);
    const off = (px * dy - py * dx) / length;
    const sign = off < 0 ? -1 : 1;
    const steep = farthest / Math.hypot(farthest, riseM);
    planes.push((sign * dy) / length, (-sign * dx) / length, Math.abs(off) - WIDER * Math.sqrt((2 * LIT_M * farthest) / steep));
  }
  return { planes: Float64Array.from(planes) };
}

/** Where rays from (ax, ay) can meet something with these corners, x and y by turns: behind it, within its outermost corners; everywhere for what lies around. */
export function shadowOf(corners: ArrayLike<number>, ax: number, ay: number): Wedge {
  const [mx, my] = [corners[0]! - ax, corners[1]! - ay];
  const middle = Math.atan2(my, mx);
  let [first, last] = [0, 0];
  for (let k = 2; k < corners.length; k += 2) {
    const [vx, vy] = [corners[k]! - ax, corners[k + 1]! - ay];
    const angle = Math.atan2(mx * vy - my * vx, mx * vx + my * vy);
    first = Math.min(first, angle);
    last = Math.max(last, angle);
  }
  const planes: number[] = [];
  if (last - first < 2 * WIDEST_RAD) {
    planes.push(-Math.sin(middle + first), Math.cos(middle + first), -EDGE_M);
    planes.push(Math.sin(middle + last), -Math.cos(middle + last), -EDGE_M);
    const ahead = middle + (first + last) / 2;
    planes.push(Math.cos(ahead), Math.sin(ahead), -EDGE_M);
  }
  return { planes: Float64Array.from(planes) };
}

/** What rounding may make of the edge of a shadow, in m. */
const EDGE_M = 1e-3;

/** A margin on the small-angle estimates above. */
const WIDER = 1.1;
/** Between an edge and what lies so far before it a way round is too long to matter, in m. */
const BEFORE_M = 0.03;

/** Columns of a row that lie in a wedge, `dy` from the access point: every half plane cuts the row once. */
export function columnsIn({ planes }: Wedge, ax: number, dy: number, { originXM, cellM, cols }: Grid): readonly [from: number, to: number] {
  let low = -Infinity;
  let high = Infinity;
  for (let k = 0; k < planes.length; k += 3) {
    const slope = planes[k]!;
    const rest = planes[k + 2]! - planes[k + 1]! * dy;
    if (slope > 0) low = Math.max(low, rest / slope);
    else if (slope < 0) high = Math.min(high, rest / slope);
    else if (rest > 0) return NO_COLUMNS;
  }
  const from = Math.max(0, Math.floor((ax + low - originXM) / cellM));
  const to = Math.min(cols, Math.ceil((ax + high - originXM) / cellM) + 1);
  return to > from ? [from, to] : NO_COLUMNS;
}

const NO_COLUMNS = [0, 0] as const;
