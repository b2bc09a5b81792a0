import { coverBound } from './coverBound';
import { coverProblemOf, shortM2, type CoverProblem } from './coverProblem';
import { coverSearch } from './coverSearch';

/** What is owed in one zone by one requirement: at the cells of its mask so many radios at a level or more, in a share of the area. */
export type PositionGroup = Readonly<{ name: string; mask: Uint8Array; need: 1 | 2; levelDbm: number; share: number }>;

/** How a group ends: what of its area meets the requirement, and what of it no choice of these positions can. */
export type GroupShare = Readonly<{ name: string; share: number; owed: number; unreachable: number }>;

/**
 * Positions found: places in the list of candidates, without the locked ones. `count` is with these; `bound` is what no choice of these positions can do
 * with fewer. Null where the requirements cannot be met from these positions at all.
 */
export type Positions = Readonly<{ chosen: readonly number[] | null; count: number | null; bound: number; groups: readonly GroupShare[] }>;

/** Rounds without anything better, of search and proof, after which it ends by itself: for one answer, and for one of many. */
export const IDLE_ROUNDS = { thorough: 160, quick: 30 } as const;

/** The problem of columns with levels (one array per column, by cell, in dBm) under some requirements. `cellM2` is the area of a cell. */
export function problemOf(
  levelsDbm: readonly Float32Array[],
  groups: readonly PositionGroup[],
  cellM2: number,
  locked: readonly number[],
): CoverProblem {
  const rows: Array<{ need: number; areaM2: number; group: number }> = [];
  const reaches: number[][] = levelsDbm.map(() => []);
  const budgets: number[] = [];
  groups.forEach(({ mask, need, levelDbm, share }, group) => {
    let cells = 0;
    for (let i = 0; i < mask.length; i++) {
      if (mask[i] === 0) continue;
      cells++;
      const row = rows.length;
      rows.push({ need, areaM2: cellM2, group });
      for (let j = 0; j < levelsDbm.length; j++) if (levelsDbm[j]![i]! >= levelDbm) reaches[j]!.push(row);
    }
    budgets.push((1 - share) * cells * cellM2);
  });
  return coverProblemOf(rows, reaches, budgets, locked);
}

/** Of each group the share that meets what is owed with some columns, and the share that no columns reach. */
export function groupShares(problem: CoverProblem, groups: readonly PositionGroup[], chosen: readonly number[]): GroupShare[] {
  const { need, areaM2, group, rowStart } = problem;
  const whole = new Float64Array(groups.length);
  const never = new Float64Array(groups.length);
  for (let i = 0; i < need.length; i++) {
    whole[group[i]!]! += areaM2[i]!;
    if (rowStart[i + 1]! - rowStart[i]! < need[i]!) never[group[i]!]! += areaM2[i]!;
  }
  const short = shortM2(problem, chosen);
  return groups.map(({ name, share }, g) => ({
    name,
    owed: share,
    share: whole[g] === 0 ? 1 : 1 - short[g]! / whole[g]!,
    unreachable: whole[g] === 0 ? 0 : never[g]! / whole[g]!,
  }));
}

/**
 * The fewest positions, searched and bounded in turn. Yields the best and the bound after each round; sent true, it ends with what it has. It ends by itself where
 * both meet, or nothing has come of a while.
 */
export function* positionsOf(
  levelsDbm: readonly Float32Array[],
  groups: readonly PositionGroup[],
  cellM2: number,
  locked: readonly number[],
  seed: number,
  idleRounds: number = IDLE_ROUNDS.thorough,
): Generator<Positions, Positions, boolean | undefined> {
  const problem = problemOf(levelsDbm, groups, cellM2, locked);
  const search = coverSearch(problem, seed);
  const proof = coverBound(problem);
  const isLocked = new Set(locked);
  let now: Positions = { chosen: null, count: null, bound: locked.length, groups: groupShares(problem, groups, locked) };
  for (let idle = 0; idle < idleRounds; idle++) {
    const { chosen } = search.next().value;
    // Nothing reaches what is owed, however many are taken.
    if (chosen === null) {
      const all = levelsDbm.map((_, j) => j);
      return { ...now, groups: groupShares(problem, groups, all) };
    }
    const bound = Math.max(now.bound, proof.next().value);
    if (now.count === null || chosen.length < now.count || bound > now.bound) {
      if (now.count === null || chosen.length < now.count) idle = 0;
      now = { chosen: chosen.filter((j) => !isLocked.has(j)), count: chosen.length, bound, groups: groupShares(problem, groups, chosen) };
    }
    if (now.count === now.bound) break;
    if ((yield now) === true) break;
  }
  return now;
}
