import type { Hours } from '@/core/spectrum/signal';

const clock = (hour: number): string =>
  `${String(Math.floor(hour + 1e-9)).padStart(2, '0')}:${String(Math.round((hour % 1) * 60) % 60).padStart(2, '0')}`;

/** Hours of the day as they are read: 11:30–14:00; nothing for always. */
export const hoursText = (hours: Hours): string => hours.map(([from, to]) => `${clock(from)}–${clock(to)}`).join(', ');

/** The hours of a text, 11:30-14:00, 16-17; null where it says something else. */
export function hoursOf(text: string): Hours | null {
  const parts = text.split(/[,;]/).filter((part) => part.trim() !== '');
  const hours = parts.map((part): readonly [number, number] | null => {
    const found = /^\s*(\d{1,2})(?::(\d{2}))?\s*(?:-|–|to)\s*(\d{1,2})(?::(\d{2}))?\s*$/.exec(part);
    if (found === null) return null;
    const [from, to] = [Number(found[1]) + Number(found[2] ?? 0) / 60, Number(found[3]) + Number(found[4] ?? 0) / 60];
    return from <= 24 && to <= 24 && Number(found[2] ?? 0) < 60 && Number(found[4] ?? 0) < 60 ? [from, to] : null;
  });
  return hours.every((one) => one !== null) ? hours : null;
}
