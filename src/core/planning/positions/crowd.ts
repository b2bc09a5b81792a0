import { Cover, type CoverProblem } from './coverProblem';
import type { Columns } from './positions';

/** The rates of a radio by level, both rising. */
export type RateLadder = Readonly<{ fromDbm: ArrayLike<number>; mbps: ArrayLike<number> }>;

/** What people want of the air: Mb/s at each point, and the share of its airtime that a radio may spend on it. Columns of equal radios have the same ladder. */
export type Crowd = Readonly<{ demandMbps: Float64Array; airtimeShare: number; ladders: readonly RateLadder[]; ladderOf: readonly number[] }>;

/** How the people are served: airtime of the busiest radio and of all on the mean, and the share of what is wanted that no rate reaches. */
export type CrowdLoad = Readonly<{ busiest: number; mean: number; unserved: number }>;

/**
 * Of the data rate, what arrives as data. A frame of 1 ms that nobody disturbs waits 43 us and 67 us of backoff in the mean (best effort at 5 GHz: AIFSN 3, CWmin 15,
 * slots of 9 us), has about 40 us of preamble and is acknowledged in about 50 us: 0.83. Shorter frames, repeats and management take more. A working value of
 * ours, not a figure of a standard.
 */
export const ARRIVING_SHARE = 0.6;

/** The rate of a column at a point, in Mb/s; 0 where none is reached. */
export function mbpsAt({ levelsDbm }: Pick<Columns, 'levelsDbm'>, { ladders, ladderOf }: Crowd, j: number, i: number): number {
  const { fromDbm, mbps } = ladders[ladderOf[j]!]!;
  const level = levelsDbm[j]![i]!;
  let reached = 0;
  for (let k = 0; k < fromDbm.length && level >= fromDbm[k]!; k++) reached = mbps[k]!;
  return reached;
}

/** Who serves whom, and what airtime that takes. */
class Airtime {
  /** The strongest two of each point; -1 for none. */
  readonly first: Int32Array;
  readonly second: Int32Array;
  /** Airtime by column, as a share. */
  readonly load: Float64Array;
  readonly points: Int32Array;
  unservedMbps = 0;

  constructor(
    private readonly columns: Columns,
    private readonly crowd: Crowd,
    chosen: Iterable<number>,
  ) {
    const { levelsDbm } = columns;
    const { demandMbps } = crowd;
    this.points = Int32Array.from(demandMbps.keys()).filter((i) => demandMbps[i]! > 0);
    this.first = new Int32Array(demandMbps.length).fill(-1);
    this.second = new Int32Array(demandMbps.length).fill(-1);
    this.load = new Float64Array(levelsDbm.length);
    for (const j of chosen)
      for (const i of this.points) {
        const level = levelsDbm[j]![i]!;
        const [p, q] = [this.first[i]!, this.second[i]!];
        if (p < 0 || level > levelsDbm[p]![i]!) [this.first[i], this.second[i]] = [j, p];
        else if (q < 0 || level > levelsDbm[q]![i]!) this.second[i] = j;
      }
    for (const i of this.points) {
      const j = this.first[i]!;
      const share = j < 0 ? 0 : this.of(j, i);
      if (share > 0) this.load[j]! += share;
      else this.unservedMbps += demandMbps[i]!;
    }
  }

  /** Airtime that a point takes of a radio; 0 where it has no rate. */
  of(j: number, i: number): number {
    const mbps = mbpsAt(this.columns, this.crowd, j, i);
    return mbps === 0 ? 0 : this.crowd.demandMbps[i]! / (ARRIVING_SHARE * mbps);
  }

  get over(): number {
    return overOf(this.load, this.crowd.airtimeShare);
  }

  /** What is beyond the limits after one more hangs. */
  overWith(j: number): number {
    const { levelsDbm } = this.columns;
    const load = this.load.slice();
    for (const i of this.points) {
      const p = this.first[i]!;
      if (p >= 0 && levelsDbm[j]![i]! <= levelsDbm[p]![i]!) continue;
      if (p >= 0) load[p]! -= this.of(p, i);
      load[j]! += this.of(j, i);
    }
    return overOf(load, this.crowd.airtimeShare);
  }

  /** What is beyond the limits after one goes. */
  overWithout(j: number): number {
    const load = this.load.slice();
    load[j] = 0;
    for (const i of this.points) if (this.first[i] === j && this.second[i]! >= 0) load[this.second[i]!]! += this.of(this.second[i]!, i);
    return overOf(load, this.crowd.airtimeShare);
  }
}

const EPS = 1e-9;
const overOf = (load: Float64Array, limit: number): number => load.reduce((sum, one) => sum + Math.max(0, one - limit - EPS), 0);

/** How some columns serve the people. */
export function crowdLoad(columns: Columns, crowd: Crowd, chosen: readonly number[]): CrowdLoad {
  const { load, unservedMbps } = new Airtime(columns, crowd, chosen);
  const all = crowd.demandMbps.reduce((sum, one) => sum + one, 0);
  return {
    busiest: chosen.reduce((most, j) => Math.max(most, load[j]!), 0),
    mean: chosen.length === 0 ? 0 : chosen.reduce((sum, j) => sum + load[j]!, 0) / chosen.length,
    unserved: all === 0 ? 0 : unservedMbps / all,
  };
}

/** Whether no radio spends more than it may. */
export const bears = (columns: Columns, crowd: Crowd, chosen: readonly number[]): boolean => new Airtime(columns, crowd, chosen).over === 0;

/**
 * A number below which no choice serves these people: each at the best rate that any column gives there, radios filled to the limit. Where no column has a rate
 * nobody is served, and nothing is counted.
 */
export function crowdBound(columns: Columns, crowd: Crowd): number {
  let airtime = 0;
  for (let i = 0; i < crowd.demandMbps.length; i++) {
    if (crowd.demandMbps[i] === 0) continue;
    let best = 0;
    for (let j = 0; j < columns.levelsDbm.length; j++) best = Math.max(best, mbpsAt(columns, crowd, j, i));
    if (best > 0) airtime += crowd.demandMbps[i]! / (ARRIVING_SHARE * best);
  }
  return Math.ceil(airtime / crowd.airtimeShare - 1e-6);
}

/** A column that takes less than this from the others does not help. */
const LEAST_FALL = 1e-6;

/** What stands, and whether no radio has more to do than it may. */
export type Relieved = Readonly<{ chosen: readonly number[]; borne: boolean }>;

/**
 * Adds columns to some that cover what is owed until no radio has more to do than it may, each time the one that takes most from those that have too much;
 * then takes away what is not needed for either. Yields what stands; it is not borne at the end where nothing helps any more.
 */
export function* relieve(
  problem: CoverProblem,
  columns: Columns,
  crowd: Crowd,
  chosen: readonly number[],
): Generator<Relieved, Relieved, boolean | undefined> {
  const { place, locked } = problem;
  let now = [...chosen];
  let air = new Airtime(columns, crowd, now);
  while (air.over > 0) {
    const taken = new Set(now.map((j) => place[j]!));
    let [best, least] = [-1, air.over - LEAST_FALL];
    for (let j = 0; j < problem.columns; j++) {
      if (taken.has(place[j]!)) continue;
      const over = air.overWith(j);
      if (over < least) [best, least] = [j, over];
    }
    if (best < 0) return { chosen: now, borne: false };
    now = [...now, best].sort((a, b) => a - b);
    air = new Airtime(columns, crowd, now);
    const borne = air.over === 0;
    if ((yield { chosen: now, borne }) === true && !borne) return { chosen: now, borne };
  }
  const cover = new Cover(problem, now);
  // Those that do least go first.
  for (const j of [...now].sort((a, b) => air.load[a]! - air.load[b]!)) {
    if (locked[j] === 1 || air.overWithout(j) > 0) continue;
    cover.remove(j);
    if (cover.overM2 > 0) cover.add(j);
    else {
      now = now.filter((one) => one !== j);
      air = new Airtime(columns, crowd, now);
    }
    if ((yield { chosen: now, borne: true }) === true) break;
  }
  return { chosen: now, borne: true };
}
