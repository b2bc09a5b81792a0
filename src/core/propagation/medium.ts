import type { Clutter } from '../building/clutter';
import { LOSS_UNIT_DB, MAX_WALL_LOSS_DB, shiftUnitsAt, type Material } from '../building/material';
import { likeObstacles } from '../building/obstacles';
import type { Panes } from '../building/panes';
import type { Slab } from '../building/slab';
import { BANDS, centreOfBandMhz } from '../radio/band';

/** How level falls with distance on a floor, apart from what stands in the way; and whether what is met at a slant costs more. */
export type Propagation = Readonly<{ exponent: number; slant?: boolean }>;

/** All that a ray can meet, at heights of the building: upright panes, level slabs, bodies of clutter, and the way itself. */
export type Medium = Readonly<{ panes: Panes; slabs: readonly Slab[]; clutter: readonly Clutter[]; propagation: Propagation }>;

export const mediumOf = (panes: Panes, propagation: Propagation, slabs: readonly Slab[] = [], clutter: readonly Clutter[] = []): Medium => ({
  panes,
  slabs,
  clutter,
  propagation,
});

const MOST_UNITS = Math.round(MAX_WALL_LOSS_DB / LOSS_UNIT_DB);
const known = new WeakMap<Medium, Map<string, Medium>>();
/** More media than channels that access points stand on together are hardly ever asked for of one plan. */
const REMEMBERED = 512;

/**
 * The medium as waves of given frequencies meet it: walls and slabs lose by their materials at that frequency. Clutter is known by band only, and edges are taken at the band's middle.
 * @param centresMhz one per band, in the order of BANDS; null for the band's middle, at which a medium is made
 */
export function mediumAt(medium: Medium, centresMhz: ReadonlyArray<number | null>): Medium {
  const centres = BANDS.map((band, lane) => centresMhz[lane] ?? centreOfBandMhz(band));
  if (centres.every((centre, lane) => centre === centreOfBandMhz(BANDS[lane]!))) return medium;
  const key = centres.join();
  const byCentres = known.get(medium) ?? new Map<string, Medium>();
  known.set(medium, byCentres);
  const found = byCentres.get(key);
  if (found !== undefined) return found;
  if (byCentres.size >= REMEMBERED) byCentres.clear();
  const unitsAt = (material: Material, lane: number, units: number): number =>
    Math.max(0, Math.min(Math.max(units, MOST_UNITS), units + shiftUnitsAt(material, BANDS[lane]!, centres[lane]!)));
  const panes: Panes = {
    ...medium.panes,
    lossUnits: medium.panes.lossUnits.map((units, i) =>
      unitsAt(medium.panes.materials[medium.panes.materialIndex[Math.floor(i / BANDS.length)]!]!, i % BANDS.length, units),
    ),
  };
  likeObstacles(panes, medium.panes);
  const slabs = medium.slabs.map((slab) => ({ ...slab, lossUnits: slab.lossUnits.map((units, lane) => unitsAt(slab.material, lane, units)) }));
  const made = { ...medium, panes, slabs };
  byCentres.set(key, made);
  return made;
}
