import type { Medium } from '../propagation/medium';
import { sightLine, type SightLine, type Spot } from '../propagation/ray';
import type { Emitter, Station } from '../propagation/station';
import { BANDS } from '../radio/band';
import type { Channel } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import type { Receiver } from '../radio/receiver';
import { kindAt, sharingOf, type SharingKind } from '../radio/sharing';
import { lossFromTo } from './between';

/** What a radio takes from the one that serves at a spot, and which end hears it; an antenna that hears it comes before the client. */
export type Takes = Readonly<{ kind: SharingKind; heardBy: 'AP' | 'client' | null; widthLost: number; noiseShare: number }>;

/** One radio heard at a spot. `takes` is null for the radio that serves here. */
export type Heard<T> = Readonly<{ of: T; channel: Channel; rssiDbm: number; snrDb: number; line: SightLine; takes: Takes | null }>;

/**
 * Every radio heard at a spot at `ignoreBelowDbm` or more, or that takes airtime or width from the one that serves here, strongest first;
 * computed ray by ray, so that each value can show its walls. Nobody serves where even the strongest is below `ignoreBelowDbm`.
 * @param listFromDbm from which level radios are listed; lower than what is ignored where somebody asks why
 */
export function heardAt<T>(
  medium: Medium,
  radios: ReadonlyArray<Emitter & Readonly<{ of: T }>>,
  at: Spot,
  receiver: Receiver,
  ignoreBelowDbm: number,
  listFromDbm = ignoreBelowDbm,
): Heard<T>[] {
  const all = radios
    .map((radio) => {
      const line = sightLine(medium, radio.pose, radio.antenna, radio.channel.band, at, receiver.gainDbi);
      return { radio, line, rssiDbm: radio.txPowerDbm - line.lossDb };
    })
    .sort((a, b) => b.rssiDbm - a.rssiDbm);
  const server = all[0] !== undefined && all[0].rssiDbm >= ignoreBelowDbm ? all[0].radio : undefined;
  return all
    .map(({ radio, line, rssiDbm }): Heard<T> => {
      const { band, widthMhz } = radio.channel;
      const takes = server === undefined || radio === server ? null : takesFrom(medium, server, radio, rssiDbm);
      return { of: radio.of, channel: radio.channel, rssiDbm, snrDb: rssiDbm - noiseDbm(band, widthMhz, receiver.noiseFigureDb), line, takes };
    })
    .filter(({ rssiDbm, takes }) => rssiDbm >= listFromDbm || (takes !== null && takes.heardBy !== null));
}

/** What `other` takes from `server` where a client hears `other` at `atClientDbm`. */
function takesFrom(medium: Medium, server: Emitter, other: Emitter, atClientDbm: number): Takes {
  const sharing = sharingOf(server.channel, other.channel);
  const { widthLost, noiseShare } = sharing;
  const atServerDbm = noiseShare > 0 ? other.txPowerDbm - lossFromTo(medium, stationOf(other), stationOf(server), server.channel.band) : -Infinity;
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
  antennas: BANDS.map((band) => (band === channel.band ? antenna : null)),
});
