import { describe, expect, test } from '@jest/globals';
import { SITE_KINDS, locatedOn, surveyedSite } from '../../../../bench/sites';
import { normal, seeded } from '../../random';
import { cellAt, type Grid } from '../../geometry/grid';
import { EXPECTED_SCATTER } from './scatter';
import { EXPONENT_SD, locate } from './locate';
import type { Reading, Unheard } from './readings';

const grid: Grid = { originXM: 0, originYM: 0, cellM: 1, cols: 31, rows: 21 };
const everywhere = new Uint8Array(grid.cols * grid.rows).fill(1);
/** Path loss without walls, from a spot 1.6 m below: 40 dB in the first metre, 20 for ten times the distance. */
const free = (xM: number, yM: number): Float32Array =>
  Float32Array.from(
    { length: grid.cols * grid.rows },
    (_, cell) => 40 + 20 * Math.log10(Math.max(1, Math.hypot((cell % grid.cols) - xM, Math.floor(cell / grid.cols) - yM, 1.6))),
  );
const at = { xM: 21, yM: 8 };
const levelAt = (xM: number, yM: number, sends = 20) => sends - free(xM, yM)[cellAt(grid, at.xM, at.yM)]!;
const readings = (fields: { sends?: number; sigma?: number; offset?: number } = {}): Reading[] => {
  const uniform = seeded(3);
  return Array.from({ length: 40 }, (_, i) => {
    const [xM, yM] = [1 + (i % 10) * 3, 3 + Math.floor(i / 10) * 4.5];
    return {
      radio: 0,
      xM,
      yM,
      dbm: levelAt(xM, yM, fields.sends) + (fields.offset ?? 0) + (fields.sigma ?? 0) * normal(uniform),
      count: 3,
      tMs: i,
      spots: [{ xM, yM }],
    };
  });
};
const find = (heard: Reading[], unheard: Unheard[] = [], mask = everywhere, offsetDb = 0) =>
  locate(heard, unheard, grid, mask, free, EXPECTED_SCATTER, offsetDb, EXPONENT_SD);

describe('where a transmitter is', () => {
  test('without scatter at its very place, whatever it sends and the receiver reads', () => {
    for (const sends of [10, 20, 26]) {
      const found = find(readings({ sends }))!;
      expect([found.xM, found.yM]).toEqual([at.xM, at.yM]);
      // What it sends is taken a little nearer to what is expected of any.
      expect(Math.abs(found.eirpDbm - sends)).toBeLessThan(2.5);
    }
    expect(find(readings({ offset: -6 }), [], everywhere, -6)!.eirpDbm).toBeCloseTo(find(readings())!.eirpDbm, 6);
  });
  test('the region holds it, is as large as it says, and grows with what scatters', () => {
    const found = find(readings({ sigma: 4 }))!;
    expect(found.region[cellAt(grid, at.xM, at.yM)]).toBe(1);
    expect(found.regionM2).toBe(found.region.reduce((sum, inside) => sum + inside, 0));
    expect(find(readings({ sigma: 9 }))!.regionM2).toBeGreaterThan(find(readings())!.regionM2);
    expect(found.readings).toBe(40);
  });
  test('it is the same wherever the floor lies', () => {
    const found = find(readings({ sigma: 4 }))!;
    const moved = readings({ sigma: 4 }).map((reading) => ({ ...reading, xM: reading.xM + 100, yM: reading.yM - 300 }));
    const there = { ...grid, originXM: grid.originXM + 100, originYM: grid.originYM - 300 };
    const lossTo = (xM: number, yM: number) => free(xM - 100, yM + 300);
    const again = locate(moved, [], there, everywhere, lossTo, EXPECTED_SCATTER, 0, EXPONENT_SD)!;
    expect([again.xM - 100, again.yM + 300, again.regionM2]).toEqual([found.xM, found.yM, found.regionM2]);
    expect(again.eirpDbm).toBeCloseTo(found.eirpDbm, 6);
  });
  test('only where it may be; from too little nothing', () => {
    const left = everywhere.map((_, cell) => (cell % grid.cols < 15 ? 1 : 0));
    const found = find(readings(), [], left)!;
    expect(found.xM).toBeLessThan(15);
    expect(found.region.every((inside, cell) => inside === 0 || left[cell] === 1)).toBe(true);
    expect(find(readings().slice(0, 4))).toBeNull();
  });
  test('where it was not heard it is not likely: readings on one line leave two sides, silence tells which', () => {
    const line = Array.from({ length: 12 }, (_, i): Reading => {
      const xM = 10 + i * 2;
      return { radio: 0, xM, yM: 10, dbm: -30 - 20 * Math.log10(Math.hypot(xM - 20, 6, 1.6)), count: 4, tMs: i, spots: [{ xM, yM: 10 }] };
    });
    const both = find(line)!;
    const sides = (region: Uint8Array) => [4, 16].map((y) => region[cellAt(grid, 20, y)]);
    expect(sides(both.region)).toEqual([1, 1]);
    const silent = Array.from({ length: 5 }, (_, i): Unheard => ({ radio: 0, xM: 4 + i * 6, yM: 20, hearsFromDbm: -53 }));
    expect(sides(find(line, silent)!.region)).toEqual([1, 0]);
  });
  test('on simulated floors within a metre or two, and mostly within its region', () => {
    const found = [1, 2].flatMap((seed) => {
      const site = surveyedSite(SITE_KINDS[0]!, seed);
      return site.radios.map((_, r) => locatedOn(site, r)!);
    });
    const away = found.map(({ awayM }) => awayM).sort((a, b) => a - b);
    expect(away[Math.floor(away.length / 2)]).toBeLessThan(1.5);
    expect(found.filter(({ holds }) => holds).length).toBeGreaterThanOrEqual(8);
  });
});
