import { EMPTY_DESIGN, accessPointsAround, type Design } from '@/core/design/design';
import type { HeardOnStretch } from '@/core/survey/heard';
import { dropOutsOf, samplesBetween, scanListOf } from '@/core/survey/receiver';
import type { Sample } from '@/core/survey/sample';
import { adapterOf, joinScans, type Scan } from '@/core/survey/setting';
import type { SiteParameters, Transmitter } from '@/core/survey/site';
import { straightsOf, type Stretch } from '@/core/survey/walk';
import { sweptOnSite } from './carried';
import { trueStorey } from './truth';

/** As much of a design as is heard on a floor of a variant: what goes to another thread. */
export function audible(design: Design, { floorId, variantId }: Pick<Stretch, 'floorId' | 'variantId'>): Design {
  const byId = <T extends { id: string }>(records: readonly T[]) => Object.fromEntries(records.map((record) => [record.id, record]));
  return {
    ...EMPTY_DESIGN,
    project: design.project,
    materials: design.materials,
    apModels: design.apModels,
    clientTypes: design.clientTypes,
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
 * parts, gives the same samples. While its adapter has dropped out it hears nothing and listens to nothing.
 * @throws UpperRoomError RECORD_UNKNOWN when the floor is gone
 */
export function listenOnSite(design: Design, site: SiteParameters, stretch: Stretch): HeardOnStretch {
  const { legs, receiver, fromMs, toMs } = stretch;
  const storey = trueStorey(design, site, stretch);
  const { transmitters, level, zM } = storey;
  const { dwellMs, ssid, adapter } = receiver;
  const channels = scanListOf(transmitters, receiver);
  const goneUntil = dropOutsOf(site.seed, site.dropOutsPerHour ?? 0);
  const offsetDb = site.receiverOffsetDb + adapterOf(adapter).offsetDb;
  const scans: Scan[] = [];
  const samples: Sample[] = [];
  const heard = (transmitter: Transmitter, xM: number, yM: number) => level(transmitter, { xM, yM, zM });
  for (const straight of straightsOf(legs)) {
    const to = Math.min(toMs, straight.to.tMs);
    for (const [from, until] of present(Math.max(fromMs, straight.from.tMs), to, dwellMs, goneUntil)) {
      scans.push({ leg: straight.leg, fromMs: from, toMs: until, dwellMs, channels, ssid });
      samples.push(...samplesBetween(straight, from, until, channels, transmitters, heard, { seed: site.seed, offsetDb, dwellMs, ssid }));
    }
  }
  return { samples, scans: joinScans(scans), swept: sweptOnSite(design, site, stretch, storey), channels: channels.length };
}

/** The parts of a time in which the receiver is there, from visit to visit: it is there for the whole of one, or for none of it. */
function* present(fromMs: number, toMs: number, dwellMs: number, goneUntil: (tMs: number) => number | null): Generator<readonly [number, number]> {
  let start = fromMs;
  for (let visit = Math.ceil(fromMs / dwellMs); visit * dwellMs < toMs; visit++) {
    const tMs = visit * dwellMs;
    const backMs = goneUntil(tMs);
    if (backMs === null) continue;
    if (tMs > start) yield [start, tMs];
    visit = Math.ceil(backMs / dwellMs);
    start = Math.min(toMs, visit * dwellMs);
    visit--;
  }
  if (toMs > start) yield [start, toMs];
}
