import { bears, crowdBound, crowdLoad, relieve, type Crowd, type CrowdLoad } from './crowd';
import { groupShares, leanGroups, positionsOf, problemOf, type Columns, type Covered, type PositionGroup } from './positions';
import { inLine, tidy, type Spot } from './tidy';

/** What is being done: the fewest that cover, more where people need them, then in line. */
export type Stage = 'cover' | 'people' | 'tidy';

/** Positions proposed. `load`: how they serve the people, where that was asked; null else, and where nothing bears it. `inLine`: how many hang in line with another. */
export type Positions = Covered & Readonly<{ stage: Stage; load: CrowdLoad | null; borne: boolean; inLine: number }>;

/**
 * Proposes positions: the fewest that cover what is owed, then as many more as the people need, then shifted in line at the same number. Yields the best
 * so far; sent true, it ends the search for fewer, and goes on with what is left to do.
 * @param crowd null where only coverage is asked for
 */
export function* proposed(
  columns: Columns,
  spots: readonly Spot[],
  groups: readonly PositionGroup[],
  pointM2: ArrayLike<number>,
  crowd: Crowd | null,
  seed: number,
  idleRounds: number,
): Generator<Positions, Positions, boolean | undefined> {
  const isLocked = new Set(columns.locked);
  const as = (covered: Covered, stage: Stage, borne = true): Positions => {
    const all = [...columns.locked, ...(covered.chosen ?? [])];
    return {
      ...covered,
      stage,
      borne,
      load: crowd === null || covered.chosen === null ? null : crowdLoad(columns, crowd, all),
      inLine: inLine(spots, all),
    };
  };
  let stop: boolean | undefined = false;
  const lean = leanGroups(groups);
  const told = problemOf(columns, groups, pointM2);
  /** All requirements are told, also those that others imply. */
  const inFull = (covered: Covered): Covered =>
    lean.length === groups.length
      ? covered
      : {
          ...covered,
          groups: groupShares(told, groups, covered.chosen === null ? columns.levelsDbm.keys() : [...columns.locked, ...covered.chosen]),
        };
  const search = positionsOf(columns, lean, pointM2, seed, idleRounds);
  let step = search.next();
  while (!step.done) {
    stop = yield as(inFull(step.value), 'cover');
    step = search.next(stop);
  }
  let covered = inFull(step.value);
  if (covered.chosen === null) return as(covered, 'cover');
  const problem = problemOf(columns, lean, pointM2);
  const withAll = (all: readonly number[]): Covered => ({
    ...covered,
    chosen: all.filter((j) => !isLocked.has(j)),
    count: all.length,
    groups: groupShares(told, groups, all),
  });
  let all: readonly number[] = [...columns.locked, ...covered.chosen];
  if (crowd !== null) {
    covered = { ...covered, bound: Math.max(covered.bound, crowdBound(columns, crowd)) };
    const relief = relieve(problem, columns, crowd, all);
    let more = relief.next();
    for (; !more.done; more = relief.next(stop)) stop = yield as(withAll(more.value.chosen), 'people', more.value.borne);
    all = more.value.chosen;
    if (!more.value.borne) return as(withAll(all), 'people', false);
  }
  const neat = tidy(problem, spots, all, (now) => crowd === null || bears(columns, crowd, now), seed);
  let shift = neat.next();
  while (!shift.done) {
    stop = yield as(withAll(shift.value), 'tidy');
    shift = neat.next(stop);
  }
  return as(withAll(shift.value), 'tidy');
}
