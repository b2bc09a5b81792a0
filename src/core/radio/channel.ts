import { UpperRoomError } from '../errors';
import type { Band, WidthMhz } from './band';

/**
 * A channel as an access point is set: primary 20 MHz channel number and total width.
 * Numbering: IEEE 802.11-2020, 15.4.4.3 (2.4 GHz), 21.3.14 (5 GHz); IEEE 802.11ax-2021, 27.3.23.2 (6 GHz).
 */
export type Channel = Readonly<{ band: Band; primary: number; widthMhz: WidthMhz }>;

/** Blocks of bonded channels start at these numbers; a block of width w holds w / 20 channels, four numbers apart. */
const STARTS: Readonly<Record<Exclude<Band, '2.4'>, ReadonlyArray<{ first: number; count: number }>>> = {
  '5': [
    { first: 36, count: 8 },
    { first: 100, count: 12 },
    { first: 149, count: 8 },
  ],
  '6': [{ first: 1, count: 59 }],
};

/** The first 20 MHz channel number of the block that `primary` bonds into; `null` when there is no such block. */
function blockStart({ band, primary, widthMhz }: Channel): number | null {
  if (band === '2.4') return null;
  for (const { first, count } of STARTS[band]) {
    const position = (primary - first) / 4;
    if (!Number.isInteger(position) || position < 0 || position >= count) continue;
    const perBlock = widthMhz / 20;
    const blockFirst = Math.floor(position / perBlock) * perBlock;
    return blockFirst + perBlock <= count ? first + blockFirst * 4 : null;
  }
  return null;
}

/**
 * Centre of the occupied spectrum, in MHz. A 40 MHz channel at 2.4 GHz bonds upward from primaries 1..7 and downward from 8..13.
 * @throws UpperRoomError CHANNEL_UNKNOWN
 */
export function centreMhz(channel: Channel): number {
  const { band, primary, widthMhz } = channel;
  if (band === '2.4') {
    const known = Number.isInteger(primary) && primary >= 1 && primary <= 14 && (widthMhz === 20 || (widthMhz === 40 && primary <= 13));
    if (!known) throw new UpperRoomError('CHANNEL_UNKNOWN', { ...channel });
    const own = primary === 14 ? 2484 : 2407 + 5 * primary;
    return widthMhz === 20 ? own : own + (primary <= 7 ? 10 : -10);
  }
  const start = blockStart(channel);
  if (start === null) throw new UpperRoomError('CHANNEL_UNKNOWN', { ...channel });
  const bandStartMhz = band === '5' ? 5000 : 5950;
  return bandStartMhz + 5 * (start + 2 * (widthMhz / 20 - 1));
}

/** The 20 MHz channel numbers that the channel occupies, in order. @throws UpperRoomError CHANNEL_UNKNOWN */
export function occupied20(channel: Channel): number[] {
  const { band, primary, widthMhz } = channel;
  centreMhz(channel);
  if (band === '2.4') return widthMhz === 20 ? [primary] : primary <= 7 ? [primary, primary + 4] : [primary - 4, primary];
  const start = blockStart(channel)!;
  return Array.from({ length: widthMhz / 20 }, (_, i) => start + 4 * i);
}

/** Whether the band has this channel at this width at all (before any regulation). */
export function channelExists(channel: Channel): boolean {
  if (channel.band === '2.4')
    return channel.primary >= 1 && channel.primary <= 14 && (channel.widthMhz === 20 || (channel.widthMhz === 40 && channel.primary <= 13));
  return blockStart(channel) !== null;
}

/** How the trade writes it: primary/width, as 36/80. */
export const channelLabel = (c: Pick<Channel, 'primary' | 'widthMhz'>): string => `${c.primary}/${c.widthMhz}`;
