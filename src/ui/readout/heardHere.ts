import type { AccessPoint } from '@/core/design/design';
import { heardAt, type Heard } from '@/core/fields/heard';
import { inRegion } from '@/core/geometry/polygon';
import type { PointM } from '@/core/geometry/point';
import { clientTypesOf, onFloor, type Design } from '@/core/design/design';
import { measuredNear } from '@/core/survey/measured';
import type { Sample } from '@/core/survey/sample';
import { bssidOf } from '@/core/survey/site';
import { emittersOf, floorScene } from '@/engine/scene';
import { apsHeard, standingChoice } from '../state/heardFrom';
import type { Place } from '../state/selectors';
import type { Session } from '../state/sessionStore';

/** A line of the readout: the prediction, and the mean of what was measured nearby. */
export type ReadoutLine = Heard<AccessPoint> & Readonly<{ measuredDbm: number | null; measuredCount: number }>;

/** What is asked about a spot: in which band, of whom, for which client, down to which level. */
export type SpotAsked = Pick<Session, 'band' | 'heardFrom' | 'clientId' | 'ignoreBelowDbm'>;

/** Everything the readout says about a spot. @param more what was measured around, and down to which level radios are listed */
export function heardHere(
  design: Design,
  place: Place,
  at: PointM,
  { band, heardFrom, clientId, ignoreBelowDbm }: SpotAsked,
  more: Readonly<{ samples?: readonly Sample[]; reachM?: number; listFromDbm?: number }> = {},
): ReadoutLine[] {
  const client = clientTypesOf(design)(clientId);
  if (!client.bands.includes(band)) return [];
  const scene = floorScene(design, place.floor, client);
  const aps = apsHeard(standingChoice(heardFrom, design), design, place.around, band);
  const near = measuredNear(more.samples ?? [], at, more.reachM ?? 0);
  const spot = { ...at, zM: scene.planeZM };
  const heard = heardAt(scene.medium, emittersOf(design, aps, [band]), spot, scene.receiver, ignoreBelowDbm, more.listFromDbm ?? ignoreBelowDbm);
  return heard.map((one) => {
    const measured = near.get(bssidOf(one.of.id, band));
    return { ...one, measuredDbm: measured?.meanDbm ?? null, measuredCount: measured?.count ?? 0 };
  });
}

/** The name of the room at a spot, or of the floor. */
export function roomAt(design: Design, place: Place, at: PointM): string {
  const rooms = onFloor(design, 'zones', place.floor.id).filter((zone) => zone.kind === 'room');
  return rooms.find((zone) => inRegion(zone, at.xM, at.yM))?.name ?? place.floor.name;
}
