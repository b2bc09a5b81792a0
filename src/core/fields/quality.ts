import type { Band, WidthMhz } from '../radio/band';
import { middlePowerDbm } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import { WIDEST_MHZ, phyBetween, rateSteps, type Generation, type Phy, type RateStep } from '../radio/rates';
import { AP_NOISE_FIGURE_DB, type Receiver } from '../radio/receiver';
import type { LitRadio, TopThree } from './combine';

/** Which way data goes: to the client, from it, or the worse of both. */
export const DIRECTIONS = ['down', 'up', 'both'] as const;
export type Direction = (typeof DIRECTIONS)[number];

/** How a radio and a client speak: layer, width, streams, and the rate by SNR. */
export type Link = Readonly<{ phy: Phy; widthMhz: WidthMhz; steps: readonly RateStep[]; noiseDownDbm: number; noiseUpDbm: number }>;

const links = new Map<string, Link>();

/** What both ends can do: the older layer, the narrower width, the fewer streams. */
export function linkOf(
  radio: Readonly<{ channel: Readonly<{ band: Band; widthMhz: WidthMhz }>; streams: number; generation: Generation }>,
  client: Receiver,
): Link {
  const { band } = radio.channel;
  const phy = phyBetween(radio.generation, client.generation, band);
  const widthMhz = Math.min(radio.channel.widthMhz, client.maxWidthMhz, WIDEST_MHZ[phy]) as WidthMhz;
  const streams = Math.min(radio.streams, client.streams);
  const key = `${phy}/${widthMhz}/${streams}/${band}/${client.noiseFigureDb}`;
  const known = links.get(key);
  if (known !== undefined) return known;
  const link: Link = {
    phy,
    widthMhz,
    steps: rateSteps(phy, widthMhz, streams),
    noiseDownDbm: noiseDbm(band, widthMhz, client.noiseFigureDb),
    noiseUpDbm: noiseDbm(band, widthMhz, AP_NOISE_FIGURE_DB),
  };
  links.set(key, link);
  return link;
}

/** SNR at the end that receives, in dB, where the access point arrives at `levelDbm`: the way is the same both ways, powers and noise are not. */
export function snrOf({ noiseDownDbm, noiseUpDbm }: Link, txPowerDbm: number, client: Receiver, levelDbm: number, direction: Direction): number {
  const down = levelDbm - noiseDownDbm;
  const up = levelDbm - txPowerDbm + client.txPowerDbm - noiseUpDbm;
  return direction === 'down' ? down : direction === 'up' ? up : Math.min(down, up);
}

/**
 * The best rate of the serving radio at each cell, in Mb/s, or its MCS; NaN where nobody serves or no rate is reached. By SNR: without interference, and
 * before airtime is shared or spent on anything but data.
 */
export function ratesInto(
  top: TopThree,
  radios: readonly LitRadio[],
  client: Receiver,
  direction: Direction,
  what: 'mbps' | 'mcs',
  ignoreBelowDbm: number,
  out: Float32Array,
): void {
  const of = radios.map((radio) => linkOf(radio, client));
  const needed = of.map(({ steps }) => Float64Array.from(steps, ({ snrDb }) => snrDb));
  const value = of.map(({ steps }) => Float64Array.from(steps, (step) => step[what]));
  for (let i = 0; i < top.cells; i++) {
    const s = top.radio[i]!;
    const level = top.level[i]!;
    out[i] = NaN;
    if (!(level >= ignoreBelowDbm)) continue;
    const snrDb = snrOf(of[s]!, radios[s]!.txPowerDbm, client, level, direction);
    const from = needed[s]!;
    let reached = -1;
    while (reached + 1 < from.length && snrDb >= from[reached + 1]!) reached++;
    if (reached >= 0) out[i] = value[s]![reached]!;
  }
}

/** How much louder the client arrives at its access point than the access point at it, in dB; NaN where nobody serves. Below zero the client is the weaker end. */
export function balanceInto(top: TopThree, radios: readonly LitRadio[], client: Receiver, ignoreBelowDbm: number, out: Float32Array): void {
  for (let i = 0; i < top.cells; i++) out[i] = top.level[i]! >= ignoreBelowDbm ? client.txPowerDbm - radios[top.radio[i]!]!.txPowerDbm : NaN;
}

/** How many radios are heard at `ignoreBelowDbm` or more at each cell. */
export function heardCountInto(radios: readonly LitRadio[], ignoreBelowDbm: number, out: Float32Array): void {
  out.fill(0);
  for (const radio of radios) {
    const { lossDb } = radio;
    const powerDbm = middlePowerDbm(radio);
    for (let i = 0; i < out.length; i++) if (powerDbm - lossDb[i]! >= ignoreBelowDbm) out[i]!++;
  }
}
