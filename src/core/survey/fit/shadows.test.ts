import { describe, expect, test } from '@jest/globals';
import { compiledKernel } from '../../fields/kernel/kernel';
import { seeded } from '../../random';
import { ofEachRadio, type Places } from './places';
import { shadowsAt } from './shadows';
import type { Scatter } from './whiten';

const kernel = compiledKernel();
const scatter: Scatter = { shadowVar: 16, correlationM: 5, beaconVar: 4, wallVar: 1 };

describe('shadows at many spots', () => {
  test('of one reading 5 m off with noise, by hand: 16 / e over 20 of what it shows, and what that leaves', () => {
    const places: Places = { xM: Float64Array.of(9, 0), yM: Float64Array.of(9, 0), radio: Int32Array.of(0, 1) };
    const known = { places, noise: Float64Array.of(1, 4), left: Float64Array.of(7, -10), scatter };
    for (const by of [kernel, null]) {
      const { levelDb, varianceDb2, near, weights } = shadowsAt(
        known,
        Int32Array.of(1),
        3,
        Float64Array.of(3, 0),
        Float64Array.of(4, 0),
        1,
        null,
        by,
      );
      const weight = (16 * Math.exp(-1)) / 20;
      expect([...levelDb]).toEqual([expect.closeTo(-10 * weight, 9), expect.closeTo((-10 * 16) / 20, 9)]);
      expect([...varianceDb2]).toEqual([expect.closeTo(16 - 16 * Math.exp(-1) * weight, 9), expect.closeTo(16 - 256 / 20, 9)]);
      // The first of its radio.
      expect([...near]).toEqual([0, -1, -1]);
      expect([...weights]).toEqual([expect.closeTo(weight, 9), 0, 0]);
    }
  });
  test.each([
    // So few readings that their covariances are worked out together; so many that they are not; fewer than a spot stands on; none.
    ['few', 60, 500],
    ['many', 900, 12],
    ['two', 4, 40],
    ['none', 0, 3],
  ])('the kernel says what the reference says: %s', (_, readings, spots) => {
    const uniform = seeded(readings + 3);
    // Some on whole metres, so that many are equally near; two radios.
    const at = () => (uniform() < 0.5 ? Math.round(uniform() * 30) : uniform() * 30);
    const places: Places = {
      xM: Float64Array.from({ length: readings }, at),
      yM: Float64Array.from({ length: readings }, at),
      radio: Int32Array.from({ length: readings }, (_, i) => i % 2),
    };
    const noise = Float64Array.from({ length: readings }, () => 0.2 + 5 * uniform());
    const left = Float64Array.from({ length: readings }, () => 12 * (uniform() - 0.5));
    const own = ofEachRadio(places).get(1) ?? new Int32Array(0);
    // Step by step, now and then far away.
    let [x, y] = [0, 0];
    const way = Array.from({ length: spots }, (_, k) => {
      [x, y] = k % 25 === 0 ? [at() * 2 - 10, at()] : [x + uniform() - 0.4, k % 3 === 0 ? Math.round(y) : y + uniform() - 0.4];
      return [x, y] as const;
    });
    const xM = Float64Array.from(way, ([x]) => x);
    const yM = Float64Array.from(way, ([, y]) => y);
    const weighed = Math.ceil(spots / 2);
    // One that is left out here and there, near or far.
    const without = Int32Array.from({ length: spots }, (_, k) => (k % 3 === 0 ? (own[(k * 7) % own.length] ?? -1) : -1));
    // Odd and even numbers of neighbours; one.
    for (const [most, leftOut] of [
      [10, null],
      [10, without],
      [7, null],
      [1, without],
    ] as const) {
      const [fast, slow] = [kernel, null].map((by) => shadowsAt({ places, noise, left, scatter }, own, most, xM, yM, weighed, leftOut, by));
      if (leftOut !== null)
        for (let k = 0; k < weighed; k += 3)
          expect(Array.from(slow!.near.subarray(k * most, (k + 1) * most), (place) => own[place])).not.toContain(without[k]);
      expect([...fast!.near]).toEqual([...slow!.near]);
      for (const what of ['levelDb', 'varianceDb2', 'weights'] as const) {
        expect(fast![what].length).toBe(what === 'weights' ? weighed * most : spots);
        fast![what].forEach((value, i) => expect(value).toBeCloseTo(slow![what][i]!, 9));
      }
    }
  });
});
