import { compiledKernel, placesFor, type Kernel } from '../../fields/kernel/kernel';
import { FURTHEST, STEPS, TABLE } from './decay';
import type { Fit } from './fit';
import { nearestOf } from './nearby';
import { krigeAt, newKriging } from './whiten';

/**
 * The shadow of one radio at some spots: level in dB and what is left of its variance in dB2. Of the first of them also on which readings each stands, the nearest first, -1 where there are no more,
 * and by which weights, `most` of each.
 */
export type Shadows = Readonly<{ levelDb: Float64Array; varianceDb2: Float64Array; near: Int32Array; weights: Float64Array }>;

type Known = Pick<Fit, 'places' | 'noise' | 'left' | 'scatter'>;

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
    near.set(found, s * most);
    weights.set(kriging.weights.subarray(0, count), s * most);
  }
  return { levelDb, varianceDb2, near, weights };
}

function kernelShadows(
  kernel: Kernel,
  { places, noise, left, scatter }: Known,
  own: Int32Array,
  most: number,
  xM: Float64Array,
  yM: Float64Array,
  weighed: number,
  without: Int32Array | null,
): Shadows {
  const [readings, spots] = [own.length * 8, xM.length * 8];
  // Each two readings are neighbours of several spots, or of hardly any.
  const together = own.length ** 2 < xM.length * most ** 2;
  const [x, y, ownNoise, ownLeft, spotX, spotY, table, level, variance, near, weights, work, covariances, leftOut] = placesFor(kernel, kernel.base, [
    readings,
    readings,
    readings,
    readings,
    spots,
    spots,
    TABLE.byteLength,
    spots,
    spots,
    weighed * most * 4,
    weighed * most * 8,
    most * (most + 4) * 8,
    together ? own.length ** 2 * 8 : 0,
    without === null ? 0 : xM.length * 4,
  ]) as [number, number, number, number, number, number, number, number, number, number, number, number, number, number];
  const { buffer } = kernel.memory;
  const lay = (at: number, values: Float64Array): void => {
    const to = new Float64Array(buffer, at, own.length);
    for (let k = 0; k < own.length; k++) to[k] = values[own[k]!]!;
  };
  lay(x, places.xM);
  lay(y, places.yM);
  lay(ownNoise, noise);
  lay(ownLeft, left);
  new Float64Array(buffer, spotX).set(xM);
  new Float64Array(buffer, spotY).set(yM);
  new Float64Array(buffer, table).set(TABLE);
  if (without !== null) {
    const to = new Int32Array(buffer, leftOut, xM.length);
    for (let s = 0; s < to.length; s++) to[s] = without[s]! < 0 ? -1 : own.indexOf(without[s]!);
  }
  // prettier-ignore
  kernel.run.shadows(
    own.length, x, y, ownNoise, ownLeft, xM.length, spotX, spotY, without === null ? 0 : leftOut, weighed, most, scatter.shadowVar, scatter.correlationM,
    table, STEPS, FURTHEST, level, variance, near, weights, work, together ? covariances : 0,
  );
  const taken = (at: number, length: number) => new Float64Array(buffer, at, length).slice();
  return {
    levelDb: taken(level, xM.length),
    varianceDb2: taken(variance, xM.length),
    near: new Int32Array(buffer, near, weighed * most).map((k) => (k < 0 ? -1 : own[k]!)),
    weights: taken(weights, weighed * most),
  };
}
