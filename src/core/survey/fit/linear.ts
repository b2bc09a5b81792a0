/** Small dense linear algebra on row-major arrays, in place: what kriging and least squares need. */

/**
 * Factors a symmetric positive definite n x n matrix into L L', L in its lower triangle.
 * @returns whether it is positive definite; where not, the matrix is left half done
 */
export function cholesky(a: Float64Array, n: number): boolean {
  for (let j = 0; j < n; j++) {
    let pivot = a[j * n + j]!;
    for (let k = 0; k < j; k++) pivot -= a[j * n + k]! * a[j * n + k]!;
    if (!(pivot > 0)) return false;
    const root = Math.sqrt(pivot);
    a[j * n + j] = root;
    // Two rows at a time: neither waits for the sums of the other.
    let i = j + 1;
    for (; i + 1 < n; i += 2) {
      let sum = a[i * n + j]!;
      let next = a[(i + 1) * n + j]!;
      for (let k = 0; k < j; k++) {
        const x = a[j * n + k]!;
        sum -= a[i * n + k]! * x;
        next -= a[(i + 1) * n + k]! * x;
      }
      a[i * n + j] = sum / root;
      a[(i + 1) * n + j] = next / root;
    }
    if (i < n) {
      let sum = a[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= a[i * n + k]! * a[j * n + k]!;
      a[i * n + j] = sum / root;
    }
  }
  return true;
}

/** Solves L y = b in place. */
export function solveLower(l: Float64Array, n: number, b: Float64Array): void {
  for (let i = 0; i < n; i++) {
    let sum = b[i]!;
    for (let k = 0; k < i; k++) sum -= l[i * n + k]! * b[k]!;
    b[i] = sum / l[i * n + i]!;
  }
}

/** Solves L' x = y in place. */
export function solveUpper(l: Float64Array, n: number, b: Float64Array): void {
  for (let i = n - 1; i >= 0; i--) {
    let sum = b[i]!;
    for (let k = i + 1; k < n; k++) sum -= l[k * n + i]! * b[k]!;
    b[i] = sum / l[i * n + i]!;
  }
}

/** The inverse of L L', whole. */
export function inverseOf(l: Float64Array, n: number): Float64Array {
  const inverse = new Float64Array(n * n);
  // The inverse of L by columns, each kept in a row: what is above its diagonal is 0.
  const columns = new Float64Array(n * n);
  for (let j = 0; j < n; j++) {
    const at = j * n;
    columns[at + j] = 1 / l[at + j]!;
    for (let i = j + 1; i < n; i++) {
      let sum = 0;
      for (let k = j; k < i; k++) sum -= l[i * n + k]! * columns[at + k]!;
      columns[at + i] = sum / l[i * n + i]!;
    }
  }
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      for (let k = i; k < n; k++) sum += columns[i * n + k]! * columns[j * n + k]!;
      inverse[i * n + j] = inverse[j * n + i] = sum;
    }
  return inverse;
}

/** Twice the logarithms of L's diagonal: the logarithm of the determinant of L L'. */
export function logDeterminant(l: Float64Array, n: number): number {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += 2 * Math.log(l[i * n + i]!);
  return sum;
}

/** x' C x. */
export function quadratic(c: Float64Array, x: Float64Array): number {
  const n = x.length;
  let sum = 0;
  for (let i = 0; i < n; i++) {
    if (x[i] === 0) continue;
    for (let j = 0; j < n; j++) sum += x[i]! * x[j]! * c[i * n + j]!;
  }
  return sum;
}

/**
 * The least of a function of a few variables, by the simplex of Nelder and Mead ("A simplex method for function minimization", 1965): good enough where a
 * value costs much and no slope is known.
 * @param step how far from the start the first corners lie
 * @param evaluations after so many it ends, or once values at the simplex's corners differ by less than `alike`
 */
export function simplexLeast(
  value: (at: Float64Array) => number,
  start: readonly number[],
  step: number,
  evaluations: number,
  alike = 0,
): Float64Array {
  const n = start.length;
  type Corner = { at: Float64Array; value: number };
  let left = evaluations;
  const cornerAt = (at: Float64Array): Corner => {
    left--;
    return { at, value: value(at) };
  };
  const corners = Array.from({ length: n + 1 }, (_, k) => cornerAt(Float64Array.from(start, (x, i) => (i === k - 1 ? x + step : x))));
  const sort = () => corners.sort((a, b) => a.value - b.value);
  sort();
  while (left > 0 && !(corners[n]!.value - corners[0]!.value < alike)) {
    const worst = corners[n]!;
    const middle = Float64Array.from({ length: n }, (_, i) => corners.slice(0, n).reduce((sum, { at }) => sum + at[i]!, 0) / n);
    const along = (share: number): Corner => cornerAt(middle.map((m, i) => m + share * (worst.at[i]! - m)));
    const mirrored = along(-1);
    let next = mirrored;
    if (mirrored.value < corners[0]!.value) {
      const further = along(-2);
      if (further.value < mirrored.value) next = further;
    } else if (mirrored.value >= corners[n - 1]!.value) {
      next = along(mirrored.value < worst.value ? -0.5 : 0.5);
      if (next.value >= Math.min(worst.value, mirrored.value)) {
        const best = corners[0]!.at;
        for (let k = 1; k <= n; k++) corners[k] = cornerAt(corners[k]!.at.map((x, i) => best[i]! + (x - best[i]!) / 2));
        sort();
        continue;
      }
    }
    corners[n] = next;
    sort();
  }
  return corners[0]!.at;
}
