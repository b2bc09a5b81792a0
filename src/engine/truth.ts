import { UpperRoomError } from '@/core/errors';
import { accessPointsAround, projectOf, type AccessPoint, type Design } from '@/core/design/design';
import type { Medium } from '@/core/propagation/medium';
import { BANDS, bandIndex } from '@/core/radio/band';
import {
  bssidOf,
  builtMedium,
  neighbourTransmitters,
  trueTransmitters,
  trueLevel,
  trueMedium,
  type SiteParameters,
  type Transmitter,
} from '@/core/survey/site';
import type { Stretch } from '@/core/survey/walk';
import { clientHeightM, emittersOf, floorMedium } from './scene';

/** The name all of a project's access points beacon with. */
export function ssidOf(design: Design): string {
  const first = projectOf(design)?.name.split(' ')[0] ?? '';
  return (
    first
      .toLowerCase()
      .replace(/[^a-z0-9]/g, '')
      .slice(0, 32) || 'ours'
  );
}

/** What the access points send, radio by radio. */
const transmittersOf = (design: Design, aps: readonly AccessPoint[]): Transmitter[] =>
  emittersOf(design, aps, BANDS).map(({ of: ap, ...emitter }) => ({
    ...emitter,
    bssid: bssidOf(ap.id, emitter.channel.band),
    ssid: ssidOf(design),
    apId: ap.id,
  }));

/** What is truly on a storey: who sends, through what, how loud at a spot, and how high a receiver is held. */
export type TrueStorey = Readonly<{ transmitters: readonly Transmitter[]; medium: Medium; level: ReturnType<typeof trueLevel>; zM: number }>;

/** The storey as it truly is, with what truly hangs and sends there. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export function trueStorey(design: Design, site: SiteParameters, { floorId, variantId }: Pick<Stretch, 'floorId' | 'variantId'>): TrueStorey {
  const floor = design.floors[floorId];
  if (floor === undefined) throw new UpperRoomError('RECORD_UNKNOWN', { what: 'floor', table: 'floors', id: floorId });
  const transmitters = [
    ...trueTransmitters(transmittersOf(design, accessPointsAround(design, floorId, variantId)), site.faults ?? []),
    ...neighbourTransmitters(site.neighbours, floor.elevationM),
  ].sort((a, b) => bandIndex(a.channel.band) - bandIndex(b.channel.band));
  const built = builtMedium(floorMedium(design, floor), site.faults ?? [], floor.elevationM, floor.elevationM + floor.ceilingM);
  const medium = trueMedium(built, site);
  return { transmitters, medium, level: trueLevel(medium, site), zM: floor.elevationM + clientHeightM(design) };
}
