import { obstaclesOf } from '../building/obstacles';
import { partsOf, type Slab } from '../building/slab';
import type { Grid } from '../geometry/grid';
import { ringsOf, signedAreaM2, type PolygonM } from '../geometry/polygon';
import { bendingAt } from '../propagation/diffraction';
import { mediumAt, type Medium } from '../propagation/medium';
import { POSE_SHIFT_M, slabShare, type Pose } from '../propagation/crossing';
import { panesMetFrom, type MetPanes } from '../propagation/slant';

/**
 * What rays can meet made ready for the shadow method: ends that two panes share are one vertex, so that a ray from it is drawn once.
 * Depends on the plan alone; made once per plan, used for every access point.
 */
export type Outlines = Readonly<{ medium: Medium; vertexCount: number; vertexM: Float64Array; endVertex: Int32Array }>;

/** What rays from one access point meet: the plan's own panes, or the pieces they are cut into where a slant counts, with their vertices. */
export type Met = MetPanes & Omit<Outlines, 'medium'>;

/** As rays from (ax, ay) meet the plan. */
export function metFrom(outlines: Outlines, ax: number, ay: number): Met {
  const met = panesMetFrom(outlines.medium, ax, ay);
  if (met.panes === outlines.medium.panes) return { ...outlines, ...met };
  const { panes, origin } = met;
  const endVertex = new Int32Array(panes.count * 2);
  const cuts: number[] = [];
  // Where one pane is cut, its two pieces share a vertex of their own.
  for (let p = 0; p < panes.count; p++) {
    const [before, after] = [origin[p - 1] === origin[p], origin[p + 1] === origin[p]];
    endVertex[p * 2] = before ? endVertex[p * 2 - 1]! : outlines.endVertex[origin[p]! * 2]!;
    endVertex[p * 2 + 1] = after ? outlines.vertexCount + cuts.length / 2 : outlines.endVertex[origin[p]! * 2 + 1]!;
    if (after) cuts.push(panes.ends[p * 4 + 2]!, panes.ends[p * 4 + 3]!);
  }
  const vertexM = new Float64Array(outlines.vertexM.length + cuts.length);
  vertexM.set(outlines.vertexM);
  vertexM.set(cuts, outlines.vertexM.length);
  return { ...met, vertexCount: outlines.vertexCount + cuts.length / 2, vertexM, endVertex };
}

export function outlinesOf(medium: Medium): Outlines {
  const { panes } = medium;
  const ids = new Map<string, number>();
  const vertexM: number[] = [];
  const endVertex = new Int32Array(panes.count * 2);
  for (let end = 0; end < panes.count * 2; end++) {
    const x = panes.ends[end * 2]!;
    const y = panes.ends[end * 2 + 1]!;
    const key = `${x},${y}`;
    let id = ids.get(key);
    if (id === undefined) {
      id = ids.size;
      ids.set(key, id);
      vertexM.push(x, y);
    }
    endVertex[end] = id;
  }
  return { medium, vertexCount: ids.size, vertexM: Float64Array.from(vertexM), endVertex };
}

/** The same plan as waves of given frequencies meet it, one per band as of `mediumAt`: nothing of its shape is made anew. */
export const outlinesAt = (outlines: Outlines, centresMhz: ReadonlyArray<number | null>): Outlines => ({
  ...outlines,
  medium: mediumAt(outlines.medium, centresMhz),
});

/** Lanes of the interleaved arrays below: one per band, in the order of BANDS. */
export const LANES = 3;

let diff = new Int32Array(0);
let vertexJump = new Int32Array(0);

// The edge being added: set by the caller, read by `addEdge`. Module-level, so that the inner loop passes no arrays and allocates nothing.
let rowCount = 0;
let colCount = 0;
let jump0 = 0;
let jump1 = 0;
let jump2 = 0;

/** First column whose centre lies right of `u` (in cells), kept in 0..cols. Column `cols` is a spill nobody reads. */
function columnOf(u: number): number {
  if (!(u > 0)) return 0;
  if (u >= colCount) return colCount;
  const whole = u | 0;
  return u > whole ? whole + 1 : whole;
}

/** First row at or below `v` (in cells), kept in 0..rows. */
function rowOf(v: number): number {
  if (!(v > 0)) return 0;
  if (v >= rowCount) return rowCount;
  const whole = v | 0;
  return v > whole ? whole + 1 : whole;
}

/**
 * Adds `sign` times the current jump right of the line x = x0 + (row - y0) * slope on rows fromRow..toRow - 1.
 * The crossing is always computed by this expression, never by adding a step: lines that share it agree to the bit.
 */
function addEdge(sign: number, x0: number, y0: number, slope: number, fromRow: number, toRow: number): void {
  const stride = (colCount + 1) * LANES;
  const d0 = sign * jump0;
  const d1 = sign * jump1;
  const d2 = sign * jump2;
  for (let row = fromRow; row < toRow; row++) {
    const at = row * stride + columnOf(x0 + (row - y0) * slope) * LANES;
    diff[at]! += d0;
    diff[at + 1]! += d1;
    diff[at + 2]! += d2;
  }
}

/** Adds the directed edge (x1, y1) -> (x2, y2): one that runs up in y closes the region to its right, one that runs down opens it. */
function addSegment(x1: number, y1: number, x2: number, y2: number): void {
  if (y1 < y2) addEdge(-1, x1, y1, (x2 - x1) / (y2 - y1), rowOf(y1), rowOf(y2));
  else if (y2 < y1) addEdge(1, x2, y2, (x1 - x2) / (y1 - y2), rowOf(y2), rowOf(y1));
}

/**
 * Total loss in walls and slabs that rays from one access point to every cell pass through, in LOSS_UNIT_DB, exact; what they may go round is not in it.
 *
 * Seen from A, a pane throws a shadow: {A + k (W - A) : W on the pane, k0 <= k < k1}; a limited height limits k. Each shadow's outline
 * is written as jumps where a row enters and leaves it; one running sum along each row gives every cell's total. Work is
 * panes + vertices x rows + cells instead of panes x cells. Ends shared by full-height panes share one ray whose jump is their sum.
 * A slab's shadow is what is solid of it seen from A, drawn to the scale at which its height is passed; a hole's takes the loss off again.
 *
 * @param planeZM height of the cells in the building's z
 * @param out receives LANES values per cell, interleaved: cols * rows * LANES
 */
export function lossUnitsInto(outlines: Outlines, pose: Pose, planeZM: number, grid: Grid, out: Int32Array): void {
  const { slabs } = outlines.medium;
  const { panes, origin, vertexM, endVertex, vertexCount } = metFrom(outlines, pose.xM + POSE_SHIFT_M.xM, pose.yM + POSE_SHIFT_M.yM);
  const { ends, heights, lossUnits, count } = panes;
  rowCount = grid.rows;
  colCount = grid.cols;
  const stride = (colCount + 1) * LANES;
  if (diff.length < rowCount * stride) diff = new Int32Array(rowCount * stride);
  else diff.fill(0, 0, rowCount * stride);
  if (vertexJump.length < vertexCount * LANES) vertexJump = new Int32Array(vertexCount * LANES);
  else vertexJump.fill(0, 0, vertexCount * LANES);

  const perCell = 1 / grid.cellM;
  const ax = (pose.xM + POSE_SHIFT_M.xM - grid.originXM) * perCell;
  const ay = (pose.yM + POSE_SHIFT_M.yM - grid.originYM) * perCell;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const drop = az - planeZM;
  let left0 = 0;
  let left1 = 0;
  let left2 = 0;

  const { of } = obstaclesOf(outlines.medium.panes);
  const bending = bendingAt(outlines.medium.panes, pose.xM + POSE_SHIFT_M.xM, pose.yM + POSE_SHIFT_M.yM, az, planeZM);
  for (let p = 0; p < count; p++) {
    // What may be gone round is not in these sums.
    const obstacle = of[origin[p]!]!;
    if (obstacle >= 0 && bending[obstacle] === 1) continue;
    // The ray's height at share t of the way is az - t * drop; the pane is hit for t in (tLow, tHigh].
    const base = heights[p * 2]!;
    const top = heights[p * 2 + 1]!;
    const tLow = drop > 0 ? (az - top) / drop : (base - az) / -drop;
    const tHigh = drop > 0 ? (az - base) / drop : (top - az) / -drop;
    if (tHigh <= 0 || tLow >= 1) continue;
    const k0 = tHigh >= 1 ? 1 : 1 / tHigh;
    const k1 = tLow > 0 ? 1 / tLow : Infinity;

    const e = p * 4;
    let px = (ends[e]! - grid.originXM) * perCell - ax;
    let py = (ends[e + 1]! - grid.originYM) * perCell - ay;
    let qx = (ends[e + 2]! - grid.originXM) * perCell - ax;
    let qy = (ends[e + 3]! - grid.originYM) * perCell - ay;
    const area = px * qy - py * qx;
    if (area === 0) continue;
    let vp = endVertex[p * 2]!;
    let vq = endVertex[p * 2 + 1]!;
    if (area < 0) {
      let swap = px;
      px = qx;
      qx = swap;
      swap = py;
      py = qy;
      qy = swap;
      swap = vp;
      vp = vq;
      vq = swap;
    }
    jump0 = lossUnits[p * LANES]!;
    jump1 = lossUnits[p * LANES + 1]!;
    jump2 = lossUnits[p * LANES + 2]!;

    // An unbounded shadow around the -x direction enters every row at the left border.
    if (k1 === Infinity && py > 0 && qy < 0) {
      left0 += jump0;
      left1 += jump1;
      left2 += jump2;
    }
    if (k0 === 1 && k1 === Infinity) {
      addSegment(ax + qx, ay + qy, ax + px, ay + py);
      const jp = vp * LANES;
      const jq = vq * LANES;
      vertexJump[jp]! -= jump0;
      vertexJump[jp + 1]! -= jump1;
      vertexJump[jp + 2]! -= jump2;
      vertexJump[jq]! += jump0;
      vertexJump[jq + 1]! += jump1;
      vertexJump[jq + 2]! += jump2;
      continue;
    }
    addSegment(ax + k0 * qx, ay + k0 * qy, ax + k0 * px, ay + k0 * py);
    if (k1 !== Infinity) addSegment(ax + k1 * px, ay + k1 * py, ax + k1 * qx, ay + k1 * qy);
    addRay(-1, ax, ay, px, py, k0, k1);
    addRay(1, ax, ay, qx, qy, k0, k1);
  }

  for (let v = 0; v < vertexCount; v++) {
    jump0 = vertexJump[v * LANES]!;
    jump1 = vertexJump[v * LANES + 1]!;
    jump2 = vertexJump[v * LANES + 2]!;
    if (jump0 === 0 && jump1 === 0 && jump2 === 0) continue;
    addRay(1, ax, ay, (vertexM[v * 2]! - grid.originXM) * perCell - ax, (vertexM[v * 2 + 1]! - grid.originYM) * perCell - ay, 1, Infinity);
  }

  const passed = slabs.flatMap((slab) => {
    const share = slabShare(slab, az, planeZM);
    return share < 0 ? [] : [{ slab, ...partsOf(slab), k: 1 / share }];
  });
  // One alone costs all it has; of several each costs its further part, and the one met that costs most the rest.
  for (const { slab, further, k } of passed) addSlab(slab, passed.length > 1 ? further : slab.lossUnits, grid, ax, ay, k);

  for (let row = 0, i = 0; row < rowCount; row++) {
    let sum0 = left0;
    let sum1 = left1;
    let sum2 = left2;
    for (let at = row * stride, end = at + colCount * LANES; at < end; at += LANES, i += LANES) {
      sum0 += diff[at]!;
      sum1 += diff[at + 1]!;
      sum2 += diff[at + 2]!;
      out[i] = sum0;
      out[i + 1] = sum1;
      out[i + 2] = sum2;
    }
  }
  if (passed.length > 1) addMostExcess(passed, grid, ax, ay, out);
}

let mostExcess = new Int32Array(0);

/**
 * Adds to each cell, per band, the greatest excess of the slabs that its ray meets. Slabs of equal excess are counted together, three kinds at a time, in the lanes
 * of the sums: where a kind's count is above 0 one of it is met.
 */
function addMostExcess(
  passed: ReadonlyArray<{ slab: Slab; excess: readonly number[]; k: number }>,
  grid: Grid,
  ax: number,
  ay: number,
  out: Int32Array,
): void {
  const kinds = [...new Map(passed.map(({ excess }) => [excess.join(), excess])).entries()];
  const cells = rowCount * colCount;
  const stride = (colCount + 1) * LANES;
  if (mostExcess.length < cells * LANES) mostExcess = new Int32Array(cells * LANES);
  else mostExcess.fill(0, 0, cells * LANES);
  for (let from = 0; from < kinds.length; from += LANES) {
    const three = kinds.slice(from, from + LANES);
    diff.fill(0, 0, rowCount * stride);
    for (const { slab, excess, k } of passed) {
      const kind = three.findIndex(([key]) => key === excess.join());
      if (kind >= 0)
        addSlab(
          slab,
          [0, 1, 2].map((lane) => (lane === kind ? 1 : 0)),
          grid,
          ax,
          ay,
          k,
        );
    }
    for (let kind = 0; kind < three.length; kind++) {
      const [e0, e1, e2] = three[kind]![1] as readonly [number, number, number];
      for (let row = 0, i = 0; row < rowCount; row++) {
        let count = 0;
        for (let at = row * stride + kind, end = at + colCount * LANES; at < end; at += LANES, i += LANES) {
          count += diff[at]!;
          if (count <= 0) continue;
          if (e0 > mostExcess[i]!) mostExcess[i] = e0;
          if (e1 > mostExcess[i + 1]!) mostExcess[i + 1] = e1;
          if (e2 > mostExcess[i + 2]!) mostExcess[i + 2] = e2;
        }
      }
    }
  }
  for (let i = 0; i < cells * LANES; i++) out[i]! += mostExcess[i]!;
}

/** Adds the side of a shadow along the ray A -> (vx, vy) from scale k0 to k1, as the edge that bounds the region clockwise of it. */
function addRay(sign: number, ax: number, ay: number, vx: number, vy: number, k0: number, k1: number): void {
  if (vy === 0) return;
  const slope = vx / vy;
  if (vy > 0) addEdge(sign, ax, ay, slope, rowOf(ay + k0 * vy), k1 === Infinity ? rowCount : rowOf(ay + k1 * vy));
  else addEdge(-sign, ax, ay, slope, k1 === Infinity ? 0 : rowOf(ay + k1 * vy), rowOf(ay + k0 * vy));
}

/** Adds a slab's shadow, of these units per band: what is solid of it, to scale `k` from A (in cells). */
function addSlab({ solid }: Slab, lossUnits: readonly number[], grid: Grid, ax: number, ay: number, k: number): void {
  for (const region of solid)
    ringsOf(region).forEach((ring, i) => {
      const sign = i === 0 ? 1 : -1;
      jump0 = sign * lossUnits[0]!;
      jump1 = sign * lossUnits[1]!;
      jump2 = sign * lossUnits[2]!;
      addRing(ring, grid, ax, ay, k);
    });
}

/** Adds the inside of a ring, to scale `k` from A, whichever way round it is written. */
function addRing(ring: PolygonM, grid: Grid, ax: number, ay: number, k: number): void {
  const perCell = 1 / grid.cellM;
  const back = signedAreaM2(ring) < 0;
  const at = (i: number) => ring[back ? ring.length - 1 - i : i]!;
  const xOf = (i: number) => ax + k * ((at(i).xM - grid.originXM) * perCell - ax);
  const yOf = (i: number) => ay + k * ((at(i).yM - grid.originYM) * perCell - ay);
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) addSegment(xOf(j), yOf(j), xOf(i), yOf(i));
}
