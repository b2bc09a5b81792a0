// Kriging of shadows: who is near (`src/core/survey/fit/nearby.ts`), how readings stand on each other (`whiten.ts`), and shadows at many spots (`shadows.ts`). Every distance and covariance is
// written as it stands there; what differs is the order of some sums.

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

/** Where number (i, j) of two matrices of rows of n stands: one matrix in each half of a vector, so that both are worked on at once. */
@inline
function place(matrix: usize, i: i32, j: i32, n: i32): usize {
  return matrix + ((i * n + j) << 4);
}

/**
 * Lays into one half of two matrices the covariances of `count` neighbours, and below them those with their spot, `away` squared from it. Where there are fewer than n, there are some in their
 * place that have nothing in common with anything.
 * @param half 0 or 8
 * @param known covariances of each two of `readings`, 0 where they are to be worked out
 */
// prettier-ignore
function layNeighbours(
  matrix: usize, half: usize, n: i32, own: usize, count: i32, away: usize, readings: i32, x: usize, y: usize, noise: usize, shadowVar: f64, correlationM: f64, known: usize,
): void {
  const to = matrix + half;
  for (let a = 0; a < n; a++) {
    if (a >= count) {
      for (let b = 0; b < a; b++) store<f64>(place(to, a, b, n), 0);
      store<f64>(place(to, a, a, n), 1);
      store<f64>(place(to, n, a, n), 0);
      continue;
    }
    const i = load<i32>(own + (a << 2));
    const row = known + ((i * readings) << 3);
    for (let b = 0; b < a; b++) {
      const j = load<i32>(own + (b << 2));
      store<f64>(place(to, a, b, n), known != 0 ? at(row, j) : covariance(x, y, i, j, shadowVar, correlationM));
    }
    store<f64>(place(to, a, a, n), shadowVar + at(noise, i));
    store<f64>(place(to, n, a, n), shadowVar * decay(Math.sqrt(at(away, a)) / correlationM));
  }
}

/** Factors two symmetric positive definite matrices into L L', and makes L^-1 b of each right side b that stands below them: `rows` in all. The diagonal becomes 1 / L's. */
function factor(matrix: usize, n: i32, rows: i32): void {
  for (let j = 0; j < n; j++) {
    const own = place(matrix, j, 0, n);
    let pivot = v128.load(place(own, 0, j, n));
    for (let k = 0; k < j; k++) {
      const value = v128.load(place(own, 0, k, n));
      pivot = f64x2.sub(pivot, f64x2.mul(value, value));
    }
    const scale = f64x2.div(f64x2.splat(1), f64x2.sqrt(pivot));
    v128.store(place(own, 0, j, n), scale);
    let i = j + 1;
    // Two rows at a time: neither waits for the sums of the other.
    for (; i + 1 < rows; i += 2) {
      const one = place(matrix, i, 0, n);
      const two = place(matrix, i + 1, 0, n);
      let sum1 = v128.load(place(one, 0, j, n));
      let sum2 = v128.load(place(two, 0, j, n));
      for (let k = 0; k < j; k++) {
        const value = v128.load(place(own, 0, k, n));
        sum1 = f64x2.sub(sum1, f64x2.mul(v128.load(place(one, 0, k, n)), value));
        sum2 = f64x2.sub(sum2, f64x2.mul(v128.load(place(two, 0, k, n)), value));
      }
      v128.store(place(one, 0, j, n), f64x2.mul(sum1, scale));
      v128.store(place(two, 0, j, n), f64x2.mul(sum2, scale));
    }
    if (i < rows) {
      const one = place(matrix, i, 0, n);
      let sum = v128.load(place(one, 0, j, n));
      for (let k = 0; k < j; k++) sum = f64x2.sub(sum, f64x2.mul(v128.load(place(one, 0, k, n)), v128.load(place(own, 0, k, n))));
      v128.store(place(one, 0, j, n), f64x2.mul(sum, scale));
    }
  }
}

/** The sum of the products of row i with row k. */
function product(matrix: usize, i: i32, k: i32, n: i32): v128 {
  let sum = f64x2.splat(0);
  for (let j = 0; j < n; j++) sum = f64x2.add(sum, f64x2.mul(v128.load(place(matrix, i, j, n)), v128.load(place(matrix, k, j, n))));
  return sum;
}

/** Makes weights of L^-1 k, which stands below two factored matrices. */
function weigh(matrix: usize, n: i32): void {
  for (let j = n - 1; j >= 0; j--) {
    let weight = v128.load(place(matrix, n, j, n));
    for (let i = j + 1; i < n; i++) weight = f64x2.sub(weight, f64x2.mul(v128.load(place(matrix, i, j, n)), v128.load(place(matrix, n, i, n))));
    v128.store(place(matrix, n, j, n), f64x2.mul(weight, v128.load(place(matrix, j, j, n))));
  }
}

/** Takes the weights from one half of two matrices; of what has nothing in common with anything they are 0. */
function takeWeights(matrix: usize, half: usize, n: i32, weights: usize): void {
  for (let a = 0; a < n; a++) store<f64>(weights + (a << 3), load<f64>(place(matrix, n, a, n) + half));
}

function decays(decayTable: usize, decaySteps: f64, decayFurthest: f64): void {
  table = decayTable;
  steps = decaySteps;
  furthest = decayFurthest;
}

/**
 * The nearest of each reading, of others or of those before it in their order.
 * @param x, y where so many readings lie
 * @param from the first that is asked for
 * @param earlier 1: of those before each
 * @param near `most` of each from the first that is asked for, written: the nearest first, -1 where there are no more
 * @param work room for `most` numbers of 8 bytes
 */
export function nearest(readings: i32, x: usize, y: usize, from: i32, earlier: i32, most: i32, near: usize, work: usize): void {
  for (let k = from; k < readings; k++) {
    const own = near + (((k - from) * most) << 2);
    limit = Infinity;
    skip = k;
    find(earlier != 0 ? k : readings, x, y, at(x, k), at(y, k), most, own, work);
    for (let a = count; a < most; a++) store<i32>(own + (a << 2), -1);
  }
}

/**
 * How readings stand on their neighbours.
 * @param which of the readings are worked out, by their indices; 0: `rows` of them from the first
 * @param near `most` neighbours of each reading, ended by -1
 * @param x, y, noise of each reading
 * @param variance, weights of each that is worked out, written
 * @param work room for `2 * most * (most + 3)` numbers of 8 bytes
 */
// prettier-ignore
export function standings(
  rows: i32, which: usize, near: usize, most: i32, x: usize, y: usize, noise: usize, shadowVar: f64, correlationM: f64,
  decayTable: usize, decaySteps: f64, decayFurthest: f64, variance: usize, weights: usize, work: usize,
): void {
  decays(decayTable, decaySteps, decayFurthest);
  const squares = work;
  const matrix = work + ((2 * most) << 3);
  for (let r = 0; r < rows; r += 2) {
    for (let half = 0; half < 2; half++) {
      const itself = readingOf(which, r, half, rows);
      const own = near + ((itself * most) << 2);
      const n = countOf(own, most);
      for (let a = 0; a < n; a++) {
        const i = load<i32>(own + (a << 2));
        const dx = at(x, i) - at(x, itself);
        const dy = at(y, i) - at(y, itself);
        store<f64>(squares + (a << 3), dx * dx + dy * dy);
      }
      layNeighbours(matrix, half << 3, most, own, n, squares, 0, x, y, noise, shadowVar, correlationM, 0);
    }
    factor(matrix, most, most + 1);
    const explained = product(matrix, most, most, most);
    weigh(matrix, most);
    for (let half = 0; half < 2; half++) {
      const itself = readingOf(which, r, half, rows);
      const told = half == 0 ? f64x2.extract_lane(explained, 0) : f64x2.extract_lane(explained, 1);
      store<f64>(variance + (itself << 3), Math.max(0, shadowVar - told) + at(noise, itself));
      takeWeights(matrix, half << 3, most, weights + ((itself * most) << 3));
    }
  }
}

/** Which reading stands in a half of the two that begin with `r`; of an odd number the last stands in both. */
@inline
function readingOf(which: usize, r: i32, half: i32, rows: i32): i32 {
  const k = r + half < rows ? r + half : r;
  return which != 0 ? load<i32>(which + (k << 2)) : k;
}

@inline
function countOf(own: usize, most: i32): i32 {
  let n = 0;
  while (n < most && load<i32>(own + (n << 2)) >= 0) n++;
  return n;
}

/**
 * @param x, y, noise, left of so many readings: where, the variance of each beyond the shadow, and the value that it shows
 * @param spotX, spotY of so many spots
 * @param without of each spot a reading that is left out, -1 for none; 0: of none
 * @param most neighbours that a spot stands on
 * @param decayTable the decay, and how it is made
 * @param level, variance of each spot, written
 * @param near, weights `most` of each of the first `weighed` spots, written: its neighbours, the nearest first, -1 where there are no more, and what each counts
 * @param work room for `2 * most * (most + 4)` numbers of 8 bytes
 * @param covariances room for one of each two readings, worked out first; 0: of the neighbours of each spot alone, which is quicker of many readings and few spots
 */
// prettier-ignore
export function shadows(
  readings: i32, x: usize, y: usize, noise: usize, left: usize, spots: i32, spotX: usize, spotY: usize, without: usize, weighed: i32, most: i32, shadowVar: f64, correlationM: f64,
  decayTable: usize, decaySteps: f64, decayFurthest: f64, level: usize, variance: usize, near: usize, weights: usize, work: usize, covariances: usize,
): void {
  decays(decayTable, decaySteps, decayFurthest);
  const matrix = work + ((4 * most) << 3);
  if (covariances != 0)
    for (let i = 0; i < readings; i++)
      for (let j = 0; j < i; j++) {
        const value = covariance(x, y, i, j, shadowVar, correlationM);
        store<f64>(covariances + ((i * readings + j) << 3), value);
        store<f64>(covariances + ((j * readings + i) << 3), value);
      }
  count = 0;
  for (let s = 0; s < spots; s += 2) {
    for (let half = 0; half < 2; half++) {
      const spot = s + half < spots ? s + half : s;
      // Of each half in turn: its neighbours, and how far they lie, squared.
      const own = work + ((2 * half * most) << 3);
      const squares = own + (most << 3);
      const before = work + ((2 * (1 - half) * most) << 3);
      const px = at(spotX, spot);
      const py = at(spotY, spot);
      // None that counts lies further than the furthest of those that counted at the spot before; where one is left out another may.
      skip = without != 0 ? load<i32>(without + (spot << 2)) : -1;
      let within: f64 = count == most && skip < 0 ? 0 : Infinity;
      for (let a = 0; a < count; a++) {
        const i = load<i32>(before + (a << 2));
        const dx = at(x, i) - px;
        const dy = at(y, i) - py;
        within = Math.max(within, dx * dx + dy * dy);
      }
      limit = within;
      find(readings, x, y, px, py, most, own, squares);
      for (let a = count; a < most; a++) store<i32>(own + (a << 2), -1);
      layNeighbours(matrix, half << 3, most, own, count, squares, readings, x, y, noise, shadowVar, correlationM, covariances);
      for (let a = 0; a < most; a++) store<f64>(place(matrix, most + 1, a, most) + (half << 3), a < count ? at(left, load<i32>(own + (a << 2))) : 0);
    }
    factor(matrix, most, most + 2);
    const explained = product(matrix, most, most, most);
    const sum = product(matrix, most, most + 1, most);
    const isWeighed = s < weighed;
    if (isWeighed) weigh(matrix, most);
    for (let half = 0; half < 2 && s + half < spots; half++) {
      const spot = s + half;
      store<f64>(level + (spot << 3), half == 0 ? f64x2.extract_lane(sum, 0) : f64x2.extract_lane(sum, 1));
      const told = half == 0 ? f64x2.extract_lane(explained, 0) : f64x2.extract_lane(explained, 1);
      store<f64>(variance + (spot << 3), Math.max(0, shadowVar - told));
      if (spot >= weighed) continue;
      const own = work + ((2 * half * most) << 3);
      memory.copy(near + ((spot * most) << 2), own, most << 2);
      takeWeights(matrix, half << 3, most, weights + ((spot * most) << 3));
    }
  }
}
