import { describe, expect, test } from '@jest/globals';
import { dwell } from '@/core/air/load';
import { floorsOf, variantsOf } from '@/core/design/design';
import { DEFAULT_SETTING } from '@/core/survey/setting';
import type { Carried } from '@/core/survey/swept';
import { endMs, type Leg } from '@/core/survey/walk';
import { museumBuilding } from '@demo/museum';
import { airAt } from './air';
import { listenOnSite } from './listen';

const { design, sites } = museumBuilding();
const floorId = floorsOf(design)[0]!.id;
const variantId = variantsOf(design)[0]!.id;
const LUNCH = 12.25 * 3_600_000;
/** Through the café towards the kitchen, 4 m in 4 s, then a leg that is shorter than a look. */
const legs: Leg[] = [
  {
    turns: [
      { xM: 70, yM: 26, tMs: 0 },
      { xM: 70, yM: 22, tMs: 4000 },
    ],
  },
  {
    turns: [
      { xM: 60, yM: 24, tMs: 4000 },
      { xM: 60, yM: 24.9, tMs: 4900 },
    ],
  },
];
const swept = (carried: Carried | null, fromMs = 0, toMs = endMs(legs) + 1) => {
  const receiver = { ...DEFAULT_SETTING, bands: ['2.4'] as const, swept: carried };
  return listenOnSite(design, sites[floorId]!, { floorId, variantId, legs, receiver, fromMs, toMs }).swept;
};

describe('a swept receiver that is carried', () => {
  test('looks once a second where it is; in a leg that is shorter it cannot look', () => {
    const looks = swept({ bands: ['2.4'], fromMs: LUNCH });
    expect(looks.map(({ leg, tMs }) => [leg, tMs])).toEqual([0, 1, 2, 3].map((n) => [0, 1000 * n + 500]));
    expect(swept(null)).toEqual([]);
  });
  test('finds what a receiver finds that stands there at that time of the day', () => {
    const looks = swept({ bands: ['2.4'], fromMs: LUNCH });
    const spot = airAt(design, sites[floorId]!, { floorId, variantId, xM: 70, yM: 23.5, apId: null });
    for (const { channel, energyDbm, noiseDbm } of looks[2]!.channels) {
      const load = dwell(spot, '2.4', channel, LUNCH + 2000, 1000);
      expect(energyDbm).toBeCloseTo(load.energyDbm, 1);
      expect(noiseDbm).toBeCloseTo(load.noiseDbm, 1);
      expect(energyDbm).toBeGreaterThanOrEqual(noiseDbm);
    }
  });
  test('tells the oven at lunch, and not in the morning', () => {
    const told = (fromMs: number) => swept({ bands: ['2.4'], fromMs }).filter(({ signals }) => signals.some(({ kind }) => kind === 'oven')).length;
    expect(told(LUNCH)).toBeGreaterThanOrEqual(3);
    expect(told(9 * 3_600_000)).toBe(0);
  });
  test('asked in parts it has the same looks', () => {
    const carried = { bands: ['2.4', '5'] as const, fromMs: LUNCH };
    expect([...swept(carried, 0, 2300), ...swept(carried, 2300)]).toEqual(swept(carried));
    expect(swept(carried).map(({ band }) => band)).toEqual(['2.4', '5', '5', '5']);
  });
});
