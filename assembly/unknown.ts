// What stays unknown of a radio at many spots besides its shadow: `unknownAt` of `src/core/survey/fit/unknown.ts`. The order of its sums differs.

@inline
function at(array: usize, i: i32): f64 {
  return load<f64>(array + (i << 3));
}

/** Adds a row of slopes, so many times, to `u`. */
@inline
function add(starts: usize, columns: usize, slopes: usize, row: i32, times: f64, u: usize): void {
  const end = load<i32>(starts + ((row + 1) << 2));
  for (let k = load<i32>(starts + (row << 2)); k < end; k++) {
    const to = u + (load<i32>(columns + (k << 2)) << 3);
    store<f64>(to, load<f64>(to) + times * at(slopes, k));
  }
}

/**
 * @param spots, starts, columns, slopes how the level at each of so many spots hangs on the parameters
 * @param near, weights `most` of each: on which readings it stands, ended by -1, and how much each counts
 * @param knownStarts, knownColumns, knownSlopes the same of the readings
 * @param parameters an even number
 * @param covariance of the parameters
 * @param variance of each spot, written
 * @param u room for one number of each parameter
 */
// prettier-ignore
export function unknown(
  spots: i32, starts: usize, columns: usize, slopes: usize, near: usize, weights: usize, most: i32, knownStarts: usize, knownColumns: usize, knownSlopes: usize,
  parameters: i32, covariance: usize, variance: usize, u: usize,
): void {
  for (let s = 0; s < spots; s++) {
    memory.fill(u, 0, parameters << 3);
    add(starts, columns, slopes, s, 1, u);
    for (let a = s * most; a < (s + 1) * most; a++) {
      const row = load<i32>(near + (a << 2));
      if (row < 0) break;
      add(knownStarts, knownColumns, knownSlopes, row, -at(weights, a), u);
    }
    let sum: f64 = 0;
    for (let c = 0; c < parameters; c++) {
      const value = at(u, c);
      if (value == 0) continue;
      const row = covariance + ((c * parameters) << 3);
      let products = f64x2.splat(0);
      for (let d: usize = 0; d < (parameters as usize) << 3; d += 16) products = f64x2.add(products, f64x2.mul(v128.load(row + d), v128.load(u + d)));
      sum += value * (f64x2.extract_lane(products, 0) + f64x2.extract_lane(products, 1));
    }
    store<f64>(variance + (s << 3), sum);
  }
}
