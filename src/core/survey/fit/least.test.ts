import { describe, expect, test } from '@jest/globals';
import { leastOf } from './least';

describe('the least of a function', () => {
  const counted = (f: (x: number, y: number) => number) => {
    const of = { asked: 0, value: ([x, y]: Float64Array): number => (of.asked++, f(x!, y!)) };
    return of;
  };
  const one = Float64Array.of(1, 0, 0, 1);
  // Second derivatives 4, 1 and 3 (mixed 1): the least is 7 at (2, -1).
  const bowl = (x: number, y: number) => 7 + 2 * (x - 2) ** 2 + (x - 2) * (y + 1) + 1.5 * (y + 1) ** 2;
  test('of a bowl of known curvature it is found in as many steps as it lies away', () => {
    const known = counted(bowl);
    const at = leastOf(known.value, [0, 0], Float64Array.of(4, 1, 1, 3), 1e-9, 100);
    expect([...at]).toEqual([expect.closeTo(2, 3), expect.closeTo(-1, 3)]);
    // A step is no longer than 1, and costs a value and two slopes: of three such, and one more without slopes that goes as good as nowhere.
    expect(known.asked).toBeLessThanOrEqual(14);
  });
  test('of another curvature than was expected it is found too', () => {
    for (const scale of [0.02, 1, 50]) {
      const at = leastOf(
        counted(bowl).value,
        [0, 0],
        one.map((c) => c * scale),
        1e-7,
        300,
      );
      expect([...at]).toEqual([expect.closeTo(2, 2), expect.closeTo(-1, 2)]);
    }
  });
  test('of a bent valley too, and where little is to be gained it ends early', () => {
    const valley = (x: number, y: number) => (1 - x) ** 2 + 100 * (y - x ** 2) ** 2;
    const patient = counted(valley);
    const at = leastOf(patient.value, [-1, 1], one, 1e-8, 600);
    expect([...at]).toEqual([expect.closeTo(1, 1), expect.closeTo(1, 1)]);
    const hasty = counted(valley);
    leastOf(hasty.value, [-1, 1], one, 10, 600);
    expect(hasty.asked).toBeLessThan(10);
    const stopped = counted(valley);
    const [x, y] = leastOf(stopped.value, [-1, 1], one, 1e-8, 12);
    expect(stopped.asked).toBeLessThan(12 + 8);
    expect(valley(x!, y!)).toBeLessThan(valley(-1, 1));
  });
  test('where it is bent the other way on the way there it is found too', () => {
    // Beyond 1 these flatten out.
    const at = leastOf(counted((x, y) => Math.log(1 + x * x) + Math.log(1 + y * y)).value, [3, -2], one, 1e-6, 300);
    expect([...at]).toEqual([expect.closeTo(0, 1), expect.closeTo(0, 1)]);
  });
  test('where there is no value it does not go, and where it starts at the least it stays', () => {
    // Beyond x = 1.5 there is none, and by what is expected of the curvature the way leads there.
    const [x] = leastOf(counted((a, b) => (a > 1.5 ? NaN : (a - 1.3) ** 2 + b * b)).value, [0.9, 0], Float64Array.of(0.02, 0, 0, 2), 1e-6, 200);
    expect(x).toBeCloseTo(1.3, 1);
    expect([...leastOf(counted((a, b) => 5 * Math.abs(a) + Math.abs(b)).value, [0, 0], one, 1e-6, 200)]).toEqual([0, 0]);
  });
});
