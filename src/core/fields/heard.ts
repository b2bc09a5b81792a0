import type { Panes } from '../building/panes';
import { sightLine, type Pose, type SightLine } from '../propagation/ray';
import type { Antenna } from '../radio/antenna';
import type { Channel } from '../radio/channel';
import { CCA_PREAMBLE_DBM, noiseDbm } from '../radio/noise';
import { sharesPrimary } from '../radio/overlap';

/** A radio that is on, for a single spot: no field needed. */
export type SpotRadio<T> = Readonly<{ of: T; pose: Pose; antenna: Antenna; channel: Channel; txPowerDbm: number }>;

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
  panes: Panes,
  exponent: number,
  radios: readonly SpotRadio<T>[],
  xM: number,
  yM: number,
  heightM: number,
  ignoreBelowDbm: number,
): Heard<T>[] {
  const all = radios
    .map((radio) => {
      const line = sightLine(panes, radio.pose, radio.antenna, exponent, radio.channel.band, xM, yM, heightM);
      return { radio, line, rssiDbm: radio.txPowerDbm - line.lossDb };
    })
    .filter(({ rssiDbm }) => rssiDbm >= ignoreBelowDbm)
    .sort((a, b) => b.rssiDbm - a.rssiDbm);
  const server = all[0]?.radio;
  return all.map(({ radio, line, rssiDbm }) => {
    let shares: Heard<T>['shares'] = 'no';
    if (server !== undefined && radio !== server && sharesPrimary(radio.channel, server.channel)) {
      const atServer =
        radio.txPowerDbm -
        sightLine(panes, radio.pose, radio.antenna, exponent, radio.channel.band, server.pose.xM, server.pose.yM, server.pose.heightM).lossDb;
      if (atServer >= CCA_PREAMBLE_DBM) shares = 'AP hears it';
      else if (rssiDbm >= CCA_PREAMBLE_DBM) shares = 'client hears it';
    }
    return { of: radio.of, channel: radio.channel, rssiDbm, snrDb: rssiDbm - noiseDbm(radio.channel.band, radio.channel.widthMhz), line, shares };
  });
}
