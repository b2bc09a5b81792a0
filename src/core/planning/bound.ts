import type { Option } from './problem';
import { overlapCost } from './problem';

/**
 * The least total overlap that m radios, all disturbing each other with weight 1 both ways, must have on these channels.
 * All multisets are tried where there are few; else channels are counted only when equal: m radios on k channels must repeat
 * (Turan's theorem gives how often). Always a true lower bound.
 */
export function leastOverlap(options: readonly Option[], m: number): number {
  const distinct = [...new Map(options.map((option) => [`${option.channel.primary}/${option.channel.widthMhz}`, option.channel])).values()];
  const k = distinct.length;
  let sets = 1;
  for (let i = 0; i < m; i++) sets = (sets * (k + i)) / (i + 1);
  if (sets > 20_000) {
    // Channels that are not equal may still overlap; leaving that out only lowers the bound.
    const primaries = new Set(distinct.map((channel) => channel.primary)).size;
    const each = Math.floor(m / primaries);
    const more = m - each * primaries;
    return more * each * (each + 1) + (primaries - more) * each * (each - 1);
  }
  const table = distinct.map((a) => distinct.map((b) => overlapCost(a, b) + overlapCost(b, a)));
  let least = Infinity;
  const chosen: number[] = [];
  const descend = (from: number, cost: number): void => {
    if (cost >= least) return;
    if (chosen.length === m) {
      least = cost;
      return;
    }
    for (let a = from; a < k; a++) {
      let added = 0;
      for (const b of chosen) added += table[a]![b]!;
      chosen.push(a);
      descend(a, cost + added);
      chosen.pop();
    }
  };
  descend(0, 0);
  return least;
}

/**
 * A lower bound of the pair costs of any assignment at these weights: a packing of cliques, each weighing what its weakest pair has
 * left, times the least overlap of that many radios (a feasible point of the linear programme's dual).
 * @param weight n x n, weight[i * n + j] >= 0; only radios in `free` may take any of the options
 */
export function cliqueBound(n: number, weight: Float64Array, options: readonly Option[]): number {
  let best = 0;
  const channels = new Set(options.map((option) => option.channel.primary)).size;
  for (let m = 2; m <= Math.min(n, channels + 3, 30); m++) {
    const least = leastOverlap(options, m);
    if (least < 0.05) continue;
    const rest = new Float64Array(n * n);
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) rest[i * n + j] = i === j ? 0 : Math.min(weight[i * n + j]!, weight[j * n + i]!);
    let bound = 0;
    for (let round = 0; round < 3 * n; round++) {
      const clique = heaviestClique(n, rest, m);
      if (clique === null) break;
      bound += clique.weight * least;
      for (const i of clique.members) for (const j of clique.members) if (i !== j) rest[i * n + j]! -= clique.weight;
    }
    best = Math.max(best, bound);
  }
  return best;
}

/** A clique of m members grown from each radio in turn by the largest least weight; `null` when none has weight left. */
function heaviestClique(n: number, rest: Float64Array, m: number): { members: number[]; weight: number } | null {
  let best: { members: number[]; weight: number } | null = null;
  for (let start = 0; start < n; start++) {
    const members = [start];
    const least = rest.slice(start * n, start * n + n);
    let weight = Infinity;
    while (members.length < m) {
      let next = -1;
      for (let j = 0; j < n; j++) if (!members.includes(j) && (next < 0 || least[j]! > least[next]!)) next = j;
      if (next < 0 || !(least[next]! > 1e-9)) break;
      weight = Math.min(weight, least[next]!);
      members.push(next);
      for (let j = 0; j < n; j++) least[j] = Math.min(least[j]!, rest[next * n + j]!);
    }
    if (members.length === m && (best === null || weight > best.weight)) best = { members, weight };
  }
  return best;
}
