import type { PointM } from '../geometry/point';
import type { Band, WidthMhz } from '../radio/band';
import { positionAt } from './receiver';
import type { Sample } from './sample';
import { straightsOf, type Leg, type Turn } from './walk';

/** A way that was made of samples' own places may miss them by this much, in m: less than anybody clicks. */
const WAY_M = 0.05;

/** Turns of a way of which every spot lies within a distance, at its own time, of the straight between the turns round it (Douglas and Peucker, by time). */
function simplified(spots: readonly Turn[], withinM: number): Turn[] {
  const keep = new Uint8Array(spots.length);
  keep[0] = keep[spots.length - 1] = 1;
  const open: Array<readonly [number, number]> = [[0, spots.length - 1]];
  for (let piece = open.pop(); piece !== undefined; piece = open.pop()) {
    const [a, b] = piece;
    let [worst, away] = [-1, withinM];
    for (let i = a + 1; i < b; i++) {
      const at = positionAt({ leg: 0, from: spots[a]!, to: spots[b]! }, spots[i]!.tMs);
      const off = Math.hypot(at.xM - spots[i]!.xM, at.yM - spots[i]!.yM);
      if (off > away) [worst, away] = [i, off];
    }
    if (worst < 0) continue;
    keep[worst] = 1;
    open.push([a, worst], [worst, b]);
  }
  return spots.filter((_, i) => keep[i] === 1);
}

/**
 * The way that samples with places of their own were taken along, leg by leg, and the samples with their legs numbered from 0, in the order of time. A leg of more turns than are kept is
 * made coarser.
 * @param mostTurns that a leg may have
 */
export function wayOf(samples: readonly Sample[], mostTurns: number): { legs: Leg[]; samples: Sample[] } {
  const numbers = [...new Set(samples.map(({ leg }) => leg))].sort((a, b) => a - b);
  const legs: Leg[] = [];
  const ordered: Sample[] = [];
  numbers.forEach((number, leg) => {
    const own = samples.filter((sample) => sample.leg === number).sort((a, b) => a.tMs - b.tMs);
    ordered.push(...own.map((sample) => ({ ...sample, leg })));
    const spots: Turn[] = [];
    // Of what was heard at one time the first says where.
    for (const { xM, yM, tMs } of own) if (spots.at(-1)?.tMs !== tMs) spots.push({ xM, yM, tMs });
    if (spots.length === 1) spots.push({ ...spots[0]!, tMs: spots[0]!.tMs + 1 });
    let turns = simplified(spots, WAY_M);
    for (let withinM = 2 * WAY_M; turns.length > mostTurns; withinM *= 2) turns = simplified(spots, withinM);
    legs.push({ turns });
  });
  return { legs, samples: ordered };
}

/** A beacon as a receiver heard it: whose, on which channel, how strong. */
export type HeardBeacon = Readonly<{ bssid: string; ssid: string; band: Band; channel: number; widthMhz: WidthMhz; rssiDbm: number }>;

/** A beacon of a capture, with when it came and, where the capture says so, where it was heard. */
export type CapturedBeacon = HeardBeacon & Readonly<{ timeUs: number; place: (PointM & { leg: number }) | null }>;

/** A level as samples are stored: whole, and no louder than 0 dBm, which only what is held to an antenna reads. */
export const storedDbm = (rssiDbm: number): number => Math.round(Math.max(-120, Math.min(0, rssiDbm)));

/** What of a capture lies along a walk's way; `outside`: beacons of times at which nobody walked. */
export type AlongWay = Readonly<{ samples: Sample[]; outside: number }>;

/** Whose an address is: the id of an access point; null for somebody else's. */
export type OwnerOf = (bssid: string) => string | null;

const sampleOf = (
  { bssid, ssid, band, channel, widthMhz, rssiDbm }: HeardBeacon,
  at: PointM & { leg: number; tMs: number },
  ownerOf: OwnerOf,
): Sample => ({
  leg: at.leg,
  tMs: at.tMs,
  xM: at.xM,
  yM: at.yM,
  bssid,
  ssid: ssid.slice(0, 32),
  apId: ownerOf(bssid),
  band,
  channel,
  widthMhz,
  rssiDbm: storedDbm(rssiDbm),
});

/**
 * The beacons of a capture as samples along a walk's clicks.
 * @param startUs when the walk began, on the capture's clock, in microseconds
 */
export function samplesAlong(beacons: readonly CapturedBeacon[], legs: readonly Leg[], startUs: number, ownerOf: OwnerOf): AlongWay {
  const straights = straightsOf(legs);
  const samples: Sample[] = [];
  let [at, outside] = [0, 0];
  for (const beacon of [...beacons].sort((a, b) => a.timeUs - b.timeUs)) {
    const tMs = (beacon.timeUs - startUs) / 1000;
    while (at < straights.length && straights[at]!.to.tMs < tMs) at++;
    const straight = straights[at];
    if (straight === undefined || tMs < straight.from.tMs) {
      outside++;
      continue;
    }
    samples.push(sampleOf(beacon, { ...positionAt(straight, tMs), leg: straight.leg, tMs }, ownerOf));
  }
  return { samples, outside };
}

/** The beacons of a capture that says itself where they were heard; `startUs` is the first one's time. */
export function samplesPlaced(beacons: readonly CapturedBeacon[], ownerOf: OwnerOf): { samples: Sample[]; startUs: number } {
  const placed = beacons.filter(({ place }) => place !== null);
  const startUs = placed.reduce((least, { timeUs }) => Math.min(least, timeUs), Infinity);
  return { startUs, samples: placed.map((beacon) => sampleOf(beacon, { ...beacon.place!, tMs: (beacon.timeUs - startUs) / 1000 }, ownerOf)) };
}
