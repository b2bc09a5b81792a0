import { hashText } from '../random';
import type { Assignment } from './choiceProblem';
import { compile, compiledCost, type Compiled } from './compiled';
import { proveLeast } from './exact';
import { search } from './search';

export type { Assignment } from './choiceProblem';

export type Solution = { choice: Int32Array; cost: number; exact: boolean };

/** Total cost of a choice. */
export function costOf(problem: Assignment, choice: ArrayLike<number>): number {
  let cost = 0;
  problem.sizes.forEach((_, r) => {
    cost += problem.single(r, choice[r]!);
    for (const s of problem.neighbours[r]!) if (s > r) cost += problem.pair(r, choice[r]!, s, choice[s]!);
  });
  return cost;
}

/** Groups of radios that cannot disturb each other, each to be solved alone. */
export function components(neighbours: readonly (readonly number[])[]): number[][] {
  const seen = new Uint8Array(neighbours.length);
  const groups: number[][] = [];
  for (let start = 0; start < neighbours.length; start++) {
    if (seen[start]) continue;
    const group = [start];
    seen[start] = 1;
    for (let k = 0; k < group.length; k++)
      for (const next of neighbours[group[k]!]!)
        if (!seen[next]) {
          seen[next] = 1;
          group.push(next);
        }
    groups.push(group.sort((a, b) => a - b));
  }
  return groups;
}

/** What a long search is told at each of its yields: true ends it with the best so far. */
export type Stop = boolean | undefined;

/** Proposals of the search for each radio of a group and each of the nested choices, within limits: two seconds for hundreds. */
const WORK = { perRadio: 150_000, least: 300_000, most: 28_000_000 };
/** Share of the work after which a proof is tried, and for how many looks. */
const BEFORE_PROOF = 0.1;
const PROOF_NODES = 60_000;

/** The assignment with the options of the nested choices up to a rank; `options[r]` says which they are. A radio that has none of these keeps all. */
function narrowed(problem: Assignment, upTo: number): { problem: Assignment; options: number[][] } {
  const { kinds } = problem;
  const all = problem.sizes.map((size) => Array.from({ length: size }, (_, a) => a));
  if (kinds === undefined) return { problem, options: all };
  const options = all.map((list, r) => {
    const kept = list.filter((a) => kinds.rank(kinds.of(r, a)) <= upTo);
    return kept.length > 0 ? kept : list;
  });
  // Numbered as if there were no others: a smaller choice is searched just as it would be alone.
  const left = [...new Set(options.flatMap((list, r) => list.map((a) => kinds.of(r, a))))].sort((a, b) => a - b);
  const numberOf = new Map(left.map((kind, i) => [kind, i]));
  return {
    options,
    problem: {
      sizes: options.map((list) => list.length),
      single: (r, a) => problem.single(r, options[r]![a]!),
      pair: (r, a, s, b) => problem.pair(r, options[r]![a]!, s, options[s]![b]!),
      neighbours: problem.neighbours,
      kinds: {
        size: left.length,
        of: (r, a) => numberOf.get(kinds.of(r, options[r]![a]!))!,
        overlap: (a, b) => kinds.overlap(left[a]!, left[b]!),
        rank: (a) => kinds.rank(left[a]!),
      },
    },
  };
}

/** What a group costs: its radios alone, and among each other. */
function groupCost(problem: Assignment, group: readonly number[], choice: ArrayLike<number>): number {
  let cost = 0;
  for (const r of group) {
    cost += problem.single(r, choice[r]!);
    for (const s of problem.neighbours[r]!) if (s > r) cost += problem.pair(r, choice[r]!, s, choice[s]!);
  }
  return cost;
}

/**
 * Solves each connected group apart, never worse than `present`: nested choices one after the other, each from the best of the smaller one and with
 * work of its own, so that more to choose from never makes it worse; with a proof for small groups. Yields the best cost so far; told to stop, it gives
 * its best. Counts work and not time: the same input gives the same choice. @param effort how much work, in the usual amount
 */
export function* assign(problem: Assignment, present: Int32Array, seed: number, effort = 1): Generator<number, Solution, Stop> {
  const best = present.slice();
  let exact = true;
  let total = costOf(problem, best);
  const { kinds } = problem;
  const ranks =
    kinds === undefined ? [0] : [...new Set(problem.sizes.flatMap((size, r) => Array.from({ length: size }, (_, a) => kinds.rank(kinds.of(r, a)))))];
  const parts = ranks.sort((a, b) => a - b).map((rank) => narrowed(problem, rank));
  for (const group of components(problem.neighbours)) {
    const elsewhere = total - groupCost(problem, group, best);
    const work = effort * Math.min(WORK.most, Math.max(WORK.least, WORK.perRadio * group.length));
    /** The best of the choices so far, as options of the whole problem. */
    let known: Int32Array | null = null;
    let proved = false;
    let stopped = false;
    for (const { problem: part, options } of parts) {
      const c = compile(part, group);
      const toPart = (choice: ArrayLike<number>): Int32Array =>
        Int32Array.from(group, (r, i) => {
          const at = options[r]!.indexOf(choice[r]!);
          return at >= 0 ? c.lists[i]![at]! : cheapest(c, i);
        });
      const start = toPart(best);
      const from = known === null ? start : toPart(known);
      let x = compiledCost(c, from) < compiledCost(c, start) ? from : start;
      const seedHere = hashText(`${seed}/${c.lists.map((list) => list.join()).join('|')}`);
      proved = false;
      for (const [k, share] of [BEFORE_PROOF, 1 - BEFORE_PROOF].entries()) {
        const run = search(c, x, seedHere + k, work * share);
        let step = run.next();
        for (; !step.done; step = run.next(stopped)) stopped = (yield Math.min(total, elsewhere + step.value)) === true || stopped;
        x = step.value;
        if (k === 0 && !stopped) proved = proveLeast(c, x, PROOF_NODES);
        if (proved || stopped) break;
      }
      const found = best.slice();
      group.forEach((r, i) => (found[r] = options[r]![c.lists[i]!.indexOf(x[i]!)]!));
      if (known === null || groupCost(problem, group, found) < groupCost(problem, group, known)) known = found;
      if (stopped) break;
    }
    if (groupCost(problem, group, known!) < groupCost(problem, group, best)) for (const r of group) best[r] = known![r]!;
    exact = exact && proved;
    total = costOf(problem, best);
    if (stopped || (yield total) === true) return { choice: best, cost: total, exact: false };
  }
  return { choice: best, cost: total, exact };
}

function cheapest(c: Compiled, r: number): number {
  return c.lists[r]!.reduce((least, a) => (c.single[r * c.size + a]! < c.single[r * c.size + least]! ? a : least), c.lists[r]![0]!);
}

/**
 * The least cost that any choice has, where it can be proved for every group within some work; null where it cannot. A millionth is taken off for rounding.
 * @param known a choice to begin from
 */
export function* leastCost(problem: Assignment, known: Int32Array, seed: number): Generator<number, number | null, Stop> {
  const { cost, exact } = yield* assign(problem, known, seed, 0.5);
  return exact ? cost * (1 - 1e-6) : null;
}
