import { LIMITS } from './limits';

/** Names in the order a person counts: Q-2 before Q-10. One collator for all: made anew for each pair, 200 names take as long as a frame. */
export const inOrder: (a: string, b: string) => number = new Intl.Collator('en', { numeric: true }).compare;

/** A name that none of these has: the wish, else with the first free number; no longer than a name may be. */
export function freeName(wish: string, taken: Iterable<Readonly<{ name: string }>>): string {
  const names = new Set(Array.from(taken, ({ name }) => name));
  for (let n = 1; ; n++) {
    const mark = n === 1 ? '' : ` ${n}`;
    const name = `${wish.slice(0, LIMITS.nameLength - mark.length)}${mark}`;
    if (!names.has(name)) return name;
  }
}
