import { expect, test } from '@jest/globals';
import { chainMeasures } from './chain';

const p = (xM: number, yM: number) => ({ xM, yM });

test('a line is its length; a chain its sum, its last leg and the angle at the corner', () => {
  expect(chainMeasures([p(0, 0), p(3, 4)])).toEqual({ totalM: 5, lastM: 5, angleDeg: null, areaM2: null });
  expect(chainMeasures([p(0, 0), p(4, 0), p(4, 3)])).toEqual({ totalM: 7, lastM: 3, angleDeg: expect.closeTo(90, 9), areaM2: null });
  expect(chainMeasures([p(0, 0), p(4, 0), p(8, 0)]).angleDeg).toBeCloseTo(180, 9);
  expect(chainMeasures([p(0, 0), p(4, 0), p(2, 2)]).angleDeg).toBeCloseTo(45, 9);
  // The pointer still on the corner makes no angle.
  expect(chainMeasures([p(0, 0), p(4, 0), p(4, 0)])).toMatchObject({ totalM: 4, lastM: 0, angleDeg: null });
});

test('closed it has an area, whichever way round', () => {
  const ring = [p(0, 0), p(6, 0), p(6, 4), p(0, 4), p(0, 0)];
  expect(chainMeasures(ring)).toMatchObject({ totalM: 20, areaM2: 24 });
  expect(chainMeasures([...ring].reverse()).areaM2).toBe(24);
  expect(chainMeasures(ring.slice(0, 4)).areaM2).toBeNull();
});
