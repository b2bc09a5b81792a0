import { describe, expect, test } from '@jest/globals';
import { compiledKernel } from '../../fields/kernel/kernel';
import { seeded } from '../../random';
import { slopeRowsOf } from './slopes';
import { unknownAt } from './unknown';

const scatter = { shadowVar: 16, correlationM: 5, beaconVar: 4, wallVar: 3 };

describe('what stays unknown besides the shadow', () => {
  test('by hand: what the readings say of a parameter is not unknown twice, and a wall without one adds its own', () => {
    // Of two parameters with variances 4 and 9 and a covariance of 1, the spot hangs on both; it stands by a half on the second reading, which hangs on the first twice.
    const fit = {
      covariance: Float64Array.of(4, 1, 1, 9),
      sd: Float64Array.of(2, 3),
      slopes: slopeRowsOf(
        [
          { columns: [1], slopes: [5] },
          { columns: [1], slopes: [7] },
          { columns: [0], slopes: [2] },
        ],
        new Float64Array(3),
      ),
      scatter,
    };
    const own = Int32Array.of(0, 2);
    const rows = [
      { columns: [1, 0], slopes: [1, 3], free: 0 },
      { columns: [1, 0], slopes: [1, 3], free: 2 },
    ];
    for (const by of [compiledKernel(), null]) {
      const alone = unknownAt(fit, own, rows, { near: Int32Array.of(-1, -1, -1, -1), weights: new Float64Array(4) }, by);
      // 9 x 4 + 9 + 2 x 3 x 1 = 51; two walls: 6 more.
      expect([...alone]).toEqual([expect.closeTo(51, 12), expect.closeTo(57, 12)]);
      const standing = unknownAt(fit, own, rows, { near: Int32Array.of(1, -1, -1, -1), weights: Float64Array.of(0.5, 0, 0, 0) }, by);
      // Of the first parameter 3 - 0.5 x 2 = 2 are left: 4 x 4 + 9 + 2 x 2 x 1 = 29.
      expect([...standing]).toEqual([expect.closeTo(29, 12), expect.closeTo(57, 12)]);
      expect(unknownAt(fit, own, [], { near: new Int32Array(0), weights: new Float64Array(0) }, by)).toHaveLength(0);
    }
  });
  test.each([1, 2, 7, 40])('the kernel says what the reference says, of %d parameters', (parameters) => {
    const uniform = seeded(parameters);
    const half = Float64Array.from({ length: parameters ** 2 }, () => uniform() - 0.5);
    const covariance = Float64Array.from({ length: parameters ** 2 }, (_, at) => {
      const [i, j] = [Math.floor(at / parameters), at % parameters];
      let sum = i === j ? 0.1 : 0;
      for (let k = 0; k < parameters; k++) sum += half[i * parameters + k]! * half[j * parameters + k]!;
      return sum;
    });
    const rowOf = (free: number) => {
      const columns = Array.from({ length: parameters }, (_, c) => c).filter(() => uniform() < 0.4);
      return { columns, slopes: columns.map(() => 2 * uniform() - 1), free };
    };
    const slopes = slopeRowsOf(
      Array.from({ length: 30 }, () => rowOf(0)),
      new Float64Array(30),
    );
    const own = Int32Array.from({ length: 10 }, (_, k) => 3 * k + 1);
    const rows = Array.from({ length: 25 }, (_, s) => rowOf(s % 3));
    const near = Int32Array.from({ length: 25 * 5 }, (_, at) => (at % 5 < at % 7 ? Math.floor(uniform() * 10) : -1));
    const weights = Float64Array.from(near, () => uniform() - 0.3);
    const fit = { covariance, sd: new Float64Array(parameters), slopes, scatter };
    const [fast, slow] = [compiledKernel(), null].map((by) => unknownAt(fit, own, rows, { near, weights }, by));
    expect(new Set(slow).size).toBeGreaterThan(parameters === 1 ? 3 : 20);
    fast!.forEach((value, s) => expect(value).toBeCloseTo(slow![s]!, 10));
  });
});
