// Sums of what rays pass through, by shadow outlines: `src/core/fields/outlines.ts` in AssemblyScript. Every expression that decides a cell is written as it
// stands there, so that both agree in every cell. What differs: a cell's sums of the three bands lie in one 64-bit number, 21 bits each, and two rows are
// done at a time.

let rows: i32 = 0;
let cols: i32 = 0;
/** Numbers in a row of the sums: a spill column more than cells, to a multiple of four. */
export let stride: i32 = 0;
export let diff: usize = 0;
/** What enters every row at its left. */
export let left: i64 = 0;

/** Three bands' jumps, signed, as one number: sums of such numbers are exact modulo 2^64, and hold what a cell has in the end. */
@inline
export function packed(j0: i32, j1: i32, j2: i32): i64 {
  return (j0 as i64) + ((j1 as i64) << 21) + ((j2 as i64) << 42);
}

/** Starts sums of no jumps over rows x cols cells, in `at`: 8 * rows * stride bytes. */
export function begin(rowCount: i32, colCount: i32, at: usize): void {
  rows = rowCount;
  cols = colCount;
  stride = (colCount + 4) & ~3;
  diff = at;
  left = 0;
  memory.fill(at, 0, (rows * stride) << 3);
}

@inline
function rowOf(v: f64): i32 {
  if (!(v > 0)) return 0;
  if (v >= (rows as f64)) return rows;
  return Math.ceil(v) as i32;
}

@inline
function columnOf(u: f64): i32 {
  if (!(u > 0)) return 0;
  if (u >= (cols as f64)) return cols;
  return Math.ceil(u) as i32;
}

@inline
function add(at: usize, jump: i64): void {
  store<i64>(at, load<i64>(at) + jump);
}

function addEdge(jump: i64, x0: f64, y0: f64, slope: f64, from: i32, to: i32): void {
  const rowBytes: usize = stride << 3;
  let at: usize = diff + (from as usize) * rowBytes;
  let row = from;
  if (row + 1 < to) {
    const zero = f64x2.splat(0);
    const most = f64x2.splat(cols as f64);
    const two = f64x2.splat(2);
    const x = f64x2.splat(x0);
    const y = f64x2.splat(y0);
    const s = f64x2.splat(slope);
    let r = f64x2(row as f64, (row + 1) as f64);
    for (; row + 1 < to; row += 2) {
      const u = f64x2.add(x, f64x2.mul(f64x2.sub(r, y), s));
      const c = i32x4.trunc_sat_f64x2_s_zero(f64x2.pmin(most, f64x2.pmax(zero, f64x2.ceil(u))));
      add(at + ((i32x4.extract_lane(c, 0) as usize) << 3), jump);
      add(at + rowBytes + ((i32x4.extract_lane(c, 1) as usize) << 3), jump);
      r = f64x2.add(r, two);
      at += rowBytes << 1;
    }
  }
  if (row < to) add(at + ((columnOf(x0 + ((row as f64) - y0) * slope) as usize) << 3), jump);
}

@inline
function addSegment(jump: i64, x1: f64, y1: f64, x2: f64, y2: f64): void {
  if (y1 < y2) addEdge(-jump, x1, y1, (x2 - x1) / (y2 - y1), rowOf(y1), rowOf(y2));
  else if (y2 < y1) addEdge(jump, x2, y2, (x1 - x2) / (y1 - y2), rowOf(y2), rowOf(y1));
}

@inline
function addRay(jump: i64, ax: f64, ay: f64, vx: f64, vy: f64, k0: f64, k1: f64): void {
  if (vy == 0) return;
  const slope = vx / vy;
  if (vy > 0) addEdge(jump, ax, ay, slope, rowOf(ay + k0 * vy), k1 == Infinity ? rows : rowOf(ay + k1 * vy));
  else addEdge(-jump, ax, ay, slope, k1 == Infinity ? 0 : rowOf(ay + k1 * vy), rowOf(ay + k0 * vy));
}

/**
 * Adds the shadows of panes.
 * @param skip a byte per pane, 1 for those that are not in the sums
 * @param jumps room for a number per vertex
 */
export function addPanes(
  count: i32,
  ends: usize,
  heights: usize,
  units: usize,
  endVertex: usize,
  skip: usize,
  vertexCount: i32,
  vertices: usize,
  jumps: usize,
  originX: f64,
  originY: f64,
  perCell: f64,
  ax: f64,
  ay: f64,
  az: f64,
  planeZ: f64,
): void {
  memory.fill(jumps, 0, vertexCount << 3);
  const drop = az - planeZ;
  for (let p = 0; p < count; p++) {
    if (load<u8>(skip + p) != 0) continue;
    const height: usize = heights + (p << 4);
    const base = load<f64>(height);
    const top = load<f64>(height, 8);
    const tLow = drop > 0 ? (az - top) / drop : (base - az) / -drop;
    const tHigh = drop > 0 ? (az - base) / drop : (top - az) / -drop;
    if (tHigh <= 0 || tLow >= 1) continue;
    const k0: f64 = tHigh >= 1 ? 1 : 1 / tHigh;
    const k1: f64 = tLow > 0 ? 1 / tLow : Infinity;
    const end: usize = ends + (p << 5);
    let px = (load<f64>(end) - originX) * perCell - ax;
    let py = (load<f64>(end, 8) - originY) * perCell - ay;
    let qx = (load<f64>(end, 16) - originX) * perCell - ax;
    let qy = (load<f64>(end, 24) - originY) * perCell - ay;
    const area = px * qy - py * qx;
    if (area == 0) continue;
    let vp: usize = load<i32>(endVertex + (p << 3));
    let vq: usize = load<i32>(endVertex + (p << 3), 4);
    if (area < 0) {
      const sx = px;
      px = qx;
      qx = sx;
      const sy = py;
      py = qy;
      qy = sy;
      const sv = vp;
      vp = vq;
      vq = sv;
    }
    const jump = load<i64>(units + (p << 3));
    if (k1 == Infinity && py > 0 && qy < 0) left += jump;
    if (k0 == 1 && k1 == Infinity) {
      addSegment(jump, ax + qx, ay + qy, ax + px, ay + py);
      add(jumps + (vp << 3), -jump);
      add(jumps + (vq << 3), jump);
      continue;
    }
    addSegment(jump, ax + k0 * qx, ay + k0 * qy, ax + k0 * px, ay + k0 * py);
    if (k1 != Infinity) addSegment(jump, ax + k1 * px, ay + k1 * py, ax + k1 * qx, ay + k1 * qy);
    addRay(-jump, ax, ay, px, py, k0, k1);
    addRay(jump, ax, ay, qx, qy, k0, k1);
  }
  for (let v = 0; v < vertexCount; v++) {
    const jump = load<i64>(jumps + (v << 3));
    if (jump == 0) continue;
    const at: usize = vertices + (v << 4);
    addRay(jump, ax, ay, (load<f64>(at) - originX) * perCell - ax, (load<f64>(at, 8) - originY) * perCell - ay, 1, Infinity);
  }
}

/** Adds the inside of a ring of `count` corners, x and y in cells, written so that its inside lies to the right of its way. */
export function addRing(count: i32, ring: usize, j0: i32, j1: i32, j2: i32): void {
  const jump = packed(j0, j1, j2);
  let before: usize = ring + ((count - 1) << 4);
  for (let i = 0; i < count; i++) {
    const at: usize = ring + (i << 4);
    addSegment(jump, load<f64>(before), load<f64>(before, 8), load<f64>(at), load<f64>(at, 8));
    before = at;
  }
}

@inline
function greater(a: i64, b: i64, shift: i64): i64 {
  const p = (a >> shift) & 0x1fffff;
  const q = (b >> shift) & 0x1fffff;
  return (p > q ? p : q) << shift;
}

/**
 * Of sums that count how many of up to three kinds a cell's ray meets: raises the cell's number in `most`, band by band, to that of each kind that is met.
 * @param most a number per cell, `stride` to a row
 */
export function raiseMost(most: usize, e00: i32, e01: i32, e02: i32, e10: i32, e11: i32, e12: i32, e20: i32, e21: i32, e22: i32): void {
  const first = packed(e00, e01, e02);
  const second = packed(e10, e11, e12);
  const third = packed(e20, e21, e22);
  for (let row = 0; row < rows; row++) {
    let count: i64 = left;
    let at: usize = (row * stride) << 3;
    for (let col = 0; col < cols; col++, at += 8) {
      count += load<i64>(diff + at);
      if (count == 0) continue;
      let value = load<i64>(most + at);
      if ((count & 0x1fffff) != 0) value = greater(value, first, 0) | greater(value, first, 21) | greater(value, first, 42);
      if (((count >> 21) & 0x1fffff) != 0) value = greater(value, second, 0) | greater(value, second, 21) | greater(value, second, 42);
      if (((count >> 42) & 0x1fffff) != 0) value = greater(value, third, 0) | greater(value, third, 21) | greater(value, third, 42);
      store<i64>(most + at, value);
    }
  }
}

/** Writes the sums as they are, three numbers of 32 bits a cell: for tests. */
export function writeSums(most: usize, out: usize): void {
  let to = out;
  for (let row = 0; row < rows; row++) {
    let sum: i64 = left;
    let at: usize = (row * stride) << 3;
    for (let col = 0; col < cols; col++, at += 8, to += 12) {
      sum += load<i64>(diff + at);
      const all = most == 0 ? sum : sum + load<i64>(most + at);
      store<i32>(to, (all & 0x1fffff) as i32);
      store<i32>(to, ((all >> 21) & 0x1fffff) as i32, 4);
      store<i32>(to, ((all >> 42) & 0x1fffff) as i32, 8);
    }
  }
}
