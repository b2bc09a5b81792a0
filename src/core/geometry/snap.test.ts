import { describe, expect, test } from '@jest/globals';
import { alongM, asideM, crossingOf, spotAlong } from './segment';
import { snapSpot, type SnapField } from './snap';

const p = (xM: number, yM: number) => ({ xM, yM });
const line = (ax: number, ay: number, bx: number, by: number) => ({ a: p(ax, ay), b: p(bx, by) });

describe('lines', () => {
  test('cross where they cross, also beyond their ends; parallel ones nowhere', () => {
    expect(crossingOf(line(0, 0, 4, 0), line(3, -1, 3, -5))).toEqual(p(3, 0));
    expect(crossingOf(line(0, 0, 4, 4), line(0, 4, 4, 0))).toEqual(p(2, 2));
    expect(crossingOf(line(0, 0, 4, 0), line(0, 1, 4, 1.001))).toBeNull();
    expect(crossingOf(line(0, 0, 0, 0), line(0, 1, 4, 1))).toBeNull();
  });
  test('along and aside of a line: right of the way is positive', () => {
    expect([alongM(line(1, 0, 5, 0), p(3, 9)), asideM(line(1, 0, 5, 0), p(3, 9))]).toEqual([2, 9]);
    expect([alongM(line(5, 0, 1, 0), p(6, 9)), asideM(line(5, 0, 1, 0), p(6, 9))]).toEqual([-1, -9]);
    expect(spotAlong(line(0, 0, 3, 4), 10)).toEqual(p(6, 8));
  });
});

describe('a spot is drawn', () => {
  // A wall from west to east, one that rises from its east end, and one apart.
  const walls = [line(0, 0, 10, 0), line(10, 0, 12, 5), line(3, 8, 3, 12)];
  const field = (fields: Partial<SnapField> = {}): SnapField => ({ segments: walls, fromM: null, reachM: 0.5, gridM: 0, stepDeg: null, ...fields });
  const snap = (x: number, y: number, fields: Partial<SnapField> = {}) => {
    const { at, mark } = snapSpot(p(x, y), field(fields));
    return [Number(at.xM.toFixed(6)), Number(at.yM.toFixed(6)), mark];
  };
  test('to a wall end before the wall', () => {
    expect(snap(9.7, 0.2)).toEqual([10, 0, 'end']);
    expect(snap(9.4, 0.2)).toEqual([9.4, 0, 'on line']);
    expect(snap(5, 0.6)).toEqual([5, 0.6, null]);
    // On a wall, whole steps of the raster from its beginning, where one is in reach.
    expect(snap(7.43, 0.2, { gridM: 0.25 })).toEqual([7.5, 0, 'on line']);
    expect(snap(7.33, 0.2, { gridM: 0.25 })).toEqual([7.25, 0, 'on line']);
    expect(snap(7.1, 0.2, { gridM: 2 })).toEqual([7.1, 0, 'on line']);
  });
  test('to where two walls cross', () => {
    expect(snap(5.2, 0.3, { segments: [line(0, 0, 10, 0), line(5, -3, 5, 3)] })).toEqual([5, 0, 'crossing']);
  });
  test('square to the wall it reaches', () => {
    expect(snap(4.3, 0.2, { fromM: p(4, 6) })).toEqual([4, 0, 'square']);
    // Not where the foot of the square lies elsewhere on the wall.
    expect(snap(7, 0.2, { fromM: p(4, 6) })).toEqual([7, 0, 'on line']);
  });
  test('in the direction of the wall it begins at, square or parallel', () => {
    // From the slanting wall's upper end: its direction is (2, 5), square to it (-5, 2).
    expect(snap(12.45, 6.1, { fromM: p(12, 5) })).toEqual(
      [12 + 2 * (6.4 / 29), 5 + 5 * (6.4 / 29), 'parallel'].map((v) => (typeof v === 'number' ? Number(v.toFixed(6)) : v)),
    );
    const [x, y, mark] = snap(9.4, 6.1, { fromM: p(12, 5) });
    expect(mark).toBe('square');
    expect((Number(x) - 12) * 2 + (Number(y) - 5) * 5).toBeCloseTo(0, 4);
  });
  test('along the plan’s own axes from anywhere', () => expect(snap(30.3, 20, { fromM: p(30, 25) })).toEqual([30, 20, 'angle']));
  test('in line with a wall’s end', () => expect(snap(3.1, 20.4)).toEqual([3, 20.4, 'in line']));
  test('to the raster when nothing is near, also its length along a guide', () => {
    expect(snap(30.13, 20.38, { gridM: 0.25 })).toEqual([30.25, 20.5, 'grid']);
    expect(snap(30.3, 20.12, { fromM: p(30, 25.05), gridM: 0.5 })).toEqual([30, 20.05, 'angle']);
  });
  test('to whole steps of the angle on request, there to a wall in the way', () => {
    expect(snap(32, 22.2, { fromM: p(30, 20), stepDeg: 45 })[2]).toBe('angle');
    const [x, y] = snap(7.1, 0.3, { fromM: p(4, 3), stepDeg: 45, segments: [line(0, 0, 10, 0)] });
    expect([x, y]).toEqual([7, 0]);
  });
});
