import { expect, test } from '@jest/globals';
import { NOTHING_COUNTED, type Counted } from './heard';
import { packHeard, unpackHeard } from './packed';

const bssid = '02:00:00:00:00:01';
const sample = {
  leg: 0,
  tMs: 12.5,
  xM: 1.25,
  yM: -3,
  bssid,
  ssid: 'Guests',
  apId: 'ap-1',
  band: '5',
  channel: 36,
  widthMhz: 20,
  rssiDbm: -61.5,
} as const;
const visit = { xM: 2, yM: 0.1 + 0.2, leg: 1, tMs: 9, band: '5', channel: 36, ssid: '', hearsFromDbm: -88.25 } as const;

test('what is packed and handed on comes out as it was, in its order, whatever differs from record to record', () => {
  const counted: Counted = {
    samples: [
      sample,
      { ...sample, tMs: 1e9, rssiDbm: -40 },
      // Each in one thing of another kind, of the same address.
      { ...sample, ssid: 'constructor' },
      { ...sample, apId: null },
      { ...sample, apId: 'ap-2' },
      { ...sample, band: '6' },
      { ...sample, channel: 40 },
      { ...sample, widthMhz: 40 },
      { ...sample, bssid: '02:00:00:00:00:02', leg: 7, xM: -1e-9, yM: 4000.125 },
      sample,
    ],
    visits: [
      visit,
      { ...visit, leg: 3, xM: 7, hearsFromDbm: -80 },
      { ...visit, ssid: 'Guests' },
      { ...visit, band: '2.4' },
      { ...visit, channel: 40 },
    ],
    looks: [{ leg: 0, tMs: 1, xM: 1, yM: 2 } as unknown as Counted['looks'][number]],
  };
  expect(unpackHeard(structuredClone(packHeard(counted)))).toEqual(counted);
  // Of one kind are the first, the second and the last; the two visits that differ by where and how well alone.
  expect(packHeard(counted).samples.kinds).toHaveLength(8);
  expect(packHeard(counted).visits.kinds).toHaveLength(4);
  expect(packHeard(counted)).toBe(packHeard(counted));
  expect(unpackHeard(packHeard(NOTHING_COUNTED))).toEqual(NOTHING_COUNTED);
});
