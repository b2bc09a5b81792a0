import type { Band } from './band';
import { channelExists } from './channel';

/** As many 20 MHz channels as the widest band has. */
const MOST_CHANNELS = 59;

/** Channel numbers as they are written: 36 to 48 by four, or one by one. */
const CHANNELS = /^\s*(\d+)\s*(?:-|–|to)\s*(\d+)\s*$/;

/** The channels of a text, 36-48, 100; null where it has others than a band has. */
export function channelsOf(text: string, band: Band): number[] | null {
  const step = band === '2.4' ? 1 : 4;
  const found = text
    .split(/[,;]+/)
    .filter((part) => part.trim() !== '')
    .flatMap((part) => {
      const [, first, last] = CHANNELS.exec(part) ?? [];
      if (first === undefined || last === undefined) return [Number(part)];
      const count = Math.min(MOST_CHANNELS + 1, Math.floor((Number(last) - Number(first)) / step) + 1);
      return count < 1 ? [NaN] : Array.from({ length: count }, (_, i) => Number(first) + i * step);
    });
  const channels = [...new Set(found)].sort((a, b) => a - b);
  const known = channels.length > 0 && channels.length <= MOST_CHANNELS;
  return known && channels.every((primary) => channelExists({ band, primary, widthMhz: 20 })) ? channels : null;
}

/** Channels as they are read: what follows each other as from–to. */
export function channelsText(channels: readonly number[], band: Band): string {
  const step = band === '2.4' ? 1 : 4;
  const runs: Array<[number, number]> = [];
  for (const channel of channels) {
    const last = runs.at(-1);
    if (last !== undefined && channel === last[1] + step) last[1] = channel;
    else runs.push([channel, channel]);
  }
  return runs.map(([first, last]) => (first === last ? String(first) : `${first}–${last}`)).join(', ');
}
