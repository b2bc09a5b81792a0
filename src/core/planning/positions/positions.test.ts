import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../random';
import { coverBound } from './coverBound';
import { coverProblemOf, isWithin, shortM2, type CoverProblem } from './coverProblem';
import { coverSearch } from './coverSearch';
import { groupShares, leanGroups, lostWithout, positionsOf, problemOf, type Columns, type PositionGroup } from './positions';

/** The least number of columns by trying all sets, smallest first; null where none will do. */
function leastByForce(problem: CoverProblem): number | null {
  let least: number | null = null;
  for (let set = 0; set < 1 << problem.columns; set++) {
    const chosen = Array.from({ length: problem.columns }, (_, j) => j).filter((j) => (set >> j) & 1);
    if (problem.locked.some((locked, j) => locked === 1 && !chosen.includes(j))) continue;
    if ((least === null || chosen.length < least) && isWithin(problem, shortM2(problem, chosen))) least = chosen.length;
  }
  return least;
}
function random(seed: number, columns: number, rows: number, locked: readonly number[] = []): CoverProblem {
  const uniform = seeded(seed);
  const list = Array.from({ length: rows }, (_, i) => ({ need: uniform() < 0.3 ? 2 : 1, areaM2: 0.5 + uniform(), group: i % 2 }));
  const density = 0.15 + 0.2 * uniform();
  const reaches = Array.from({ length: columns }, () => [...list.keys()].filter(() => uniform() < density));
  const whole = [0, 1].map((g) => list.filter(({ group }) => group === g).reduce((sum, { areaM2 }) => sum + areaM2, 0));
  return coverProblemOf(list, reaches, [whole[0]! * 0.2 * uniform(), whole[1]! * 0.1], locked);
}
const searched = (problem: CoverProblem, rounds = 40) => {
  const run = coverSearch(problem, 1);
  let best = run.next().value;
  for (let i = 1; i < rounds; i++) best = run.next().value;
  return best.chosen;
};
const bounded = (problem: CoverProblem, rounds = 60) => {
  const run = coverBound(problem);
  let [bound, last] = [0, 0];
  for (let i = 0; i < rounds; i++) {
    last = run.next().value;
    expect(last).toBeGreaterThanOrEqual(bound);
    bound = last;
  }
  return bound;
};

describe('against all sets of small problems', () => {
  test.each(Array.from({ length: 30 }, (_, i) => i + 1))('seed %d: the search finds the least, the bound is never above it', (seed) => {
    const problem = random(seed, 11, 26, seed % 3 === 0 ? [2, 5] : []);
    const least = leastByForce(problem);
    const chosen = searched(problem);
    if (least === null) {
      expect(chosen).toBeNull();
      return;
    }
    expect(chosen).toHaveLength(least);
    expect(isWithin(problem, shortM2(problem, chosen!))).toBe(true);
    for (const [j, locked] of problem.locked.entries()) if (locked === 1) expect(chosen).toContain(j);
    expect(bounded(problem)).toBeLessThanOrEqual(least);
  });

  test('the bounds are worth something: two thirds of the least on the whole', () => {
    let [bounds, leasts] = [0, 0];
    for (let seed = 1; seed <= 30; seed++) {
      const problem = random(seed, 11, 26);
      const least = leastByForce(problem);
      if (least === null) continue;
      leasts += least;
      bounds += bounded(problem);
    }
    expect(bounds / leasts).toBeGreaterThan(0.67);
  });
});

/** A long room of cells: a position in each, which reaches so many cells to both sides. */
function corridor(cells: number, reach: number): Float32Array[] {
  return Array.from({ length: cells }, (_, j) => Float32Array.from({ length: cells }, (_, i) => (Math.abs(i - j) <= reach ? -60 : -90)));
}
const group = (cells: number, { levelDbm = -67, ...fields }: Partial<PositionGroup> & { levelDbm?: number } = {}): PositionGroup => ({
  zone: 'Hall',
  name: 'signal',
  mask: new Uint8Array(cells).fill(1),
  need: 1,
  fromDbm: new Float64Array(200).fill(levelDbm),
  share: 1,
  ...fields,
});
const columns = (levelsDbm: Float32Array[], locked: number[] = [], places = [...levelsDbm.keys()]): Columns => ({ levelsDbm, locked, places });
const EACH_1_M2 = new Float64Array(200).fill(1);
function run(levels: Float32Array[], groups: PositionGroup[], locked: number[] = [], places?: number[]) {
  const steps = positionsOf(columns(levels, locked, places), groups, EACH_1_M2, 1, 300);
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

describe('a corridor, by hand', () => {
  test('30 cells, each position reaches 5: six, and no fewer', () => {
    expect(run(corridor(30, 2), [group(30)])).toMatchObject({ count: 6, bound: 6, groups: [{ share: 1, unreachable: 0 }] });
  });
  test('a tenth may be short: 27 cells are six still, 25 are five', () => {
    expect(run(corridor(30, 2), [group(30, { share: 0.9 })]).count).toBe(6);
    const { count, bound, groups } = run(corridor(30, 2), [group(30, { share: 0.8 })]);
    expect([count, bound]).toEqual([5, 5]);
    expect(groups[0]!.share).toBeGreaterThanOrEqual(0.8);
  });
  test('two of them at each cell: the ends take two each, and what lies between them a fifth', () => {
    expect(run(corridor(10, 2), [group(10, { need: 2 })])).toMatchObject({ count: 5 });
  });
  test('what stands is counted and kept; a zone asks only where it is', () => {
    const { chosen, count, bound } = run(corridor(30, 2), [group(30)], [0]);
    // It reaches three cells alone; the other 27 take six more.
    expect([chosen!.includes(0), count, bound]).toEqual([false, 7, 7]);
    const half = Uint8Array.from({ length: 30 }, (_, i) => (i < 15 ? 1 : 0));
    expect(run(corridor(30, 2), [group(30, { mask: half })]).count).toBe(3);
  });
  test('what no position reaches is said, and nothing is proposed', () => {
    const levels = corridor(30, 2).map((level) => level.map((dbm, i) => (i < 3 ? -90 : dbm)));
    const { chosen, groups } = run(levels, [group(30)]);
    expect(chosen).toBeNull();
    expect(groups[0]).toMatchObject({ unreachable: 0.1, share: 0.9 });
    expect(run(levels, [group(30, { share: 0.9 })]).count).toBe(6);
  });
  test('a level is met at it, not below', () => {
    const problem = problemOf(columns(corridor(10, 2)), [group(10, { levelDbm: -60 })], EACH_1_M2);
    expect(groupShares(problem, [group(10)], [2])[0]!.share).toBeCloseTo(0.5, 9);
    expect(run(corridor(10, 2), [group(10, { levelDbm: -59.9 })]).chosen).toBeNull();
  });
});

describe('more than one column of a place, and of radios that differ', () => {
  test('of one place one is taken: two looks at one spot do not serve a second signal', () => {
    // Four cells; both looks of the one place reach all of them, the other place reaches all but the last.
    const levels = [1, 1, 0].map((last) => Float32Array.of(-60, -60, -60, last === 1 ? -60 : -90));
    expect(run(levels, [group(4, { need: 2, share: 0.75 })], [], [0, 0, 1])).toMatchObject({ count: 2 });
    const two = run(levels, [group(4, { need: 2, share: 0.75 })], [], [0, 0, 1]).chosen!;
    expect(two.filter((j) => j < 2)).toHaveLength(1);
    expect(run(levels, [group(4, { need: 2 })], [], [0, 0, 1]).count).toBeNull();
    expect(run(levels, [group(4, { need: 2 })], [], [0, 1, 2]).count).toBe(2);
  });
  test('what a rate needs depends on the radio: each column has its level', () => {
    const levels = corridor(10, 4);
    const fromDbm = Float64Array.from({ length: 10 }, (_, j) => (j === 4 ? Infinity : -67));
    expect(run(levels, [{ ...group(10), fromDbm }]).chosen).not.toContain(4);
  });
  test('without one of them so much is lost', () => {
    // Ten cells, three of them: 0..4, 3..7 and 5..9.
    const levels = [2, 5, 7].map((at) => corridor(10, 2)[at]!);
    const problem = problemOf(columns(levels), [group(10)], EACH_1_M2);
    expect(lostWithout(problem)).toEqual([[expect.closeTo(0.3, 9)], [0], [expect.closeTo(0.2, 9)]]);
    const twice = problemOf(columns(levels), [group(10, { need: 2 })], EACH_1_M2);
    expect(lostWithout(twice).map(([lost]) => lost)).toEqual([0.2, 0.5, 0.3].map((lost) => expect.closeTo(lost, 9)));
  });
});

test('a long corridor is searched to its least in a few rounds, from any seed', () => {
  const levels = corridor(150, 4);
  const problem = problemOf(columns(levels), [{ ...group(150), fromDbm: new Float64Array(150).fill(-67) }], EACH_1_M2);
  for (let seed = 1; seed <= 6; seed++) {
    const steps = coverSearch(problem, seed);
    let best = steps.next().value;
    for (let round = 1; round < 12; round++) best = steps.next().value;
    // 150 cells, nine each: seventeen.
    expect(best.chosen).toHaveLength(17);
  }
});

test('what others imply is left out: at the same points, for as many, at as high a level, in as much of the area', () => {
  const strict = group(5, { need: 2, levelDbm: -60, share: 0.9 });
  const same = (fields: Parameters<typeof group>[1]) => ({ ...group(5, fields), mask: strict.mask });
  const left = (lax: PositionGroup) => leanGroups([lax, strict]).length;
  expect(left(same({ need: 1, levelDbm: -67, share: 0.8 }))).toBe(1);
  expect(leanGroups([same({ need: 1, levelDbm: -67, share: 0.8 }), strict])).toEqual([strict]);
  expect(left(same({ need: 1, levelDbm: -67, share: 0.95 }))).toBe(2);
  expect(left(same({ need: 1, levelDbm: -59, share: 0.8 }))).toBe(2);
  expect(left(group(5, { need: 1, levelDbm: -67, share: 0.8 }))).toBe(2);
  const more = { ...strict, need: 1 as const, levelDbm: -60, share: 0.9 };
  expect(leanGroups([more, strict])).toEqual([strict]);
  // One column with a higher level of its own is enough.
  const one = { ...same({ need: 1, levelDbm: -67, share: 0.8 }), fromDbm: Float64Array.from({ length: 200 }, (_, j) => (j === 3 ? -50 : -67)) };
  expect(left(one)).toBe(2);
  // Two alike are one.
  expect(leanGroups([strict, { ...strict }])).toEqual([strict]);
});

test('same seed, same positions; sent true it ends with what it has', () => {
  const levels = corridor(60, 3);
  expect(run(levels, [group(60, { share: 0.95 })])).toEqual(run(levels, [group(60, { share: 0.95 })]));
  const steps = positionsOf(columns(corridor(60, 1)), [group(60, { share: 0.93 })], EACH_1_M2, 1);
  const first = steps.next();
  const last = first.done === true ? first : steps.next(true);
  expect(last.done).toBe(true);
  expect(last.value.count).not.toBeNull();
});
