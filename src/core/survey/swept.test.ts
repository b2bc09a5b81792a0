import { describe, expect, test } from '@jest/globals';
import { centreMhz, channelExists } from '../radio/channel';
import { newWalk } from '../design/kinds/walk';
import { readRecord } from '../design/registry';
import { DEFAULT_SETTING } from './setting';
import { batchesOf, countedOf, heardUntil, joined, NOTHING_HEARD, withMore } from './heard';
import { channelsSwept, kindsTold, looksBetween, sweptParts, sweptSpots, type Swept } from './swept';

const look = (fields: Partial<Swept> = {}): Swept => ({
  leg: 0,
  tMs: 500,
  band: '2.4',
  channels: [
    { channel: 1, energyDbm: -60, noiseDbm: -88 },
    { channel: 6, energyDbm: -70, noiseDbm: -80 },
  ],
  signals: [],
  ...fields,
});
const placed = (xM: number, fields: Partial<Swept> = {}) => ({ ...look(fields), xM, yM: 0 });
const oven = (levelDbm: number) => ({ kind: 'oven' as const, levelDbm, centreMhz: 2455, likelihood: 0.9 });

describe('what is looked at, and when', () => {
  test('2.4 GHz is looked at at once', () => {
    const [part, ...more] = sweptParts(['2.4']);
    expect(more).toEqual([]);
    expect(part).toEqual({ band: '2.4', channels: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13], startMhz: 2402, stopMhz: 2482 });
  });
  test('at 5 and 6 GHz every channel is in one part, and none is wider than a look', () => {
    for (const band of ['5', '6'] as const) {
      const parts = sweptParts([band]);
      const all = Array.from({ length: 233 }, (_, i) => i + 1).filter((primary) => channelExists({ band, primary, widthMhz: 20 }));
      expect(parts.flatMap(({ channels }) => channels)).toEqual(all);
      for (const { channels, startMhz, stopMhz } of parts) {
        expect(stopMhz - startMhz).toBeLessThanOrEqual(100);
        expect(startMhz).toBe(centreMhz({ band, primary: channels[0]!, widthMhz: 20 }) - 10);
        expect(stopMhz).toBe(centreMhz({ band, primary: channels.at(-1)!, widthMhz: 20 }) + 10);
      }
    }
    expect(sweptParts(['5'])[0]!.channels).toEqual([36, 40, 44, 48, 52]);
    expect(sweptParts(['5', '2.4']).map(({ band }) => band)[0]).toBe('2.4');
  });
  test('a look counts where it ends; asked in halves there are the same, in turn over the parts', () => {
    const parts = sweptParts(['2.4', '5']);
    const whole = looksBetween(parts, 0, 10_000);
    expect(whole.map(({ fromMs }) => fromMs)).toEqual([0, 1000, 2000, 3000, 4000, 5000, 6000, 7000, 8000, 9000]);
    expect(whole.map(({ part }) => part.channels[0])).toEqual(Array.from({ length: 10 }, (_, n) => parts[n % parts.length]!.channels[0]));
    expect([...looksBetween(parts, 0, 3400), ...looksBetween(parts, 3400, 7000), ...looksBetween(parts, 7000, 10_000)]).toEqual(whole);
    expect(looksBetween(parts, 0, 999)).toEqual([]);
    // One that ends where a stretch ends is of that stretch alone.
    expect([...looksBetween(parts, 0, 3000), ...looksBetween(parts, 3000, 10_000)]).toEqual(whole);
    expect(looksBetween([], 0, 10_000)).toEqual([]);
  });
});

describe('what a map shows of looks', () => {
  const looks = [placed(0), placed(1, { signals: [oven(-50), oven(-60)] }), placed(2, { band: '5', signals: [oven(-20)] })];
  const values = (asked: Parameters<typeof sweptSpots>[2]) => sweptSpots(looks, '2.4', asked).map(({ xM, levelDbm }) => [xM, levelDbm]);
  test('a channel’s energy or noise, or that of whichever has most', () => {
    expect(values({ what: 'energy', channel: 6 })).toEqual([
      [0, -70],
      [1, -70],
    ]);
    expect(values({ what: 'energy', channel: null })).toEqual([
      [0, -60],
      [1, -60],
    ]);
    expect(values({ what: 'noise', channel: null })[0]).toEqual([0, -80]);
    expect(values({ what: 'noise', channel: 1 })[0]).toEqual([0, -88]);
    expect(values({ what: 'energy', channel: 11 })).toEqual([]);
  });
  test('of a kind only where it was told, its strongest', () => {
    expect(values({ what: 'signal', kind: 'oven' })).toEqual([[1, -50]]);
    expect(values({ what: 'signal', kind: 'radar' })).toEqual([]);
    expect([...kindsTold(looks, '2.4')]).toEqual([['oven', 1]]);
    expect(channelsSwept(looks, '2.4')).toEqual([1, 6]);
  });
});

describe('looks of a walk', () => {
  const turns = [
    { xM: 0, yM: 0, tMs: 0 },
    { xM: 10, yM: 0, tMs: 10_000 },
  ];
  const walk = { legs: [{ turns }], leftOut: [], receiver: null };
  const heard = { ...NOTHING_HEARD, swept: [look({ tMs: 500 }), look({ tMs: 4500 })] };
  test('lie where the way is now, and go with a leg that is left out', () => {
    expect(countedOf(walk, heard).looks.map(({ xM }) => xM)).toEqual([0.5, 4.5]);
    const moved = { ...walk, legs: [{ turns: [turns[0]!, { ...turns[1]!, xM: 20 }] }] };
    expect(countedOf(moved, heard).looks.map(({ xM }) => xM)).toEqual([1, 9]);
    expect(countedOf({ ...walk, leftOut: [0] }, heard).looks).toEqual([]);
  });
  test('are taken back with what was heard after a time, and added to what was', () => {
    expect(heardUntil(heard, 500).swept.map(({ tMs }) => tMs)).toEqual([500]);
    expect(withMore(heard, heard).swept).toHaveLength(4);
  });
  test('go with the first batch, once, also where nothing else was heard', () => {
    const sample = { leg: 0, tMs: 0, xM: 0, yM: 0, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20, rssiDbm: -50 };
    const parts = batchesOf({ ...heard, samples: [sample, sample, sample] }, 2);
    expect(parts.map(({ swept }) => swept.length)).toEqual([2, 0]);
    expect(batchesOf(heard, 2)).toEqual([heard]);
  });
  test('a walk of before carried none', () => {
    const record = newWalk({ id: 'w', variantId: 'v', floorId: 'f', name: 'Walk', startedAt: '2026-11-30T08:00:00.000Z', receiver: DEFAULT_SETTING });
    const { swept: _swept, ...receiver } = DEFAULT_SETTING;
    expect(readRecord('walks', 3, { ...record, receiver })).toEqual(record);
    expect(readRecord('walks', 3, { ...record, receiver: null })).toEqual({ ...record, receiver: null });
  });
  test('of several walks are one after the other', () => {
    const one = countedOf(walk, heard);
    expect(joined([one, one]).looks.map(({ leg }) => leg)).toEqual([0, 0, 1, 1]);
  });
});
