// Ways round obstacles, four cells at a time: `src/core/propagation/diffraction.ts` and `src/core/fields/bent.ts` in AssemblyScript. What decides on which side of
// something a cell lies is in double precision, written as it stands there; lengths are in single precision. What would be lost there as a difference of long ways is written as a
// quotient: (|p| + |e|)^2 - |p + e|^2 = 2 (p x e)^2 / (|p| |e| + p e).

const NUMBERS_OF_A_CORNER: i32 = 7;
const NUMBERS_OF_A_PANE: i32 = 8;


@inline
function number(at: usize, index: i32): f64 {
  return load<f64>(at + ((index as usize) << 3));
}

@inline
function single(at: usize, index: i32): v128 {
  return f32x4.splat(load<f64>(at + ((index as usize) << 3)) as f32);
}

@inline
function square(x: v128): v128 {
  return f32x4.mul(x, x);
}

/** What a way with a bend is longer in its square than the straight one, for two legs of lengths with product `ab`, dot product and cross product. */
@inline
function longer(ab: v128, dot: v128, cross: v128): v128 {
  const two = f32x4.splat(2);
  const sharp = f32x4.mul(two, f32x4.sub(ab, dot));
  const flat = f32x4.div(f32x4.mul(two, square(cross)), f32x4.max(f32x4.add(ab, dot), f32x4.splat(1e-12)));
  return v128.bitselect(flat, sharp, f32x4.gt(dot, f32x4.splat(0)));
}

/** One mask for four cells from those of two and two in double precision. */
@inline
function both(low: v128, high: v128): v128 {
  return v128.shuffle<i32>(low, high, 0, 2, 4, 6);
}

/** Four numbers in single precision from two and two in double. */
@inline
function joined(low: v128, high: v128): v128 {
  return v128.shuffle<i64>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 2);
}

/** Share of power that passes a knife edge. */
@inline
function passes(v: v128): v128 {
  const one = f32x4.splat(1);
  const w = f32x4.sub(v, f32x4.splat(0.1));
  const x = f32x4.add(f32x4.sqrt(f32x4.add(square(w), one)), f32x4.abs(w));
  const root = v128.bitselect(f32x4.div(one, x), x, f32x4.gt(w, f32x4.splat(0)));
  return f32x4.min(one, f32x4.mul(f32x4.splat(0.20417379446952), square(root)));
}

/** The knife edge's parameter over a top, per factor of its band. `more`: what the way is longer seen from above, in squares. */
@inline
function overTop(there: v128, on: v128, up: v128, down: v128, rise: v128, straight: v128, more: v128): v128 {
  const a = f32x4.sqrt(f32x4.add(square(there), square(up)));
  const b = f32x4.sqrt(f32x4.add(square(on), square(down)));
  const dot = f32x4.sub(f32x4.mul(there, on), f32x4.mul(up, down));
  const cross = f32x4.add(f32x4.mul(there, down), f32x4.mul(up, on));
  const squares = f32x4.add(longer(f32x4.mul(a, b), dot, cross), more);
  const root = f32x4.sqrt(f32x4.div(squares, f32x4.add(f32x4.add(a, b), straight)));
  const above = f32x4.gt(f32x4.mul(rise, there), f32x4.mul(up, f32x4.add(there, on)));
  return v128.bitselect(f32x4.neg(root), root, above);
}

/** Log to base 2 of positive numbers, within 1e-7. */
@inline
function log2(x: v128): v128 {
  // A mantissa from 0.7071 to 1.4142 and its exponent.
  const shifted = i32x4.sub(x, i32x4.splat(0x3f3504f3));
  const exponent = f32x4.convert_i32x4_s(i32x4.shr_s(shifted, 23));
  const m = i32x4.add(v128.and(shifted, i32x4.splat(0x007fffff)), i32x4.splat(0x3f3504f3));
  const one = f32x4.splat(1);
  const s = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
  const q = square(s);
  const series = f32x4.add(one, f32x4.mul(q, f32x4.add(f32x4.splat(0.33333333), f32x4.mul(q, f32x4.add(f32x4.splat(0.2), f32x4.mul(q, f32x4.splat(0.14285714)))))));
  return f32x4.add(exponent, f32x4.mul(f32x4.mul(s, series), f32x4.splat(2.885390082)));
}

/** Makes room ready: nothing in the way of any cell. Three planes of products, three of edges, each of rows * stride numbers. */
export function clearBent(rows: i32, stride: i32, state: usize): void {
  const plane: usize = (rows * stride) << 2;
  const one = f32x4.splat(1);
  const end = state + 3 * plane;
  for (let at = state; at < end; at += 16) v128.store(at, one);
  memory.fill(end, 0, 3 * plane);
}

/**
 * Lays one obstacle into the way of the cells in its wedge.
 * @param obstacle its corners and panes: [corners, panes, low, closed], then per corner [x, y, free, top, through x 3], per pane [px, py, qx, qy, top, through x 3]
 * @param wedge `planeCount` half planes [p, q, c]: only cells with x p + y q >= c, from the access point, can lose anything
 */
export function bend(
  obstacle: usize,
  wedge: usize,
  planeCount: i32,
  rows: i32,
  cols: i32,
  stride: i32,
  state: usize,
  originX: f64,
  originY: f64,
  cellM: f64,
  ax: f64,
  ay: f64,
  az: f64,
  cz: f64,
  perRoot0: f32,
  perRoot1: f32,
  perRoot2: f32,
  litV: f32,
): void {
  const corners = number(obstacle, 0) as i32;
  const panes = number(obstacle, 1) as i32;
  const low = number(obstacle, 2) != 0;
  const closed = number(obstacle, 3) != 0;
  const cornerAt: usize = obstacle + 32;
  const paneAt: usize = cornerAt + ((corners * NUMBERS_OF_A_CORNER) << 3);
  const plane: usize = (rows * stride) << 2;
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const infinity = f32x4.splat(Infinity);
  const nought = f64x2.splat(0);
  const whole = f64x2.splat(1);
  const rise = f32x4.splat((cz - az) as f32);
  const riseSq = square(rise);
  const k0 = f32x4.splat(perRoot0);
  const k1 = f32x4.splat(perRoot1);
  const k2 = f32x4.splat(perRoot2);
  for (let row = 0; row < rows; row++) {
    const dyM = originY + (row as f64) * cellM - ay;
    let least: f64 = -Infinity;
    let most: f64 = Infinity;
    let none = false;
    for (let k = 0; k < planeCount; k++) {
      const slope = number(wedge, 3 * k);
      const rest = number(wedge, 3 * k + 2) - number(wedge, 3 * k + 1) * dyM;
      if (slope > 0) least = max(least, rest / slope);
      else if (slope < 0) most = min(most, rest / slope);
      else if (rest > 0) none = true;
    }
    if (none) continue;
    const from = max<f64>(0, floor((ax + least - originX) / cellM));
    const to = min<f64>(cols as f64, ceil((ax + most - originX) / cellM) + 1);
    if (!(to > from)) continue;
    const toCol = to as i32;
    const dy = f32x4.splat(dyM as f32);
    const dySq = square(dy);
    for (let col = from as i32; col < toCol; col += 4) {
      const dxLow = f64x2(originX + (col as f64) * cellM - ax, originX + ((col + 1) as f64) * cellM - ax);
      const dxHigh = f64x2(originX + ((col + 2) as f64) * cellM - ax, originX + ((col + 3) as f64) * cellM - ax);
      const dx = joined(dxLow, dxHigh);
      const planSq = f32x4.add(square(dx), dySq);
      const plan = f32x4.sqrt(planSq);
      const straight = f32x4.sqrt(f32x4.add(planSq, riseSq));

      // How much longer the ways round its corners are.
      let left = f32x4.splat(-1);
      let right = f32x4.splat(-1);
      let shortest = infinity;
      let nearThere = zero;
      let nearOn = zero;
      let nearMore = zero;
      let nearTop = zero;
      let near0 = one;
      let near1 = one;
      let near2 = one;
      for (let k = 0; k < corners; k++) {
        const c: usize = cornerAt + ((k * NUMBERS_OF_A_CORNER) << 3);
        const vxM = number(c, 0) - ax;
        const vyM = number(c, 1) - ay;
        const vx = f32x4.splat(vxM as f32);
        const vy = f32x4.splat(vyM as f32);
        const sideLow = f64x2.sub(f64x2.mul(dxLow, f64x2.splat(vyM)), f64x2.splat(dyM * vxM));
        const sideHigh = f64x2.sub(f64x2.mul(dxHigh, f64x2.splat(vyM)), f64x2.splat(dyM * vxM));
        const side = joined(sideLow, sideHigh);
        let d = infinity;
        if (number(c, 2) != 0) {
          const there = f32x4.sqrt(f32x4.add(square(vx), square(vy)));
          const ex = f32x4.sub(dx, vx);
          const ey = f32x4.sub(dy, vy);
          const on = f32x4.sqrt(f32x4.add(square(ex), square(ey)));
          const more = longer(f32x4.mul(there, on), f32x4.add(f32x4.mul(vx, ex), f32x4.mul(vy, ey)), side);
          d = f32x4.div(more, f32x4.add(f32x4.sqrt(f32x4.add(square(f32x4.add(there, on)), riseSq)), straight));
          const nearer = f32x4.lt(d, shortest);
          shortest = v128.bitselect(d, shortest, nearer);
          near0 = v128.bitselect(single(c, 4), near0, nearer);
          near1 = v128.bitselect(single(c, 5), near1, nearer);
          near2 = v128.bitselect(single(c, 6), near2, nearer);
          if (low) {
            nearThere = v128.bitselect(there, nearThere, nearer);
            nearOn = v128.bitselect(on, nearOn, nearer);
            nearMore = v128.bitselect(more, nearMore, nearer);
            nearTop = v128.bitselect(single(c, 3), nearTop, nearer);
          }
        }
        const onLeft = both(f64x2.gt(sideLow, nought), f64x2.gt(sideHigh, nought));
        left = v128.bitselect(f32x4.max(left, d), left, onLeft);
        right = v128.bitselect(right, f32x4.max(right, d), onLeft);
      }

      // What lies on the way, seen from above.
      let crossed = zero;
      let through0 = one;
      let through1 = one;
      let through2 = one;
      let over = f32x4.splat(-Infinity);
      let inside = zero;
      for (let k = 0; k < panes; k++) {
        const p: usize = paneAt + ((k * NUMBERS_OF_A_PANE) << 3);
        const pxM = number(p, 0) - ax;
        const pyM = number(p, 1) - ay;
        const qxM = number(p, 2) - ax;
        const qyM = number(p, 3) - ay;
        if (closed && pyM > dyM != qyM > dyM) {
          // A line to the east leaves a ring it is in an odd number of times.
          const at = f64x2.splat(((qxM - pxM) * (dyM - pyM)) / (qyM - pyM) + pxM);
          inside = v128.xor(inside, both(f64x2.lt(dxLow, at), f64x2.lt(dxHigh, at)));
        }
        const sidePLow = f64x2.sub(f64x2.mul(dxLow, f64x2.splat(pyM)), f64x2.splat(dyM * pxM));
        const sidePHigh = f64x2.sub(f64x2.mul(dxHigh, f64x2.splat(pyM)), f64x2.splat(dyM * pxM));
        const sideQLow = f64x2.sub(f64x2.mul(dxLow, f64x2.splat(qyM)), f64x2.splat(dyM * qxM));
        const sideQHigh = f64x2.sub(f64x2.mul(dxHigh, f64x2.splat(qyM)), f64x2.splat(dyM * qxM));
        const apartLow = v128.xor(f64x2.gt(sidePLow, nought), f64x2.gt(sideQLow, nought));
        const apartHigh = v128.xor(f64x2.gt(sidePHigh, nought), f64x2.gt(sideQHigh, nought));
        if (!v128.any_true(v128.or(apartLow, apartHigh))) continue;
        const area = f64x2.splat(pxM * qyM - pyM * qxM);
        const tLow = f64x2.div(area, f64x2.sub(sideQLow, sidePLow));
        const tHigh = f64x2.div(area, f64x2.sub(sideQHigh, sidePHigh));
        const met = both(
          v128.and(apartLow, v128.and(f64x2.gt(tLow, nought), f64x2.lt(tLow, whole))),
          v128.and(apartHigh, v128.and(f64x2.gt(tHigh, nought), f64x2.lt(tHigh, whole))),
        );
        if (!v128.any_true(met)) continue;
        crossed = v128.or(crossed, met);
        through0 = f32x4.mul(through0, v128.bitselect(single(p, 5), one, met));
        through1 = f32x4.mul(through1, v128.bitselect(single(p, 6), one, met));
        through2 = f32x4.mul(through2, v128.bitselect(single(p, 7), one, met));
        if (low) {
          const t = joined(tLow, tHigh);
          const top = number(p, 4);
          const v = overTop(
            f32x4.mul(plan, t),
            f32x4.mul(plan, f32x4.sub(one, t)),
            f32x4.splat((top - az) as f32),
            f32x4.splat((top - cz) as f32),
            rise,
            straight,
            zero,
          );
          over = v128.bitselect(f32x4.max(over, v), over, met);
        }
      }
      const grazed = v128.andnot(f32x4.lt(f32x4.mul(k0, f32x4.sqrt(shortest)), f32x4.splat(litV)), crossed);
      const met = v128.or(crossed, grazed);
      if (!v128.any_true(met)) continue;
      if (v128.any_true(grazed)) {
        through0 = v128.bitselect(near0, through0, grazed);
        through1 = v128.bitselect(near1, through1, grazed);
        through2 = v128.bitselect(near2, through2, grazed);
        if (low) {
          const v = overTop(nearThere, nearOn, f32x4.sub(nearTop, f32x4.splat(az as f32)), f32x4.sub(nearTop, f32x4.splat(cz as f32)), rise, straight, nearMore);
          over = v128.bitselect(v, over, grazed);
        }
      }
      const within = v128.and(crossed, inside);
      const nearRoot = f32x4.sqrt(shortest);
      const first = v128.bitselect(
        f32x4.sqrt(v128.bitselect(shortest, left, f32x4.lt(left, zero))),
        f32x4.neg(nearRoot),
        crossed,
      );
      const second = f32x4.sqrt(v128.bitselect(v128.bitselect(shortest, right, f32x4.lt(right, zero)), f32x4.max(left, right), crossed));

      let round = f32x4.min(one, f32x4.add(passes(f32x4.mul(k0, first)), passes(f32x4.mul(k0, second))));
      let above = low ? passes(f32x4.mul(k0, over)) : zero;
      const fill0 = v128.andnot(f32x4.sub(f32x4.add(round, above), f32x4.mul(round, above)), within);
      const share0 = f32x4.add(fill0, f32x4.mul(through0, f32x4.sub(one, fill0)));
      round = f32x4.min(one, f32x4.add(passes(f32x4.mul(k1, first)), passes(f32x4.mul(k1, second))));
      above = low ? passes(f32x4.mul(k1, over)) : zero;
      const fill1 = v128.andnot(f32x4.sub(f32x4.add(round, above), f32x4.mul(round, above)), within);
      const share1 = f32x4.add(fill1, f32x4.mul(through1, f32x4.sub(one, fill1)));
      round = f32x4.min(one, f32x4.add(passes(f32x4.mul(k2, first)), passes(f32x4.mul(k2, second))));
      above = low ? passes(f32x4.mul(k2, over)) : zero;
      const fill2 = v128.andnot(f32x4.sub(f32x4.add(round, above), f32x4.mul(round, above)), within);
      const share2 = f32x4.add(fill2, f32x4.mul(through2, f32x4.sub(one, fill2)));

      const lost = v128.and(met, v128.or(f32x4.lt(share0, one), v128.or(f32x4.lt(share1, one), f32x4.lt(share2, one))));
      if (!v128.any_true(lost)) continue;
      const at: usize = state + ((row * stride + col) << 2);
      lay(at, plane, share0, fill0, lost);
      lay(at + plane, plane, share1, fill1, lost);
      lay(at + 2 * plane, plane, share2, fill2, lost);
    }
  }
}

@inline
function lay(product: usize, plane: usize, share: v128, fill: v128, lost: v128): void {
  const one = f32x4.splat(1);
  const edges = product + 3 * plane;
  v128.store(product, f32x4.mul(v128.load(product), v128.bitselect(share, one, lost)));
  const more = f32x4.sub(f32x4.div(one, f32x4.sqrt(fill)), one);
  v128.store(edges, f32x4.add(v128.load(edges), v128.and(more, lost)));
}

/** Adds what obstacles cost to the loss planes of `cells`, each of `planeBytes` bytes. */
export function addBent(rows: i32, cols: i32, stride: i32, state: usize, out: usize, planeBytes: usize): void {
  const plane: usize = (rows * stride) << 2;
  const one = f32x4.splat(1);
  const toDb = f32x4.splat(-3.01029995664);
  const lanes = i32x4(0, 1, 2, 3);
  const width = i32x4.splat(cols);
  for (let band = 0; band < 3; band++) {
    for (let row = 0; row < rows; row++) {
      let at: usize = state + (band as usize) * plane + ((row * stride) << 2);
      let to: usize = out + (band as usize) * planeBytes + ((row * cols) << 2);
      for (let col = 0; col < cols; col += 4, at += 16, to += 16) {
        const product = v128.load(at);
        const darker = v128.and(f32x4.lt(product, one), i32x4.lt_s(i32x4.add(lanes, i32x4.splat(col)), width));
        if (!v128.any_true(darker)) continue;
        const edges = f32x4.add(one, v128.load(at + 3 * plane));
        const passing = f32x4.max(product, f32x4.div(one, square(edges)));
        v128.store(to, f32x4.add(v128.load(to), v128.and(f32x4.mul(toDb, log2(passing)), darker)));
      }
    }
  }
}
