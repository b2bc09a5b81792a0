import { describe, expect, test } from '@jest/globals';
import { arcThrough, circleThrough } from './arc';
import { distanceM } from './point';

const p = (xM: number, yM: number) => ({ xM, yM });

describe('arcs', () => {
  test('the circle through three spots, by hand', () => {
    // 3-4-5: (3, 4), (-3, 4) and (0, -5) lie on the circle of radius 5 about the origin; shifted by (10, 20).
    const circle = circleThrough(p(13, 24), p(7, 24), p(10, 15))!;
    expect([circle.centre.xM, circle.centre.yM, circle.radiusM]).toEqual([10, 20, 5].map((value) => expect.closeTo(value, 9)));
    expect(circleThrough(p(0, 0), p(4, 0), p(2, 0.0005))).toBeNull();
  });
  test.each([
    ['the short way', p(0, -5), Math.PI / 2],
    ['the long way', p(-5, 0), (3 * Math.PI) / 2],
  ])('from end to end %s, within 2 cm', (_name, over, sweep) => {
    // A quarter of a circle of radius 5, or the other three.
    const [a, b] = [p(Math.SQRT1_2 * -5, Math.SQRT1_2 * -5), p(Math.SQRT1_2 * 5, Math.SQRT1_2 * -5)];
    const corners = arcThrough(a, b, over);
    expect([corners[0], corners.at(-1)]).toEqual([a, b]);
    let lengthM = 0;
    corners.slice(1).forEach((corner, i) => {
      const before = corners[i]!;
      expect(Math.hypot(corner.xM, corner.yM)).toBeCloseTo(5, 9);
      const middle = Math.hypot((corner.xM + before.xM) / 2, (corner.yM + before.yM) / 2);
      expect(5 - middle).toBeLessThanOrEqual(0.02);
      lengthM += distanceM(before, corner);
    });
    expect(lengthM).toBeCloseTo(5 * sweep, 1);
    // No more pieces than that needs: one fewer would lie farther off.
    const fewer = sweep / (corners.length - 2);
    expect(5 * (1 - Math.cos(fewer / 2))).toBeGreaterThan(0.02);
  });
  test('what is in line is one straight piece, and no length is none', () => {
    expect(arcThrough(p(0, 0), p(4, 0), p(9, 0))).toEqual([p(0, 0), p(4, 0)]);
    expect(arcThrough(p(1, 1), p(1, 1), p(9, 0))).toHaveLength(2);
  });
});
