import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../random';
import { Cover, coverProblemOf, isWithin, shortM2, type CoverProblem } from './coverProblem';
import { CoverWorth } from './coverWorth';
import { ARRIVING_SHARE, bears, crowdBound, crowdLoad, relieve, type Crowd } from './crowd';
import { improve } from './improve';
import type { Columns } from './positions';
import { inLine, tidy, type Spot } from './tidy';
import { thinOut } from './thin';

function last<T>(steps: Generator<T, T, boolean | undefined>): T {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}
/** Rows of 1 m2 in one group, each needing one column. */
const plain = (rows: number, reaches: number[][], shortM = 0, locked: number[] = []): CoverProblem =>
  coverProblemOf(
    Array.from({ length: rows }, () => ({ need: 1, areaM2: 1, group: 0 })),
    reaches,
    [shortM],
    locked,
  );
const some = (seed: number, columns: number, rows: number): CoverProblem => {
  const uniform = seeded(seed);
  const list = Array.from({ length: rows }, (_, i) => ({ need: 1 + (i % 2), areaM2: 0.5 + uniform(), group: i % 3 }));
  return coverProblemOf(
    list,
    Array.from({ length: columns }, () => [...list.keys()].filter(() => uniform() < 0.5)),
    [2, 3, 4],
  );
};

test('what is short is kept up exactly while columns come and go', () => {
  const problem = some(3, 12, 60);
  const uniform = seeded(9);
  const inside = new Set([0, 1, 2, 3]);
  const cover = new Cover(problem, inside);
  for (let step = 0; step < 200; step++) {
    const j = Math.floor(uniform() * 12);
    if (inside.delete(j)) cover.remove(j);
    else {
      inside.add(j);
      cover.add(j);
    }
    const afresh = shortM2(problem, inside);
    cover.short.forEach((m2, g) => expect(m2).toBeCloseTo(afresh[g]!, 9));
    expect(cover.overM2 === 0).toBe(isWithin(problem, afresh));
  }
});

test('what each column is worth is kept up exactly too: what would be short without it, or what it would mend', () => {
  const problem = some(5, 14, 80);
  const state = new CoverWorth(problem);
  const uniform = seeded(4);
  const inside = new Set<number>();
  for (let step = 0; step < 150; step++) {
    const j = Math.floor(uniform() * 14);
    const into = !inside.has(j);
    if (into) inside.add(j);
    else inside.delete(j);
    state.flip(j, into);
    expect(state.standing).toBe(inside.size);
    const short = shortM2(problem, inside);
    for (let other = 0; other < 14; other++) {
      const turned = new Set(inside);
      if (!turned.delete(other)) turned.add(other);
      const then = shortM2(problem, turned);
      short.forEach((m2, g) => expect(state.worth[other * short.length + g]).toBeCloseTo(Math.abs(then[g]! - m2), 9));
    }
    // Rows that need two and have none, of those it reaches.
    const none = (other: number, g: number): number =>
      Array.from(problem.rowsOf.subarray(problem.columnStart[other]!, problem.columnStart[other + 1]!)).reduce(
        (sum, i) => sum + (problem.need[i] === 2 && state.count[i] === 0 && problem.group[i] === g ? problem.areaM2[i]! : 0),
        0,
      );
    short.forEach((_, g) => expect(state.halfWay[g]).toBeCloseTo(none(0, g), 9));
  }
});

describe('people', () => {
  // Four points; one radio by the first two, one by the last two, one between: levels in dBm.
  const levelsDbm = [
    [-50, -55, -70, -80],
    [-80, -70, -55, -50],
    [-60, -54, -54, -60],
  ].map((list) => Float32Array.from(list));
  const columns: Columns = { levelsDbm, places: [0, 1, 2], locked: [] };
  const crowd: Crowd = {
    demandMbps: Float64Array.of(12, 12, 12, 24),
    airtimeShare: 0.5,
    ladders: [{ fromDbm: [-75, -65, -56], mbps: [50, 100, 200] }],
    ladderOf: [0, 0, 0],
  };
  const problem = plain(4, [
    [0, 1, 2],
    [1, 2, 3],
    [0, 1, 2, 3],
  ]);

  test('airtime by hand: what each wants over what arrives of its rate, at the strongest', () => {
    expect(ARRIVING_SHARE).toBe(0.6);
    // One alone: 12/120 + 12/120 + 12/30 and none at -80.
    expect(crowdLoad(columns, crowd, [0])).toEqual({ busiest: expect.closeTo(0.6, 9), mean: expect.closeTo(0.6, 9), unserved: 0.4 });
    // All three: 0.1; 0.2 at the last; 0.1 + 0.1 between.
    const { busiest, mean } = crowdLoad(columns, crowd, [0, 1, 2]);
    expect([busiest, mean]).toEqual([expect.closeTo(0.2, 9), expect.closeTo(0.5 / 3, 9)]);
    expect(bears(columns, crowd, [0])).toBe(false);
    expect(bears(columns, crowd, [0, 1])).toBe(true);
  });
  test('no choice does with fewer than the best rates need', () => {
    // 60 Mb/s at 120 is half of one radio's time.
    expect(crowdBound(columns, crowd)).toBe(1);
    expect(crowdBound(columns, { ...crowd, airtimeShare: 0.24 })).toBe(3);
  });
  test('more hang until none has too much to do, and what is not needed goes', () => {
    // The one between alone: 0.2, 0.1, 0.1 and 0.4.
    expect(last(relieve(problem, columns, { ...crowd, airtimeShare: 0.8 }, [2]))).toEqual({ chosen: [2], borne: true });
    expect(last(relieve(problem, columns, { ...crowd, airtimeShare: 0.79 }, [2])).chosen).toHaveLength(2);
    const busy = { ...crowd, airtimeShare: 0.3 };
    const { chosen, borne } = last(relieve(problem, columns, busy, [2]));
    expect(borne).toBe(true);
    expect(bears(columns, busy, chosen)).toBe(true);
    expect(chosen).toHaveLength(2);
    expect(last(relieve(problem, columns, { ...crowd, airtimeShare: 0.15 }, [2]))).toMatchObject({ borne: false });
  });
  test('one that covers nothing that others do not goes, a locked one stays', () => {
    const roomy = { ...crowd, airtimeShare: 0.8 };
    expect(last(relieve(problem, columns, roomy, [0, 1, 2])).chosen).toEqual([2]);
    const standing = { ...problem, locked: Uint8Array.of(1, 0, 0) };
    expect(last(relieve(standing, columns, roomy, [0, 1, 2])).chosen).toEqual([0, 2]);
  });
});

describe('tidy', () => {
  // A corridor of 41 m with a place at each metre, three rows apart by 1 m; each place reaches 8 m along.
  const spots: Spot[] = [];
  for (let row = 0; row < 3; row++) for (let x = 0; x <= 40; x++) spots.push({ xM: x, yM: row, floor: 0, clearanceM: row === 1 ? 3 : 1, kind: 0 });
  const problem = plain(
    41,
    spots.map(({ xM }) => Array.from({ length: 41 }, (_, i) => i).filter((i) => Math.abs(i - xM) <= 8)),
  );
  const at = (x: number, row: number) => row * 41 + x;
  const start = [at(4, 0), at(19, 2), at(36, 1)];
  test('as many, all still met, in one line in the middle, clear of walls', () => {
    expect(inLine(spots, start)).toBe(0);
    const neat = last(tidy(problem, spots, start, () => true, 1));
    expect(neat).toHaveLength(3);
    expect(new Cover(problem, neat).overM2).toBe(0);
    expect(inLine(spots, neat)).toBe(3);
    expect(neat.map((j) => spots[j]!.yM)).toEqual([1, 1, 1]);
    expect(last(tidy(problem, spots, start, () => true, 1))).toEqual(neat);
  });
  test('what is locked stays, and what must hold besides holds', () => {
    const locked = { ...problem, locked: Uint8Array.from(spots, (_, j) => (j === at(19, 2) ? 1 : 0)) };
    expect(last(tidy(locked, spots, start, () => true, 1))).toContain(at(19, 2));
    expect(last(tidy(problem, spots, start, () => false, 1))).toEqual([...start].sort((a, b) => a - b));
  });
  test('another floor and another kind are not lined up with, nor gone to', () => {
    const two = spots.map((spot, j): Spot => (j === at(19, 2) ? { ...spot, floor: 1 } : j === at(36, 1) ? { ...spot, kind: 1 } : spot));
    const neat = last(tidy(problem, two, start, () => true, 1));
    expect(neat).toEqual(expect.arrayContaining([at(19, 2), at(36, 1)]));
  });
});

describe('thin out', () => {
  test('by hand: of five in a row the second and the fourth go, and no more', () => {
    const problem = plain(10, [
      [0, 1],
      [1, 2, 3],
      [2, 3, 4, 5],
      [5, 6, 7],
      [6, 7, 8, 9],
    ]);
    expect(last(thinOut(problem, 1))).toEqual([1, 3]);
    expect(last(thinOut({ ...problem, locked: Uint8Array.of(0, 1, 0, 0, 0) }, 1))).toEqual([3]);
  });
  test.each([1, 2, 3, 4, 5, 6])('seed %d: as many as trying all sets finds', (seed) => {
    const whole = some(seed, 10, 40);
    // All together are within.
    const short = shortM2(
      whole,
      Array.from({ length: 10 }, (_, j) => j),
    );
    const problem = { ...whole, budgetM2: whole.budgetM2.map((m2, g) => Math.max(m2, short[g]!)) };
    let most = 0;
    for (let set = 0; set < 1 << 10; set++) {
      const stay = Array.from({ length: 10 }, (_, j) => j).filter((j) => !((set >> j) & 1));
      if (isWithin(problem, shortM2(problem, stay))) most = Math.max(most, 10 - stay.length);
    }
    const goes = last(thinOut(problem, 1));
    expect(goes).toHaveLength(most);
    expect(
      isWithin(
        problem,
        shortM2(
          problem,
          [0, 1, 2, 3, 4, 5, 6, 7, 8, 9].filter((j) => !goes.includes(j)),
        ),
      ),
    ).toBe(true);
  });
});

describe('a little aside', () => {
  // Thirty points; one access point at 5 that reaches 4 to both sides, one at 20; each may go up to 3 m aside.
  const home: number[] = [];
  const movedM: number[] = [];
  const reaches: number[][] = [];
  [5, 20].forEach((x, h) => {
    for (const by of [0, -3, -1, 1, 3]) {
      home.push(h);
      movedM.push(Math.abs(by));
      reaches.push(Array.from({ length: 30 }, (_, i) => i).filter((i) => Math.abs(i - x - by) <= (by > 0 && h === 1 ? 10 : 4)));
    }
  });
  const run = (within = 0) => last(improve(plain(30, reaches, within), Int32Array.from(home), Float64Array.from(movedM)));
  test('the one whose move brings much moves there, by the shortest way; the other stays', () => {
    expect(run()).toEqual([0, 8]);
  });
  test('for less area than it is worth nobody climbs a ladder', () => {
    const little = reaches.map((list, j) => (home[j] === 1 && movedM[j]! > 0 ? [...reaches[5]!, 0, 10] : list));
    expect(last(improve(plain(30, little, 30), Int32Array.from(home), Float64Array.from(movedM)))).toEqual([0, 5]);
    // Where something is owed and not met it weighs ten times as much.
    expect(last(improve(plain(30, little, 0), Int32Array.from(home), Float64Array.from(movedM)))[1]).not.toBe(5);
  });
});
