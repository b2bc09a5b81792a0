import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../random';
import { earlierOf, nearbyOf, nearestOf, ofEachRadio, othersOf, pairsOf, type Earlier, type Places } from './nearby';

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
  test('of equally near ones the lower, whichever is looked at first', () => {
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
      expect(Array.from(near)).toEqual([0, 1]);
    }
    // Only as many as take part.
    const near = new Int32Array(2);
    nearestOf(places, Int32Array.of(3, 2, 1, 0), 1, 0, 0, 2, near, 0);
    expect(Array.from(near)).toEqual([3, -1]);
  });
  test('the nearest of many, asked spot after spot, are those that all were looked through for, in their own order', () => {
    const uniform = seeded(8);
    // On whole metres, so that many are equally near.
    const places = placesAt(Array.from({ length: 400 }, (_, i) => [Math.round(uniform() * 60 - 20), Math.round(uniform() * 40), i % 2] as const));
    const own = ofEachRadio(places).get(1)!;
    const find = nearbyOf(places, own, 10);
    const [fast, slow] = [new Int32Array(10), new Int32Array(10)];
    let [x, y] = [0, 0];
    for (let k = 0; k < 3000; k++) {
      // Step by step, now and then far away, also far from all of them; and without one of the nearest.
      [x, y] = k % 40 === 0 ? [uniform() * 100 - 40, uniform() * 80 - 20] : [x + uniform() - 0.5, y + uniform() - 0.5];
      if (k % 7 === 0) [x, y] = [Math.round(x), Math.round(y)];
      nearestOf(places, own, own.length, x, y, 10, slow, 0);
      expect([...slow]).toEqual(sorted(places, [...own], x, y).slice(0, 10));
      const without = k % 3 > 0 ? -1 : slow[k % 10]!;
      nearestOf(places, own, own.length, x, y, 10, slow, 0, without);
      find(x, y, fast, without);
      expect([...fast]).toEqual([...slow].sort((a, b) => a - b));
    }
    // Of fewer than are asked for: all, asked again and again.
    const few = nearbyOf(places, own.slice(0, 3), 10);
    for (const at of [0, 5]) {
      few(at, 0, fast);
      expect([...fast]).toEqual([...own.slice(0, 3), -1, -1, -1, -1, -1, -1, -1]);
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
  test('how far they lie from each other stands beside them: those that came first, and those after them', () => {
    const uniform = seeded(13);
    const places = placesAt(Array.from({ length: 40 }, (_, i) => [uniform() * 30, uniform() * 30, i % 2] as const));
    const head: Places = { xM: places.xM.slice(0, 25), yM: places.yM.slice(0, 25), radio: places.radio.slice(0, 25) };
    const check = ({ near, most, apartM }: Earlier) => {
      expect(apartM.length).toBe(40 * pairsOf(most));
      for (let i = 0; i < 40; i++) {
        const own = [...near.subarray(i * most, (i + 1) * most)].filter((j) => j >= 0);
        // By hand: of the first to itself; of the second to the first and to itself; and so on.
        const expected = own.flatMap((one, a) =>
          [...own.slice(0, a), i].map((other) => Math.hypot(places.xM[one]! - places.xM[other]!, places.yM[one]! - places.yM[other]!)),
        );
        expected.forEach((value, k) => expect(apartM[i * pairsOf(most) + k]).toBeCloseTo(value, 12));
      }
    };
    expect([1, 2, 8].map(pairsOf)).toEqual([1, 3, 36]);
    check(othersOf(places, 5));
    const first = earlierOf(head, 4);
    const whole = earlierOf(places, 4, first);
    check(whole);
    expect([...whole.order.subarray(0, 25)]).toEqual([...first.order]);
  });
});
