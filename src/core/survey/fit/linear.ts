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
  // The inverse of L by columns, each kept in a row: what is above its diagonal is 0. Four at a time, none of which waits for the sums of the others; those beyond the last are 0.
  const columns = new Float64Array((n + 3) * n);
  for (let j = 0; j < n; j += 4) {
    const [at0, at1, at2, at3] = [j * n, (j + 1) * n, (j + 2) * n, (j + 3) * n];
    for (let i = j; i < n; i++) {
      let [sum0, sum1, sum2, sum3] = [i === j ? 1 : 0, i === j + 1 ? 1 : 0, i === j + 2 ? 1 : 0, i === j + 3 ? 1 : 0];
      for (let k = j; k < i; k++) {
        const x = l[i * n + k]!;
        sum0 -= x * columns[at0 + k]!;
        sum1 -= x * columns[at1 + k]!;
        sum2 -= x * columns[at2 + k]!;
        sum3 -= x * columns[at3 + k]!;
      }
      const pivot = l[i * n + i]!;
      columns[at0 + i] = sum0 / pivot;
      columns[at1 + i] = sum1 / pivot;
      columns[at2 + i] = sum2 / pivot;
      columns[at3 + i] = sum3 / pivot;
    }
  }
  const inverse = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j += 4) {
      const [at0, at1, at2, at3] = [j * n, (j + 1) * n, (j + 2) * n, (j + 3) * n];
      let [sum0, sum1, sum2, sum3] = [0, 0, 0, 0];
      for (let k = i; k < n; k++) {
        const x = columns[i * n + k]!;
        sum0 += x * columns[at0 + k]!;
        sum1 += x * columns[at1 + k]!;
        sum2 += x * columns[at2 + k]!;
        sum3 += x * columns[at3 + k]!;
      }
      const four = [sum0, sum1, sum2, sum3];
      for (let c = j; c <= Math.min(i, j + 3); c++) inverse[i * n + c] = inverse[c * n + i] = four[c - j]!;
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
