/**
 * A weighted assignment: each of n radios takes one of its options; `single(r, a)` is what option a costs radio r alone,
 * `pair(r, a, s, b)` what the two choices cost together (both directions).
 */
export type Assignment = Readonly<{
  sizes: readonly number[];
  single: (radio: number, option: number) => number;
  pair: (r: number, a: number, s: number, b: number) => number;
  neighbours: readonly (readonly number[])[];
  /**
   * Where radios choose among the same things: how many distinct ones there are, which of them a radio's option is, which two can cost anything
   * together, and in which of the nested choices each comes first (narrow ones at 0, wider ones later): a larger choice is searched from the best
   * of the smaller, so that it never ends worse. Without it each position of the lists is one, and any two may cost.
   */
  kinds?: Readonly<{
    size: number;
    of: (radio: number, option: number) => number;
    overlap: (a: number, b: number) => boolean;
    rank: (a: number) => number;
  }>;
}>;
