import type { PairPrices, Service } from './exposure';
import { PRICE_STEPS } from './exposure';
import { oneGround, type Ground, type PlanRadio } from './problem';

/** Steps of a price, at hand: it stands in the innermost loops. */
const STEPS = PRICE_STEPS;
/** The level of a step that a price has not; looking a global up costs more than the rest of the loop where tests run. */
const NEVER = Infinity;

/** The power of a radio that is off: heard nowhere. */
export const OFF_DBM = -1000;

/** How many changes pass before the lowest level is looked for again. */
const FLOOR_EVERY = 256;

/** The first place of a rising list that is above a value. */
function firstAbove(rising: Float32Array, value: number): number {
  let [low, high] = [0, rising.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (rising[middle]! <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The radios that can cost one something, in one place after another: what is looked at together lies together. */
type Account = Readonly<{
  /** Who they are. */
  who: Int32Array;
  /** Loss from each to this one's antenna, in dB. */
  toAntennaDb: Float32Array;
  /** Steps of each one's price, STEPS each: from which level, by how much more, and how many of this one's points reach it. */
  from: Float64Array;
  more: Float64Array;
  reached: Int32Array;
  /** What this one's points pay to each, in all. */
  pays: Float64Array;
}>;

/**
 * What the powers of radios on fixed channels do, kept up while they change one by one: who serves each demand point, and how many points of each radio
 * each other one reaches at each step of their price. These are whole numbers, so that a change taken back leaves no trace, and the cost is that of
 * `exposureOf` whatever the way here.
 */
export class PowerState {
  readonly n: number;
  readonly points: number;
  readonly powers: Float64Array;
  /** The same at the band's middle, as losses are. */
  private readonly sent: Float64Array;
  readonly served: Int32Array;
  /** Area at the threshold or more, by floor, in what points count of it; and all there is. */
  private readonly covered: Float64Array;
  private readonly area: Float64Array;
  /** Share of each floor's area at the threshold or more. */
  readonly coveredShares: Float64Array;
  private readonly floorOf: Uint8Array;
  private readonly weight: Int32Array;
  /** Sum over all points of what their servers pay to other radios. */
  private paid = 0;
  private readonly accounts: readonly Account[];
  /** Where radio i stands in j's account, at [i * n + j]; -1 where it is on a channel that never costs j anything. */
  private readonly place: Int32Array;
  /** In whose accounts a radio is. */
  private readonly payers: readonly Int32Array[];
  private readonly server: Int32Array;
  private readonly level: Float64Array;
  /** Each radio's points as chains, so that they can be walked without the others'. */
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  private readonly previous: Int32Array;
  /** Per radio the points where it may matter, by rising loss, and these losses. */
  private readonly sorted: Int32Array[] = [];
  private readonly sortedLoss: Float32Array[] = [];
  /** Losses of all radios to a point side by side, at [c * n + i]. */
  private readonly lossAt: Float32Array;
  /** The least level at which a radio costs anybody anything, and the highest at which that still grows. */
  private readonly leastFrom: Float64Array;
  private readonly mostFrom: Float64Array;
  /** Weaker than this a point is neither served nor covered. */
  private readonly leastDbm: number;
  /** No point has a lower level: what is weaker need not be looked at. Sinks with the levels, and is taken anew now and then. */
  private floorDbm = -Infinity;
  private sinceFloor = 0;
  /** Radios whose points are others, or fewer or more, since the last change. */
  private readonly changed: Int32Array;
  private readonly isChanged: Uint8Array;
  private changes = 0;

  /**
   * @param capsDbm the highest power that each radio may get: what it cannot reach then is never looked at
   * @param offMiddleDb what each radio's channel loses more than its band's middle
   */
  constructor(
    radios: readonly PlanRadio[],
    powersDbm: ArrayLike<number>,
    capsDbm: ArrayLike<number>,
    prices: PairPrices,
    private readonly service: Service,
    private readonly offMiddleDb: ArrayLike<number>,
    ground: Ground = oneGround(radios),
  ) {
    const n = (this.n = radios.length);
    const points = (this.points = radios[0]?.lossDb.length ?? 0);
    this.floorOf = Uint8Array.from(ground.floors.flatMap((floor, f) => new Array<number>(floor.points).fill(f)));
    this.weight = ground.areaWeight ?? new Int32Array(points).fill(1);
    this.covered = new Float64Array(ground.floors.length);
    this.coveredShares = new Float64Array(ground.floors.length);
    this.area = new Float64Array(ground.floors.length);
    for (let c = 0; c < points; c++) this.area[this.floorOf[c]!]! += this.weight[c]!;
    this.leastDbm = Math.min(service.leastServiceDbm, service.thresholdDbm);
    this.leastFrom = new Float64Array(n).fill(Infinity);
    this.mostFrom = new Float64Array(n).fill(-Infinity);
    this.place = new Int32Array(n * n).fill(-1);
    const all = Array.from({ length: n }, (_, i) => i);
    this.accounts = all.map((j): Account => {
      const who = Int32Array.from(all.filter((i) => i !== j && prices.first[i * n + j]! < Infinity));
      const steps = (of: Float64Array) =>
        Float64Array.from({ length: who.length * STEPS }, (_, k) => of[(who[Math.floor(k / STEPS)]! * n + j) * STEPS + (k % STEPS)]!);
      who.forEach((i, q) => (this.place[i * n + j] = q));
      return {
        who,
        toAntennaDb: Float32Array.from(who, (i) => radios[i]!.lossToRadioDb[j]!),
        from: steps(prices.from),
        more: steps(prices.more),
        reached: new Int32Array(who.length * STEPS),
        pays: new Float64Array(who.length),
      };
    });
    for (const { who, from } of this.accounts)
      for (let k = 0; k < from.length; k++) {
        if (from[k] === NEVER) continue;
        const i = who[Math.floor(k / STEPS)]!;
        this.leastFrom[i] = Math.min(this.leastFrom[i]!, from[k]!);
        this.mostFrom[i] = Math.max(this.mostFrom[i]!, from[k]!);
      }
    this.payers = all.map((i) => Int32Array.from(all.filter((j) => this.place[i * n + j]! >= 0)));
    this.lossAt = new Float32Array(points * n);
    for (let i = 0; i < n; i++) {
      const { lossDb } = radios[i]!;
      const most = capsDbm[i]! - offMiddleDb[i]! - Math.min(this.leastDbm, this.leastFrom[i]!);
      const near: number[] = [];
      for (let c = 0; c < points; c++) {
        this.lossAt[c * n + i] = lossDb[c]!;
        if (lossDb[c]! <= most) near.push(c);
      }
      const order = Int32Array.from(near).sort((a, b) => lossDb[a]! - lossDb[b]!);
      this.sorted.push(order);
      this.sortedLoss.push(Float32Array.from(order, (c) => lossDb[c]!));
    }
    this.served = new Int32Array(n);
    this.server = new Int32Array(points).fill(-1);
    this.level = new Float64Array(points).fill(-Infinity);
    this.head = new Int32Array(n).fill(-1);
    this.next = new Int32Array(points).fill(-1);
    this.previous = new Int32Array(points).fill(-1);
    this.changed = new Int32Array(n);
    this.isChanged = new Uint8Array(n);
    this.powers = new Float64Array(n).fill(OFF_DBM);
    this.sent = this.powers.map((dbm, i) => dbm - offMiddleDb[i]!);
    for (let i = 0; i < n; i++) this.set(i, powersDbm[i]!);
  }

  /** Gives a radio another power; to take it back, set the old one. */
  set(r: number, dbm: number): void {
    const was = this.powers[r]!;
    if (dbm === was) return;
    if (this.sinceFloor++ % FLOOR_EVERY === 0) this.takeFloor();
    this.powers[r] = dbm;
    const before = this.sent[r]!;
    const now = (this.sent[r] = dbm - this.offMiddleDb[r]!);
    this.reach(r, before, now);
    if (dbm > was) this.gain(r);
    else this.lose(r);
    // What others pay to r, and what those pay that serve other points now.
    for (const j of this.payers[r]!) this.price(j, this.place[r * this.n + j]!);
    while (this.changes > 0) {
      const j = this.changed[--this.changes]!;
      this.isChanged[j] = 0;
      const count = this.accounts[j]!.who.length;
      for (let q = 0; q < count; q++) this.price(j, q);
    }
  }

  /** What all pay, as a mean over the demand points. */
  get cost(): number {
    return this.points === 0 ? 0 : this.paid / this.points;
  }

  /** Share of the area at the threshold or more, mean over the points of all floors. */
  get coveredShare(): number {
    let [covered, area] = [0, 0];
    for (let f = 0; f < this.area.length; f++) {
      covered += this.covered[f]!;
      area += this.area[f]!;
    }
    return area === 0 ? 0 : covered / area;
  }

  /** What radio j's points pay to all others, as a mean over the demand points. */
  paidBy(j: number): number {
    const sum = this.accounts[j]!.pays.reduce((paid, more) => paid + more, 0);
    return this.points === 0 ? 0 : sum / this.points;
  }

  private takeFloor(): void {
    let least = Infinity;
    for (let c = 0; c < this.points; c++) if (this.level[c]! < least) least = this.level[c]!;
    this.floorDbm = least;
  }

  /** What the points of j pay to one of its account. */
  private price(j: number, q: number): void {
    const { who, toAntennaDb, from, more, reached, pays } = this.accounts[j]!;
    const own = this.served[j]!;
    let sum = 0;
    if (own > 0) {
      const atAntenna = this.sent[who[q]!]! - toAntennaDb[q]!;
      // Heard by the antenna of j: everywhere it serves.
      for (let k = q * STEPS, end = k + STEPS; k < end && from[k]! < NEVER; k++) sum += more[k]! * (atAntenna >= from[k]! ? own : reached[k]!);
    }
    this.paid += sum - pays[q]!;
    pays[q] = sum;
  }

  /** Counts the points of others that r reaches more, or less, with another power. Only losses between the two come into question. */
  private reach(r: number, was: number, is: number): void {
    const { n, server, level, place } = this;
    const { leastServiceDbm } = this.service;
    const order = this.sorted[r]!;
    const losses = this.sortedLoss[r]!;
    const most = Math.max(was, is) - this.leastFrom[r]!;
    for (let p = firstAbove(losses, Math.min(was, is) - this.mostFrom[r]!); p < order.length && losses[p]! <= most; p++) {
      const c = order[p]!;
      const j = server[c]!;
      if (j < 0 || level[c]! < leastServiceDbm) continue;
      const q = place[r * n + j]!;
      if (q < 0) continue;
      const { from, reached } = this.accounts[j]!;
      const [before, now] = [was - losses[p]!, is - losses[p]!];
      for (let k = q * STEPS, end = k + STEPS; k < end && from[k]! < NEVER; k++)
        reached[k]! += (now >= from[k]! ? 1 : 0) - (before >= from[k]! ? 1 : 0);
    }
  }

  /** Points where r has become louder, or the loudest. */
  private gain(r: number): void {
    const { server } = this;
    const order = this.sorted[r]!;
    const losses = this.sortedLoss[r]!;
    const least = Math.max(this.floorDbm, this.leastDbm);
    const power = this.sent[r]!;
    for (let k = 0; k < order.length; k++) {
      const level = power - losses[k]!;
      if (level < least) break;
      const c = order[k]!;
      const was = this.level[c]!;
      if (server[c] === r) this.stay(c, level);
      // Of equally loud ones the first in the list serves, as everywhere.
      else if (level > was || (level === was && r < server[c]!)) this.hand(c, r, level);
    }
  }

  /** Points that r served and where another is louder now, or nobody. */
  private lose(r: number): void {
    const { n, lossAt, sent } = this;
    for (let c = this.head[r]!; c >= 0;) {
      // It may leave the chain.
      const after = this.next[c]!;
      let best = -1;
      let level = -Infinity;
      for (let i = 0, at = c * n; i < n; i++, at++) {
        const here = sent[i]! - lossAt[at]!;
        if (here > level) {
          level = here;
          best = i;
        }
      }
      if (best === r) this.stay(c, level);
      else this.hand(c, best, level);
      c = after;
    }
  }

  /** The server stays, its level changes. */
  private stay(c: number, level: number): void {
    const { leastServiceDbm } = this.service;
    const was = this.level[c]!;
    this.lift(c, level);
    // Too weak to serve, the point pays nobody.
    if (was >= leastServiceDbm !== level >= leastServiceDbm) this.account(c, this.server[c]!, level >= leastServiceDbm ? 1 : -1);
  }

  /** A point gets another server. */
  private hand(c: number, to: number, level: number): void {
    const { server, head, next, previous } = this;
    const { leastServiceDbm } = this.service;
    const from = server[c]!;
    if (from >= 0) {
      if (this.level[c]! >= leastServiceDbm) this.account(c, from, -1);
      const [before, after] = [previous[c]!, next[c]!];
      if (before >= 0) next[before] = after;
      else head[from] = after;
      if (after >= 0) previous[after] = before;
    }
    server[c] = to;
    next[c] = head[to]!;
    previous[c] = -1;
    if (head[to]! >= 0) previous[head[to]!] = c;
    head[to] = c;
    this.lift(c, level);
    if (level >= leastServiceDbm) this.account(c, to, 1);
  }

  private lift(c: number, level: number): void {
    const { thresholdDbm } = this.service;
    const more = (level >= thresholdDbm ? 1 : 0) - (this.level[c]! >= thresholdDbm ? 1 : 0);
    if (more !== 0) {
      const f = this.floorOf[c]!;
      this.covered[f]! += more * this.weight[c]!;
      this.coveredShares[f] = this.covered[f]! / this.area[f]!;
    }
    this.level[c] = level;
    if (level < this.floorDbm) this.floorDbm = level;
  }

  /** Takes a point into a radio's account, or out of it, with all that is heard there. */
  private account(c: number, j: number, sign: number): void {
    const { sent, lossAt } = this;
    const { who, from, reached } = this.accounts[j]!;
    const at = c * this.n;
    for (let q = 0, first = 0; q < who.length; q++, first += STEPS) {
      const level = sent[who[q]!]! - lossAt[at + who[q]!]!;
      for (let k = first; k < first + STEPS && level >= from[k]!; k++) reached[k]! += sign;
    }
    this.served[j]! += sign;
    if (this.isChanged[j] === 1) return;
    this.isChanged[j] = 1;
    this.changed[this.changes++] = j;
  }
}
