// Shadows of one radio at many spots, by kriging: `shadowsAt` of `src/core/survey/fit/shadows.ts`. Every distance and covariance is written as it stands there; what differs is the order of
// some sums.

/** The table of the decay, as `src/core/survey/fit/decay.ts` makes it. */
let table: usize = 0;
let steps: f64 = 0;
let furthest: f64 = 0;

@inline
function decay(t: f64): f64 {
  if (!(t < furthest)) return 0;
  const at = (t * steps) as i32;
  const more = (at as f64) / steps - t;
  return load<f64>(table + (at << 3)) * (1 + more * (1 + more * (0.5 + more * (1.0 / 6 + more / 24))));
}

@inline
function at(array: usize, i: i32): f64 {
  return load<f64>(array + (i << 3));
}

@inline
function covariance(x: usize, y: usize, i: i32, j: i32, shadowVar: f64, correlationM: f64): f64 {
  const dx = at(x, i) - at(x, j);
  const dy = at(y, i) - at(y, j);
  return shadowVar * decay(Math.sqrt(dx * dx + dy * dy) / correlationM);
}

let count: i32 = 0;
let limit: f64 = 0;
let skip: i32 = -1;

/** Takes a reading among the `most` nearest, the nearest first and of equally near ones the lower. */
@inline
function take(square: f64, i: i32, most: i32, near: usize, squares: usize): void {
  if (!(square <= limit) || (count == most && square == limit) || i == skip) return;
  let to = count < most ? count++ : count - 1;
  while (to > 0 && square < at(squares, to - 1)) {
    store<f64>(squares + (to << 3), at(squares, to - 1));
    store<i32>(near + (to << 2), load<i32>(near + ((to - 1) << 2)));
    to--;
  }
  store<f64>(squares + (to << 3), square);
  store<i32>(near + (to << 2), i);
  if (count == most) limit = at(squares, most - 1);
}

/** Finds the nearest readings to a spot, none further than `limit`; `count` says how many. */
function find(readings: i32, x: usize, y: usize, px: f64, py: f64, most: i32, near: usize, squares: usize): void {
  const vx = f64x2.splat(px);
  const vy = f64x2.splat(py);
  count = 0;
  let i = 0;
  for (; i + 1 < readings; i += 2) {
    const dx = f64x2.sub(v128.load(x + (i << 3)), vx);
    const dy = f64x2.sub(v128.load(y + (i << 3)), vy);
    const square = f64x2.add(f64x2.mul(dx, dx), f64x2.mul(dy, dy));
    if (!v128.any_true(f64x2.le(square, f64x2.splat(limit)))) continue;
    take(f64x2.extract_lane(square, 0), i, most, near, squares);
    take(f64x2.extract_lane(square, 1), i + 1, most, near, squares);
  }
  if (i < readings) {
    const dx = at(x, i) - px;
    const dy = at(y, i) - py;
    take(dx * dx + dy * dy, i, most, near, squares);
  }
}

/**
 * Factors a symmetric positive definite matrix into L L', with right sides: column by column, of each what stands on and below the diagonal, then the right sides, `height` numbers in all.
 */
function factor(matrix: usize, n: i32, height: i32): void {
  const bytes = height << 3;
  for (let j = 0; j < n; j++) {
    const column = matrix + j * bytes;
    const root = Math.sqrt(at(column, j));
    const scale = 1 / root;
    store<f64>(column + (j << 3), root);
    for (let i = j + 1; i < height; i++) store<f64>(column + (i << 3), at(column, i) * scale);
    for (let k = j + 1; k < n; k++) {
      const other = matrix + k * bytes;
      const f = at(column, k);
      const v = f64x2.splat(f);
      let i = k;
      for (; i + 1 < height; i += 2) {
        const to = other + (i << 3);
        v128.store(to, f64x2.sub(v128.load(to), f64x2.mul(v, v128.load(column + (i << 3)))));
      }
      if (i < height) store<f64>(other + (i << 3), at(other, i) - f * at(column, i));
    }
  }
}

/**
 * @param x, y, noise, left of so many readings: where, the variance of each beyond the shadow, and the value that it shows
 * @param spotX, spotY of so many spots
 * @param without of each spot a reading that is left out, -1 for none; 0: of none
 * @param most neighbours that a spot stands on
 * @param decays table of the decay, and how it is made
 * @param level, variance of each spot, written
 * @param near, weights `most` of each of the first `weighed` spots, written: its neighbours, the nearest first, -1 where there are no more, and what each counts
 * @param work room for `most * (most + 4)` numbers of 8 bytes
 * @param covariances room for one of each two readings, worked out first; 0: of the neighbours of each spot alone, which is quicker of many readings and few spots
 */
// prettier-ignore
export function shadows(
  readings: i32, x: usize, y: usize, noise: usize, left: usize, spots: i32, spotX: usize, spotY: usize, without: usize, weighed: i32, most: i32, shadowVar: f64, correlationM: f64,
  decays: usize, decaySteps: f64, decayFurthest: f64, level: usize, variance: usize, near: usize, weights: usize, work: usize, covariances: usize,
): void {
  table = decays;
  steps = decaySteps;
  furthest = decayFurthest;
  const own = work;
  const squares = work + (most << 3);
  const matrix = squares + (most << 3);
  if (covariances != 0)
    for (let i = 0; i < readings; i++)
      for (let j = 0; j < i; j++) {
        const value = covariance(x, y, i, j, shadowVar, correlationM);
        store<f64>(covariances + ((i * readings + j) << 3), value);
        store<f64>(covariances + ((j * readings + i) << 3), value);
      }
  count = 0;
  for (let s = 0; s < spots; s++) {
    const px = at(spotX, s);
    const py = at(spotY, s);
    // None that counts lies further than the furthest of those that counted at the spot before; where one is left out another may.
    skip = without != 0 ? load<i32>(without + (s << 2)) : -1;
    let within: f64 = count == most && skip < 0 ? 0 : Infinity;
    for (let a = 0; a < count; a++) {
      const i = load<i32>(own + (a << 2));
      const dx = at(x, i) - px;
      const dy = at(y, i) - py;
      within = Math.max(within, dx * dx + dy * dy);
    }
    limit = within;
    find(readings, x, y, px, py, most, own, squares);
    const n = count;
    const height = n + 2;
    for (let b = 0; b < n; b++) {
      const j = load<i32>(own + (b << 2));
      const column = matrix + b * (height << 3);
      store<f64>(column + (b << 3), shadowVar + at(noise, j));
      const known = covariances + ((j * readings) << 3);
      for (let a = b + 1; a < n; a++) {
        const i = load<i32>(own + (a << 2));
        store<f64>(column + (a << 3), covariances != 0 ? at(known, i) : covariance(x, y, i, j, shadowVar, correlationM));
      }
      store<f64>(column + (n << 3), shadowVar * decay(Math.sqrt(at(squares, b)) / correlationM));
      store<f64>(column + ((n + 1) << 3), at(left, j));
    }
    factor(matrix, n, height);
    let sum: f64 = 0;
    let explained: f64 = 0;
    for (let b = 0; b < n; b++) {
      const column = matrix + b * (height << 3);
      const z = at(column, n);
      explained += z * z;
      sum += z * at(column, n + 1);
    }
    store<f64>(level + (s << 3), sum);
    store<f64>(variance + (s << 3), Math.max(0, shadowVar - explained));
    if (s >= weighed) continue;
    const to = s * most;
    for (let a = 0; a < most; a++) {
      store<i32>(near + ((to + a) << 2), a < n ? load<i32>(own + (a << 2)) : -1);
      store<f64>(weights + ((to + a) << 3), 0);
    }
    for (let j = n - 1; j >= 0; j--) {
      const column = matrix + j * (height << 3);
      let weight = at(column, n);
      for (let i = j + 1; i < n; i++) weight -= at(column, i) * at(weights, to + i);
      store<f64>(weights + ((to + j) << 3), weight / at(column, j));
    }
  }
}
