import { describe, expect, test } from '@jest/globals';
import { differenceInto, differenceStatistics, fullDifference, kindDifferenceInto, noticed } from './difference';
import { lensOf } from './lenses';

const f = (...values: number[]) => Float32Array.from(values);
const mask = (...inside: number[]) => Uint8Array.from(inside);

describe('the difference of two maps', () => {
  test('is now less then; what one side alone has is infinitely more or less, where more is wanted', () => {
    const out = new Float32Array(4);
    differenceInto(f(-60, -50, NaN, NaN), f(-65, NaN, -70, NaN), { sense: 'least' }, out);
    expect([...out]).toEqual([5, Infinity, -Infinity, NaN]);
    // Who is not served shares with nobody: nothing is claimed.
    differenceInto(f(1, 2, NaN, NaN), f(3, NaN, 1, NaN), { sense: 'most' }, out);
    expect([...out]).toEqual([-2, NaN, NaN, NaN]);
  });

  test('tells shares of the service area: Signal at −67 dBm by hand', () => {
    const signal = lensOf('signal');
    expect([noticed(signal), fullDifference(signal)]).toEqual([1, 20]);
    //            better gained  worse lost   little alone(now) alone(then) outside
    const now = f(-50, -66, -60, -70, -55.0, -65, NaN, -40);
    const then = f(-60, -68, -57, -66, -55.9, NaN, -72, -90);
    const inside = mask(1, 1, 1, 1, 1, 1, 1, 0);
    const d = new Float32Array(8);
    differenceInto(now, then, signal.threshold!, d);
    const told = differenceStatistics(signal, now, then, d, inside, -67);
    expect(told.both).toBeCloseTo(5 / 7, 9);
    expect(told.mean).toBeCloseTo((10 + 2 - 3 - 4 + 0.9) / 5, 5);
    expect(told.better).toBeCloseTo(3 / 7, 9);
    expect(told.worse).toBeCloseTo(3 / 7, 9);
    expect(told.gained).toBeCloseTo(2 / 7, 9);
    expect(told.lost).toBeCloseTo(1 / 7, 9);
    expect(told.other).toBeNull();
  });

  test('where less is wanted, fewer is better: Contention with one or fewer', () => {
    const contention = lensOf('contention');
    expect([noticed(contention), fullDifference(contention)]).toEqual([1, 4]);
    const [now, then] = [f(0, 3, 1, NaN), f(2, 1, 1, 0)];
    const d = new Float32Array(4);
    differenceInto(now, then, contention.threshold!, d);
    expect(differenceStatistics(contention, now, then, d, mask(1, 1, 1, 1), 1)).toEqual({
      both: 0.75,
      mean: 0,
      better: 0.25,
      worse: 0.25,
      gained: 0.25,
      lost: 0.5,
      other: null,
    });
  });

  test('kinds are told by their names, in whatever order each map counts them', () => {
    const serving = lensOf('serving');
    const out = new Float32Array(5);
    // Now: 0 = Q-01, 1 = Q-02. Then: 0 = Q-02, 1 = Q-01, 2 = Q-09, that is no more.
    kindDifferenceInto(f(0, 1, 0, NaN, NaN), f(1, 0, 2, 2, NaN), ['Q-01', 'Q-02'], ['Q-02', 'Q-01', 'Q-09'], out);
    expect([...out]).toEqual([0, 0, 1, 1, NaN]);
    const told = differenceStatistics(serving, f(0, 1, 0, NaN, NaN), f(1, 0, 2, 2, NaN), out, mask(1, 1, 1, 1, 0), 0);
    expect(told).toMatchObject({ other: 0.5, gained: null, lost: null, better: 0, worse: 0 });
  });

  test('an empty area has shares of nothing and no mean', () => {
    const signal = lensOf('signal');
    const none = f();
    expect(differenceStatistics(signal, none, none, none, mask(), -67)).toMatchObject({ both: 0, mean: NaN, gained: 0 });
  });
});
