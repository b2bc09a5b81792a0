import { DAY_MS } from '@/core/spectrum/signal';

const two = (value: number): string => String(value).padStart(2, '0');

/** A simulated time of the day, to the second. */
export function clock(atMs: number): string {
  const s = Math.floor((((atMs % DAY_MS) + DAY_MS) % DAY_MS) / 1000);
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`;
}

/** A time of the day that was typed, in hours; null where it is none. */
export function hourOf(text: string): number | null {
  const found = /^\s*(\d{1,2})(?::(\d{2}))?(?::(\d{2}))?\s*$/.exec(text);
  if (found === null) return null;
  const [h, m, s] = [Number(found[1]), Number(found[2] ?? 0), Number(found[3] ?? 0)];
  return h < 24 && m < 60 && s < 60 ? h + m / 60 + s / 3600 : null;
}
