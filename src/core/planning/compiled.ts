import type { Assignment } from './choiceProblem';

/**
 * A group of radios of an assignment, with the costs of every pair laid out for moves. Options are numbered once for all radios; only those that
 * meet (can cost anything together) are in the tables.
 */
export type Compiled = Readonly<{
  n: number;
  /** Distinct options. */
  size: number;
  /** Options of each radio. */
  lists: readonly Int32Array[];
  /** What an option costs its radio alone, at [r * size + a]; Infinity where it may not have it. */
  single: Float64Array;
  /** Neighbours of radio r are `other[edge]` for the edges first[r] to first[r + 1]. */
  first: Int32Array;
  other: Int32Array;
  /** Options that option a meets are `meets[p]` for the places row[a] to row[a + 1]. */
  row: Int32Array;
  meets: Int32Array;
  places: number;
  /** What the two ends of an edge cost together, both ways, when its own radio has a and the other `meets[p]`: at [edge * places + p]. */
  cost: Float32Array;
}>;

/** Lays out a group of radios; indices of the result are places in `group`. */
export function compile(problem: Assignment, group: readonly number[]): Compiled {
  const n = group.length;
  const kinds = problem.kinds ?? { size: Math.max(...problem.sizes), of: (_r: number, a: number) => a, overlap: () => true, rank: () => 0 };
  const { size } = kinds;
  const at = new Map(group.map((r, i) => [r, i]));
  const single = new Float64Array(n * size).fill(Infinity);
  /** Which of a radio's own options a distinct one is; -1 for none. */
  const own = new Int32Array(n * size).fill(-1);
  const lists = group.map((r, i) =>
    Int32Array.from({ length: problem.sizes[r]! }, (_, a) => {
      const option = kinds.of(r, a);
      single[i * size + option] = problem.single(r, a);
      own[i * size + option] = a;
      return option;
    }),
  );
  const rows = Array.from({ length: size }, (_, a) => Array.from({ length: size }, (__, b) => b).filter((b) => kinds.overlap(a, b)));
  const row = new Int32Array(size + 1);
  rows.forEach((list, a) => (row[a + 1] = row[a]! + list.length));
  const meets = Int32Array.from(rows.flat());
  const places = meets.length;
  /** The place of the same two options the other way round. */
  const turned = new Int32Array(places);
  rows.forEach((list, a) => list.forEach((b, k) => (turned[row[a]! + k] = row[b]! + rows[b]!.indexOf(a))));

  const neighbours = group.map((r) => problem.neighbours[r]!.flatMap((s) => at.get(s) ?? []));
  const first = new Int32Array(n + 1);
  neighbours.forEach((list, i) => (first[i + 1] = first[i]! + list.length));
  const other = Int32Array.from(neighbours.flat());
  const cost = new Float32Array(other.length * places);
  const edgeOf = neighbours.map((list, i) => new Map(list.map((s, k) => [s, first[i]! + k])));
  for (let i = 0; i < n; i++) {
    for (let edge = first[i]!; edge < first[i + 1]!; edge++) {
      const j = other[edge]!;
      if (j < i) continue;
      const back = edgeOf[j]!.get(i)!;
      for (let a = 0; a < size; a++) {
        const ownA = own[i * size + a]!;
        if (ownA < 0) continue;
        for (let p = row[a]!; p < row[a + 1]!; p++) {
          const ownB = own[j * size + meets[p]!]!;
          if (ownB < 0) continue;
          const value = problem.pair(group[i]!, ownA, group[j]!, ownB);
          cost[edge * places + p] = value;
          cost[back * places + turned[p]!] = value;
        }
      }
    }
  }
  return { n, size, lists, single, first, other, row, meets, places, cost };
}

/** What the two radios of an edge cost together. */
export function pairCost({ row, meets, places, cost }: Compiled, edge: number, a: number, b: number): number {
  for (let p = row[a]!; p < row[a + 1]!; p++) if (meets[p] === b) return cost[edge * places + p]!;
  return 0;
}

/** Cost of a choice of options. */
export function compiledCost(c: Compiled, x: Int32Array): number {
  let sum = 0;
  for (let r = 0; r < c.n; r++) {
    sum += c.single[r * c.size + x[r]!]!;
    for (let edge = c.first[r]!; edge < c.first[r + 1]!; edge++) if (c.other[edge]! > r) sum += pairCost(c, edge, x[r]!, x[c.other[edge]!]!);
  }
  return sum;
}
