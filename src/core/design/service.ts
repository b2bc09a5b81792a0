import { inRegion } from '../geometry/polygon';
import type { PointM } from '../geometry/point';
import { onFloor, serviceLevelOf, type Design, type ServiceLevel, type Zone } from './design';

/** The service zones of a floor. */
export const serviceZonesOn = (design: Design, floorId: string): Zone[] => onFloor(design, 'zones', floorId).filter(({ kind }) => kind === 'service');

/** The service zones of a floor that have a service level, each with it. */
export const zonesWithLevel = (design: Design, floorId: string): Array<{ zone: Zone; level: ServiceLevel }> =>
  serviceZonesOn(design, floorId).flatMap((zone) => {
    const level = serviceLevelOf(design, zone);
    return level === null ? [] : [{ zone, level }];
  });

/** Whether a zone keeps this out. */
export const keepsOut = (zone: Zone, what: 'access points' | 'service'): boolean =>
  zone.kind === 'keep-out' && (zone.keepsOut === what || zone.keepsOut === 'both');

/** The keep-out zones of a floor that keep this out. */
export const keptOutOn = (design: Design, floorId: string, what: 'access points' | 'service'): Zone[] =>
  onFloor(design, 'zones', floorId).filter((zone) => keepsOut(zone, what));

/** The levels owed at a spot of a floor: of the service zones it lies in, unless a keep-out zone says that none is owed there. */
export function levelsOwedAt(design: Design, floorId: string, { xM, yM }: PointM): ServiceLevel[] {
  if (keptOutOn(design, floorId, 'service').some((zone) => inRegion(zone, xM, yM))) return [];
  return zonesWithLevel(design, floorId).flatMap(({ zone, level }) => (inRegion(zone, xM, yM) ? [level] : []));
}
