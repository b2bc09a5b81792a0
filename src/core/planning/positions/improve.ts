import { Cover, type CoverProblem } from './coverProblem';

/** A metre moved must bring this much area, and a move at all so much, in m2: nobody climbs a ladder for less. */
const WORTH_A_METRE_M2 = 2;
const WORTH_A_MOVE_M2 = 4;
/** What is beyond a budget weighs more than what is within. */
const OVER_WEIGHT = 10;
const MOST_PASSES = 20;

/**
 * Moves what hangs a little where that brings more: `home[j]` is the access point whose place column j would be, `movedM[j]` how far that is from where it
 * hangs, 0 for where it is. Each access point has one column at 0. Goes from one to the next, each to its best place, until none moves.
 * @returns the column of each access point
 */
export function* improve(
  problem: CoverProblem,
  home: Int32Array,
  movedM: Float64Array,
): Generator<readonly number[], readonly number[], boolean | undefined> {
  const count = home.reduce((most, h) => Math.max(most, h + 1), 0);
  const ways: number[][] = Array.from({ length: count }, () => []);
  home.forEach((h, j) => ways[h]!.push(j));
  const at = ways.map((list) => list.find((j) => movedM[j] === 0)!);
  const cover = new Cover(problem, at);
  const costOf = (j: number): number =>
    cover.short.reduce((sum, m2) => sum + m2, 0) +
    OVER_WEIGHT * cover.overM2 +
    (movedM[j] === 0 ? 0 : WORTH_A_MOVE_M2 + WORTH_A_METRE_M2 * movedM[j]!);
  for (let pass = 0, moved = true; moved && pass < MOST_PASSES; pass++) {
    moved = false;
    for (let h = 0; h < count; h++) {
      const from = at[h]!;
      let [best, least] = [from, costOf(from) - 1e-6];
      cover.remove(from);
      for (const j of ways[h]!) {
        if (j === from) continue;
        cover.add(j);
        const cost = costOf(j);
        if (cost < least) [best, least] = [j, cost];
        cover.remove(j);
      }
      cover.add(best);
      if (best !== from) {
        at[h] = best;
        moved = true;
      }
      if ((yield at) === true) return at;
    }
  }
  return at;
}
