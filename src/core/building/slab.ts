import { difference } from 'polyclip-ts';
import { inRegion, ringsOf, type PolygonM, type RegionM } from '../geometry/polygon';
import { BANDS } from '../radio/band';
import { LOSS_UNIT_DB, lossUnitsOf, type Material } from './material';

/**
 * A level slab between two floors: at one height the regions that are solid, apart from each other, without loss elsewhere. Height in the building's z. Loss per band, in
 * LOSS_UNIT_DB, in the order of BANDS.
 */
export type Slab = Readonly<{ zM: number; solid: readonly RegionM[]; material: Material; lossUnits: readonly number[] }>;

/**
 * A slab of a material: inside an outline, less its openings (atrium, stair). These may lie over each other and reach beyond the outline, and rings may cross themselves (even-odd): each
 * spot is solid or it is not. @throws UpperRoomError MATERIAL_UNKNOWN
 */
export const slabOf = (material: Material, zM: number, outline: PolygonM, openings: readonly RegionM[] = []): Slab => ({
  zM,
  solid: difference([closed(outline)], ...openings.map((opening) => ringsOf(opening).map(closed))).map(([ring, ...holes]) => ({
    polygon: opened(ring!),
    holes: holes.map(opened),
  })),
  material,
  lossUnits: lossUnitsOf(material),
});

type Ring = Array<[number, number]>;
const closed = (ring: PolygonM): Ring => ring.map(({ xM, yM }) => [xM, yM]);
/** Without the first corner repeated at the end. */
const opened = (ring: Ring): PolygonM => ring.slice(0, -1).map(([xM, yM]) => ({ xM, yM }));

/**
 * What a further slab costs at the most, per band, in LOSS_UNIT_DB: through several floors loss grows more slowly than floor by floor, for part of what arrives
 * comes by stairs, shafts and outside. ITU-R P.1238, floor penetration of offices: 15 + 4 (n - 1) dB at 2 GHz, 6 dB for the second at 5 GHz; entered from memory.
 */
const FURTHER_UNITS: readonly number[] = BANDS.map((band) => (band === '2.4' ? 4 : 6) / LOSS_UNIT_DB);

/** What a slab costs beside others, and what it costs more where it is the one that costs most, per band in LOSS_UNIT_DB. */
export const partsOf = ({ lossUnits }: Pick<Slab, 'lossUnits'>): { further: number[]; excess: number[] } => {
  const further = lossUnits.map((units, lane) => Math.min(units, FURTHER_UNITS[lane]!));
  return { further, excess: lossUnits.map((units, lane) => units - further[lane]!) };
};

/** What each of the slabs that one ray meets costs in a band, in LOSS_UNIT_DB: the one that costs most in full, each other as a further one. */
export function slabUnits(met: ReadonlyArray<Pick<Slab, 'lossUnits'>>, lane: number): number[] {
  const parts = met.map(partsOf);
  const most = parts.reduce((best, { excess }, i) => (best < 0 || excess[lane]! > parts[best]!.excess[lane]! ? i : best), -1);
  return parts.map(({ further, excess }, i) => further[lane]! + (i === most ? excess[lane]! : 0));
}

/** Whether a ray that passes the slab's height at the spot meets the slab. */
export const meetsSlab = ({ solid }: Slab, xM: number, yM: number): boolean => solid.some((region) => inRegion(region, xM, yM));
