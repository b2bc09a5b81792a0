import { contains, inRegion, type PolygonM, type RegionM } from '../geometry/polygon';
import { lossUnitsOf, type Material } from './material';

/**
 * A level slab between two floors: a ring at one height, without loss where an opening (atrium, stair) lies in it. Height in the building's z;
 * openings lie inside the outline and apart from each other. Loss per band, in LOSS_UNIT_DB, in the order of BANDS.
 */
export type Slab = Readonly<{ zM: number; outline: PolygonM; openings: readonly RegionM[]; lossUnits: readonly number[] }>;

/** A slab of a material. @throws UpperRoomError MATERIAL_UNKNOWN */
export const slabOf = (material: Material, zM: number, outline: PolygonM, openings: readonly RegionM[] = []): Slab => ({
  zM,
  outline,
  openings,
  lossUnits: lossUnitsOf(material),
});

/** Whether a ray that passes the slab's height at the spot meets the slab. */
export const meetsSlab = ({ outline, openings }: Slab, xM: number, yM: number): boolean =>
  contains(outline, xM, yM) && !openings.some((opening) => inRegion(opening, xM, yM));
