import type { Band } from '../radio/band';
import type { PointM } from '../geometry/point';
import { halfLostDbm, positionAt, type Straight } from './receiver';
import type { Sample } from './sample';
import type { Swept } from './swept';
import { adapterOf, joinScans, scansUntil, type AdapterId, type Scan } from './setting';
import { straightsOf, type Leg } from './walk';

/** What a walk brought as it is stored: beacons, when what was listened to, and what a swept receiver found that was carried. */
export type Heard = Readonly<{ samples: readonly Sample[]; scans: readonly Scan[]; swept: readonly Swept[] }>;
/** What was heard in parts of no more samples than go at once, in order; when it was listened, and what was swept, goes with the first. */
export const batchesOf = ({ samples, scans, swept }: Heard, most: number): Heard[] =>
  Array.from({ length: Math.max(scans.length + swept.length > 0 ? 1 : 0, Math.ceil(samples.length / most)) }, (_, i) => ({
    samples: samples.slice(i * most, (i + 1) * most),
    scans: i === 0 ? scans : [],
    swept: i === 0 ? swept : [],
  }));

/** What the receiver answers for a stretch; `channels`: how many its list has. */
export type HeardOnStretch = Heard & Readonly<{ channels: number }>;
/** Whether a walk brought anything at all. */
export const isSomething = ({ samples, scans, swept }: Heard): boolean => samples.length + scans.length + swept.length > 0;
export const NOTHING_HEARD: Heard = { samples: [], scans: [], swept: [] };

/** What a walk brought with what it brought since. */
export const withMore = (before: Heard, { samples, scans, swept }: Heard): Heard => ({
  samples: [...before.samples, ...samples],
  scans: joinScans([...before.scans, ...scans]),
  swept: [...before.swept, ...swept],
});

/** What a walk brought up to a time. */
export const heardUntil = ({ samples, scans, swept }: Heard, tMs: number): Heard => ({
  samples: samples.filter((sample) => sample.tMs <= tMs),
  scans: scansUntil(scans, tMs),
  swept: swept.filter((look) => look.tMs <= tMs),
});

/**
 * The receiver on one channel, somewhere on the way; `ssid`: the only network kept, '' where all are. At `hearsFromDbm`, in levels as they count, half of the beacons are lost.
 */
export type Visit = PointM & Readonly<{ leg: number; tMs: number; band: Band; channel: number; ssid: string; hearsFromDbm: number }>;

/** A look of the swept receiver at the place at which it was taken. */
export type PlacedLook = Swept & PointM;

/** What counts of some walks: beacons, visits and looks, each at its place. Legs are counted on from walk to walk, for on one leg time goes on. */
export type Counted = Readonly<{ samples: readonly Sample[]; visits: readonly Visit[]; looks: readonly PlacedLook[] }>;
export const NOTHING_COUNTED: Counted = { samples: [], visits: [], looks: [] };

/** As much of a walk as decides where what it heard lies and what of it counts. */
export type CountedWalk = Readonly<{ legs: readonly Leg[]; leftOut: readonly number[]; receiver: Readonly<{ adapter: AdapterId }> | null }>;

const NOBODY: ReadonlyMap<string, string> = new Map();

/** Where a walk was at a time on a leg; null at times of which its way says nothing. Asked of times near each other it is quick. */
export function placesOn(legs: readonly Leg[]): (leg: number, tMs: number) => PointM | null {
  const byLeg = new Map<number, Straight[]>();
  for (const straight of straightsOf(legs)) {
    const ofLeg = byLeg.get(straight.leg);
    if (ofLeg === undefined) byLeg.set(straight.leg, [straight]);
    else ofLeg.push(straight);
  }
  let [leg, at, own] = [-1, 0, [] as Straight[]];
  return (asked, tMs) => {
    if (asked !== leg) [leg, at, own] = [asked, 0, byLeg.get(asked) ?? []];
    while (at > 0 && own[at - 1]!.to.tMs >= tMs) at--;
    while (at < own.length && own[at]!.to.tMs < tMs) at++;
    const straight = own[at];
    return straight === undefined || tMs < straight.from.tMs ? null : positionAt(straight, tMs);
  };
}

/** Places are stored in whole mm: what differs by no more is where it was put, in m. */
const STORED_M = 0.001;
const isSamePlace = (a: PointM, b: PointM): boolean => Math.abs(a.xM - b.xM) < STORED_M && Math.abs(a.yM - b.yM) < STORED_M;

/**
 * What counts of a walk: beacons where its way is now (a turn that was moved takes along what was heard beside it), less what the adapter is known to read more, without the legs that are
 * left out and without what is of no time of its way any more. Without any way all stays where it was put.
 * @param linked access points by addresses that were found to be theirs
 */
export function countedOf(
  { legs, leftOut, receiver }: CountedWalk,
  { samples, scans, swept }: Heard,
  linked: ReadonlyMap<string, string> = NOBODY,
): Counted {
  const placeAt = placesOn(legs);
  const offsetDb = receiver === null ? 0 : adapterOf(receiver.adapter).offsetDb;
  const counts = ({ leg }: { leg: number }): boolean => !leftOut.includes(leg);
  const placed: Sample[] = [];
  for (const sample of samples) {
    if (!counts(sample)) continue;
    const place = placeAt(sample.leg, sample.tMs);
    if (place === null && legs.length > 0) continue;
    const apId = sample.apId ?? linked.get(sample.bssid) ?? null;
    // Most count as they are stored: of ten thousands no others are made, for while somebody walks this is asked for again and again.
    const isAsStored = apId === sample.apId && offsetDb === 0 && (place === null || isSamePlace(place, sample));
    placed.push(isAsStored ? sample : { ...sample, ...place, apId, rssiDbm: sample.rssiDbm - offsetDb });
  }
  const visits = scans.filter(counts).flatMap(({ leg, fromMs, toMs, dwellMs, channels, ssid }) => {
    const own: Visit[] = [];
    for (let visit = Math.ceil(fromMs / dwellMs); visit * dwellMs < toMs && channels.length > 0; visit++) {
      const tMs = visit * dwellMs;
      const place = placeAt(leg, tMs);
      const { band, channel } = channels[visit % channels.length]!;
      if (place !== null) own.push({ ...place, leg, tMs, band, channel, ssid, hearsFromDbm: halfLostDbm(band) - offsetDb });
    }
    return own;
  });
  const looks = swept.filter(counts).flatMap((one): PlacedLook[] => {
    const place = placeAt(one.leg, one.tMs);
    return place === null ? [] : [{ ...one, ...place }];
  });
  return { samples: placed, visits, looks };
}

/** What counts of several walks, as one. */
export function joined(walks: readonly Counted[]): Counted {
  const some = walks.filter(({ samples, visits, looks }) => samples.length + visits.length + looks.length > 0);
  if (some.length < 2) return some[0] ?? NOTHING_COUNTED;
  let firstLeg = 0;
  const on = <T extends { leg: number }>(all: readonly T[]): T[] => all.map((one) => ({ ...one, leg: one.leg + firstLeg }));
  const parts = some.map(({ samples, visits, looks }) => {
    const part = { samples: on(samples), visits: on(visits), looks: on(looks) };
    firstLeg += 1 + [...samples, ...visits, ...looks].reduce((last, { leg }) => Math.max(last, leg), 0);
    return part;
  });
  return {
    samples: parts.flatMap(({ samples }) => samples),
    visits: parts.flatMap(({ visits }) => visits),
    looks: parts.flatMap(({ looks }) => looks),
  };
}
