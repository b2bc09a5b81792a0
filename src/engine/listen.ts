import { EMPTY_DESIGN, accessPointsAround, projectOf, type AccessPoint, type Design } from '@/core/design/design';
import { BANDS, bandIndex } from '@/core/radio/band';
import { samplesBetween, scanListOf } from '@/core/survey/receiver';
import type { Sample } from '@/core/survey/sample';
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
import { straightsOf, type Stretch } from '@/core/survey/walk';
import { UpperRoomError } from '@/core/errors';
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

/** As much of a design as is heard on a floor of a variant: what goes to another thread. */
export function audible(design: Design, { floorId, variantId }: Pick<Stretch, 'floorId' | 'variantId'>): Design {
  const byId = <T extends { id: string }>(records: readonly T[]) => Object.fromEntries(records.map((record) => [record.id, record]));
  return {
    ...EMPTY_DESIGN,
    project: design.project,
    materials: design.materials,
    floors: design.floors,
    walls: design.walls,
    openings: design.openings,
    slabOpenings: design.slabOpenings,
    zones: design.zones,
    accessPoints: byId(accessPointsAround(design, floorId, variantId)),
  };
}

/**
 * What the simulated receiver hears on a stretch of a walk: the only way to the simulated site. Deterministic: a stretch asked again, or in
 * parts, gives the same samples. `channels` is the length of the receiver's scan list.
 * @throws UpperRoomError RECORD_UNKNOWN when the floor is gone
 */
export function listenOnSite(
  design: Design,
  site: SiteParameters,
  { floorId, variantId, legs, bands, fromMs, toMs }: Stretch,
): { samples: Sample[]; channels: number } {
  const floor = design.floors[floorId];
  if (floor === undefined) throw new UpperRoomError('RECORD_UNKNOWN', { what: 'floor', table: 'floors', id: floorId });
  const all = [
    ...trueTransmitters(transmittersOf(design, accessPointsAround(design, floorId, variantId)), site.faults ?? []),
    ...neighbourTransmitters(site.neighbours, floor.elevationM),
  ].sort((a, b) => bandIndex(a.channel.band) - bandIndex(b.channel.band));
  const built = builtMedium(floorMedium(design, floor), site.faults ?? [], floor.elevationM, floor.elevationM + floor.ceilingM);
  const level = trueLevel(trueMedium(built, site), site);
  const zM = floor.elevationM + clientHeightM(design);
  const scan = scanListOf(
    all,
    BANDS.filter((band) => bands.includes(band)),
  );
  const samples = straightsOf(legs)
    .filter((straight) => straight.to.tMs > fromMs && straight.from.tMs < toMs)
    .flatMap((straight) =>
      samplesBetween(
        straight,
        Math.max(fromMs, straight.from.tMs),
        Math.min(toMs, straight.to.tMs),
        scan,
        all,
        (transmitter, xM, yM) => level(transmitter, { xM, yM, zM }),
        { seed: site.seed, offsetDb: site.receiverOffsetDb },
      ),
    );
  return { samples, channels: scan.length };
}
