import { Cover, type CoverProblem } from './coverProblem';
import { coverSearch } from './coverSearch';

const ROUNDS = 60;

/**
 * Takes away one column after the other, each time the one whose going leaves least short, as long as all budgets hold.
 * @returns columns that stay, ascending
 */
function backward(problem: CoverProblem): number[] {
  const { columns, locked, budgetM2 } = problem;
  const cover = new Cover(
    problem,
    Array.from({ length: columns }, (_, j) => j),
  );
  const stays = new Set(Array.from({ length: columns }, (_, j) => j));
  for (;;) {
    let [gone, least] = [-1, Infinity];
    for (const j of stays) {
      if (locked[j] === 1) continue;
      cover.remove(j);
      // Measured by what is left of each budget: what is short of a scarce one weighs more.
      const cost = cover.overM2 > 0 ? Infinity : cover.short.reduce((sum, m2, g) => sum + m2 / Math.max(1, budgetM2[g]!), 0);
      if (cost < least) [gone, least] = [j, cost];
      cover.add(j);
    }
    if (gone < 0) return [...stays].sort((a, b) => a - b);
    cover.remove(gone);
    stays.delete(gone);
  }
}

/**
 * Which columns can go together and all budgets still hold: the most that taking away one by one, or a search of the fewest that do, has found. Yields those
 * so far.
 */
export function* thinOut(problem: CoverProblem, seed: number): Generator<readonly number[], readonly number[], boolean | undefined> {
  const goneOf = (stay: readonly number[]): number[] => {
    const kept = new Set(stay);
    return Array.from({ length: problem.columns }, (_, j) => j).filter((j) => !kept.has(j));
  };
  let best = goneOf(backward(problem));
  const search = coverSearch(problem, seed);
  for (let round = 0; round < ROUNDS; round++) {
    if ((yield best) === true) break;
    const { chosen } = search.next().value;
    if (chosen !== null && problem.columns - chosen.length > best.length) best = goneOf(chosen);
  }
  return best;
}
