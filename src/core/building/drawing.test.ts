import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { errorOf, measuredM, scaleOf, toDrawing, toFloor, type Measured } from './drawing';

const laid = { xM: 10, yM: 20, mPerPxX: 0.02, mPerPxY: 0.03, turnDeg: 90 };
const reference = (dx: number, dy: number, lengthM: number): Measured => ({ axPx: 100, ayPx: 50, bxPx: 100 + dx, byPx: 50 + dy, lengthM });

describe('where a drawing lies', () => {
  test('turned by a right angle clockwise its x runs down the plan and its y to the left', () => {
    const { xM, yM } = toFloor(laid, { x: 100, y: 200 });
    expect([xM, yM]).toEqual([expect.closeTo(10 - 6, 9), expect.closeTo(20 + 2, 9)]);
  });
  test('back and forth is where it was', () => {
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: -5000, max: 5000, noNaN: true }), (turnDeg, x) => {
        const at = toDrawing({ ...laid, turnDeg }, toFloor({ ...laid, turnDeg }, { x, y: 77 }));
        expect([at.x, at.y]).toEqual([expect.closeTo(x, 6), expect.closeTo(77, 6)]);
      }),
    );
  });
});

describe('true size', () => {
  test('one reference is met exactly', () => {
    const scale = scaleOf([reference(300, 400, 25)], false)!;
    expect(scale).toEqual({ mPerPxX: 0.05, mPerPxY: 0.05 });
    expect(errorOf(reference(300, 400, 25), scale)).toEqual({ errorM: 0, share: 0 });
  });
  test('of several the longer says more; each tells its error with its sign', () => {
    // 1000 px for 10 m and 100 px for 1.1 m: (1000 x 10 + 100 x 1.1) / (1000^2 + 100^2) = 10110 / 1010000.
    const both = [reference(1000, 0, 10), reference(0, 100, 1.1)];
    const scale = scaleOf(both, false)!;
    expect(scale.mPerPxX).toBeCloseTo(10110 / 1010000, 12);
    expect(errorOf(both[0]!, scale)).toEqual({ errorM: expect.closeTo(0.0099, 4), share: expect.closeTo(0.00099, 5) });
    expect(errorOf(both[1]!, scale)).toEqual({ errorM: expect.closeTo(-0.099, 3), share: expect.closeTo(-0.09, 3) });
  });
  test('x and y apart: squeezed paper is met in both', () => {
    const squeezed = [reference(1000, 0, 10), reference(0, 1000, 12), reference(300, 400, Math.hypot(3, 4.8))];
    const scale = scaleOf(squeezed, true)!;
    expect([scale.mPerPxX, scale.mPerPxY]).toEqual([expect.closeTo(0.01, 9), expect.closeTo(0.012, 9)]);
    expect(measuredM(squeezed[2]!, scale)).toBeCloseTo(Math.hypot(3, 4.8), 9);
  });
  test('references in one direction cannot tell x and y apart: one scale for both', () => {
    const { mPerPxX, mPerPxY } = scaleOf([reference(1000, 0, 10), reference(500, 0, 5.2)], true)!;
    expect(mPerPxX).toBe(mPerPxY);
    // Half a degree apart is one direction: what is read off the paper is not that good.
    const nearly = scaleOf([reference(1000, 0, 10), reference(1000, 9, 10.3)], true)!;
    expect(nearly.mPerPxX).toBe(nearly.mPerPxY);
  });
  test('without references there is none', () => expect(scaleOf([], false)).toBeNull());
});
