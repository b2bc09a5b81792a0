import { seeded } from '../../random';
import { Cover, type CoverProblem } from './coverProblem';

/** Where a column hangs: on a floor, so far from the next wall; columns of one kind are the same radio turned the same way. */
export type Spot = Readonly<{ xM: number; yM: number; floor: number; clearanceM: number; kind: number }>;

/** A column may go so far at once. */
const STEP_M = 7.6;
/** With whom it ought to be in line: others of the floor within this. */
const NEAR_M = 30;
/** Off line by more than this is off line. */
const MOST_OFF_M = 4;
/** Both ways in line is better than one. */
const OTHER_WAY = 0.3;
const CLEAR_M = 2;
const CLEAR_COST = 0.7;
const APART_M = 6;
const APART_COST = 4;
/** Within this they are in line, in m. */
export const IN_LINE_M = 0.3;
const TRIES = 20_000;
const TRIES_A_ROUND = 500;
const HOT = 2;
const COLD = 0.02;

/** How untidy one is among others: off line, near a wall, close to another; in m. */
function untidiness(spots: readonly Spot[], chosen: readonly number[], j: number): number {
  const own = spots[j]!;
  let [offX, offY, close] = [MOST_OFF_M, MOST_OFF_M, 0];
  for (const k of chosen) {
    const other = spots[k]!;
    if (k === j || other.floor !== own.floor) continue;
    const [dx, dy] = [Math.abs(other.xM - own.xM), Math.abs(other.yM - own.yM)];
    const apart = Math.hypot(dx, dy);
    if (apart > NEAR_M) continue;
    offX = Math.min(offX, dx);
    offY = Math.min(offY, dy);
    close += (APART_COST / 2) * Math.max(0, APART_M - apart);
  }
  return Math.min(offX, offY) + OTHER_WAY * Math.max(offX, offY) + CLEAR_COST * Math.max(0, CLEAR_M - own.clearanceM) + close;
}

/** How many are in line with another of their floor, along or across. */
export function inLine(spots: readonly Spot[], chosen: readonly number[]): number {
  return chosen.filter((j) =>
    chosen.some((k) => {
      const [a, b] = [spots[j]!, spots[k]!];
      const near = k !== j && a.floor === b.floor && Math.hypot(a.xM - b.xM, a.yM - b.yM) <= NEAR_M;
      return near && Math.min(Math.abs(a.xM - b.xM), Math.abs(a.yM - b.yM)) <= IN_LINE_M;
    }),
  ).length;
}

/**
 * Shifts chosen columns so that they hang in line, clear of walls and apart, at the same number and with all that is owed still met: by annealing. Locked ones
 * stay. `holds` asks of a choice whatever else must be. Yields what stands; same seed, same result.
 */
export function* tidy(
  problem: CoverProblem,
  spots: readonly Spot[],
  chosen: readonly number[],
  holds: (chosen: readonly number[]) => boolean,
  seed: number,
): Generator<readonly number[], readonly number[], boolean | undefined> {
  const now = [...chosen];
  const movable = now.map((_, at) => at).filter((at) => problem.locked[now[at]!] === 0);
  if (movable.length === 0) return now;
  const uniform = seeded(seed);
  const cover = new Cover(problem, now);
  const shifts = new Map<number, number[]>();
  const shiftsOf = (j: number): number[] => {
    const known = shifts.get(j);
    if (known !== undefined) return known;
    const own = spots[j]!;
    const near = [...spots.keys()].filter((k) => {
      const to = spots[k]!;
      return (
        k !== j && problem.locked[k] === 0 && to.floor === own.floor && to.kind === own.kind && Math.hypot(to.xM - own.xM, to.yM - own.yM) <= STEP_M
      );
    });
    shifts.set(j, near);
    return near;
  };
  /** What a move of one can change: itself and those near its old and its new place. */
  const around = (from: number, to: number): number =>
    now.reduce((sum, k) => {
      const near = (j: number) =>
        spots[k]!.floor === spots[j]!.floor && Math.hypot(spots[k]!.xM - spots[j]!.xM, spots[k]!.yM - spots[j]!.yM) <= NEAR_M;
      return near(from) || near(to) ? sum + untidiness(spots, now, k) : sum;
    }, 0);
  const taken = new Set(now.map((j) => problem.place[j]!));
  let [cost, least] = [0, 0];
  let best = [...now];
  const cooling = (COLD / HOT) ** (1 / TRIES);
  let temperature = HOT;
  for (let t = 0; t < TRIES; t++, temperature *= cooling) {
    const at = movable[Math.floor(uniform() * movable.length)]!;
    const from = now[at]!;
    const ways = shiftsOf(from);
    const to = ways[Math.floor(uniform() * ways.length)];
    if (to !== undefined && !taken.has(problem.place[to]!)) {
      const before = around(from, to);
      now[at] = to;
      const more = around(from, to) - before;
      const wanted = more <= 0 || uniform() < Math.exp(-more / temperature);
      let moved = false;
      if (wanted) {
        cover.remove(from);
        cover.add(to);
        moved = cover.overM2 === 0 && holds(now);
        if (!moved) {
          cover.remove(to);
          cover.add(from);
        }
      }
      if (moved) {
        taken.delete(problem.place[from]!);
        taken.add(problem.place[to]!);
        cost += more;
        if (cost < least - 1e-9) [least, best] = [cost, [...now]];
      } else now[at] = from;
    }
    if (t % TRIES_A_ROUND === TRIES_A_ROUND - 1 && (yield best) === true) break;
  }
  return best.sort((a, b) => a - b);
}
