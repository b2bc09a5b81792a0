import { costOf, type Assignment } from './assignment';

/** The least cost of any choice, by trying all of them. */
export function bruteForce(problem: Assignment): number {
  const n = problem.sizes.length;
  const choice = new Int32Array(n);
  let best = Infinity;
  const descend = (r: number): void => {
    if (r === n) {
      best = Math.min(best, costOf(problem, choice));
      return;
    }
    for (let a = 0; a < problem.sizes[r]!; a++) {
      choice[r] = a;
      descend(r + 1);
    }
  };
  descend(0);
  return best;
}
