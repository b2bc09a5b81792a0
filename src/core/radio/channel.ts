import { UpperRoomError } from '../errors';
import { WIDTHS_MHZ, centreOfBandMhz, numberingOf, perBand, type Band, type WidthMhz } from './band';

/**
 * A channel as an access point is set: primary 20 MHz channel number and total width. Of the two overlapping sets of 320 MHz channels the first
 * is taken (320 MHz-1, centres 31, 95, 159; IEEE 802.11be-2024, 36.3.24.2).
 */
export type Channel = Readonly<{ band: Band; primary: number; widthMhz: WidthMhz }>;

/** The channel of a radio as it is stored. */
export const channelOf = ({ band, channel, widthMhz }: Readonly<{ band: Band; channel: number; widthMhz: WidthMhz }>): Channel => ({
  band,
  primary: channel,
  widthMhz,
});

/** The 20 MHz channel numbers of the block, in order; `null` when the band has no such channel. */
function blockOf({ band, primary, widthMhz }: Channel): number[] | null {
  const numbering = numberingOf(band);
  const parts = widthMhz / 20;
  if (numbering.kind === 'overlapping') {
    const { last, apart, bondsUpTo } = numbering;
    if (!Number.isInteger(primary) || primary < 1) return null;
    if (parts === 1) return primary <= last || Object.hasOwn(apart, primary) ? [primary] : null;
    if (parts > 2 || primary > last) return null;
    return primary <= bondsUpTo ? [primary, primary + 4] : [primary - 4, primary];
  }
  for (const { first, count } of numbering.runs) {
    const position = (primary - first) / 4;
    if (!Number.isInteger(position) || position < 0 || position >= count) continue;
    const start = Math.floor(position / parts) * parts;
    return start + parts <= count ? Array.from({ length: parts }, (_, i) => first + (start + i) * 4) : null;
  }
  return null;
}

/** The 20 MHz channel numbers that the channel occupies, in order. @throws UpperRoomError CHANNEL_UNKNOWN */
export function occupied20(channel: Channel): number[] {
  const block = blockOf(channel);
  if (block === null) throw new UpperRoomError('CHANNEL_UNKNOWN', { ...channel });
  return block;
}

/**
 * Centre of the occupied spectrum, in MHz. A 40 MHz channel at 2.4 GHz bonds upward from primaries 1..7 and downward from 8..13.
 * @throws UpperRoomError CHANNEL_UNKNOWN
 */
export function centreMhz(channel: Channel): number {
  const block = occupied20(channel);
  const numbering = numberingOf(channel.band);
  if (numbering.kind === 'overlapping' && Object.hasOwn(numbering.apart, channel.primary)) return numbering.apart[channel.primary]!;
  return numbering.zeroMhz + (5 * (block[0]! + block.at(-1)!)) / 2;
}

/** Whether the band has this channel at this width at all (before any regulation). */
export const channelExists = (channel: Channel): boolean => blockOf(channel) !== null;

/** The frequency at which what a channel loses on its way is taken, in MHz: its centre; the band's middle for a channel that the band does not have. */
export const pathMhz = (channel: Channel): number => (channelExists(channel) ? centreMhz(channel) : centreOfBandMhz(channel.band));

/** The frequencies of some channels by band, in the order of BANDS; null for a band of which none is given. */
export const centresOf = (channels: readonly Channel[]): Array<number | null> =>
  perBand((band) => {
    const channel = channels.find((candidate) => candidate.band === band);
    return channel === undefined ? null : pathMhz(channel);
  });

/**
 * What the path costs more at a frequency than at its band's middle, for which loss fields hold it, in dB; below 0 for lower ones. Free space alone: 20 log10 of their ratio
 * (ITU-R P.525).
 */
export const offMiddleAtDb = (band: Band, centreMhz: number): number => 20 * Math.log10(centreMhz / centreOfBandMhz(band));

/** As `offMiddleAtDb`, at a channel's frequency. */
export const offMiddleDb = (channel: Channel): number => offMiddleAtDb(channel.band, pathMhz(channel));

/** What a radio would have to send at its band's middle to arrive as it does, in dBm: from this, less a loss of the band, comes every level. */
export const middlePowerDbm = ({ txPowerDbm, channel }: Readonly<{ txPowerDbm: number; channel: Channel }>): number =>
  txPowerDbm - offMiddleDb(channel);

/** The widths that a band has channels of, before any regulation. */
export const widthsOf = (band: Band): WidthMhz[] => {
  const numbering = numberingOf(band);
  const first = numbering.kind === 'blocks' ? numbering.runs[0]!.first : 1;
  return WIDTHS_MHZ.filter((widthMhz) => channelExists({ band, primary: first, widthMhz }));
};

/**
 * Whether the primary channel is a preferred scanning channel of 6 GHz: 5, 21, 37, ... Clients look there first (IEEE 802.11ax-2021, 26.17.2.3.3).
 */
export const isPreferredScanning = ({ band, primary }: Pick<Channel, 'band' | 'primary'>): boolean => band === '6' && primary % 16 === 5;

/** How the trade writes it: primary/width, as 36/80. */
export const channelLabel = (c: Pick<Channel, 'primary' | 'widthMhz'>): string => `${c.primary}/${c.widthMhz}`;

/** The three channels of 2.4 GHz whose masks part (IEEE 802.11-2020, 15.4.4.3: 25 MHz apart). */
export const APART_24 = [1, 6, 11] as const;

/** Whether a channel of 2.4 GHz lies over others that part, or is as wide as two of them: there a radio is noise to two others instead of one that takes turns. */
export const liesBetween = ({ band, primary, widthMhz }: Channel): boolean =>
  band === '2.4' && (widthMhz > 20 || !(APART_24 as readonly number[]).includes(primary));
