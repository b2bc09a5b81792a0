import type { CoverProblem } from './coverProblem';

/** How low a bound may be told: the sum is not exact. */
const ROUNDED = 1e-6;
const MOMENTUM = 0.95;
const AIM_SHARE = 0.05;
const IDLE_STEPS = 60;
const SMALLER = 0.8;
const STEPS_A_ROUND = 10;

/**
 * A number below which no choice of these columns meets what is owed at these rows: by a Lagrangian relaxation. Rows have prices u; each column that earns more
 * than it costs is taken, and of each group the dearest rows are given up as far as its budget reaches. Yields the best bound after each round.
 */
export function* coverBound(problem: CoverProblem): Generator<number, never, unknown> {
  const { columns, locked, need, areaM2, group, columnStart, rowsOf, budgetM2 } = problem;
  const rows = need.length;
  const groups = budgetM2.length;
  const u = new Float64Array(rows);
  const bestU = new Float64Array(rows);
  const direction = new Float64Array(rows);
  const gradient = new Float64Array(rows);
  const order = Array.from({ length: groups }, () => [] as number[]);
  for (let i = 0; i < rows; i++) order[group[i]!]!.push(i);
  // Prices begin so that the mean column just pays.
  const mean = rowsOf.length / Math.max(1, columns);
  u.fill(mean > 0 ? 1 / mean : 0);
  let best = 0;
  for (let j = 0; j < columns; j++) best += locked[j]!;
  let [share, idle] = [AIM_SHARE, 0];
  for (;;) {
    for (let step = 0; step < STEPS_A_ROUND; step++) {
      const value = lagrangian();
      if (value > best + 1e-9) {
        best = value;
        bestU.set(u);
        idle = 0;
      } else if (++idle >= IDLE_STEPS) {
        u.set(bestU);
        direction.fill(0);
        share *= SMALLER;
        idle = 0;
      }
      let length = 0;
      for (let i = 0; i < rows; i++) {
        direction[i] = MOMENTUM * direction[i]! + (1 - MOMENTUM) * gradient[i]!;
        length += direction[i]! ** 2;
      }
      if (length < 1e-18) break;
      const size = (best + share * Math.max(1, best) - value) / length;
      for (let i = 0; i < rows; i++) u[i] = Math.max(0, u[i]! + size * direction[i]!);
    }
    yield Math.ceil(best - ROUNDED);
  }

  /** L(u), and its slope into `gradient`. */
  function lagrangian(): number {
    let value = 0;
    gradient.fill(0);
    for (let g = 0; g < groups; g++) {
      // The dearest by area are given up, as far as the budget reaches: a fractional knapsack, which is no less than any whole one.
      const list = order[g]!;
      list.sort((p, q) => (need[q]! * u[q]!) / areaM2[q]! - (need[p]! * u[p]!) / areaM2[p]!);
      let left = budgetM2[g]!;
      for (const i of list) {
        const given = Math.min(1, left / areaM2[i]!);
        left -= given * areaM2[i]!;
        value += need[i]! * u[i]! * (1 - given);
        gradient[i]! += need[i]! * (1 - given);
      }
    }
    for (let j = 0; j < columns; j++) {
      let earned = 0;
      for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) earned += u[rowsOf[k]!]!;
      if (locked[j] === 1 || earned > 1) {
        value += 1 - earned;
        for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) gradient[rowsOf[k]!]!--;
      }
    }
    return value;
  }
}
