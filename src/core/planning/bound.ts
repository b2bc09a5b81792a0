import { occupied20, type Channel } from '../radio/channel';
import { partitionBound } from './partitionBound';
import type { Option } from './problem';

/** Whether a radio on `other` takes airtime from one that serves on `serving`, wherever it is heard: all that the bound counts. */
const takes = (other: Channel, serving: Channel): number => (occupied20(other).includes(serving.primary) ? 1 : 0);

/**
 * Channels sorted into classes in which any two overlap: by block of spectrum where all are equally wide, else by primary.
 * `leastWithin` is the least overlap, one way, of two channels of one class.
 */
function classesOf(channels: readonly Channel[]): { count: number; leastWithin: number } {
  const equallyWide = channels.every((channel) => channel.widthMhz === channels[0]!.widthMhz);
  const classes = new Map<number, Channel[]>();
  for (const channel of channels) {
    const key = equallyWide ? occupied20(channel)[0]! : channel.primary;
    classes.set(key, [...(classes.get(key) ?? []), channel]);
  }
  let leastWithin = 1;
  for (const list of classes.values()) for (const a of list) for (const b of list) leastWithin = Math.min(leastWithin, takes(a, b));
  return { count: classes.size, leastWithin };
}

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
    // Channels of different classes may still overlap; leaving that out only lowers the bound.
    const { count, leastWithin } = classesOf(distinct);
    const each = Math.floor(m / count);
    const more = m - each * count;
    return leastWithin * (more * each * (each + 1) + (count - more) * each * (each - 1));
  }
  const table = distinct.map((a) => distinct.map((b) => takes(a, b) + takes(b, a)));
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
 * @param weight n x n, weight[i * n + j] >= 0: what radio i takes from j, at the least, when it takes its airtime
 */
export function cliqueBound(n: number, weight: Float64Array, options: readonly Option[]): number {
  let best = 0;
  const channels = classesOf(options.map((option) => option.channel)).count;
  let sizesTried = 0;
  for (let m = 2; m <= Math.min(n, channels + 3) && sizesTried < MAX_SIZES; m++) {
    const least = leastOverlap(options, m);
    if (least < LEAST_OVERLAP) continue;
    sizesTried++;
    const rest = new Float64Array(n * n);
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) rest[i * n + j] = i === j ? 0 : Math.min(weight[i * n + j]!, weight[j * n + i]!);
    let bound = 0;
    for (let round = 0; round < Math.min(3 * n, MAX_CLIQUES); round++) {
      const clique = heaviestClique(n, rest, m);
      if (clique === null) break;
      bound += clique.weight * least;
      for (const i of clique.members) for (const j of clique.members) if (i !== j) rest[i * n + j]! -= clique.weight;
    }
    best = Math.max(best, bound);
  }
  return best;
}

/**
 * The better of two bounds of the same: the cliques', and that of sorting radios into classes of channels of which any two overlap, which a relaxation bounds.
 * @param work what the relaxation may spend
 */
export function* airtimeBound(n: number, weight: Float64Array, options: readonly Option[], work: number): Generator<undefined, number, unknown> {
  const byCliques = cliqueBound(n, weight, options);
  const { count, leastWithin } = classesOf(options.map(({ channel }) => channel));
  if (!(leastWithin > 0)) return byCliques;
  const both = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) both[i * n + j] = i === j ? 0 : weight[i * n + j]! + weight[j * n + i]!;
  return Math.max(byCliques, leastWithin * (yield* partitionBound(n, both, count, { work })));
}

/** Below this overlap a number of radios counts as fitting on the channels. */
const LEAST_OVERLAP = 0.05;
/** Any packing is a bound, so these only trade tightness for time: clique sizes, cliques, radios a clique is grown from. */
const MAX_SIZES = 4;
const MAX_CLIQUES = 240;
const MAX_SEEDS = 40;

/** A clique of m members grown from the radios with most weight left, each time by the largest least weight; `null` when none has weight left. */
function heaviestClique(n: number, rest: Float64Array, m: number): { members: number[]; weight: number } | null {
  const left = Float64Array.from({ length: n }, (_, i) => rest.subarray(i * n, i * n + n).reduce((sum, w) => sum + w, 0));
  const seeds = Array.from({ length: n }, (_, i) => i)
    .sort((a, b) => left[b]! - left[a]! || a - b)
    .slice(0, MAX_SEEDS);
  let best: { members: number[]; weight: number } | null = null;
  const taken = new Uint8Array(n);
  const least = new Float64Array(n);
  for (const start of seeds) {
    const members = [start];
    taken.fill(0);
    taken[start] = 1;
    least.set(rest.subarray(start * n, start * n + n));
    let weight = Infinity;
    while (members.length < m) {
      let next = -1;
      for (let j = 0; j < n; j++) if (!taken[j] && (next < 0 || least[j]! > least[next]!)) next = j;
      if (next < 0 || !(least[next]! > 1e-9)) break;
      weight = Math.min(weight, least[next]!);
      members.push(next);
      taken[next] = 1;
      for (let j = 0; j < n; j++) if (rest[next * n + j]! < least[j]!) least[j] = rest[next * n + j]!;
    }
    if (members.length === m && (best === null || weight > best.weight)) best = { members, weight };
  }
  return best;
}
