import { describe, expect, test } from '@jest/globals';
import { sweptMap } from './sweptMap';

const grid = { cols: 21, rows: 3, cellM: 0.5, originXM: 0, originYM: -0.5 };
/** The row of cells at y = 0: cell k is at x = k / 2. */
const alongAxis = (values: Float32Array): number[] => [...values.subarray(21, 42)];
const openAir = () => () => false;

describe('the map of what was swept', () => {
  test('is what was measured at a look, but for what a look scatters, and nothing out of reach', () => {
    const row = alongAxis(sweptMap([{ xM: 5, yM: 0, levelDbm: -60 }], grid, 2, openAir));
    expect(row[10]).toBeCloseTo(-60, 9);
    expect(row.map((value) => !Number.isNaN(value))).toEqual(Array.from({ length: 21 }, (_, k) => Math.abs(k / 2 - 5) <= 2));
  });
  test('between two looks by their distances: half way it is their mean, and by hand for two', () => {
    const spots = [
      { xM: 4, yM: 0, levelDbm: -50 },
      { xM: 6, yM: 0, levelDbm: -70 },
    ];
    const row = alongAxis(sweptMap(spots, grid, 3, openAir));
    expect(row[10]).toBeCloseTo(-60, 4);
    // At the first: (w1 - w2) 10 above -60, where (K + N) w = k with K of 100 exp(-h / 8) and N of 1.
    const c = 100 * Math.exp(-2 / 8);
    const determinant = 101 * 101 - c * c;
    const [w1, w2] = [(101 * 100 - c * c) / determinant, (101 * c - c * 100) / determinant];
    expect(row[8]).toBeCloseTo(-60 + 10 * (w1 - w2), 4);
    expect(row[8]! - row[12]!).toBeGreaterThan(18);
  });
  test('a look says nothing of what a wall hides from it', () => {
    const walled =
      ({ xM }: { xM: number }) =>
      (x: number) =>
        xM < 5.1 !== x < 5.1;
    const row = alongAxis(
      sweptMap(
        [
          { xM: 4, yM: 0, levelDbm: -50 },
          { xM: 7, yM: 0, levelDbm: -80 },
        ],
        grid,
        2.5,
        walled,
      ),
    );
    expect(row[10]).toBeCloseTo(-50, 4);
    expect(row[11]).toBeCloseTo(-80, 4);
    expect(sweptMap([], grid, 5, openAir).every(Number.isNaN)).toBe(true);
  });
});
