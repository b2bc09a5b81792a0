import { compiledKernel, type Kernel } from '../../fields/kernel/kernel';
import { kernelShadows } from './compiled';
import type { MapBasis } from './fit';
import { nearestOf } from './nearby';
import { krigeAt, newKriging } from './whiten';

/**
 * The shadow of one radio at some spots: level in dB and what is left of its variance in dB2. Of the first of them also on which of the radio's readings each stands, by their places among these, the
 * nearest first, -1 where there are no more, and by which weights, `most` of each.
 */
export type Shadows = Readonly<{ levelDb: Float64Array; varianceDb2: Float64Array; near: Int32Array; weights: Float64Array }>;

type Known = Pick<MapBasis, 'places' | 'noise' | 'left' | 'scatter'>;

/**
 * What the readings of a radio show of its shadow at many spots, each by its nearest ones. Of spots one beside the other it is quickest.
 * @param own the radio's readings, by ascending index
 * @param most as many as a spot stands on
 * @param xM, yM where
 * @param weighed of how many of the spots, the first, weights are asked for
 * @param without of each spot a reading that is left out, -1 for none
 * @param kernel what works it out; null: TypeScript does the same
 */
export const shadowsAt = (
  known: Known,
  own: Int32Array,
  most: number,
  xM: Float64Array,
  yM: Float64Array,
  weighed: number,
  without: Int32Array | null = null,
  kernel: Kernel | null = compiledKernel(),
): Shadows =>
  kernel === null ? eachShadow(known, own, most, xM, yM, weighed, without) : kernelShadows(kernel, known, own, most, xM, yM, weighed, without);

function eachShadow(
  { places, noise, left, scatter }: Known,
  own: Int32Array,
  most: number,
  xM: Float64Array,
  yM: Float64Array,
  weighed: number,
  without: Int32Array | null,
): Shadows {
  const [levelDb, varianceDb2] = [new Float64Array(xM.length), new Float64Array(xM.length)];
  const [near, weights] = [new Int32Array(weighed * most), new Float64Array(weighed * most)];
  const found = new Int32Array(most);
  const kriging = newKriging(most);
  for (let s = 0; s < xM.length; s++) {
    nearestOf(places, own, own.length, xM[s]!, yM[s]!, most, found, 0, without?.[s] ?? -1);
    const { count, varianceDb2: unexplained } = krigeAt(places, noise, scatter, found, 0, most, xM[s]!, yM[s]!, kriging);
    for (let a = 0; a < count; a++) levelDb[s]! += kriging.weights[a]! * left[found[a]!]!;
    varianceDb2[s] = unexplained;
    if (s >= weighed) continue;
    for (let a = 0; a < most; a++) near[s * most + a] = own.indexOf(found[a]!);
    weights.set(kriging.weights.subarray(0, count), s * most);
  }
  return { levelDb, varianceDb2, near, weights };
}
