import { describe, expect, test } from '@jest/globals';
import { compiledKernel } from '../../fields/kernel/kernel';
import { seeded } from '../../random';
import { earlierOf, nearestOf, othersOf } from './nearby';
import type { Places } from './places';

const placesAt = (at: ReadonlyArray<readonly [number, number, number?]>): Places => ({
  xM: Float64Array.from(at, ([x]) => x),
  yM: Float64Array.from(at, ([, y]) => y),
  radio: Int32Array.from(at, ([, , radio]) => radio ?? 0),
});
/** The nearest of some to a spot by sorting them all, of equally near ones the lower first. */
const sorted = ({ xM, yM }: Places, among: readonly number[], x: number, y: number): number[] => {
  const away = (i: number) => (xM[i]! - x) ** 2 + (yM[i]! - y) ** 2;
  return [...among].sort((a, b) => away(a) - away(b) || a - b);
};

describe('who is near', () => {
  test('the nearest are the nearest of brute force, the own left out', () => {
    const uniform = seeded(3);
    const places = placesAt(Array.from({ length: 60 }, () => [uniform() * 20, uniform() * 20] as const));
    const all = Int32Array.from({ length: 60 }, (_, i) => i);
    const near = new Int32Array(8);
    nearestOf(places, all, 60, places.xM[7]!, places.yM[7]!, 8, near, 0, 7);
    const away = (i: number) => Math.hypot(places.xM[i]! - places.xM[7]!, places.yM[i]! - places.yM[7]!);
    expect(Array.from(near)).toEqual(
      Array.from(all)
        .filter((i) => i !== 7)
        .sort((a, b) => away(a) - away(b))
        .slice(0, 8),
    );
  });
  test('of equally near ones the first of those that are looked through', () => {
    const places = placesAt([
      [1, 0],
      [0, 1],
      [-1, 0],
      [0, -1],
    ]);
    for (const among of [
      [0, 1, 2, 3],
      [3, 2, 1, 0],
      [2, 0, 3, 1],
    ]) {
      const near = new Int32Array(2);
      nearestOf(places, Int32Array.from(among), 4, 0, 0, 2, near, 0);
      expect(Array.from(near)).toEqual(among.slice(0, 2));
    }
    // Only as many as take part.
    const near = new Int32Array(2);
    nearestOf(places, Int32Array.of(3, 2, 1, 0), 1, 0, 0, 2, near, 0);
    expect(Array.from(near)).toEqual([3, -1]);
  });
  test('the kernel finds whom the reference finds, also of equally near ones', () => {
    const uniform = seeded(8);
    // On whole metres, so that many are equally near, and several at one spot.
    const places = placesAt(Array.from({ length: 150 }, (_, i) => [Math.round(uniform() * 9), Math.round(uniform() * 9), i % 2] as const));
    const head = { xM: places.xM.slice(0, 70), yM: places.yM.slice(0, 70), radio: places.radio.slice(0, 70) };
    const kernel = compiledKernel()!;
    // However far away the others are.
    expect([
      ...othersOf(
        placesAt([
          [0, 0],
          [4000, 3000],
        ]),
        2,
        kernel,
      ).near,
    ]).toEqual([1, -1, 0, -1]);
    for (const most of [1, 8, 11]) {
      expect(othersOf(places, most, kernel)).toEqual(othersOf(places, most, null));
      const first = earlierOf(head, most, null, kernel);
      expect(first).toEqual(earlierOf(head, most, null, null));
      expect(earlierOf(places, most, first, kernel)).toEqual(earlierOf(places, most, first, null));
    }
  });
  test('the others of each are the nearest of its radio but itself, however many lie at one spot', () => {
    const uniform = seeded(12);
    const places = placesAt(
      Array.from({ length: 90 }, (_, i) =>
        i % 3 === 0 ? ([4, 4, 0] as const) : ([Math.round(uniform() * 9), Math.round(uniform() * 9), i % 2] as const),
      ),
    );
    const { near } = othersOf(places, 6);
    const at = (i: number) => `${places.xM[i]}/${places.yM[i]}`;
    for (let i = 0; i < 90; i++) {
      const others = [...near.subarray(i * 6, i * 6 + 6)];
      const radio = [...places.radio.keys()].filter((j) => j !== i && places.radio[j] === places.radio[i]);
      const away = (of: readonly number[]) =>
        of.map((j) => Math.hypot(places.xM[j]! - places.xM[i]!, places.yM[j]! - places.yM[i]!)).sort((a, b) => a - b);
      expect(new Set(others).size).toBe(6);
      for (const j of others) expect(radio).toContain(j);
      // Of equally near ones whichever.
      expect(away(others)).toEqual(away(sorted(places, radio, places.xM[i]!, places.yM[i]!).slice(0, 6)));
    }
    expect([...places.radio.keys()].filter((i) => at(i) === '4/4' && places.radio[i] === 0).length).toBeGreaterThan(20);
    // Of a radio that was heard twice: the one other.
    expect([
      ...othersOf(
        placesAt([
          [0, 0],
          [1, 0],
          [0, 0, 1],
        ]),
        2,
      ).near,
    ]).toEqual([1, -1, 0, -1, -1, -1]);
  });
});
