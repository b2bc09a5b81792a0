import { describe, expect, test } from '@jest/globals';
import { materialOf } from '../building/material';
import { panesOf } from '../building/panes';
import { seeded } from '../random';
import { eachCellSeeing, hiddenWithin, measuredNear, measuredSpots, screensIn } from './measured';
import { outsideNetworks } from './outside';
import type { Sample } from './sample';

describe('the measured map', () => {
  const sample = (fields: Partial<Sample>): Sample => ({
    leg: 0,
    tMs: 0,
    xM: 0,
    yM: 0,
    bssid: 'a',
    ssid: 's',
    apId: 'ap',
    band: '5',
    channel: 36,
    widthMhz: 20,
    rssiDbm: -50,
    ...fields,
  });
  test('spots take the strongest of a round, own access points only', () => {
    const samples = [
      sample({ rssiDbm: -50 }),
      sample({ rssiDbm: -54, tMs: 900, xM: 1 }),
      sample({ bssid: 'b', rssiDbm: -60, tMs: 500, xM: 0.5 }),
      sample({ bssid: 'n', apId: null, rssiDbm: -30 }),
      sample({ tMs: 5000, xM: 6, rssiDbm: -70 }),
      sample({ band: '2.4', rssiDbm: -20 }),
    ];
    expect(measuredSpots(samples, '5', null, 0)).toEqual([
      { xM: 0.5, yM: 0, levelDbm: -52 },
      { xM: 6, yM: 0, levelDbm: -70 },
    ]);
    expect(measuredSpots(samples, '5', null, 1)).toEqual([{ xM: 0.5, yM: 0, levelDbm: -60 }]);
    const others = [...samples, sample({ bssid: 'c', apId: 'other', rssiDbm: -40, tMs: 100 })];
    expect(measuredSpots(others, '5', new Set(['other']), 0)).toEqual([{ xM: 0, yM: 0, levelDbm: -40 }]);
    expect(measuredSpots(others, '5', new Set(['ap', 'other']), 1)[0]).toMatchObject({ levelDbm: -52 });
    expect(measuredSpots(others, '5', new Set(), 0)).toEqual([]);
  });
  test('a wall stands between two spots, a passage in it does not', () => {
    // A brick wall at x = 5 with an open passage from y = 4 to 5, both up to 2.6 m.
    const wall = { id: 'w', floorId: 'f', axM: 5, ayM: 0, bxM: 5, byM: 10, baseM: 0, topM: 2.6, materialId: 'brick' };
    const passage = { id: 'd', wallId: 'w', kind: 'passage' as const, atM: 4, widthM: 1, sillM: 0, headM: 2.6, materialId: 'open' };
    const panes = panesOf([wall], [passage], 0, materialOf, 3);
    const screened = screensIn(panes, '5', 1);
    expect([screened(3, 2, 7, 2), screened(3, 4.5, 7, 4.5), screened(3, 2, 4, 9)]).toEqual([true, false, false]);
    // Above the wall the way is free.
    expect(screensIn(panes, '5', 2.8)(3, 2, 7, 2)).toBe(false);
  });
  test('whichever wall stood in the way before, each stands in its own', () => {
    const walls = [2, 4, 6].map((x) => ({ id: `w${x}`, floorId: 'f', axM: x, ayM: 0, bxM: x, byM: 10, baseM: 0, topM: 3, materialId: 'brick' }));
    const screened = screensIn(panesOf(walls, []), '5', 1);
    for (const x of [6, 4, 2, 6, 2, 4, 4, 6, 2]) {
      expect(screened(x - 0.5, 5, x + 0.5, 5)).toBe(true);
      expect(screened(x - 0.5, 5, x - 0.2, 5)).toBe(false);
    }
  });
  test('what a wall hides from a spot is what it stands before, whichever walls come near', () => {
    const uniform = seeded(21);
    const walls = Array.from({ length: 30 }, (_, i) => {
      const [axM, ayM] = [uniform() * 20, uniform() * 20];
      // Every fifth loses nothing, every seventh ends below.
      const materialId = i % 5 === 0 ? 'open' : 'brick';
      return {
        id: `w${i}`,
        floorId: 'f',
        axM,
        ayM,
        bxM: axM + uniform() * 6 - 3,
        byM: ayM + uniform() * 6 - 3,
        baseM: 0,
        topM: i % 7 === 0 ? 0.5 : 3,
        materialId,
      };
    });
    const panes = panesOf(walls, [], 0, materialOf, 3);
    const [screened, hiddenFrom] = [screensIn(panes, '5', 1), hiddenWithin(panes, '5', 1, 5)];
    let hidden = 0;
    for (let k = 0; k < 60; k++) {
      const [xM, yM] = [uniform() * 20, uniform() * 20];
      const isHidden = hiddenFrom({ xM, yM });
      for (let c = 0; c < 60; c++) {
        const [away, turn] = [5 * Math.sqrt(uniform()), uniform() * 7];
        const [x, y] = [xM + away * Math.cos(turn), yM + away * Math.sin(turn)];
        expect(isHidden(x, y)).toBe(screened(xM, yM, x, y));
        if (screened(xM, yM, x, y)) hidden++;
      }
    }
    expect(hidden).toBeGreaterThan(500);
    expect(hidden).toBeLessThan(3000);
  });
  test('the cells in reach of a spot are those of a disc, but for what is hidden or done', () => {
    const grid = { originXM: -1, originYM: 2, cellM: 0.5, cols: 30, rows: 24 };
    const seenFrom = (xM: number, yM: number, done: Uint8Array | null = null): number[] => {
      const seen: number[] = [];
      eachCellSeeing(
        { xM, yM },
        grid,
        3,
        (x) => x > 8,
        (cell) => seen.push(cell),
        done,
      );
      return seen;
    };
    // In the middle, at a corner, and beyond the edge.
    for (const [xM, yM] of [
      [6.2, 7.3],
      [-0.9, 2.1],
      [3.3, 15.1],
    ] as const) {
      const inReach = Array.from({ length: 720 }, (_, cell) => cell).filter((cell) => {
        const [x, y] = [-1 + (cell % 30) * 0.5, 2 + Math.floor(cell / 30) * 0.5];
        return Math.hypot(x - xM, y - yM) <= 3 && x <= 8;
      });
      expect(inReach.length).toBeGreaterThan(10);
      expect(seenFrom(xM, yM)).toEqual(inReach);
      const done = new Uint8Array(720);
      done[inReach[3]!] = 1;
      expect(seenFrom(xM, yM, done)).toEqual(inReach.filter((_, k) => k !== 3));
    }
  });
  test('networks of others count by the rounds in which they are above -82 dBm; ours and weak ones do not', () => {
    const other = (tMs: number, rssiDbm: number, bssid = 'n') => sample({ bssid, apId: null, channel: 6, band: '2.4', rssiDbm, tMs });
    const samples = [
      sample({ tMs: 0 }),
      sample({ tMs: 3000 }),
      sample({ tMs: 5000 }),
      sample({ tMs: 7000 }),
      other(100, -70),
      other(200, -71),
      other(3100, -75),
      other(5100, -90),
      other(0, -95, 'far'),
    ];
    const at = (levelDbm: number | null) => ({ xM: 0, yM: 0, levelDbm });
    const rounds = [at(-70.5), at(-75), at(null), at(null)];
    expect(outsideNetworks(samples)).toEqual([{ band: '2.4', channel: 6, widthMhz: 20, share: 0.5, levelDbm: -72, rounds }]);
    expect(outsideNetworks([])).toEqual([]);
  });
  test("the readout's mean counts what is near", () => {
    const near = measuredNear([sample({}), sample({ rssiDbm: -60, xM: 1 }), sample({ rssiDbm: -90, xM: 50 })], { xM: 0, yM: 0 }, 5);
    expect(near.get('a')).toEqual({ meanDbm: -55, count: 2 });
  });
});
