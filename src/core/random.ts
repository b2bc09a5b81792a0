/** Seeded randomness: the same seed gives the same numbers on every machine and any number of workers. */

/** A 32-bit hash of a text (FNV-1a with a final mix), so that a record's id can be a seed independent of order. */
export function hashText(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return (h ^ (h >>> 16)) >>> 0;
}

/** A source of uniform numbers in [0, 1). */
export type Uniform = () => number;

/** A seeded uniform source (mulberry32: 32 bits of state, period 2^32, ample for simulation; not for secrets). */
export function seeded(seed: number | string): Uniform {
  let state = typeof seed === 'string' ? hashText(seed) : seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A standard normal number (mean 0, deviation 1), by the Box-Muller transform. */
export function normal(uniform: Uniform): number {
  const radius = Math.sqrt(-2 * Math.log(1 - uniform()));
  return radius * Math.cos(2 * Math.PI * uniform());
}
