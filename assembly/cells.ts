// From sums and tables to levels: path loss, antenna and what is passed through, four cells and three bands at a time.
import { diff, left, stride } from './sums';

@inline
function path(table: usize, index: i32, q: f32): v128 {
  const entry: usize = table + ((index as usize) << 5);
  return f32x4.add(v128.load(entry), f32x4.mul(v128.load(entry, 16), f32x4.splat(q)));
}

/** Nodes from the middle of the table of gains to its rim. */
const REACH: i32 = 128;
const ACROSS: i32 = 2 * REACH + 1;

/** Between four nodes, `at` the first of them; `fu` and `fv` how far on, in every lane. */
@inline
function gains(at: usize, fu: v128, fv: v128): v128 {
  const low = v128.load(at);
  const high = v128.load(at, ACROSS << 4);
  const lower = f32x4.add(low, f32x4.mul(f32x4.sub(v128.load(at, 16), low), fu));
  const upper = f32x4.add(high, f32x4.mul(f32x4.sub(v128.load(at, (ACROSS + 1) << 4), high), fu));
  return f32x4.add(lower, f32x4.mul(f32x4.sub(upper, lower), fv));
}

/**
 * Loss of every cell in dB into three planes, one per band: table by distance + unit * sum - gain.
 * @param most what comes on top of the sums, a number per cell, or 0
 * @param out three planes of `plane` bytes; 16 bytes more than the cells of each are written over
 * @param table entries of [a0 a1 a2 - b0 b1 b2 -]: a + b q, by the upper bits of q = dx^2 + dy^2 + near, the first for q = near
 * @param gainTable gains of three bands by direction on an octahedron, or 0 where they are in the table by distance
 */
export function cells(
  rowCount: i32,
  colCount: i32,
  most: usize,
  out: usize,
  plane: usize,
  table: usize,
  near: f32,
  gainTable: usize,
  fromX: f32,
  fromY: f32,
  cellM: f32,
  rise: f32,
  aimX: f32,
  aimY: f32,
  unit: f32,
): void {
  const mask = i32x4.splat(0x1fffff);
  const units = f32x4.splat(unit);
  const zero = i64x2.splat(0);
  const first = i32x4.splat(reinterpret<i32>(near) >> 18);
  const nears = f32x4.splat(near);
  const four = f32x4.splat(4 * cellM);
  const fx = f32x4.splat(aimX);
  const fy = f32x4.splat(aimY);
  const rises = f32x4.splat(abs(rise));
  const reach = f32x4.splat(REACH as f32);
  const rim = i32x4.splat(2 * REACH - 1);
  const across = i32x4.splat(ACROSS);
  for (let row = 0; row < rowCount; row++) {
    let carry = i64x2.splat(left);
    let at: usize = (row * stride) << 3;
    let to: usize = out + ((row * colCount) << 2);
    const dy = fromY + (row as f32) * cellM;
    const dys = f32x4.splat(dy);
    const dySq = f32x4.splat(dy * dy);
    let dx = f32x4(fromX, fromX + cellM, fromX + 2 * cellM, fromX + 3 * cellM);
    for (let col = 0; col < colCount; col += 4, at += 32, to += 16) {
      const d01 = v128.load(diff + at);
      const d23 = v128.load(diff + at, 16);
      let p01 = i64x2.add(i64x2.add(d01, v128.shuffle<i64>(zero, d01, 0, 2)), carry);
      let p23 = i64x2.add(i64x2.add(d23, v128.shuffle<i64>(zero, d23, 0, 2)), v128.shuffle<i64>(p01, p01, 1, 1));
      carry = v128.shuffle<i64>(p23, p23, 1, 1);
      if (most != 0) {
        p01 = i64x2.add(p01, v128.load(most + at));
        p23 = i64x2.add(p23, v128.load(most + at, 16));
      }
      const q = f32x4.add(f32x4.add(f32x4.mul(dx, dx), dySq), nears);
      const index = i32x4.sub(i32x4.shr_u(q, 18), first);
      let c0 = path(table, i32x4.extract_lane(index, 0), f32x4.extract_lane(q, 0));
      let c1 = path(table, i32x4.extract_lane(index, 1), f32x4.extract_lane(q, 1));
      let c2 = path(table, i32x4.extract_lane(index, 2), f32x4.extract_lane(q, 2));
      let c3 = path(table, i32x4.extract_lane(index, 3), f32x4.extract_lane(q, 3));
      if (gainTable != 0) {
        const ex = f32x4.add(f32x4.mul(dx, fx), f32x4.mul(dys, fy));
        const ey = f32x4.sub(f32x4.mul(dys, fx), f32x4.mul(dx, fy));
        const s = f32x4.div(reach, f32x4.add(rises, f32x4.add(f32x4.abs(ex), f32x4.abs(ey))));
        const u = f32x4.add(reach, f32x4.mul(ex, s));
        const v = f32x4.add(reach, f32x4.mul(ey, s));
        const i = i32x4.min_s(i32x4.trunc_sat_f32x4_s(u), rim);
        const j = i32x4.min_s(i32x4.trunc_sat_f32x4_s(v), rim);
        const fu = f32x4.sub(u, f32x4.convert_i32x4_s(i));
        const fv = f32x4.sub(v, f32x4.convert_i32x4_s(j));
        const node = i32x4.shl(i32x4.add(i32x4.mul(j, across), i), 4);
        c0 = f32x4.sub(c0, gains(gainTable + i32x4.extract_lane(node, 0), v128.shuffle<i32>(fu, fu, 0, 0, 0, 0), v128.shuffle<i32>(fv, fv, 0, 0, 0, 0)));
        c1 = f32x4.sub(c1, gains(gainTable + i32x4.extract_lane(node, 1), v128.shuffle<i32>(fu, fu, 1, 1, 1, 1), v128.shuffle<i32>(fv, fv, 1, 1, 1, 1)));
        c2 = f32x4.sub(c2, gains(gainTable + i32x4.extract_lane(node, 2), v128.shuffle<i32>(fu, fu, 2, 2, 2, 2), v128.shuffle<i32>(fv, fv, 2, 2, 2, 2)));
        c3 = f32x4.sub(c3, gains(gainTable + i32x4.extract_lane(node, 3), v128.shuffle<i32>(fu, fu, 3, 3, 3, 3), v128.shuffle<i32>(fv, fv, 3, 3, 3, 3)));
      }
      // From four cells of three bands to three bands of four cells.
      const low01 = v128.shuffle<i32>(c0, c1, 0, 4, 1, 5);
      const low23 = v128.shuffle<i32>(c2, c3, 0, 4, 1, 5);
      const high01 = v128.shuffle<i32>(c0, c1, 2, 6, 3, 7);
      const high23 = v128.shuffle<i32>(c2, c3, 2, 6, 3, 7);
      const s0 = v128.and(v128.shuffle<i32>(p01, p23, 0, 2, 4, 6), mask);
      const s1 = v128.and(v128.shuffle<i32>(i64x2.shr_u(p01, 21), i64x2.shr_u(p23, 21), 0, 2, 4, 6), mask);
      const s2 = v128.and(v128.shuffle<i32>(i64x2.shr_u(p01, 42), i64x2.shr_u(p23, 42), 0, 2, 4, 6), mask);
      v128.store(to, f32x4.add(v128.shuffle<i64>(low01, low23, 0, 2), f32x4.mul(f32x4.convert_i32x4_s(s0), units)));
      v128.store(to + plane, f32x4.add(v128.shuffle<i64>(low01, low23, 1, 3), f32x4.mul(f32x4.convert_i32x4_s(s1), units)));
      v128.store(to + 2 * plane, f32x4.add(v128.shuffle<i64>(high01, high23, 0, 2), f32x4.mul(f32x4.convert_i32x4_s(s2), units)));
      dx = f32x4.add(dx, four);
    }
  }
}
