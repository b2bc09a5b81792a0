import { LIMITS } from '@/core/design/limits';

/** Channel numbers out of a text; null where something in it is none, or there are too many. */
export function channelsIn(text: string): number[] | null {
  const parts = text.split(/[\s,;]+/).filter((part) => part !== '');
  const numbers = parts.map(Number);
  return numbers.every((n) => Number.isInteger(n) && n >= 1 && n <= 233) && numbers.length <= LIMITS.scannedChannels ? numbers : null;
}

/** What is wrong with a text of channel numbers; null where nothing is. */
export const channelsProblem = (text: string): string | null =>
  channelsIn(text) === null ? 'Channel numbers, as 1, 6, 36; leave it empty for all.' : null;
