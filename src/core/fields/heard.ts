import type { Medium } from '../propagation/medium';
import { sightLine, type SightLine, type Spot } from '../propagation/ray';
import type { Emitter, Station } from '../propagation/station';
import { BANDS } from '../radio/band';
import type { Channel } from '../radio/channel';
import { CCA_PREAMBLE_DBM, noiseDbm } from '../radio/noise';
import { sharesPrimary } from '../radio/overlap';
import type { Receiver } from '../radio/receiver';
import { lossFromTo } from './between';

/** One radio heard at a spot. `shares`: it takes airtime from the radio that serves here, and which end hears it. */
export type Heard<T> = Readonly<{
  of: T;
  channel: Channel;
  rssiDbm: number;
  snrDb: number;
  line: SightLine;
  shares: 'no' | 'client hears it' | 'AP hears it';
}>;

/** Every radio heard at a spot at `ignoreBelowDbm` or more, strongest first; computed ray by ray, so that each value can show its walls. */
export function heardAt<T>(
  medium: Medium,
  radios: ReadonlyArray<Emitter & Readonly<{ of: T }>>,
  at: Spot,
  receiver: Receiver,
  ignoreBelowDbm: number,
): Heard<T>[] {
  const all = radios
    .map((radio) => {
      const line = sightLine(medium, radio.pose, radio.antenna, radio.channel.band, at, receiver.gainDbi);
      return { radio, line, rssiDbm: radio.txPowerDbm - line.lossDb };
    })
    .filter(({ rssiDbm }) => rssiDbm >= ignoreBelowDbm)
    .sort((a, b) => b.rssiDbm - a.rssiDbm);
  const server = all[0]?.radio;
  return all.map(({ radio, line, rssiDbm }) => {
    const { band, widthMhz } = radio.channel;
    let shares: Heard<T>['shares'] = 'no';
    if (server !== undefined && radio !== server && sharesPrimary(radio.channel, server.channel)) {
      const atServer = radio.txPowerDbm - lossFromTo(medium, stationOf(radio), stationOf(server), band);
      if (atServer >= CCA_PREAMBLE_DBM) shares = 'AP hears it';
      else if (rssiDbm >= CCA_PREAMBLE_DBM) shares = 'client hears it';
    }
    return { of: radio.of, channel: radio.channel, rssiDbm, snrDb: rssiDbm - noiseDbm(band, widthMhz, receiver.noiseFigureDb), line, shares };
  });
}

/** A radio as an access point that has no other. */
const stationOf = ({ pose, antenna, channel }: Emitter): Station => ({
  pose,
  antennas: BANDS.map((band) => (band === channel.band ? antenna : null)),
});
