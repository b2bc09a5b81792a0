import { seeded } from '../random';
import { channelOf, offMiddleDb } from '../radio/channel';
import type { Stop } from './assignment';
import { outsideCost } from './choices';
import { pairPrices, takenFrom, type Exposure } from './exposure';
import { OFF_DBM, PowerState } from './powerState';
import { lowestPowerDbm, rulesFor, type Ground, type OutsideNetwork, type PlanRadio, type PlanRules, type Setting } from './problem';

/**
 * What coverage is worth beside contention: one percent of the area is as much as 0.02 radios heard. Without it a plan would give
 * away signal for nothing wherever channels are plenty.
 */
const COVERAGE_WORTH = 2;
/** What is short of the coverage that must be kept outweighs all else. */
export const SHORT_COST = 100;
/** Each decibel by which two radios whose cells touch differ beyond the spread allowed: as good as never, but for coverage. */
const SPREAD_COST = 0.5;
/** Cells of very unequal area: times n times the sum of squared shares, less one; 0 where all are alike. */
const UNEQUAL_COST = 0.1;
/** A change must save at least this, in radios per spot of an average cell, to be worth it. */
const LEAST_GAIN = 0.02;
/** Each decibel by which a radio moves away from where it is, likewise: louder or quieter for nothing is for nothing. Being switched off is as much as so many. */
const MOVE_COST = 0.003;
const OFF_DB = 10;

/** What each radio pays: to the others, and to other people's networks; 0 for one that is off. */
export function costsOf(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  exposure: Exposure,
  outside: readonly OutsideNetwork[],
): Float64Array {
  const taken = takenFrom(exposure, exposure.price);
  return taken.map((cost, j) => {
    const setting = settings[j]!;
    return setting.on ? cost + outsideCost(outside, channelOf({ band: radios[j]!.band, ...setting }), exposure.served[j]!, radios[j]!.apId) : 0;
  });
}

/** Cells touch where a radio is the nearest, by loss, and the other the next: on so many points of each hundred of the smaller one's. */
const TOUCHING = 0.05;

/** Pairs of radios whose cells touch, were all powers alike: r * n + s with r < s. */
export function touchingPairs(radios: readonly PlanRadio[]): Array<readonly [number, number]> {
  const n = radios.length;
  const points = radios[0]?.lossDb.length ?? 0;
  const met = new Int32Array(n * n);
  const own = new Int32Array(n);
  for (let c = 0; c < points; c++) {
    let [first, second] = [-1, -1];
    let [least, next] = [Infinity, Infinity];
    for (let i = 0; i < n; i++) {
      const loss = radios[i]!.lossDb[c]!;
      if (loss < least) {
        [second, next] = [first, least];
        [first, least] = [i, loss];
      } else if (loss < next) [second, next] = [i, loss];
    }
    if (second < 0) continue;
    own[first]!++;
    met[Math.min(first, second) * n + Math.max(first, second)]!++;
  }
  const pairs: Array<readonly [number, number]> = [];
  for (let r = 0; r < n; r++)
    for (let s = r + 1; s < n; s++) {
      const smaller = Math.min(own[r]! || Infinity, own[s]! || Infinity);
      if (met[r * n + s]! > 0 && met[r * n + s]! >= TOUCHING * smaller) pairs.push([r, s]);
    }
  return pairs;
}

/** What plans are charged for neighbours of unequal power and cells of unequal area. Radios that are off are no neighbours. */
export function unevenCost(
  settings: readonly Setting[],
  served: ArrayLike<number>,
  pairs: ReturnType<typeof touchingPairs>,
  rules: PlanRules,
  serving: number,
): number {
  let cost = 0;
  for (const [r, s] of pairs) {
    const [a, b] = [settings[r]!, settings[s]!];
    if (a.on && b.on) cost += SPREAD_COST * Math.max(0, Math.abs(a.txPowerDbm - b.txPowerDbm) - rules.powerSpreadDb);
  }
  return cost + UNEQUAL_COST * inequality(served, serving);
}

/** @param atLeast so many radios count, even where fewer serve: one that is switched off leaves its clients to the others */
function inequality(served: ArrayLike<number>, atLeast: number): number {
  let [sum, squares, n] = [0, 0, 0];
  for (let r = 0; r < served.length; r++) {
    sum += served[r]!;
    squares += served[r]! * served[r]!;
    if (served[r]! > 0) n++;
  }
  n = Math.max(n, atLeast);
  return sum > 0 ? Math.max(0, (n * squares) / (sum * sum) - 1) : 0;
}

/** What powers are judged by, each part in radios per spot. */
type Parts = Readonly<{ contention: number; coverage: number; spread: number; unequal: number; moved: number }>;
const totalOf = ({ contention, coverage, spread, unequal, moved }: Parts): number => contention + coverage + spread + unequal + moved;

/** Powers under change, with what they are judged by. */
class Powers {
  readonly state: PowerState;
  private readonly unit: readonly number[];
  private readonly heardOutside: boolean;
  private readonly partners: readonly number[][];
  private spread: number;
  private movedDb = 0;
  private readonly start: readonly number[];

  constructor(
    radios: readonly PlanRadio[],
    settings: readonly Setting[],
    mostDbm: ArrayLike<number>,
    private readonly rules: PlanRules,
    outside: readonly OutsideNetwork[],
    private readonly ground: Ground,
    private readonly requiredShares: readonly number[],
    private readonly serving: number,
  ) {
    const dbm = (this.start = settings.map(dbmOf));
    const offDb = radios.map(({ band }, r) => offMiddleDb(channelOf({ band, ...settings[r]! })));
    this.state = new PowerState(radios, dbm, mostDbm, pairPrices(radios, settings), rules, offDb, ground);
    this.unit = radios.map(({ band, apId }, r) => outsideCost(outside, channelOf({ band, ...settings[r]! }), 1, apId));
    this.heardOutside = this.unit.some((cost) => cost > 0);
    const pairs = touchingPairs(radios);
    this.partners = radios.map((_, r) => pairs.flatMap(([a, b]) => (a === r ? [b] : b === r ? [a] : [])));
    this.spread = pairs.reduce((sum, [r, s]) => sum + this.excess(dbm[r]!, dbm[s]!), 0);
  }

  private excess(a: number, b: number): number {
    return a === OFF_DBM || b === OFF_DBM ? 0 : SPREAD_COST * Math.max(0, Math.abs(a - b) - this.rules.powerSpreadDb);
  }

  set(r: number, dbm: number): void {
    const { powers } = this.state;
    const was = powers[r]!;
    for (const s of this.partners[r]!) this.spread += this.excess(dbm, powers[s]!) - this.excess(was, powers[s]!);
    this.movedDb += this.wayFrom(r, dbm) - this.wayFrom(r, was);
    this.state.set(r, dbm);
  }

  private wayFrom(r: number, dbm: number): number {
    return dbm === this.start[r]! ? 0 : dbm === OFF_DBM || this.start[r] === OFF_DBM ? OFF_DB : Math.abs(dbm - this.start[r]!);
  }

  /** What the served points pay to others, radios of the plan and of other people. */
  contention(): number {
    const { state, unit } = this;
    if (!this.heardOutside) return state.cost;
    let others = 0;
    for (let r = 0; r < unit.length; r++) others += unit[r]! * state.served[r]!;
    return state.cost + (state.points === 0 ? 0 : others / state.points);
  }

  /** What is short of the coverage that each floor must keep, as a share of all. */
  short(): number {
    return shortOf(this.ground, this.state.coveredShares, this.requiredShares);
  }

  parts(): Parts {
    return {
      contention: this.contention(),
      coverage: COVERAGE_WORTH * (1 - this.state.coveredShare) + SHORT_COST * this.short(),
      spread: this.spread,
      unequal: UNEQUAL_COST * inequality(this.state.served, this.serving),
      moved: (MOVE_COST / this.state.n) * this.movedDb,
    };
  }
}

/** What floors are short of the coverage that each must keep, as a share of all points. */
export function shortOf({ floors }: Ground, covered: ArrayLike<number>, required: readonly number[]): number {
  let [short, points] = [0, 0];
  for (let f = 0; f < floors.length; f++) {
    short += floors[f]!.points * Math.max(0, required[f]! - covered[f]! - 1e-12);
    points += floors[f]!.points;
  }
  return points === 0 ? 0 : short / points;
}

const dbmOf = ({ on, txPowerDbm }: Setting): number => (on ? txPowerDbm : OFF_DBM);

/** Least and highest power of each radio under the rules, in dBm; one that may not be touched has its own. */
function rangesOf(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  caps: ReadonlyArray<number | null>,
  rules: PlanRules,
): { least: number[]; most: number[] } {
  return {
    most: settings.map((setting, r) => Math.max(dbmOf(setting), caps[r] ?? OFF_DBM)),
    least: radios.map((radio, r) => Math.min(dbmOf(settings[r]!), caps[r] ?? Infinity, lowestPowerDbm(radio, rules))),
  };
}

/** Proposals for each radio: few radios are cheap, and deserve more. */
const proposalsFor = (n: number): number => n * (n < 30 ? 300 : 80);
/** From which worsening to which the search still goes, in radios per spot. */
const COLD = 0.0001;
const hotFor = (n: number): number => (n < 30 ? 0.03 : 0.003);
const STEPS_DB = [-6, -3, -2, -1, 1, 2, 3, 6];
/** One proposal in so many is to switch a radio off. */
const SWITCH_EVERY = 12;
const CHUNK = 400;

/**
 * Plans powers at fixed channels by annealing on a state that is kept up exactly: contention, coverage lost, coverage short of what must be kept, powers
 * of neighbours beyond their spread, cells of unequal area. 2.4 GHz radios may be switched off where the rules say so. Afterwards what was changed for
 * next to nothing goes back. `requiredShares`: coverage that each floor must keep; `serving`: how many radios served before, of which those that are switched off
 * leave their clients to the others. `caps[r]` is the highest power on the chosen channel, null for a radio that may not be touched. Changes `settings`; yields
 * the contention of the best so far, and ends with it when told to stop. @param effort how many proposals, in the usual number
 */
export function* tunePowers(
  radios: readonly PlanRadio[],
  settings: Setting[],
  caps: ReadonlyArray<number | null>,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  ground: Ground,
  requiredShares: readonly number[],
  serving: number,
  seed: number,
  effort = 1,
): Generator<number, void, Stop> {
  const movable = radios.map((_, r) => r).filter((r) => caps[r] !== null && settings[r]!.on);
  const start = settings.map(dbmOf);
  const { least, most } = rangesOf(radios, settings, caps, rules);
  const model = new Powers(radios, settings, most, rules, outside, ground, requiredShares, serving);
  const { state } = model;
  const within = (r: number, dbm: number) => Math.min(most[r]!, Math.max(least[r]!, dbm));
  let now = totalOf(model.parts());
  let bestNow = now;
  let best = state.powers.slice();
  let bestContention = model.contention();
  const maySwitchOff = radios.map((radio) => radio.band === '2.4' && rulesFor(rules, radio).maySwitchOff24);
  const uniform = seeded(seed);
  const proposals = proposalsFor(movable.length) * effort;
  const hot = hotFor(movable.length);
  const cooling = (COLD / hot) ** (1 / Math.max(1, proposals));
  let temperature = hot;
  let on = movable.length;
  for (let k = 0; k < proposals; k++, temperature *= cooling) {
    const r = movable[Math.floor(uniform() * movable.length)]!;
    const was = state.powers[r]!;
    const maySwitch = maySwitchOff[r]!;
    const step = STEPS_DB[Math.floor(uniform() * STEPS_DB.length)]!;
    let to = within(r, was + step);
    if (was === OFF_DBM) to = within(r, start[r]!);
    else if (maySwitch && Math.floor(uniform() * SWITCH_EVERY) === 0) to = OFF_DBM;
    // The last one stays on.
    if (to === was || (to === OFF_DBM && on <= 1)) continue;
    model.set(r, to);
    const next = totalOf(model.parts());
    if (next <= now || uniform() < Math.exp((now - next) / temperature)) {
      now = next;
      on += (was === OFF_DBM ? 1 : 0) - (to === OFF_DBM ? 1 : 0);
      if (now < bestNow - 1e-9) {
        bestNow = now;
        best = state.powers.slice();
        bestContention = model.contention();
      }
    } else model.set(r, was);
    if (k % CHUNK === CHUNK - 1 && (yield bestContention) === true) break;
  }
  for (const r of movable) model.set(r, best[r]!);
  now = totalOf(model.parts());
  // What saves next to nothing is not changed: a radio goes back to where it was as long as the plan hardly loses.
  for (const r of movable) {
    const was = state.powers[r]!;
    const to = within(r, start[r]!);
    if (was === to) continue;
    const short = model.short();
    model.set(r, to);
    const next = totalOf(model.parts());
    if (next <= now + LEAST_GAIN / radios.length && model.short() <= short + 1e-9) now = Math.min(now, next);
    else model.set(r, was);
  }
  for (const r of movable) {
    const dbm = state.powers[r]!;
    settings[r] = dbm === OFF_DBM ? { ...settings[r]!, on: false } : { ...settings[r]!, txPowerDbm: dbm };
  }
}

/**
 * Why each power was changed: what would be lost most if that radio alone went back to where it was, as far as its new channel lets it. `much`: by how
 * much, in radios per spot, or for coverage as a share of the area. Null where nothing was changed, or nothing would be lost.
 */
export type PowerCause = Readonly<{ part: 'contention' | 'coverage' | 'spread' | 'unequal'; much: number }>;

/** Why each power was changed, and what going back alone would lose in all, in radios per spot; one that was switched off goes on again. */
export function powersBack(
  radios: readonly PlanRadio[],
  before: readonly Setting[],
  after: readonly Setting[],
  caps: ReadonlyArray<number | null>,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  ground: Ground,
  requiredShares: readonly number[],
  serving: number,
): Array<Readonly<{ cause: PowerCause | null; worth: number }>> {
  const highest = after.map((setting, r) => Math.max(dbmOf(setting), dbmOf(before[r]!), caps[r] ?? OFF_DBM));
  const model = new Powers(radios, after, highest, rules, outside, ground, requiredShares, serving);
  const now = model.parts();
  const covered = model.state.coveredShare;
  const none = { cause: null, worth: 0 };
  return after.map((setting, r) => {
    const to = Math.min(dbmOf(before[r]!), caps[r] ?? Infinity);
    if (to === dbmOf(setting)) return none;
    model.set(r, to);
    const then = model.parts();
    const lostShare = covered - model.state.coveredShare;
    model.set(r, dbmOf(setting));
    const worth = totalOf(then) - totalOf(now);
    if (!setting.on) return { cause: null, worth };
    const lost = (part: PowerCause['part']) => ({ part, much: then[part] - now[part] });
    const [most] = [lost('contention'), lost('coverage'), lost('unequal')].sort((a, b) => b.much - a.much);
    // The spread is what keeps many from going back alone; it is named where nothing else would be lost.
    const first = most!.much > LEAST_GAIN / radios.length ? most! : lost('spread');
    const cause = !(first.much > 1e-6) ? null : first.part === 'coverage' ? ({ part: 'coverage', much: lostShare } as const) : first;
    return { cause, worth };
  });
}
