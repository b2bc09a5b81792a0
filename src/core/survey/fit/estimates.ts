import type { PointM } from '../../geometry/point';
import type { Spot } from '../../propagation/crossing';
import { MAP_NEAR, type MapBasis } from './fit';
import { ofEachRadio } from './places';
import { shadowsAt } from './shadows';
import { slopesFrom, type Slopes } from './parameter';
import { unknownAt } from './unknown';

/** What is made ready once for all maps of a basis: the readings of each radio, and how the level of any radio hangs on the parameters. */
type Ready = Readonly<{ ofRadio: Map<number, Int32Array>; slopesAt: (radio: number, at: Spot) => Slopes }>;
const ready = new WeakMap<MapBasis, Ready>();
function readyFor(basis: MapBasis): Ready {
  const known = ready.get(basis) ?? { ofRadio: ofEachRadio(basis.places), slopesAt: slopesFrom(basis.medium, basis.radios, basis.parameters) };
  ready.set(basis, known);
  return known;
}

/** The readings of one radio. */
export const ofRadio = (basis: MapBasis, radio: number): Int32Array => readyFor(basis).ofRadio.get(radio) ?? new Int32Array(0);

/** How the level of a radio at some spots hangs on the parameters. */
export const slopesOver = (basis: MapBasis, radio: number, xM: Float64Array, yM: Float64Array, count: number): Slopes[] => {
  const { slopesAt } = readyFor(basis);
  const rows: Slopes[] = [];
  for (let s = 0; s < count; s++) rows.push(slopesAt(radio, { xM: xM[s]!, yM: yM[s]!, zM: basis.zM }));
  return rows;
};

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
  basis: MapBasis,
  radio: number,
  spots: readonly PointM[],
  rows: readonly Slopes[] | null = null,
  without: Int32Array | null = null,
): Estimates {
  const { places, doubt } = basis;
  const x = new Float64Array(spots.map(({ xM }) => xM));
  const y = new Float64Array(spots.map(({ yM }) => yM));
  const own = ofRadio(basis, radio);
  const shadows = shadowsAt(basis, own, MAP_NEAR, x, y, spots.length, without);
  const { levelDb, varianceDb2, near } = shadows;
  const unknownDb2 = unknownAt(basis, own, rows ?? slopesOver(basis, radio, x, y, spots.length), shadows);
  const nearestM = new Float64Array(spots.length).fill(Infinity);
  for (let s = 0; s < spots.length; s++) {
    const nearest = own[near[s * MAP_NEAR]!];
    if (nearest !== undefined) nearestM[s] = Math.hypot(places.xM[nearest]! - x[s]!, places.yM[nearest]! - y[s]!);
    varianceDb2[s] = doubt * varianceDb2[s]! + unknownDb2[s]!;
  }
  return { leftDb: levelDb, varianceDb2, nearestM };
}
