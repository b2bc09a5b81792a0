/** Small dense linear algebra on row-major arrays, in place: what kriging and least squares need. */

/**
 * Factors a symmetric positive definite n x n matrix into L L', L in its lower triangle.
 * @param rows of the array: each right side b that stands below the matrix, as a row of n, becomes L^-1 b
 * @returns whether it is positive definite; where not, the matrix is left half done
 */
export function cholesky(a: Float64Array, n: number, rows = n): boolean {
  for (let j = 0; j < n; j++) {
    const atJ = j * n;
    let pivot = a[atJ + j]!;
    for (let k = 0; k < j; k++) pivot -= a[atJ + k]! * a[atJ + k]!;
    if (!(pivot > 0)) return false;
    const root = Math.sqrt(pivot);
    const scale = 1 / root;
    a[atJ + j] = root;
    // Four rows at a time: none of them waits for the sums of the others.
    let i = j + 1;
    for (; i + 3 < rows; i += 4) {
      const [at0, at1, at2, at3] = [i * n, (i + 1) * n, (i + 2) * n, (i + 3) * n];
      let [sum0, sum1, sum2, sum3] = [a[at0 + j]!, a[at1 + j]!, a[at2 + j]!, a[at3 + j]!];
      for (let k = 0; k < j; k++) {
        const x = a[atJ + k]!;
        sum0 -= a[at0 + k]! * x;
        sum1 -= a[at1 + k]! * x;
        sum2 -= a[at2 + k]! * x;
        sum3 -= a[at3 + k]! * x;
      }
      a[at0 + j] = sum0 * scale;
      a[at1 + j] = sum1 * scale;
      a[at2 + j] = sum2 * scale;
      a[at3 + j] = sum3 * scale;
    }
    for (; i < rows; i++) {
      let sum = a[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= a[i * n + k]! * a[atJ + k]!;
      a[i * n + j] = sum * scale;
    }
  }
  return true;
}

/** Solves L y = b in place: as soon as one is known it is taken off all that follow, which do not wait for each other. */
export function solveLower(l: Float64Array, n: number, b: Float64Array): void {
  for (let j = 0; j < n; j++) {
    const y = b[j]! / l[j * n + j]!;
    b[j] = y;
    for (let i = j + 1; i < n; i++) b[i]! -= l[i * n + j]! * y;
  }
}

/** Solves L' x = y in place, as `solveLower` from the other end. */
export function solveUpper(l: Float64Array, n: number, b: Float64Array): void {
  for (let j = n - 1; j >= 0; j--) {
    const x = b[j]! / l[j * n + j]!;
    b[j] = x;
    for (let i = 0; i < j; i++) b[i]! -= l[j * n + i]! * x;
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
