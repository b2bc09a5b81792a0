import { bandTaken, type BandRule } from '../radio/bandRule';
import type { TopThree } from './combine';

/** Which of some bands a client takes at each cell, as its place among them: by the strongest of each band, lowest band first. */
export function bandsTaken(rule: BandRule, tops: readonly TopThree[]): Uint8Array {
  const cells = tops[0]!.cells;
  const taken = new Uint8Array(cells);
  const strongest = new Float64Array(tops.length);
  for (let i = 0; i < cells; i++) {
    for (let b = 0; b < tops.length; b++) strongest[b] = tops[b]!.level[i]!;
    taken[i] = bandTaken(rule, strongest);
  }
  return taken;
}

/** Of each cell what the band says that is taken there. `into` may be the first of them. */
export function takeFrom<T extends Float32Array | Uint8Array>(taken: Uint8Array, of: readonly T[], into: T): T {
  for (let i = 0; i < taken.length; i++) into[i] = of[taken[i]!]![i]!;
  return into;
}

/** The strongest three of the band that is taken at each cell. @param places of each band, the places of its radios among all */
export function takeTop(taken: Uint8Array, tops: readonly TopThree[], places: ReadonlyArray<readonly number[]>): TopThree {
  const cells = taken.length;
  const all: TopThree = { cells, level: new Float32Array(cells * 3), radio: new Int16Array(cells * 3) };
  for (let rank = 0; rank < 3; rank++)
    for (let i = 0; i < cells; i++) {
      const at = rank * cells + i;
      const b = taken[i]!;
      const radio = tops[b]!.radio[at]!;
      all.level[at] = tops[b]!.level[at]!;
      all.radio[at] = radio < 0 ? -1 : places[b]![radio]!;
    }
  return all;
}

/** The mask where a band is taken. */
export const maskWhere = (mask: Uint8Array, taken: Uint8Array, band: number): Uint8Array => mask.map((inside, i) => (taken[i] === band ? inside : 0));
