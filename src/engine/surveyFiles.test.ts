import { describe, expect, test } from '@jest/globals';
import { captureOf } from '@/core/formats/capture';
import { LINK_RADIOTAP, readPcapng, writePcapng } from '@/core/formats/pcapng';
import type { Sample } from '@/core/survey/sample';
import { readBeacons, readSamples } from './surveyFiles';

const started = Date.parse('2026-11-30T10:00:00.000Z');
const samples = [0, 1000, 9000].map((tMs): Sample => ({
  leg: 0,
  tMs,
  xM: tMs / 1000,
  yM: 0,
  bssid: '02:00:00:00:00:01',
  ssid: 's',
  apId: null,
  band: '5',
  channel: 36,
  widthMhz: 20,
  rssiDbm: -50,
}));
/** The same as another program writes it: nobody says where. */
const placeless = writePcapng(
  LINK_RADIOTAP,
  readPcapng(captureOf(samples, started)).map((packet) => ({ ...packet, comment: null })),
);
/** Clicked 2 s after the walk was begun, and 8 s later. */
const legs = [{ turns: [2000, 10_000].map((tMs, i) => ({ xM: i * 8, yM: 5, tMs })) }];
const owners = new Map([['02:00:00:00:00:01', 'ap']]);
const along = (startUs: number | null) => readBeacons({ bytes: placeless, owners, along: startUs === null ? null : { legs, startUs } });

describe('a capture brought in', () => {
  test('with places of its own it has a way of its own, and whose the addresses are', () => {
    expect(readBeacons({ bytes: captureOf(samples, started), owners, along: null })).toMatchObject({
      kind: 'placed',
      others: 0,
      startUs: started * 1000,
      samples: samples.map((one) => ({ ...one, apId: 'ap' })),
    });
  });
  test('without, it lies along the clicks by the clock where the times meet', () => {
    // The walk was begun a second before the capture: its beacons come at 1, 2 and 10 s.
    expect(along((started - 1000) * 1000)).toMatchObject({
      kind: 'along',
      byClock: true,
      outside: 1,
      samples: [
        { tMs: 2000, xM: 0, yM: 5 },
        { tMs: 10_000, xM: 8, yM: 5 },
      ],
    });
  });
  test('where they do not meet the first beacon is where the first click was', () => {
    for (const apartS of [-86_400, 3600])
      expect(along((started + apartS * 1000) * 1000)).toMatchObject({
        kind: 'along',
        byClock: false,
        outside: 1,
        samples: [
          { tMs: 2000, xM: 0 },
          { tMs: 3000, xM: 1 },
        ],
      });
  });
  test('without clicks it lies nowhere', () => {
    expect(along(null)).toEqual({ kind: 'nowhere' });
    expect(readBeacons({ bytes: placeless, owners, along: { legs: [], startUs: 0 } })).toEqual({ kind: 'nowhere' });
  });
  test('a table has walks with ways; a level louder than is stored is stored as 0 dBm', () => {
    const text = 'walk,x,y,bssid,channel,level\nA,1,2,02:00:00:00:00:01,36,2.4\nA,2,2,02:00:00:00:00:01,36,-40\nB,0,0,02:00:00:00:00:09,36,-60';
    const walks = readSamples({ bytes: new TextEncoder().encode(text), owners }) as ReturnType<
      typeof Array<{ walk: string; legs: unknown[]; samples: Sample[] }>
    >;
    expect(walks.map(({ walk, legs: way, samples: own }) => [walk, way.length, own.map(({ rssiDbm, apId }) => [rssiDbm, apId])])).toEqual([
      [
        'A',
        1,
        [
          [0, 'ap'],
          [-40, 'ap'],
        ],
      ],
      ['B', 1, [[-60, null]]],
    ]);
  });
});
