import { coverBound } from './coverBound';
import { Cover, coverProblemOf, shortM2, type CoverProblem } from './coverProblem';
import { coverSearch } from './coverSearch';

/**
 * What is owed in one zone by one requirement: at the points of its mask so many radios at a level or more, in a share of the area. `fromDbm` has the level
 * of each column: what a rate needs depends on the radio.
 */
export type PositionGroup = Readonly<{ zone: string; name: string; mask: Uint8Array; need: 1 | 2; fromDbm: ArrayLike<number>; share: number }>;

/** Radios at places where they may hang, with their levels at every point, in dBm. Of those of one place at most one is taken; locked ones stand. */
export type Columns = Readonly<{ levelsDbm: readonly Float32Array[]; places: readonly number[]; locked: readonly number[] }>;

/** How a group ends: what of its area meets the requirement, and what of it no choice of these positions can. */
export type GroupShare = Readonly<{ zone: string; name: string; share: number; owed: number; unreachable: number }>;

/**
 * Positions found: columns, without the locked ones. `count` is with these; `bound` is what no choice of these positions can do
 * with fewer. Null where the requirements cannot be met from these positions at all.
 */
export type Covered = Readonly<{ chosen: readonly number[] | null; count: number | null; bound: number; groups: readonly GroupShare[] }>;

/** Rounds without anything better, of search and proof, after which it ends by itself: for one answer, and for one of many. */
export const IDLE_ROUNDS = { thorough: 160, quick: 30 } as const;

/**
 * Requirements without those that others imply: at the same points, of at least as many radios, at a level that is at least as high for each of them, in at least
 * as much of the area.
 */
export function leanGroups(groups: readonly PositionGroup[]): PositionGroup[] {
  const implies = (strict: PositionGroup, lax: PositionGroup): boolean => {
    if (strict.mask !== lax.mask || strict.need < lax.need || strict.share < lax.share) return false;
    for (let j = 0; j < lax.fromDbm.length; j++) if (strict.fromDbm[j]! < lax.fromDbm[j]!) return false;
    return true;
  };
  // Of two that imply each other the first is kept.
  return groups.filter((lax, k) => !groups.some((strict, s) => s !== k && implies(strict, lax) && (s < k || !implies(lax, strict))));
}

/** The problem of columns under some requirements. `pointM2` is the area that each point stands for. */
export function problemOf({ levelsDbm, places, locked }: Columns, groups: readonly PositionGroup[], pointM2: ArrayLike<number>): CoverProblem {
  const rows: Array<{ need: number; areaM2: number; group: number }> = [];
  const reaches: number[][] = levelsDbm.map(() => []);
  const budgets: number[] = [];
  groups.forEach(({ mask, need, fromDbm, share }, group) => {
    let wholeM2 = 0;
    for (let i = 0; i < mask.length; i++) {
      if (mask[i] === 0) continue;
      wholeM2 += pointM2[i]!;
      const row = rows.length;
      rows.push({ need, areaM2: pointM2[i]!, group });
      for (let j = 0; j < levelsDbm.length; j++) if (levelsDbm[j]![i]! >= fromDbm[j]!) reaches[j]!.push(row);
    }
    budgets.push((1 - share) * wholeM2);
  });
  return coverProblemOf(rows, reaches, budgets, locked, places);
}

/** The whole area of each group, in m2, and what of it no columns reach often enough. */
function reachOfGroups({ need, areaM2, group, rowStart, budgetM2 }: CoverProblem): { whole: Float64Array; never: Float64Array } {
  const whole = new Float64Array(budgetM2.length);
  const never = new Float64Array(budgetM2.length);
  for (let i = 0; i < need.length; i++) {
    whole[group[i]!]! += areaM2[i]!;
    if (rowStart[i + 1]! - rowStart[i]! < need[i]!) never[group[i]!]! += areaM2[i]!;
  }
  return { whole, never };
}

/** Of each group the share that meets what is owed with some columns, and the share that no columns reach. */
export function groupShares(problem: CoverProblem, groups: readonly PositionGroup[], chosen: Iterable<number>): GroupShare[] {
  const { whole, never } = reachOfGroups(problem);
  const short = shortM2(problem, chosen);
  return groups.map(({ zone, name, share }, g) => ({
    zone,
    name,
    owed: share,
    share: whole[g] === 0 ? 1 : 1 - short[g]! / whole[g]!,
    unreachable: whole[g] === 0 ? 0 : never[g]! / whole[g]!,
  }));
}

/** By how much the share of each group falls when one of the columns goes, for each column. */
export function lostWithout(problem: CoverProblem): number[][] {
  const { whole } = reachOfGroups(problem);
  const cover = new Cover(
    problem,
    Array.from({ length: problem.columns }, (_, j) => j),
  );
  return Array.from({ length: problem.columns }, (_, j) => {
    const before = Array.from(cover.short);
    cover.remove(j);
    const lost = before.map((m2, g) => (whole[g] === 0 ? 0 : (cover.short[g]! - m2) / whole[g]!));
    cover.add(j);
    return lost;
  });
}

/**
 * The fewest positions, searched and bounded in turn. Yields the best and the bound after each round; sent true, it ends with what it has. It ends by itself where
 * both meet, or nothing has come of a while.
 */
export function* positionsOf(
  columns: Columns,
  groups: readonly PositionGroup[],
  pointM2: ArrayLike<number>,
  seed: number,
  idleRounds: number = IDLE_ROUNDS.thorough,
): Generator<Covered, Covered, boolean | undefined> {
  const problem = problemOf(columns, groups, pointM2);
  const { locked, levelsDbm } = columns;
  const search = coverSearch(problem, seed);
  const proof = coverBound(problem);
  const isLocked = new Set(locked);
  let now: Covered = { chosen: null, count: null, bound: locked.length, groups: groupShares(problem, groups, locked) };
  for (let idle = 0; idle < idleRounds; idle++) {
    const { chosen, possible } = search.next().value;
    // Nothing reaches what is owed, however many are taken.
    if (!possible) return { ...now, groups: groupShares(problem, groups, levelsDbm.keys()) };
    const bound = Math.max(now.bound, proof.next().value);
    const better = chosen !== null && (now.count === null || chosen.length < now.count);
    if (better) {
      idle = 0;
      now = { chosen: chosen.filter((j) => !isLocked.has(j)), count: chosen.length, bound, groups: groupShares(problem, groups, chosen) };
    } else now = { ...now, bound };
    if (now.count === now.bound) break;
    if ((yield now) === true) break;
  }
  return now;
}
