import type { PointM } from '../../geometry/point';
import { MAP_NEAR, type Fit } from './fit';
import { ofEachRadio } from './places';
import { shadowsAt } from './shadows';
import type { Slopes } from './trend';
import { unknownAt } from './unknown';

/** The readings of each radio of a fit: maps of one radio after the other ask for them. */
const byRadio = new WeakMap<Fit, Map<number, Int32Array>>();
export function ofRadio(fit: Fit, radio: number): Int32Array {
  const known = byRadio.get(fit) ?? ofEachRadio(fit.places);
  byRadio.set(fit, known);
  return known.get(radio) ?? new Int32Array(0);
}

/**
 * What the readings of a radio make of some spots beyond the corrected model, in dB; the variance of all that is said there, in dB2; and how far the nearest reading lies, in m, Infinity without any.
 */
export type Estimates = Readonly<{ leftDb: Float64Array; varianceDb2: Float64Array; nearestM: Float64Array }>;

/**
 * Estimates one radio at some spots: by its nearest readings' shadows, with what of the parameters stays unknown there.
 * @param rows of each spot, how the level there hangs on the parameters, where that is known already
 * @param without of each spot a reading that it is not to know, -1 for none
 */
export function estimatesAt(
  fit: Fit,
  radio: number,
  spots: readonly PointM[],
  rows: readonly Slopes[] = spots.map(({ xM, yM }) => fit.trend.slopesAt(radio, { xM, yM, zM: fit.zM })),
  without: Int32Array | null = null,
): Estimates {
  const { places, doubt } = fit;
  const x = new Float64Array(spots.map(({ xM }) => xM));
  const y = new Float64Array(spots.map(({ yM }) => yM));
  const own = ofRadio(fit, radio);
  const shadows = shadowsAt(fit, own, MAP_NEAR, x, y, spots.length, without);
  const { levelDb, varianceDb2, near } = shadows;
  const unknownDb2 = unknownAt(fit, own, rows, shadows);
  const nearestM = new Float64Array(spots.length).fill(Infinity);
  for (let s = 0; s < spots.length; s++) {
    const nearest = own[near[s * MAP_NEAR]!];
    if (nearest !== undefined) nearestM[s] = Math.hypot(places.xM[nearest]! - x[s]!, places.yM[nearest]! - y[s]!);
    varianceDb2[s] = doubt * varianceDb2[s]! + unknownDb2[s]!;
  }
  return { leftDb: levelDb, varianceDb2, nearestM };
}
