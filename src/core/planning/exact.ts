import { pairCost, type Compiled } from './compiled';

/**
 * Proves the least cost of a group by solving its suffixes one after the other, from the densest end ("Russian dolls": Verfaillie, Lemaitre and Schiex,
 * AAAI 1996): what the radios that are not yet placed cost among themselves at the least is then known, beside what those placed cost them. `choice` is
 * improved to the optimum where a better one is met. Returns whether it is proved; after `maxNodes` it gives up.
 */
export function proveLeast(c: Compiled, choice: Int32Array, maxNodes: number): boolean {
  const { n, size } = c;
  if (n > MOST_RADIOS) return false;
  const edgeAt = new Int32Array(n * n).fill(-1);
  for (let r = 0; r < n; r++) for (let edge = c.first[r]!; edge < c.first[r + 1]!; edge++) edgeAt[r * n + c.other[edge]!] = edge;
  const order = denseLast(c, edgeAt);
  const classes = alikeOf(c);
  /** rds[k]: least cost of the radios order[k] and later, alone. */
  const rds = new Float64Array(n + 1);
  const placed = new Int32Array(n);
  const bestOf = choice.slice();
  /** What those placed cost each later radio's options, one layer a depth. */
  const layers = Array.from({ length: n + 1 }, () => new Float64Array(n * size));
  const usedBy = new Int32Array(size);
  let nodes = 0;
  let best = Infinity;
  let bestPlaced = new Int32Array(n);

  const descend = (depth: number, from: number, cost: number): boolean => {
    if (depth === n) {
      best = cost;
      bestPlaced = placed.slice();
      return true;
    }
    const r = order[depth]!;
    const costs = layers[depth]!;
    const list = c.lists[r]!;
    const ranked = Array.from(list).sort((a, b) => single(r, a) + costs[r * size + a]! - (single(r, b) + costs[r * size + b]!) || a - b);
    const tried = new Set<number>();
    for (const a of ranked) {
      const kind = classes[a]!;
      // Of options that are alike, those that nobody has are one.
      if (usedBy[a] === 0) {
        if (tried.has(kind)) continue;
        tried.add(kind);
      }
      if (++nodes > maxNodes) return false;
      const now = cost + single(r, a) + costs[r * size + a]!;
      if (now + rds[depth + 1]! >= best - TOLERANCE) break;
      const deeper = layers[depth + 1]!;
      let later = 0;
      for (let d = depth + 1; d < n; d++) {
        const v = order[d]!;
        const edge = edgeAt[r * n + v]!;
        const at = v * size;
        for (let k = at; k < at + size; k++) deeper[k] = costs[k]!;
        if (edge >= 0) for (let p = c.row[a]!; p < c.row[a + 1]!; p++) deeper[at + c.meets[p]!]! += c.cost[edge * c.places + p]!;
        let least = Infinity;
        for (const b of c.lists[v]!) if (deeper[at + b]! < least) least = deeper[at + b]!;
        later += least;
      }
      if (now + later + rds[depth + 1]! >= best - TOLERANCE) continue;
      placed[r] = a;
      usedBy[a]!++;
      const finished = descend(depth + 1, from, now);
      usedBy[a]!--;
      if (!finished) return false;
    }
    return true;
  };
  const single = (r: number, a: number): number => c.single[r * size + a]!;
  const costFrom = (k: number, x: Int32Array): number => {
    let sum = 0;
    for (let d = k; d < n; d++) {
      const r = order[d]!;
      sum += single(r, x[r]!);
      for (let e = d + 1; e < n; e++) {
        const edge = edgeAt[r * n + order[e]!]!;
        if (edge >= 0) sum += pairCost(c, edge, x[r]!, x[order[e]!]!);
      }
    }
    return sum;
  };
  for (let k = n - 1; k >= 0; k--) {
    // A first upper bound: the known choice, or that of the smaller doll with the new radio at its best.
    const r = order[k]!;
    const grown = bestOf.slice();
    grown[r] = Array.from(c.lists[r]!).reduce((least, a) => {
      const at = (option: number) => {
        grown[r] = option;
        return costFrom(k, grown);
      };
      return at(a) < at(least) ? a : least;
    }, c.lists[r]![0]!);
    const [known, more] = [costFrom(k, choice), costFrom(k, grown)];
    bestPlaced = (known <= more ? choice : grown).slice();
    best = Math.min(known, more);
    layers[k]!.fill(0);
    usedBy.fill(0);
    if (!descend(k, k, 0)) return false;
    rds[k] = best;
    for (let d = k; d < n; d++) bestOf[order[d]!] = bestPlaced[order[d]!]!;
  }
  choice.set(bestOf);
  return true;
}

/** Larger groups are not tried: their tables grow with the square, and they are never proved. */
const MOST_RADIOS = 40;
const TOLERANCE = 1e-9;

/** The radios with those that cost each other most at the end. */
function denseLast({ n, size, cost, places }: Compiled, edgeAt: Int32Array): number[] {
  const weight = (r: number, s: number): number => {
    const edge = edgeAt[r * n + s]!;
    if (edge < 0) return 0;
    let most = 0;
    for (let p = edge * places; p < (edge + 1) * places; p++) most = Math.max(most, cost[p]!);
    return most;
  };
  const weights = Array.from({ length: n }, (_, r) => Float64Array.from({ length: n }, (__, s) => (r === s || size === 0 ? 0 : weight(r, s))));
  const total = (r: number) => weights[r]!.reduce((sum, w) => sum + w, 0);
  const left = new Set(Array.from({ length: n }, (_, r) => r));
  const to = new Float64Array(n);
  const reversed: number[] = [];
  while (left.size > 0) {
    const next = [...left].reduce((best, r) => ((to[r]! - to[best]! || total(r) - total(best)) > 0 ? r : best));
    left.delete(next);
    reversed.push(next);
    for (const r of left) to[r]! += weights[next]![r]!;
  }
  return reversed.reverse();
}

/** A number for each option; options of one number may be exchanged everywhere without a change of any cost. */
function alikeOf(c: Compiled): Int32Array {
  const { n, size } = c;
  const same = (a: number, b: number): boolean => {
    for (let r = 0; r < n; r++) if (c.single[r * size + a] !== c.single[r * size + b]) return false;
    for (let edge = 0; edge < c.other.length; edge++) {
      if (pairCost(c, edge, a, a) !== pairCost(c, edge, b, b) || pairCost(c, edge, a, b) !== pairCost(c, edge, b, a)) return false;
      for (let d = 0; d < size; d++) if (d !== a && d !== b && pairCost(c, edge, a, d) !== pairCost(c, edge, b, d)) return false;
    }
    return true;
  };
  const kinds = new Int32Array(size).fill(-1);
  for (let a = 0; a < size; a++) {
    if (kinds[a]! >= 0) continue;
    kinds[a] = a;
    for (let b = a + 1; b < size; b++) if (kinds[b]! < 0 && same(a, b)) kinds[b] = a;
  }
  return kinds;
}
