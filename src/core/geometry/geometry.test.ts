import { describe, expect, test } from '@jest/globals';
import { cellAt, gridOver, maskOf } from './grid';
import { nearestShare } from './point';
import { areaM2, boundsOf, centreOf, contains } from './polygon';

const L = [
  { xM: 0, yM: 0 },
  { xM: 4, yM: 0 },
  { xM: 4, yM: 2 },
  { xM: 2, yM: 2 },
  { xM: 2, yM: 4 },
  { xM: 0, yM: 4 },
];

describe('polygons', () => {
  test('area, bounds and centre of an L, by hand', () => {
    expect(areaM2(L)).toBe(12);
    expect(boundsOf(L)).toEqual({ westM: 0, northM: 0, eastM: 4, southM: 4 });
    expect(boundsOf([])).toBeNull();
    expect(centreOf(L)).toEqual({ xM: 2, yM: 2 });
  });
  test.each([
    [1, 1, true],
    [3, 3, false],
    [3, 1, true],
    [1, 3, true],
    [5, 1, false],
  ])('(%d, %d) inside: %s', (x, y, inside) => expect(contains(L, x, y)).toBe(inside));
});

describe('the grid', () => {
  const grid = gridOver(L, 0.5);
  test('covers the box with whole cells', () => expect([grid.cols, grid.rows]).toEqual([8, 8]));
  test('its mask has the area of the polygon', () => {
    expect(maskOf(grid, [{ polygon: L, holes: [] }]).reduce((sum, inside) => sum + inside, 0) * 0.25).toBe(12);
    expect(maskOf(grid, []).every((inside) => inside === 0)).toBe(true);
  });
  test('finds the cell of a spot', () => {
    expect(cellAt(grid, 0.3, 0.2)).toBe(0);
    expect(cellAt(grid, 3.9, 3.9)).toBe(63);
    expect(cellAt(grid, -1, 2)).toBe(-1);
  });
  test('refuses what has no area or too many cells, with a code', () => {
    expect(() => gridOver([], 0.5)).toThrow(expect.objectContaining({ code: 'FLOOR_EMPTY' }));
    expect(() =>
      gridOver(
        [
          { xM: 0, yM: 0 },
          { xM: 1, yM: 0 },
        ],
        0.5,
      ),
    ).toThrow(expect.objectContaining({ code: 'FLOOR_EMPTY' }));
    expect(() =>
      gridOver(
        [
          { xM: 0, yM: 0 },
          { xM: 2000, yM: 0 },
          { xM: 2000, yM: 2000 },
        ],
        0.1,
      ),
    ).toThrow(expect.objectContaining({ code: 'GRID_TOO_LARGE' }));
  });
});

test('the foot of a perpendicular stays on the segment', () => {
  const a = { xM: 0, yM: 0 };
  const b = { xM: 10, yM: 0 };
  expect(nearestShare({ xM: 3, yM: 5 }, a, b)).toBeCloseTo(0.3);
  expect(nearestShare({ xM: -3, yM: 5 }, a, b)).toBe(0);
  expect(nearestShare({ xM: 3, yM: 5 }, a, a)).toBe(0);
});
