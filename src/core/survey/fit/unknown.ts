import { compiledKernel, type Kernel } from '../../fields/kernel/kernel';
import { kernelUnknown } from './compiled';
import type { MapBasis } from './fit';
import { quadratic } from './linear';
import type { Shadows } from './shadows';
import { slopeRowsOf, type SlopeRows } from './slopes';
import type { Slopes } from './parameter';

/** Some rows of many, in a given order. */
function someRows({ starts, columns, slopes }: SlopeRows, own: Int32Array): Omit<SlopeRows, 'rest'> {
  const some = new Int32Array(own.length + 1);
  for (let k = 0; k < own.length; k++) some[k + 1] = some[k]! + starts[own[k]! + 1]! - starts[own[k]!]!;
  const taken = { starts: some, columns: new Int32Array(some[own.length]!), slopes: new Float64Array(some[own.length]!) };
  for (let k = 0; k < own.length; k++) {
    const from = starts[own[k]!]!;
    for (let i = some[k]!; i < some[k + 1]!; i++) {
      taken.columns[i] = columns[from + i - some[k]!]!;
      taken.slopes[i] = slopes[from + i - some[k]!]!;
    }
  }
  return taken;
}

/**
 * The variance, in dB2, of what stays unknown of a radio at some spots besides its shadow: of the parameters, as the level there and those of the readings that it stands on hang on them, and of
 * walls without one.
 * @param own the radio's readings
 * @param rows how the level at each spot hangs on the parameters
 * @param shadows of these spots, with weights
 * @param kernel what works it out; null: TypeScript does the same
 */
export function unknownAt(
  { covariance, sd, slopes, scatter }: Pick<MapBasis, 'covariance' | 'sd' | 'slopes' | 'scatter'>,
  own: Int32Array,
  rows: readonly Slopes[],
  { near, weights }: Pick<Shadows, 'near' | 'weights'>,
  kernel: Kernel | null = compiledKernel(),
): Float64Array {
  const p = sd.length;
  const most = rows.length === 0 ? 0 : near.length / rows.length;
  const there = slopeRowsOf(rows, new Float64Array(rows.length));
  const known = someRows(slopes, own);
  const variance = new Float64Array(rows.length);
  if (kernel !== null) kernelUnknown(kernel, covariance, p, there, known, near, weights, most, variance);
  else
    for (let s = 0; s < rows.length; s++) {
      const u = new Float64Array(p);
      for (let k = there.starts[s]!; k < there.starts[s + 1]!; k++) u[there.columns[k]!]! += there.slopes[k]!;
      for (let a = s * most; a < (s + 1) * most && near[a]! >= 0; a++)
        for (let k = known.starts[near[a]!]!; k < known.starts[near[a]! + 1]!; k++) u[known.columns[k]!]! -= weights[a]! * known.slopes[k]!;
      variance[s] = quadratic(covariance, u);
    }
  for (let s = 0; s < rows.length; s++) variance[s]! += rows[s]!.free * scatter.wallVar;
  return variance;
}
