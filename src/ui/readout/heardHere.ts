import type { AccessPoint } from '@/core/design/design';
import { heardAt, type Heard } from '@/core/fields/heard';
import { inRegion } from '@/core/geometry/polygon';
import type { PointM } from '@/core/geometry/point';
import { onFloor, type Design } from '@/core/design/design';
import type { Band } from '@/core/radio/band';
import { measuredNear } from '@/core/survey/measured';
import type { Sample } from '@/core/survey/sample';
import { bssidOf } from '@/core/survey/site';
import { emittersOf, floorScene } from '@/engine/scene';
import type { Place } from '../state/selectors';

/** A line of the readout: the prediction, and the mean of what was measured nearby. */
export type ReadoutLine = Heard<AccessPoint> & Readonly<{ measuredDbm: number | null; measuredCount: number }>;

/** Everything the readout says about a spot. */
export function heardHere(
  design: Design,
  place: Place,
  band: Band,
  heardApId: string | null,
  at: PointM,
  ignoreBelowDbm: number,
  samples: readonly Sample[],
  reachM: number,
  listFromDbm: number,
): ReadoutLine[] {
  const scene = floorScene(design, place.floor);
  const aps = heardApId === null ? place.around : place.around.filter((ap) => ap.id === heardApId);
  const near = measuredNear(samples, at, reachM);
  const spot = { ...at, zM: scene.planeZM };
  return heardAt(scene.medium, emittersOf(design, aps, [band]), spot, scene.receiver, ignoreBelowDbm, listFromDbm).map((heard) => {
    const measured = near.get(bssidOf(heard.of.id, band));
    return { ...heard, measuredDbm: measured?.meanDbm ?? null, measuredCount: measured?.count ?? 0 };
  });
}

/** The name of the room at a spot, or of the floor. */
export function roomAt(design: Design, place: Place, at: PointM): string {
  const rooms = onFloor(design, 'zones', place.floor.id).filter((zone) => zone.kind === 'room');
  return rooms.find((zone) => inRegion(zone, at.xM, at.yM))?.name ?? place.floor.name;
}
