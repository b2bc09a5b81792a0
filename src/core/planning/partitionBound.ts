import { seeded } from '../random';

/**
 * A lower bound of the least total weight of pairs that end in the same of k classes, for any sorting of n things into them: by a semidefinite relaxation with
 * cuts of cliques, solved in low rank by coordinates, and made certain by a factorisation (Goemans and Williamson, J. ACM 42, 1995; Frieze and Jerrum,
 * Algorithmica 18, 1997; Burer and Monteiro, Math. Programming 95, 2003).
 *
 * Of vectors of length one the product is 1 for two of the same class and t = -1/(k-1) at the least for two of different ones. A product below t is charged by
 * S, a set Q whose products add up to less than any sorting leaves by y. For any S, y >= 0 what remains is a bound once Z - diag(d) has no negative eigenvalue.
 */
export type PartitionOptions = Readonly<{
  /** Products of a number with another that it may take in all. */
  work: number;
}>;

/** Step of the multipliers, and to what part of it it falls; for what share of the time it stays. */
const STEP = 0.2;
const LAST_STEP = 0.02;
const STEADY = 0.3;
/** Cuts are looked for every so many rounds, kept where violated by more than this, and dropped when nothing has come of them in so many rounds. */
const CUTS_EVERY = 30;
const VIOLATED = 0.02;
const IDLE_ROUNDS = 60;
/** Rounds after which only the vectors move, before the bound is taken. */
const SETTLE = 40;
/** Things up to which sets are bettered by exchanging one. */
const SWAPS_UP_TO = 60;
const MOST_ROUNDS = 800;
const LEAST_ROUNDS = 100;
const MANY_CLASSES = 6;
/** Sets are looked at in so many sizes at the most. */
const SIZES = 4;

type Cut = { members: Int32Array; rhs: number; price: number; idle: number };

/** The least number of pairs of the same class among q things in k classes (Turan). */
export function leastPairs(q: number, k: number): number {
  const each = Math.floor(q / k);
  const more = q - each * k;
  return (more * each * (each + 1) + (k - more) * each * (each - 1)) / 2;
}

/**
 * @param weight n x n, symmetric, not negative: what a pair costs in the same class
 * @returns what no sorting costs less than; 0 where nothing better is found. Yields now and then, so that others have their turn.
 */
export function* partitionBound(n: number, weight: Float64Array, k: number, { work }: PartitionOptions): Generator<undefined, number, unknown> {
  let sum = 0;
  let pairs = 0;
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      sum += weight[i * n + j]!;
      if (weight[i * n + j]! > 0) pairs++;
    }
  if (k < 2) return sum;
  if (pairs === 0 || n <= k) return 0;
  // Of one scale whatever the weights are.
  const scale = sum / pairs;
  const c = weight.map((w) => (((k - 1) / k) * w) / scale);
  // With many classes most pairs are apart: charges begin near what they cost.
  const value = yield* relax(n, c, k, sum / scale, work, k < MANY_CLASSES ? 0 : 0.8);
  return value === null ? 0 : Math.max(0, value * scale);
}

/** @param start which part of what pairs cost the charges S begin with. @returns null where the work is too little for any */
function* relax(n: number, c: Float64Array, k: number, sum: number, work: number, start: number): Generator<undefined, number | null, unknown> {
  const t = -1 / (k - 1);
  const rank = Math.max(k + 2, Math.ceil(Math.sqrt(2 * n)) + 2);
  const rounds = Math.min(MOST_ROUNDS, Math.floor(work / (2 * n * n * rank)));
  if (rounds < LEAST_ROUNDS) return null;
  const uniform = seeded(n * 31 + k);
  const v = Float64Array.from({ length: n * rank }, () => uniform() - 0.5);
  for (let i = 0; i < n; i++) scaleTo(v.subarray(i * rank, (i + 1) * rank), 1);
  const s = c.map((value) => start * value);
  const z = new Float64Array(n * n);
  const g = new Float64Array(rank);
  const sumOf = new Float64Array(rank);
  const y = new Float64Array(n);
  const gram = new Float64Array(n * n);
  let cuts: Cut[] = [];
  const buildZ = (): void => {
    for (let at = 0; at < n * n; at++) z[at] = c[at]! - s[at]!;
    for (const { members, price } of cuts) {
      if (price === 0) continue;
      for (const i of members) for (const j of members) if (i !== j) z[i * n + j]! -= price;
    }
  };
  /** Each vector to where it costs least beside the others. */
  const sweep = (): void => {
    for (let i = 0; i < n; i++) {
      g.fill(0);
      for (let j = 0, at = i * n; j < n; j++, at++) {
        const weight = z[at]!;
        if (weight === 0 || j === i) continue;
        for (let d = 0, from = j * rank; d < rank; d++, from++) g[d]! += weight * v[from]!;
      }
      let length = 0;
      for (let d = 0; d < rank; d++) length += g[d]! * g[d]!;
      length = Math.sqrt(length);
      y[i] = -length;
      if (length < 1e-12) continue;
      for (let d = 0, to = i * rank; d < rank; d++, to++) v[to] = -g[d]! / length;
    }
  };
  const fillGram = (): void => {
    for (let i = 0; i < n; i++)
      for (let j = 0; j < i; j++) {
        let product = 0;
        for (let d = 0, a = i * rank, b = j * rank; d < rank; d++, a++, b++) product += v[a]! * v[b]!;
        gram[i * n + j] = gram[j * n + i] = product;
      }
  };
  for (let round = 0; round < rounds; round++) {
    yield;
    const settling = round >= rounds - SETTLE;
    const along = Math.max(0, round / rounds - STEADY) / (1 - STEADY);
    const step = STEP * (LAST_STEP / 1) ** along;
    if (!settling || round === rounds - SETTLE) buildZ();
    sweep();
    if (settling) continue;
    fillGram();
    for (let i = 0; i < n; i++)
      for (let j = 0; j < i; j++) {
        const at = i * n + j;
        s[at] = s[j * n + i] = Math.max(0, s[at]! - step * (gram[at]! - t));
      }
    for (const cut of cuts) {
      const { members, rhs } = cut;
      sumOf.fill(0);
      for (const i of members) for (let d = 0; d < rank; d++) sumOf[d]! += v[i * rank + d]!;
      const products = (sumOf.reduce((total, one) => total + one * one, 0) - members.length) / 2;
      cut.price = Math.max(0, cut.price + ((step / 2) * (rhs - products)) / members.length);
      cut.idle = cut.price > 0 ? 0 : cut.idle + 1;
    }
    if (round % CUTS_EVERY === CUTS_EVERY - 1 && round < rounds - SETTLE - CUTS_EVERY) {
      cuts = cuts.filter(({ idle }) => idle < IDLE_ROUNDS);
      cuts.push(...newCuts(n, gram, k, cuts, uniform));
    }
  }
  return certified(n, z, y, sum / k + constants(n, s, t, cuts));
}

/** What the charges are worth whatever the vectors are. */
function constants(n: number, s: Float64Array, t: number, cuts: readonly Cut[]): number {
  let value = 0;
  for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) value += t * s[i * n + j]!;
  for (const { price, rhs } of cuts) value += price * rhs;
  return value;
}

/** Sets whose products add up to less than any sorting into k classes leaves, the worst first. */
function newCuts(n: number, gram: Float64Array, k: number, known: readonly Cut[], uniform: () => number): Cut[] {
  const most = Math.min(n, 2 * k - 1);
  const seen = new Set(known.map(({ members }) => members.join()));
  const found: Array<Cut & { by: number }> = [];
  const rhsOf = (q: number): number => (k * leastPairs(q, k) - (q * (q - 1)) / 2) / (k - 1);
  const added = new Float64Array(n);
  const consider = (members: number[], products: number): void => {
    const rhs = rhsOf(members.length);
    const by = rhs - products;
    if (by <= VIOLATED) return;
    const sorted = Int32Array.from(members).sort();
    const key = sorted.join();
    if (seen.has(key)) return;
    seen.add(key);
    found.push({ members: sorted, rhs, price: 0, idle: 0, by });
  };
  for (let i = 0; i < n; i++)
    for (let attempt = 0; attempt < 2; attempt++) {
      const members = [i];
      const inside = new Uint8Array(n);
      inside[i] = 1;
      for (let j = 0; j < n; j++) added[j] = gram[i * n + j]!;
      let products = 0;
      const take = (j: number): void => {
        products += added[j]!;
        members.push(j);
        inside[j] = 1;
        for (let m = 0; m < n; m++) added[m]! += gram[j * n + m]!;
      };
      // The second try begins with another by chance.
      if (attempt === 1) {
        const second = Math.floor(uniform() * n);
        if (second !== i) take(second);
      }
      const size = (index: number): number => k + 1 + Math.round((index * (most - k - 1)) / Math.max(1, SIZES - 1));
      const sizes = new Set(Array.from({ length: SIZES }, (_, index) => size(index)));
      while (members.length < most) {
        let next = -1;
        for (let j = 0; j < n; j++) if (inside[j] === 0 && (next < 0 || added[j]! < added[next]!)) next = j;
        take(next);
        if (!sizes.has(members.length)) continue;
        if (n <= SWAPS_UP_TO) products = exchanged(n, gram, members, inside, added, products);
        consider(members, products);
      }
    }
  return found.sort((a, b) => b.by - a.by).slice(0, n);
}

/** Exchanges members for others as long as the products fall; gives what they add up to. */
function exchanged(n: number, gram: Float64Array, members: number[], inside: Uint8Array, added: Float64Array, products: number): number {
  let sum = products;
  for (let pass = 0; pass < 2; pass++) {
    let moved = false;
    for (let m = 0; m < members.length; m++) {
      const out = members[m]!;
      // What it adds to the others of the set: a product with itself is not one of theirs.
      const own = added[out]! - gram[out * n + out]!;
      let [best, least] = [-1, own - 1e-9];
      for (let j = 0; j < n; j++) {
        if (inside[j] === 1) continue;
        const would = added[j]! - gram[out * n + j]!;
        if (would < least) [best, least] = [j, would];
      }
      if (best < 0) continue;
      sum += least - own;
      members[m] = best;
      inside[out] = 0;
      inside[best] = 1;
      for (let j = 0; j < n; j++) added[j]! += gram[best * n + j]! - gram[out * n + j]!;
      moved = true;
    }
    if (!moved) break;
  }
  return sum;
}

/** The bound at these charges: the diagonal is lowered until what is left has a Cholesky factor, and a little more for rounding. */
export function certified(n: number, z: Float64Array, y: Float64Array, constant: number): number {
  const m = new Float64Array(n * n);
  let widest = 0;
  for (let i = 0; i < n; i++) {
    let row = 0;
    for (let j = 0; j < n; j++) row += Math.abs(i === j ? y[i]! : z[i * n + j]!);
    widest = Math.max(widest, row);
  }
  const holds = (shift: number): boolean => {
    for (let i = 0; i < n; i++) for (let j = 0; j <= i; j++) m[i * n + j] = i === j ? -y[i]! - shift : z[i * n + j]!;
    return isPositive(n, m);
  };
  let [low, high] = [-widest, 0];
  if (holds(high)) low = high;
  else
    for (let step = 0; step < 40; step++) {
      const middle = (low + high) / 2;
      if (holds(middle)) low = middle;
      else high = middle;
    }
  const shift = low - 1e-15 * n * n * widest;
  let diagonal = 0;
  for (let i = 0; i < n; i++) diagonal += y[i]!;
  const value = constant + (diagonal + n * Math.min(0, shift)) / 2;
  return value - 1e-12 * (Math.abs(constant) + Math.abs(diagonal));
}

/** Whether a symmetric matrix, given by its lower half, which is spent, is positive definite. */
function isPositive(n: number, m: Float64Array): boolean {
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let value = m[i * n + j]!;
      for (let d = 0, a = i * n, b = j * n; d < j; d++, a++, b++) value -= m[a]! * m[b]!;
      if (i === j) {
        if (!(value > 0)) return false;
        m[i * n + i] = Math.sqrt(value);
      } else m[i * n + j] = value / m[j * n + j]!;
    }
  }
  return true;
}

function scaleTo(values: Float64Array, length: number): void {
  const now = Math.sqrt(values.reduce((sum, value) => sum + value * value, 0));
  for (let d = 0; d < values.length; d++) values[d] = now === 0 ? (d === 0 ? length : 0) : (values[d]! * length) / now;
}
