import { panesOf } from '@/core/building/panes';
import { accessPointsOf, onFloor, openingsOf, projectOf, type AccessPoint, type Design } from '@/core/design/design';
import { EXPONENT } from '@/core/propagation/pathLoss';
import { BANDS, bandIndex, type Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { samplesBetween, scanListOf, type Sample } from '@/core/survey/receiver';
import { bssidOf, neighbourTransmitters, trueLevel, trueWalls, type SiteParameters, type Transmitter } from '@/core/survey/site';
import { straightsOf, type Leg } from '@/core/survey/walk';
import { UpperRoomError } from '@/core/errors';
import { poseOf } from './scene';

/** A stretch of a walk on one floor of one variant. */
export type Stretch = Readonly<{ floorId: string; variantId: string; legs: readonly Leg[]; bands: readonly Band[]; fromMs: number; toMs: number }>;

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
function transmittersOf(aps: readonly AccessPoint[], ssid: string): Transmitter[] {
  return aps.flatMap((ap) =>
    ap.radios.flatMap((radio) => {
      const model = radioModelOf(ap.modelId, radio.band);
      if (!radio.on || model === null) return [];
      return [
        {
          bssid: bssidOf(ap.id, radio.band),
          ssid,
          apId: ap.id,
          band: radio.band,
          channel: radio.channel,
          widthMhz: radio.widthMhz,
          txPowerDbm: radio.txPowerDbm,
          pose: poseOf(ap),
          antenna: model.antenna,
        },
      ];
    }),
  );
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
  const all = [...transmittersOf(accessPointsOf(design, floorId, variantId), ssidOf(design)), ...neighbourTransmitters(site.neighbours)].sort(
    (a, b) => bandIndex(a.band) - bandIndex(b.band),
  );
  const panes = panesOf(onFloor(design, 'walls', floorId), openingsOf(design, floorId));
  const level = trueLevel(trueWalls(panes, site), site, EXPONENT[floor.environment]);
  const clientHeightM = projectOf(design)?.clientHeightM ?? 1;
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
        (t, x, y) => level(t, x, y, clientHeightM),
        {
          seed: site.seed,
          offsetDb: site.receiverOffsetDb,
        },
      ),
    );
  return { samples, channels: scan.length };
}
