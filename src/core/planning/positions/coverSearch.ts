import { seeded } from '../../random';
import { SLACK_M2, isWithin, shortM2, type CoverProblem } from './coverProblem';
import { CoverWorth } from './coverWorth';

/** What stands after a round of work: the fewest columns found so far, ascending; null while none meets what is owed. `possible`: all columns together would. */
export type CoverBest = Readonly<{ chosen: readonly number[] | null; possible: boolean; steps: number }>;

const STEPS_A_ROUND = 150;
/** Where many positions reach many points a round ends sooner: after so many looks at both. */
const LOOKS_A_ROUND = 20_000_000;
const ROWS_LOOKED_AT = 8;
/** A column that was taken out stays out for 8 to 16 steps, one that was put in stays in for 1 to 4. */
const OUT_STEPS = { least: 8, spread: 9 };
const IN_STEPS = { least: 1, spread: 4 };
const DEARER = 1.05;
/** Also what is within its budget counts a little: of equals the one that covers more. */
const WITHIN = 0.05;
/** So does the first of two that a row needs: nothing would be met by one alone. */
const HALF_WAY = 0.02;
/** Steps without anything better after which a part is taken out at random, and what share. */
const KICK_AFTER = 1500;
const KICK_SHARE = 0.3;

/**
 * Searches the fewest columns, by taking one away and mending what falls short, with prices of the groups that grow while they are over budget (weights of rows would
 * fix on the very points that one should give up). Yields its best after each round, for as long as it is asked; same seed, same result.
 */
export function* coverSearch(problem: CoverProblem, seed: number): Generator<CoverBest, never, unknown> {
  const { columns, locked, place, need, group, rowStart, columnsOf, budgetM2 } = problem;
  const groups = budgetM2.length;
  const uniform = seeded(seed);
  const state = new CoverWorth(problem);
  const { count, inside, taken, worth, halfWay, short } = state;
  const price = new Float64Array(groups).fill(1);
  const barred = new Int32Array(columns);
  let sinceBetter = 0;
  const flip = (j: number, into: boolean): void => state.flip(j, into);
  const costOf = (j: number): number => {
    let cost = 0;
    for (let g = 0; g < groups; g++) {
      const s = worth[j * groups + g]!;
      const over = short[g]! - budgetM2[g]!;
      cost += price[g]! * (Math.max(0, over + s) - Math.max(0, over) + WITHIN * s);
    }
    return cost;
  };
  const valueOf = (j: number): number => {
    let value = 0;
    for (let g = 0; g < groups; g++) {
      const s = worth[j * groups + g]!;
      const over = short[g]! - budgetM2[g]!;
      value += price[g]! * (Math.max(0, over) - Math.max(0, over - s) + WITHIN * s + (over > 0 ? HALF_WAY * halfWay[j * groups + g]! : 0));
    }
    return value;
  };
  const isMet = (): boolean => {
    for (let g = 0; g < groups; g++) if (short[g]! > budgetM2[g]! + SLACK_M2) return false;
    return true;
  };
  const cheapest = (step: number): number => {
    let [best, least] = [-1, Infinity];
    for (let j = 0; j < columns; j++) {
      if (inside[j] === 0 || locked[j] === 1 || barred[j]! > step) continue;
      const cost = costOf(j);
      if (cost < least) [best, least] = [j, cost];
    }
    return best;
  };

  for (let j = 0; j < columns; j++) if (locked[j] === 1) flip(j, true);
  let chosen: number[] | null = null;
  let steps = 0;
  const record = (): void => {
    const now = [...inside.keys()].filter((j) => inside[j] === 1);
    // The running sums may have drifted: what is told is counted afresh.
    if ((chosen === null || now.length < chosen.length) && isWithin(problem, shortM2(problem, now))) {
      chosen = now;
      sinceBetter = steps;
    }
  };

  // First whatever mends most, until all is met or nothing is left to add.
  while (!isMet()) {
    let [best, most] = [-1, 0];
    for (let j = 0; j < columns; j++) {
      if (taken[place[j]!] === 1) continue;
      const value = valueOf(j);
      if (value > most) [best, most] = [j, value];
    }
    if (best < 0) break;
    flip(best, true);
  }
  const possible = isWithin(problem, shortM2(problem, inside.keys()));
  if (!possible) for (;;) yield { chosen: null, possible, steps };
  const bars = (spread: { least: number; spread: number }, most: number): number =>
    Math.min(spread.least + Math.floor(uniform() * spread.spread), Math.floor(uniform() * (most + 1)));
  const takeOut = (j: number): void => {
    flip(j, false);
    barred[j] = steps + bars(OUT_STEPS, (columns - state.standing) >> 1);
  };
  for (;;) {
    state.looks = 0;
    for (let round = 0; round < STEPS_A_ROUND && state.looks < LOOKS_A_ROUND; round++) {
      steps++;
      while (isMet()) {
        record();
        const gone = cheapest(Infinity);
        if (gone < 0) break;
        takeOut(gone);
      }
      if (isMet()) break;
      // One goes, and so many come that one less than the best has stands.
      const wanted: number = (chosen as number[] | null) === null ? state.standing : (chosen as unknown as number[]).length - 1;
      const kick = steps - sinceBetter > KICK_AFTER;
      for (let goes = kick ? Math.ceil(KICK_SHARE * state.standing) : 1; goes > 0; goes--) {
        const gone = kick ? anyInside() : cheapest(steps);
        if (gone >= 0) takeOut(gone);
      }
      if (kick) sinceBetter = steps;
      while (state.standing < wanted) {
        const added = bestToAdd(steps);
        if (added < 0) break;
        flip(added, true);
        barred[added] = steps + bars(IN_STEPS, state.standing >> 1);
        if (isMet()) break;
      }
      for (let g = 0; g < groups; g++) if (short[g]! > budgetM2[g]! + SLACK_M2) price[g]! *= DEARER;
      // Prices are compared with each other only.
      const most = price.reduce((high, one) => Math.max(high, one), 0);
      if (most > 1e6) for (let g = 0; g < groups; g++) price[g]! /= most;
    }
    yield { chosen, possible, steps };
  }

  function anyInside(): number {
    const movable = [...inside.keys()].filter((j) => inside[j] === 1 && locked[j] === 0);
    return movable.length === 0 ? -1 : movable[Math.floor(uniform() * movable.length)]!;
  }

  /** Of some short rows of a group over budget, the best of the columns that reach them. */
  function bestToAdd(step: number): number {
    const over: number[] = [];
    for (let g = 0; g < groups; g++) if (short[g]! > budgetM2[g]! + SLACK_M2) over.push(g);
    if (over.length === 0) return -1;
    const wanted = over[Math.floor(uniform() * over.length)]!;
    let [best, most] = [-1, 0];
    // Rows are looked at from a random one on.
    let looked = 0;
    const begin = Math.floor(uniform() * need.length);
    const stride = 1 + Math.floor(uniform() * 97);
    for (let tries = 0, i = begin; tries < need.length && looked < ROWS_LOOKED_AT; tries++, i = (i + stride) % need.length) {
      if (group[i] !== wanted || count[i]! >= need[i]!) continue;
      looked++;
      for (let k = rowStart[i]!; k < rowStart[i + 1]!; k++) {
        const j = columnsOf[k]!;
        if (taken[place[j]!] === 1 || barred[j]! > step) continue;
        const value = valueOf(j);
        if (value > most) [best, most] = [j, value];
      }
    }
    return best;
  }
}
