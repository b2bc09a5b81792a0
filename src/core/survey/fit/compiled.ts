import { placesFor, type Kernel } from '../../fields/kernel/kernel';
import { FURTHEST, STEPS, TABLE } from './decay';
import type { Places } from './places';

/** What the compiled kernels of `assembly/shadows.ts` and `assembly/unknown.ts` do for `nearby.ts`, `whiten.ts`, `shadows.ts` and `unknown.ts`, where each is told by its reference: here is only how things lie in their memory. */

/** The field of shadows: its variance in dB2, and how far it reaches, in m. */
type Field = Readonly<{ shadowVar: number; correlationM: number }>;

/** Lays some of an array's values into the kernel's memory, those of `own` in their order. */
function laySome(buffer: ArrayBuffer, at: number, values: Float64Array, own: Int32Array): void {
  const to = new Float64Array(buffer, at, own.length);
  for (let k = 0; k < own.length; k++) to[k] = values[own[k]!]!;
}

const lay = (buffer: ArrayBuffer, at: number, values: Float64Array): void => new Float64Array(buffer, at).set(values);

/** As `nearestOfEach` of `nearby.ts`. */
export function kernelNearest(
  kernel: Kernel,
  { xM, yM }: Places,
  own: Int32Array,
  from: number,
  isEarlier: boolean,
  most: number,
  near: Int32Array,
): void {
  const count = own.length - from;
  const [x, y, found, work] = placesFor(kernel, kernel.base, [own.length * 8, own.length * 8, count * most * 4, most * 8]) as [
    number,
    number,
    number,
    number,
  ];
  const { buffer } = kernel.memory;
  laySome(buffer, x, xM, own);
  laySome(buffer, y, yM, own);
  kernel.run.nearest(own.length, x, y, from, isEarlier ? 1 : 0, most, found, work);
  const places = new Int32Array(buffer, found, count * most);
  for (let k = 0; k < count; k++) {
    const to = own[from + k]! * most;
    for (let a = 0; a < most; a++) {
      const place = places[k * most + a]!;
      near[to + a] = place < 0 ? -1 : own[place]!;
    }
  }
}

/**
 * As `standingOf` of `whiten.ts`.
 * @param which of the readings, by their indices; null for all
 * @param variance, weights receive what comes out
 */
export function kernelStandings(
  kernel: Kernel,
  { xM, yM }: Places,
  near: Int32Array,
  most: number,
  noise: Float64Array,
  { shadowVar, correlationM }: Field,
  which: Int32Array | null,
  variance: Float64Array,
  weights: Float64Array,
): void {
  const n = noise.length;
  const [x, y, ownNoise, neighbours, rows, table, variances, weightsAt, work] = placesFor(kernel, kernel.base, [
    n * 8,
    n * 8,
    n * 8,
    n * most * 4,
    which === null ? 0 : which.length * 4,
    TABLE.byteLength,
    n * 8,
    n * most * 8,
    2 * most * (most + 3) * 8,
  ]) as [number, number, number, number, number, number, number, number, number];
  const { buffer } = kernel.memory;
  lay(buffer, x, xM);
  lay(buffer, y, yM);
  lay(buffer, ownNoise, noise);
  lay(buffer, table, TABLE);
  new Int32Array(buffer, neighbours).set(near);
  if (which !== null) {
    new Int32Array(buffer, rows).set(which);
    lay(buffer, variances, variance);
    lay(buffer, weightsAt, weights);
  }
  // prettier-ignore
  kernel.run.standings(
    which?.length ?? n, which === null ? 0 : rows, neighbours, most, x, y, ownNoise, shadowVar, correlationM, table, STEPS, FURTHEST, variances, weightsAt, work,
  );
  variance.set(new Float64Array(buffer, variances, n));
  weights.set(new Float64Array(buffer, weightsAt, n * most));
}

/** As `shadowsAt` of `shadows.ts`. */
export function kernelShadows(
  kernel: Kernel,
  { places, noise, left, scatter }: Readonly<{ places: Places; noise: Float64Array; left: Float64Array; scatter: Field }>,
  own: Int32Array,
  most: number,
  xM: Float64Array,
  yM: Float64Array,
  weighed: number,
  without: Int32Array | null,
): { levelDb: Float64Array; varianceDb2: Float64Array; near: Int32Array; weights: Float64Array } {
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
    2 * most * (most + 4) * 8,
    together ? own.length ** 2 * 8 : 0,
    without === null ? 0 : xM.length * 4,
  ]) as [number, number, number, number, number, number, number, number, number, number, number, number, number, number];
  const { buffer } = kernel.memory;
  laySome(buffer, x, places.xM, own);
  laySome(buffer, y, places.yM, own);
  laySome(buffer, ownNoise, noise, own);
  laySome(buffer, ownLeft, left, own);
  lay(buffer, spotX, xM);
  lay(buffer, spotY, yM);
  lay(buffer, table, TABLE);
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
    near: new Int32Array(buffer, near, weighed * most).slice(),
    weights: taken(weights, weighed * most),
  };
}

/** Slopes of some rows, as in `SlopeRows`. */
type Hanging = Readonly<{ starts: Int32Array; columns: Int32Array; slopes: Float64Array }>;

/**
 * As `unknownAt` of `unknown.ts`, without walls: of all parameters only those on which one of the spots or readings hangs are looked at.
 * @param variance receives what comes out
 */
export function kernelUnknown(
  kernel: Kernel,
  covariance: Float64Array,
  parameters: number,
  there: Hanging,
  known: Hanging,
  near: Int32Array,
  weights: Float64Array,
  most: number,
  variance: Float64Array,
): void {
  const place = new Int32Array(parameters).fill(-1);
  const told: number[] = [];
  for (const { columns } of [there, known])
    for (let k = 0; k < columns.length; k++) {
      if (place[columns[k]!]! >= 0) continue;
      place[columns[k]!] = told.length;
      told.push(columns[k]!);
    }
  const even = told.length + (told.length % 2);
  const sizeOf = ({ starts, columns, slopes }: Hanging) => [starts.byteLength, columns.byteLength, slopes.byteLength];
  const [starts, columns, slopes, knownStarts, knownColumns, knownSlopes, nearAt, weightsAt, covarianceAt, out, u] = placesFor(kernel, kernel.base, [
    ...sizeOf(there),
    ...sizeOf(known),
    near.byteLength,
    weights.byteLength,
    even * even * 8,
    variance.byteLength,
    even * 8,
  ]) as [number, number, number, number, number, number, number, number, number, number, number];
  const { buffer } = kernel.memory;
  const layRows = (rows: Hanging, startsAt: number, columnsAt: number, slopesAt: number): void => {
    new Int32Array(buffer, startsAt).set(rows.starts);
    const to = new Int32Array(buffer, columnsAt, rows.columns.length);
    for (let k = 0; k < to.length; k++) to[k] = place[rows.columns[k]!]!;
    lay(buffer, slopesAt, rows.slopes);
  };
  layRows(there, starts, columns, slopes);
  layRows(known, knownStarts, knownColumns, knownSlopes);
  new Int32Array(buffer, nearAt).set(near);
  lay(buffer, weightsAt, weights);
  const some = new Float64Array(buffer, covarianceAt, even * even).fill(0);
  for (let c = 0; c < told.length; c++) for (let d = 0; d < told.length; d++) some[c * even + d] = covariance[told[c]! * parameters + told[d]!]!;
  // prettier-ignore
  kernel.run.unknown(
    variance.length, starts, columns, slopes, nearAt, weightsAt, most, knownStarts, knownColumns, knownSlopes, even, covarianceAt, out, u,
  );
  variance.set(new Float64Array(buffer, out, variance.length));
}
