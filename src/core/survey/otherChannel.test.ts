import { expect, test } from '@jest/globals';
import { otherChannels } from './otherChannel';
import type { Sample } from './sample';

const beacons = (count: number, channel: number, fields: Partial<Sample> = {}): Sample[] =>
  Array.from({ length: count }, (_, i) => ({
    leg: 0,
    tMs: 100 * i,
    xM: 1,
    yM: 2,
    bssid: 'b',
    ssid: 's',
    apId: 'a',
    band: '5',
    channel,
    widthMhz: 40,
    rssiDbm: -60,
    ...fields,
  }));
const radio = { apId: 'a', channel: { band: '5', primary: 36, widthMhz: 40 } } as const;

test('one that is on another channel in most of its beacons is told, with how many', () => {
  expect(otherChannels([...beacons(2, 36), ...beacons(3, 44)], [radio])).toEqual([
    { kind: 'channel', apId: 'a', designed: radio.channel, heard: { band: '5', primary: 44, widthMhz: 40 }, times: 3, of: 5 },
  ]);
});
test('another width is otherwise than designed too', () => {
  expect(otherChannels(beacons(4, 36, { widthMhz: 80 }), [radio])).toMatchObject([{ heard: { primary: 36, widthMhz: 80 }, times: 4, of: 4 }]);
});
test('as designed, away for half of the time, heard too rarely, in another band, or somebody else: nothing', () => {
  expect(otherChannels(beacons(9, 36), [radio])).toEqual([]);
  expect(otherChannels([...beacons(4, 36), ...beacons(4, 44)], [radio])).toEqual([]);
  expect(otherChannels(beacons(2, 44), [radio])).toEqual([]);
  expect(otherChannels(beacons(9, 6, { band: '2.4', widthMhz: 20 }), [radio])).toEqual([]);
  expect(otherChannels(beacons(9, 44, { apId: 'other' }), [radio])).toEqual([]);
  expect(otherChannels(beacons(9, 44, { apId: null }), [radio])).toEqual([]);
});
