import { seeded, type Uniform } from '../random';
import { compiledCost, type Compiled } from './compiled';

/** −ln of 4096 evenly spaced numbers: what a worsening may cost at temperature 1, drawn by 12 random bits. */
const LOG = Float64Array.from({ length: 4096 }, (_, k) => -Math.log((k + 0.5) / 4096));

/**
 * A choice under search, with the gain table: what every option would cost every radio, the others as they are. A proposal is one look; only an
 * accepted move writes, and only to its neighbours' options that meet the old or the new one.
 */
class Trial {
  readonly x: Int32Array;
  readonly g: Float64Array;
  cost = 0;
  constructor(private readonly c: Compiled) {
    this.x = new Int32Array(c.n);
    this.g = new Float64Array(c.n * c.size);
  }

  /** Takes a choice and fills the table anew, so that rounding of earlier moves is gone. */
  set(x: Int32Array): void {
    const { c, g } = this;
    this.x.set(x);
    g.set(c.single);
    for (let r = 0; r < c.n; r++) this.add(r, this.x[r]!, 1);
    this.cost = compiledCost(c, this.x);
  }

  private add(r: number, a: number, sign: number): void {
    const { g } = this;
    const { first, other, row, meets, places, cost, size } = this.c;
    const [from, to] = [row[a]!, row[a + 1]!];
    for (let edge = first[r]!, end = first[r + 1]!; edge < end; edge++) {
      const base = other[edge]! * size;
      const table = edge * places;
      for (let p = from; p < to; p++) g[base + meets[p]!]! += sign * cost[table + p]!;
    }
  }

  move(r: number, a: number): void {
    const { c, g, x } = this;
    const at = r * c.size;
    this.cost += g[at + a]! - g[at + x[r]!]!;
    this.add(r, x[r]!, -1);
    this.add(r, a, 1);
    x[r] = a;
  }
}

/** Goes down to where no single change helps. */
function descend(c: Compiled, t: Trial): void {
  for (let moved = true; moved;) {
    moved = false;
    for (let r = 0; r < c.n; r++) {
      const at = r * c.size;
      let best = t.x[r]!;
      for (const a of c.lists[r]!) if (t.g[at + a]! < t.g[at + best]! - 1e-12) best = a;
      if (best === t.x[r]) continue;
      t.move(r, best);
      moved = true;
    }
  }
}

/** How much the second-best option costs a radio more than its own, on average: the scale of temperatures. */
function scaleOf(c: Compiled, t: Trial): number {
  let sum = 0;
  for (let r = 0; r < c.n; r++) {
    const own = t.g[r * c.size + t.x[r]!]!;
    let second = Infinity;
    for (const a of c.lists[r]!) if (a !== t.x[r] && t.g[r * c.size + a]! < second) second = t.g[r * c.size + a]!;
    if (second !== Infinity) sum += Math.max(0, second - own);
  }
  return sum / c.n;
}

/** A choice drawn by chance from the radios' lists. */
const drawn = (lists: readonly Int32Array[], uniform: Uniform): Int32Array =>
  Int32Array.from(lists, (list) => list[Math.floor(uniform() * list.length)]!);

/**
 * The largest set of options, greedily, of which no two meet; radios without one of them keep their whole list. Where options overlap in part (channels
 * one apart), annealing among all of them ends some percent above what it finds among these.
 */
function coreLists(c: Compiled): Int32Array[] | null {
  const byFew = Array.from({ length: c.size }, (_, a) => a).sort((a, b) => c.row[a + 1]! - c.row[a]! - (c.row[b + 1]! - c.row[b]!) || a - b);
  const core = new Set<number>();
  for (const a of byFew) {
    let free = true;
    for (let p = c.row[a]!; p < c.row[a + 1]!; p++) if (core.has(c.meets[p]!)) free = false;
    if (free) core.add(a);
  }
  if (core.size === c.size) return null;
  return c.lists.map((list) => {
    const own = list.filter((a) => core.has(a));
    return own.length > 0 ? own : list;
  });
}

const STAGES = 400;
const VERY_MANY = 400;
const TABU_OF_VERY_MANY = 12;
/** Start and end of the temperature, in the scale of the problem. */
const HOT = 0.25;
const COLD = 0.02;
/** A pass over the radios' options of tabu search is looked at, not proposed: it weighs less. */
const LOOK_WORK = 0.25;
const TOUCH_WORK = 0.15;
/** Proposals between two yields: about a tenth of a second. */
const CHUNK = 1_500_000;

/**
 * Searches for a cheap choice from `start`, never ending above it: annealing from random starts, each followed by tabu search with kicks from the best
 * known, each run twice as long as the one before, until `work` proposals are spent. Counts work and never time, so that the same seed gives the same
 * choice. Yields the best cost so far; told to stop, it ends with it.
 */
export function* search(c: Compiled, start: Int32Array, seed: number, work: number): Generator<number, Int32Array, boolean | undefined> {
  const uniform = seeded(seed);
  let bits = (seed * 2654435761 + 12345) >>> 0 || 1;
  /** Xorshift: 32 bits a call, cheaper than the uniform source. */
  const next = (): number => {
    bits ^= bits << 13;
    bits >>>= 0;
    bits ^= bits >>> 17;
    bits ^= bits << 5;
    return (bits >>>= 0);
  };
  const t = new Trial(c);
  t.set(start);
  descend(c, t);
  const best = t.x.slice();
  let bestCost = t.cost;
  const keep = () => {
    if (t.cost >= bestCost - 1e-10) return;
    bestCost = t.cost;
    best.set(t.x);
  };
  const free = Array.from({ length: c.n }, (_, r) => r).filter((r) => c.lists[r]!.length > 1);
  if (free.length === 0) return best;
  const core = coreLists(c);
  const degree = c.other.length / c.n;
  const touched = 2 * degree * (c.places / c.size) * TOUCH_WORK;
  let scale = 0;
  let spent = 0;
  let yieldedAt = 0;
  let length = c.n >= 100 ? 1_000_000 : 20_000;
  const tabuUntil = new Int32Array(c.n * c.size);
  for (let run = 0; spent < work && bestCost > 1e-9; run++, length *= 2) {
    const lists = core !== null && run % 2 === 0 ? core : c.lists;
    const movable = free.filter((r) => lists[r]!.length > 1);
    t.set(drawn(lists, uniform));
    descend(c, t);
    keep();
    if (scale === 0) scale = scaleOf(c, t);
    // The last run is cut to what is left.
    const proposals = Math.min(length, Math.max(10_000, (work - spent) / 2));
    const perStage = Math.max(1, Math.floor(proposals / STAGES));
    const cooling = (COLD / HOT) ** (1 / STAGES);
    let temperature = HOT * scale;
    for (let stage = 0; stage < STAGES && movable.length > 0; stage++, temperature *= cooling) {
      for (let k = 0; k < perStage; k++) {
        const draw = next();
        const r = movable[draw % movable.length]!;
        const list = lists[r]!;
        const a = list[(draw >>> 8) % list.length]!;
        if (a === t.x[r]) continue;
        const at = r * c.size;
        const d = t.g[at + a]! - t.g[at + t.x[r]!]!;
        if (d > 0 && d >= temperature * LOG[next() >>> 20]!) continue;
        t.move(r, a);
        spent += touched;
        if (d < 0) keep();
      }
      spent += perStage;
      if (spent - yieldedAt > CHUNK) {
        yieldedAt = spent;
        if ((yield bestCost) === true) return best;
      }
    }
    // Tabu search round the best, with about as much work; of very many radios few are in trouble, and tabu search looks at those alone.
    const until = spent + Math.min(proposals * (c.n >= VERY_MANY ? TABU_OF_VERY_MANY : 1), Math.max(0, work - spent));
    tabuUntil.fill(0);
    for (let step = 1, idle = 2001 + 20 * c.n; spent < until && bestCost > 1e-9; step++) {
      if (idle > 2000 + 20 * c.n) {
        t.set(best);
        for (const r of free) if (uniform() < 0.12) t.move(r, c.lists[r]![Math.floor(uniform() * c.lists[r]!.length)]!);
        idle = 0;
      }
      let moveRadio = -1;
      let moveOption = -1;
      let least = Infinity;
      let alike = 0;
      for (const r of free) {
        const at = r * c.size;
        const now = t.g[at + t.x[r]!]!;
        // Nothing can be cheaper than nothing.
        if (now <= 1e-12) continue;
        const list = c.lists[r]!;
        for (let k = 0; k < list.length; k++) {
          const a = list[k]!;
          const d = t.g[at + a]! - now;
          if (d > least || a === t.x[r]) continue;
          if (tabuUntil[at + a]! >= step && t.cost + d >= bestCost - 1e-10) continue;
          // Among equals each is as likely.
          if (d === least && next() % ++alike !== 0) continue;
          if (d < least) alike = 1;
          least = d;
          moveRadio = r;
          moveOption = a;
        }
        spent += list.length * LOOK_WORK;
      }
      if (moveRadio < 0) {
        idle = Infinity;
        spent += c.n;
        continue;
      }
      tabuUntil[moveRadio * c.size + t.x[moveRadio]!] = step + 5 + (next() % Math.floor(c.n / 3 + 4));
      t.move(moveRadio, moveOption);
      spent += touched;
      idle = t.cost < bestCost - 1e-10 ? 0 : idle + 1;
      keep();
      if (spent - yieldedAt > CHUNK) {
        yieldedAt = spent;
        if ((yield bestCost) === true) return best;
      }
    }
  }
  return best;
}
