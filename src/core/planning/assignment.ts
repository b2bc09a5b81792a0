import { seeded } from '../random';

/**
 * A weighted assignment: each of n radios takes one of its options; `single(r, a)` is what option a costs radio r alone,
 * `pair(r, a, s, b)` what the two choices cost together (both directions).
 */
export type Assignment = Readonly<{
  sizes: readonly number[];
  single: (radio: number, option: number) => number;
  pair: (r: number, a: number, s: number, b: number) => number;
  neighbours: readonly (readonly number[])[];
}>;

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

/** Cost of every option of a radio given the others' choices. */
function optionCosts(problem: Assignment, choice: ArrayLike<number>, r: number): Float64Array {
  const costs = new Float64Array(problem.sizes[r]!);
  for (let a = 0; a < costs.length; a++) {
    costs[a] = problem.single(r, a);
    for (const s of problem.neighbours[r]!) if (choice[s]! >= 0) costs[a]! += problem.pair(r, a, s, choice[s]!);
  }
  return costs;
}

function leastOf(values: Float64Array): number {
  let best = 0;
  for (let k = 1; k < values.length; k++) if (values[k]! < values[best]!) best = k;
  return best;
}

/** Saturation order: next comes the radio whose cheapest option has become dearest. */
function construct(problem: Assignment, group: readonly number[], choice: Int32Array): void {
  for (const r of group) choice[r] = -1;
  const open = new Set(group);
  const table = new Map(group.map((r) => [r, optionCosts(problem, choice, r)]));
  while (open.size > 0) {
    let next = -1;
    let nextOption = 0;
    let worst = -Infinity;
    for (const r of open) {
      const costs = table.get(r)!;
      const option = leastOf(costs);
      const urgency = costs[option]! + problem.neighbours[r]!.length * 1e-6;
      if (urgency > worst) {
        worst = urgency;
        next = r;
        nextOption = option;
      }
    }
    choice[next] = nextOption;
    open.delete(next);
    for (const s of problem.neighbours[next]!) {
      if (!open.has(s)) continue;
      const costs = table.get(s)!;
      for (let b = 0; b < costs.length; b++) costs[b]! += problem.pair(s, b, next, nextOption);
    }
  }
}

/** Tabu search from `choice`; leaves the best found in it. A move touches only its neighbours' tables. Ends when it has long found nothing better. */
function improve(problem: Assignment, group: readonly number[], choice: Int32Array, iterations: number, seed: number): void {
  const uniform = seeded(seed);
  const table = new Map(group.map((r) => [r, optionCosts(problem, choice, r)]));
  const tabuUntil = new Map(group.map((r) => [r, new Int32Array(problem.sizes[r]!)]));
  let relative = 0;
  let bestRelative = 0;
  let improvedAt = 0;
  const best = choice.slice();
  for (let step = 1; step <= iterations; step++) {
    let moveRadio = -1;
    let moveOption = -1;
    let moveDelta = Infinity;
    for (const r of group) {
      const costs = table.get(r)!;
      const tabu = tabuUntil.get(r)!;
      const now = costs[choice[r]!]!;
      for (let a = 0; a < costs.length; a++) {
        if (a === choice[r]) continue;
        const delta = costs[a]! - now;
        if (delta < moveDelta && (tabu[a]! < step || relative + delta < bestRelative - 1e-12)) {
          moveDelta = delta;
          moveRadio = r;
          moveOption = a;
        }
      }
    }
    if (moveRadio < 0) break;
    const from = choice[moveRadio]!;
    choice[moveRadio] = moveOption;
    relative += moveDelta;
    tabuUntil.get(moveRadio)![from] = step + 4 + Math.floor(uniform() * Math.min(12, group.length));
    for (const s of problem.neighbours[moveRadio]!) {
      const costs = table.get(s)!;
      for (let b = 0; b < costs.length; b++) costs[b]! += problem.pair(s, b, moveRadio, moveOption) - problem.pair(s, b, moveRadio, from);
    }
    if (relative < bestRelative - 1e-12) {
      bestRelative = relative;
      best.set(choice);
      improvedAt = step;
    } else if (step - improvedAt > 150 + group.length) break;
  }
  choice.set(best);
}

/** Branch and bound over a small group. Returns false when it gave up after `maxNodes`; `choice` then holds the best found. */
function solveExactly(problem: Assignment, group: readonly number[], choice: Int32Array, upper: number, maxNodes: number): boolean {
  const order = [...group].sort((a, b) => problem.neighbours[b]!.length - problem.neighbours[a]!.length || a - b);
  const floorFrom = new Float64Array(order.length + 1);
  for (let k = order.length - 1; k >= 0; k--)
    floorFrom[k] = floorFrom[k + 1]! + Math.min(...Array.from({ length: problem.sizes[order[k]!]! }, (_, a) => problem.single(order[k]!, a)));
  const trial = Int32Array.from(choice);
  for (const r of group) trial[r] = -1;
  let best = upper;
  let nodes = 0;
  const descend = (depth: number, cost: number): boolean => {
    if (depth === order.length) {
      best = cost;
      for (const r of group) choice[r] = trial[r]!;
      return true;
    }
    const r = order[depth]!;
    const costs = optionCosts(problem, trial, r);
    const ranked = Array.from(costs.keys()).sort((a, b) => costs[a]! - costs[b]!);
    for (const a of ranked) {
      if (++nodes > maxNodes) return false;
      if (cost + costs[a]! + floorFrom[depth + 1]! >= best - 1e-12) break;
      trial[r] = a;
      const finished = descend(depth + 1, cost + costs[a]!);
      trial[r] = -1;
      if (!finished) return false;
    }
    return true;
  };
  return descend(0, 0);
}

const EXACT_UP_TO = 9;
const MAX_NODES = 60_000;
const STARTS = 4;

/** What a long search is told at each of its yields: true ends it with the best so far. */
export type Stop = boolean | undefined;

/**
 * Solves each connected group apart: a constructed start and the present choice, both improved by seeded tabu search; small groups
 * then exactly by branch and bound. Never worse than `present`. Yields after each start, so that the caller can show progress; told to stop, it gives its best so far.
 */
export function* assign(problem: Assignment, present: Int32Array, seed: number): Generator<number, Solution, Stop> {
  const best = present.slice();
  let exact = true;
  for (const group of components(problem.neighbours)) {
    const groupCost = (choice: Int32Array): number => {
      let cost = 0;
      for (const r of group) {
        cost += problem.single(r, choice[r]!);
        for (const s of problem.neighbours[r]!) if (s > r) cost += problem.pair(r, choice[r]!, s, choice[s]!);
      }
      return cost;
    };
    let bestCost = groupCost(best);
    const iterations = 60 + group.length * 40;
    for (let start = 0; start < (group.length === 1 ? 1 : STARTS); start++) {
      const choice = best.slice();
      if (start !== 1) construct(problem, group, choice);
      if (start > 1) {
        const uniform = seeded(seed + start * 7919);
        for (const r of group) if (uniform() < 0.3) choice[r] = Math.floor(uniform() * problem.sizes[r]!);
      }
      improve(problem, group, choice, iterations, seed + start);
      const cost = groupCost(choice);
      if (cost < bestCost - 1e-12) {
        bestCost = cost;
        best.set(choice);
      }
      if ((yield costOf(problem, best)) === true) return { choice: best, cost: costOf(problem, best), exact: false };
    }
    if (group.length <= EXACT_UP_TO) exact = solveExactly(problem, group, best, bestCost, MAX_NODES) && exact;
    else exact = false;
  }
  return { choice: best, cost: costOf(problem, best), exact };
}
