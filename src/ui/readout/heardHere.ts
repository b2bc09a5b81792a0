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
import { bandsAsked, ofBandTaken, type BandAsked } from '../state/bandsAsked';
import type { Place } from '../state/selectors';
import type { Session } from '../state/sessionStore';

/** A line of the readout: the prediction, and the mean of what was measured nearby. */
export type ReadoutLine = Heard<AccessPoint> & Readonly<{ measuredDbm: number | null; measuredCount: number }>;

/** What is asked about a spot: in which band, or in that which the client takes, of whom, for which client, down to which level. */
export type SpotAsked = BandAsked & Pick<Session, 'heardFrom' | 'clientId' | 'ignoreBelowDbm'>;

/** Everything the readout says about a spot. @param more what was measured around, and down to which level radios are listed */
export function heardHere(
  design: Design,
  place: Place,
  at: PointM,
  asked: SpotAsked,
  more: Readonly<{ samples?: readonly Sample[]; reachM?: number; listFromDbm?: number }> = {},
): ReadoutLine[] {
  const { heardFrom, clientId, ignoreBelowDbm } = asked;
  const client = clientTypesOf(design)(clientId);
  const scene = floorScene(design, place.floor, client);
  const near = measuredNear(more.samples ?? [], at, more.reachM ?? 0);
  const spot = { ...at, zM: scene.planeZM };
  const from = standingChoice(heardFrom, design);
  const byBand = bandsAsked(asked, client).map((band) => {
    const emitters = emittersOf(design, apsHeard(from, design, place.around, band), [band]);
    return heardAt(scene.medium, emitters, spot, scene.receiver, ignoreBelowDbm, more.listFromDbm ?? ignoreBelowDbm);
  });
  const heard = ofBandTaken(client, byBand, ([first]) => first?.rssiDbm ?? -Infinity) ?? [];
  return heard.map((one) => {
    const measured = near.get(bssidOf(one.of.id, one.channel.band));
    return { ...one, measuredDbm: measured?.meanDbm ?? null, measuredCount: measured?.count ?? 0 };
  });
}

/** The name of the room at a spot, or of the floor. */
export function roomAt(design: Design, place: Place, at: PointM): string {
  const rooms = onFloor(design, 'zones', place.floor.id).filter((zone) => zone.kind === 'room');
  return rooms.find((zone) => inRegion(zone, at.xM, at.yM))?.name ?? place.floor.name;
}
