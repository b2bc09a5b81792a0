import type { Medium } from '../propagation/medium';
import type { Spot } from '../propagation/crossing';
import { sightLine, type SightLine } from '../propagation/ray';
import type { Emitter, Station } from '../propagation/station';
import { WIDTHS_MHZ, perBand, type WidthMhz } from '../radio/band';
import { centresOf, channelExists, middlePowerDbm, pathMhz, type Channel } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import type { Receiver } from '../radio/receiver';
import { kindAt, sharingOf, type SharingKind } from '../radio/sharing';
import { lossFromTo } from './between';

/** What a radio takes from the one that serves at a spot, and which end hears it; an antenna that hears it comes before the client. */
export type Takes = Readonly<{ kind: SharingKind; heardBy: 'AP' | 'client' | null; widthLost: number; noiseShare: number }>;

/** One radio heard at a spot. `takes` is null for the radio that serves here. */
export type Heard<T> = Readonly<{ of: T; channel: Channel; rssiDbm: number; snrDb: number; line: SightLine; takes: Takes | null }>;

type Candidate<T> = Emitter & Readonly<{ of: T }>;
type Arrival<T> = Readonly<{ radio: Candidate<T>; line: SightLine; rssiDbm: number }>;

/** Every radio's ray to a spot, strongest first, and the one that serves there: none where even the strongest is ignored. */
function arrivalsAt<T>(
  medium: Medium,
  radios: readonly Candidate<T>[],
  at: Spot,
  receiver: Receiver,
  ignoreBelowDbm: number,
): { all: Arrival<T>[]; server: Candidate<T> | null } {
  const all = radios
    .map((radio) => {
      const line = sightLine(medium, radio.pose, radio.antenna, radio.channel.band, at, receiver.gainDbi, pathMhz(radio.channel));
      return { radio, line, rssiDbm: radio.txPowerDbm - line.lossDb };
    })
    .sort((a, b) => b.rssiDbm - a.rssiDbm);
  const [first] = all;
  return { all, server: first !== undefined && first.rssiDbm >= ignoreBelowDbm ? first.radio : null };
}

/** What was computed between two radios: it says nothing of the spot, and the next spot under the pointer asks for the same. */
const between = new WeakMap<Emitter, WeakMap<Emitter, { medium: Medium; dbm: number }>>();

/** Level of a radio at the antenna of another, in dBm. */
export function levelAtAp(medium: Medium, from: Emitter, to: Emitter): number {
  const known = between.get(from) ?? new WeakMap<Emitter, { medium: Medium; dbm: number }>();
  between.set(from, known);
  const before = known.get(to);
  if (before?.medium === medium) return before.dbm;
  const dbm = middlePowerDbm(from) - lossFromTo(medium, stationOf(from), stationOf(to), to.channel.band);
  known.set(to, { medium, dbm });
  return dbm;
}

/**
 * Every radio heard at a spot at `ignoreBelowDbm` or more, or that takes airtime or width from the one that serves here, strongest first;
 * computed ray by ray, so that each value can show its walls. Nobody serves where even the strongest is below `ignoreBelowDbm`.
 * @param listFromDbm from which level radios are listed; lower than what is ignored where somebody asks why
 */
export function heardAt<T>(
  medium: Medium,
  radios: readonly Candidate<T>[],
  at: Spot,
  receiver: Receiver,
  ignoreBelowDbm: number,
  listFromDbm = ignoreBelowDbm,
): Heard<T>[] {
  const { all, server } = arrivalsAt(medium, radios, at, receiver, ignoreBelowDbm);
  return all
    .map(({ radio, line, rssiDbm }): Heard<T> => {
      const { band, widthMhz } = radio.channel;
      const takes = server === null || radio === server ? null : takesFrom(medium, server, radio, rssiDbm);
      return { of: radio.of, channel: radio.channel, rssiDbm, snrDb: rssiDbm - noiseDbm(band, widthMhz, receiver.noiseFigureDb), line, takes };
    })
    .filter(({ rssiDbm, takes }) => rssiDbm >= listFromDbm || (takes !== null && takes.heardBy !== null));
}

/**
 * How many other radios the one that serves at a spot would meet in a channel of each width around its primary, heard by it or by its client;
 * null where there is no such channel. Empty where nobody serves. What the lens Overlap shows, for all widths at once.
 */
export function metByWidth<T>(
  medium: Medium,
  radios: readonly Candidate<T>[],
  at: Spot,
  receiver: Receiver,
  ignoreBelowDbm: number,
): Array<{ widthMhz: WidthMhz; count: number | null }> {
  const { all, server } = arrivalsAt(medium, radios, at, receiver, ignoreBelowDbm);
  if (server === null) return [];
  // Heard by either end: the louder of the two counts.
  const others = all
    .filter(({ radio }) => radio !== server)
    .map(({ radio, rssiDbm }) => ({ channel: radio.channel, dbm: Math.max(rssiDbm, levelAtAp(medium, radio, server)) }));
  return WIDTHS_MHZ.map((widthMhz) => {
    const wide = { ...server.channel, widthMhz };
    if (!channelExists(wide)) return { widthMhz, count: null };
    const met = others.filter((other) => ['airtime', 'width'].includes(kindAt(sharingOf(wide, other.channel), other.dbm)));
    return { widthMhz, count: met.length };
  });
}

/** What `other` takes from `server` where a client hears `other` at `atClientDbm`. */
function takesFrom(medium: Medium, server: Emitter, other: Emitter, atClientDbm: number): Takes {
  const sharing = sharingOf(server.channel, other.channel);
  const { widthLost, noiseShare } = sharing;
  // A radio whose spectrum is elsewhere needs no ray of its own to the antenna.
  const atServerDbm = noiseShare > 0 ? levelAtAp(medium, other, server) : -Infinity;
  const [atAp, atClient] = [kindAt(sharing, atServerDbm), kindAt(sharing, atClientDbm)];
  for (const kind of ['airtime', 'width'] as const) {
    if (atAp === kind) return { kind, heardBy: 'AP', widthLost, noiseShare };
    if (atClient === kind) return { kind, heardBy: 'client', widthLost, noiseShare };
  }
  return { kind: atClient, heardBy: null, widthLost, noiseShare };
}

/** A radio as an access point that has no other. */
const stationOf = ({ pose, antenna, channel }: Emitter): Station => ({
  pose,
  antennas: perBand((band) => (band === channel.band ? antenna : null)),
  centresMhz: centresOf([channel]),
});
