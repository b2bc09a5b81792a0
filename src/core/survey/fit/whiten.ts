import { compiledKernel, type Kernel } from '../../fields/kernel/kernel';
import { kernelStandings } from './compiled';
import { decay } from './decay';
import { cholesky, solveUpper } from './linear';
import type { Earlier } from './nearby';
import { countUp, type Places } from './places';

/** What is known of how readings scatter: the field of shadows (variance in dB2, correlation length in m), the variance of one beacon and of single walls, in dB2. */
export type Scatter = Readonly<{ shadowVar: number; correlationM: number; beaconVar: number; wallVar: number }>;

/** Covariance of the shadow at two spots, in dB2, by how far they lie from each other. */
export const shadowDb2 = ({ shadowVar, correlationM }: Scatter, dx: number, dy: number): number =>
  shadowVar * decay(Math.sqrt(dx * dx + dy * dy) / correlationM);

/** Room for one kriging; `weights` of the neighbours are its answer. */
export type Kriging = Readonly<{ matrix: Float64Array; weights: Float64Array }>;
export const newKriging = (most: number): Kriging => ({
  // One row more: for the covariances with the spot.
  matrix: new Float64Array((most + 1) * most),
  weights: new Float64Array(most),
});

/**
 * Weights of some readings for the shadow at a spot, exact where readings have no noise: (K + N)^-1 k.
 * @param near indices of the readings, from `at`; ends at the first -1
 * @param noise variance of each reading, in dB2
 * @returns how many there are, and the variance of the shadow that is left, in dB2
 */
export function krigeAt(
  { xM, yM }: Places,
  noise: Float64Array,
  scatter: Scatter,
  near: Int32Array,
  at: number,
  most: number,
  x: number,
  y: number,
  kriging: Kriging,
): { count: number; varianceDb2: number } {
  const { shadowVar } = scatter;
  const { matrix, weights } = kriging;
  let count = 0;
  while (count < most && near[at + count]! >= 0) count++;
  for (let a = 0; a < count; a++) {
    const i = near[at + a]!;
    weights[a] = shadowDb2(scatter, xM[i]! - x, yM[i]! - y);
    for (let b = 0; b < a; b++) {
      const j = near[at + b]!;
      matrix[a * count + b] = shadowDb2(scatter, xM[i]! - xM[j]!, yM[i]! - yM[j]!);
    }
    matrix[a * count + a] = shadowVar + noise[i]!;
  }
  for (let a = 0; a < count; a++) matrix[count * count + a] = weights[a]!;
  cholesky(matrix, count, count + 1);
  let explained = 0;
  for (let a = 0; a < count; a++) {
    // L^-1 k: its square is k' (K + N)^-1 k.
    weights[a] = matrix[count * count + a]!;
    explained += weights[a]! * weights[a]!;
  }
  solveUpper(matrix, count, weights);
  return { count, varianceDb2: Math.max(0, shadowVar - explained) };
}

/** How each reading stands on its earlier ones: weights in the order of `Earlier.near`, 0 where there are none, and the variance of what is left, in dB2. Noise is what it was made with. */
export type Standing = Readonly<{ earlier: Earlier; noise: Float64Array; weights: Float64Array; variance: Float64Array }>;

/**
 * What makes readings independent of each other: Vecchia's factor of their covariance.
 * @param before the same of the first of these readings, with the same scatter and earlier ones: of them only what stands on another noise than there is worked out
 * @param kernel what works it out; null: TypeScript does the same
 */
export function standingOf(
  places: Places,
  noise: Float64Array,
  scatter: Scatter,
  earlier: Earlier,
  before: Standing | null = null,
  kernel: Kernel | null = compiledKernel(),
): Standing {
  const { near, most } = earlier;
  const n = noise.length;
  const standing = { earlier, noise: noise.slice(), weights: new Float64Array(n * most), variance: new Float64Array(n) };
  let which: Int32Array | null = null;
  if (before !== null) {
    standing.weights.set(before.weights);
    standing.variance.set(before.variance);
    which = countUp(n).filter((i) => !standsOnSame(i, near, most, noise, before.noise));
  }
  if (kernel !== null) {
    kernelStandings(kernel, places, near, most, noise, scatter, which, standing.variance, standing.weights);
    return standing;
  }
  const kriging = newKriging(most);
  for (const i of which ?? countUp(n)) {
    const { count, varianceDb2 } = krigeAt(places, noise, scatter, near, i * most, most, places.xM[i]!, places.yM[i]!, kriging);
    standing.variance[i] = varianceDb2 + noise[i]!;
    standing.weights.fill(0, i * most, (i + 1) * most);
    standing.weights.set(kriging.weights.subarray(0, count), i * most);
  }
  return standing;
}

function standsOnSame(i: number, near: Int32Array, most: number, noise: Float64Array, before: Float64Array): boolean {
  if (noise[i] !== before[i]) return false;
  for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) if (noise[near[a]!] !== before[near[a]!]) return false;
  return true;
}
