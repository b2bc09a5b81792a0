import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../random';
import { assign, costOf, type Assignment } from './assignment';
import { bruteForce } from './bruteForce.testing';
import { compile, compiledCost } from './compiled';
import { proveLeast } from './exact';
import { search } from './search';

function finish<P, R>(run: Generator<P, R>): R {
  let step = run.next();
  while (!step.done) step = run.next();
  return step.value;
}

/** Radios that cost 1 where two neighbours have the same of k channels: a graph to be coloured. */
function colouring(n: number, k: number, joined: (r: number, s: number) => boolean): Assignment {
  const neighbours = Array.from({ length: n }, (_, r) => Array.from({ length: n }, (__, s) => s).filter((s) => s !== r && joined(r, s)));
  return {
    sizes: Array.from({ length: n }, () => k),
    single: () => 0,
    pair: (_r, a, _s, b) => (a === b ? 1 : 0),
    neighbours,
    kinds: { size: k, of: (_r, a) => a, overlap: (a, b) => a === b, rank: () => 0 },
  };
}

/** Squares of a chess board, joined where a queen goes from one to the other. */
const queens = (side: number) => (r: number, s: number) => {
  const [x, y, u, v] = [r % side, Math.floor(r / side), s % side, Math.floor(s / side)];
  return x === u || y === v || x - y === u - v || x + y === u + v;
};

/** Mycielski's graphs: no triangles, and each needs one colour more than the one before. */
function mycielski(order: number): { n: number; joined: (r: number, s: number) => boolean } {
  let edges: Array<[number, number]> = [[0, 1]];
  let n = 2;
  for (let k = 2; k < order; k++) {
    const more: Array<[number, number]> = edges.flatMap(([a, b]) => [
      [a, b],
      [a, b + n],
      [a + n, b],
    ]);
    for (let i = 0; i < n; i++) more.push([i + n, 2 * n]);
    edges = more;
    n = 2 * n + 1;
  }
  const set = new Set(edges.flatMap(([a, b]) => [`${a},${b}`, `${b},${a}`]));
  return { n, joined: (r, s) => set.has(`${r},${s}`) };
}

const zeros = (n: number) => new Int32Array(n);

describe('channels as colours: graphs of known chromatic number', () => {
  // Queens: 5 colours on 5 x 5, 7 on 6 x 6, 7 on 7 x 7, 9 on 8 x 8, 10 on 9 x 9 (sequence A088202 of the OEIS).
  test.each([
    [5, 5],
    [6, 7],
    [7, 7],
    [8, 9],
    [9, 10],
  ])('queens on %d x %d with %d colours: nobody shares', (side, chi) => {
    expect(finish(assign(colouring(side * side, chi, queens(side)), zeros(side * side), 1)).cost).toBe(0);
  });
  test.each([3, 4, 5, 6])('Mycielski’s graph of chromatic number %d: with as many colours nobody shares, with one fewer one pair must', (order) => {
    const { n, joined } = mycielski(order);
    expect(finish(assign(colouring(n, order, joined), zeros(n), 1)).cost).toBe(0);
    expect(finish(assign(colouring(n, order - 1, joined), zeros(n), 1)).cost).toBe(1);
  });
  test('three camps of 30 at odds by chance: three colours do', () => {
    const uniform = seeded(8);
    const odds = Array.from({ length: 90 * 90 }, () => uniform() < 0.12);
    const joined = (r: number, s: number) => r % 3 !== s % 3 && odds[Math.min(r, s) * 90 + Math.max(r, s)]!;
    expect(finish(assign(colouring(90, 3, joined), zeros(90), 1)).cost).toBe(0);
  });
});

/** Radios at places on a floor, dearer the nearer they are; channels one apart cost in part, as at 2.4 GHz. */
function floor(n: number, k: number, seed: number, reach = 1): Assignment {
  const uniform = seeded(seed);
  const places = Array.from({ length: n }, () => [uniform(), uniform()] as const);
  const single = Array.from({ length: n * k }, () => uniform() * 0.05);
  const weight = (r: number, s: number) => Math.max(0, 1 - Math.hypot(places[r]![0] - places[s]![0], places[r]![1] - places[s]![1]) * 2);
  const overlap = (a: number, b: number) => Math.max(0, 1 - Math.abs(a - b) / reach);
  return {
    sizes: Array.from({ length: n }, () => k),
    single: (r, a) => single[r * k + a]!,
    pair: (r, a, s, b) => weight(r, s) * overlap(a, b),
    neighbours: Array.from({ length: n }, (_, r) => Array.from({ length: n }, (__, s) => s).filter((s) => s !== r && weight(r, s) > 0)),
    kinds: { size: k, of: (_r, a) => a, overlap: (a, b) => overlap(a, b) > 0, rank: () => 0 },
  };
}

describe('search and proof', () => {
  test('the laid-out tables cost what the assignment says', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.constantFrom(1, 2, 4), (seed, reach) => {
        const problem = floor(9, 6, seed, reach);
        const uniform = seeded(seed);
        const group = [0, 1, 2, 3, 4, 5, 6, 7, 8];
        const choice = Int32Array.from(group, () => Math.floor(uniform() * 6));
        expect(compiledCost(compile(problem, group), choice)).toBeCloseTo(costOf(problem, choice), 5);
      }),
      { numRuns: 40, seed: 2 },
    );
  });
  test('proofs give the optimum of brute force, whatever the start', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.constantFrom(1, 2, 3), (seed, reach) => {
        const problem = floor(7, 4, seed, reach);
        const c = compile(problem, [0, 1, 2, 3, 4, 5, 6]);
        const x = zeros(7);
        expect(proveLeast(c, x, 100_000)).toBe(true);
        expect(costOf(problem, x)).toBeCloseTo(bruteForce(problem), 6);
      }),
      { numRuns: 25, seed: 5 },
    );
  });
  test('channels that are alike are tried once: fourteen radios on six of them are proved with few looks', () => {
    const problem = { ...floor(14, 6, 3), single: () => 0 };
    const x = zeros(14);
    const c = compile(
      problem,
      Array.from({ length: 14 }, (_, r) => r),
    );
    const found = finish(search(c, x, 1, 400_000));
    expect(proveLeast(c, found, 20_000)).toBe(true);
  });
  test('it gives up after its nodes, and keeps what it was given', () => {
    const c = compile(
      floor(20, 8, 3, 3),
      Array.from({ length: 20 }, (_, r) => r),
    );
    const x = zeros(20);
    expect(proveLeast(c, x, 50)).toBe(false);
    expect([...x]).toEqual([...zeros(20)]);
  });
  test('the search reaches what is proved, for every seed', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const problem = floor(12, 4, seed, seed % 2 === 0 ? 1 : 2);
      const c = compile(
        problem,
        Array.from({ length: 12 }, (_, r) => r),
      );
      const found = finish(search(c, zeros(12), seed, 300_000));
      const proved = found.slice();
      expect(proveLeast(c, proved, 400_000)).toBe(true);
      expect(costOf(problem, found)).toBeCloseTo(costOf(problem, proved), 6);
    }
  });
  test('it never ends above where it began, also with hardly any work, and the same seed gives the same', () => {
    const problem = floor(40, 13, 7, 4);
    const c = compile(
      problem,
      Array.from({ length: 40 }, (_, r) => r),
    );
    const start = Int32Array.from({ length: 40 }, (_, r) => r % 13);
    for (const work of [1, 1000, 200_000]) {
      const found = finish(search(c, start, 4, work));
      expect(costOf(problem, found)).toBeLessThanOrEqual(costOf(problem, start) + 1e-6);
      expect([...finish(search(c, start, 4, work))]).toEqual([...found]);
    }
  });
  test('told to stop it ends at once with its best', () => {
    const problem = floor(120, 9, 7);
    const run = assign(problem, zeros(120), 1);
    const first = run.next().value as number;
    const { value, done } = run.next(true) as { value: { cost: number }; done: boolean };
    expect(done).toBe(true);
    expect(value.cost).toBeLessThanOrEqual(first + 1e-4);
  });
});

describe('more to choose from is never worse', () => {
  test('narrow channels, then wider ones too: along the chain the cost only falls', () => {
    // Options 0..5 are narrow, 6..8 cover two of them each and 9 four; the wide ones are worth something to whoever has them.
    const covers = [[0], [1], [2], [3], [4], [5], [0, 1], [2, 3], [4, 5], [0, 1, 2, 3]];
    const rank = (a: number) => (a < 6 ? 0 : a < 9 ? 1 : 2);
    for (let seed = 1; seed <= 6; seed++) {
      const base = floor(24, 10, seed);
      const at = (r: number, s: number) => base.pair(r, 0, s, 0);
      const upTo = (last: number): Assignment => {
        const options = covers.map((_, a) => a).filter((a) => rank(a) <= last);
        const meets = (a: number, b: number) => covers[options[a]!]!.some((block) => covers[options[b]!]!.includes(block));
        return {
          sizes: Array.from({ length: 24 }, () => options.length),
          single: (_r, a) => [0.06, 0.03, 0][rank(options[a]!)]!,
          pair: (r, a, s, b) => (meets(a, b) ? at(r, s) : 0),
          neighbours: base.neighbours,
          kinds: { size: options.length, of: (_r, a) => a, overlap: meets, rank: (a) => rank(options[a]!) },
        };
      };
      const costs = [0, 1, 2].map((last) => finish(assign(upTo(last), zeros(24), seed, 0.2)).cost);
      expect(costs[1]).toBeLessThanOrEqual(costs[0]! + 1e-6);
      expect(costs[2]).toBeLessThanOrEqual(costs[1]! + 1e-6);
    }
  });
});
