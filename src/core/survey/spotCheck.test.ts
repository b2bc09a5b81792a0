import { DEFAULT_SETTING } from './setting';
import { expect, test } from '@jest/globals';
import type { Sample } from './sample';
import { levelOf, samplesAt, spotChecksOf } from './spotCheck';
import { readRecord } from '../design/registry';
import { addTurn, cutAt, endMs, lengthM, standStill, walkerAt } from './walk';

const sample = (leg: number, tMs: number, rssiDbm: number): Sample => ({
  leg,
  tMs,
  xM: 3,
  yM: 4,
  bssid: 'b',
  ssid: 's',
  apId: 'a',
  band: '5',
  channel: 36,
  widthMhz: 20,
  rssiDbm,
});

test('who stands still is at the spot for as long as was said, and goes no way', () => {
  // 4 m to (3, 4), ten seconds there, 2 m on, and five more.
  let legs = addTurn(addTurn([], { xM: 3, yM: 0 }, false), { xM: 3, yM: 4 }, false);
  legs = standStill(legs, 10);
  legs = standStill(addTurn(legs, { xM: 5, yM: 4 }, false), 5);
  expect(endMs(legs)).toBe(21_000);
  expect(lengthM(legs)).toBe(6);
  expect(walkerAt(legs, 9000)).toMatchObject({ xM: 3, yM: 4 });
  expect(walkerAt(legs, 15_000)).toMatchObject({ xM: 4, yM: 4 });
  expect(spotChecksOf(legs)).toEqual([
    { leg: 0, xM: 3, yM: 4, fromMs: 4000, toMs: 14_000 },
    { leg: 0, xM: 5, yM: 4, fromMs: 16_000, toMs: 21_000 },
  ]);
  // Standing on is one check; on another leg it is another; cut off it is as long as it was.
  expect(spotChecksOf(standStill(legs, 5)).at(-1)).toMatchObject({ fromMs: 16_000, toMs: 26_000 });
  const far = standStill(addTurn(legs, { xM: 20, yM: 4 }, true), 5);
  expect(spotChecksOf(far).at(-1)).toEqual({ leg: 1, xM: 20, yM: 4, fromMs: 21_000, toMs: 26_000 });
  expect(spotChecksOf(cutAt(legs, 8000))).toEqual([{ leg: 0, xM: 3, yM: 4, fromMs: 4000, toMs: 8000 }]);
  expect(standStill([], 5)).toEqual([]);
});

test('a walk of version 1 says nothing of its purpose; before version 3 all bands and channels were listened to', () => {
  const walk = { id: 'w', variantId: 'v', floorId: 'f', name: 'Walk 1', startedAt: '2026-01-02T03:04:05Z', finished: true, legs: [] };
  expect(readRecord('walks', 1, walk)).toEqual({ ...walk, purpose: null, note: '', receiver: DEFAULT_SETTING, leftOut: [], scoredAt: null });
  expect(() => readRecord('walks', 2, walk)).toThrow();
});

test('what was heard there, by leg and time: its mean and spread by hand', () => {
  const check = { leg: 0, xM: 3, yM: 4, fromMs: 4000, toMs: 8000 };
  const all = [sample(0, 3999, -40), sample(0, 4000, -60), sample(0, 6000, -64), sample(0, 7999, -62), sample(0, 8000, -40), sample(1, 5000, -40)];
  const there = samplesAt(check, all);
  expect(there.map(({ rssiDbm }) => rssiDbm)).toEqual([-60, -64, -62]);
  expect(levelOf(there)).toEqual({ count: 3, meanDbm: -62, spreadDb: 2 });
  expect(levelOf(there.slice(0, 1))).toEqual({ count: 1, meanDbm: -60, spreadDb: NaN });
});
