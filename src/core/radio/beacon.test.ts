import { expect, test } from '@jest/globals';
import { basicRatesOf, beaconShare, frameUs } from './beacon';

test('the time of a frame of 300 octets, by hand', () => {
  // DSSS: 192 us and 2400 bits at 1 Mb/s; with the short preamble 96 us and 1200 us at 2.
  expect(frameUs(300, 1, '2.4')).toBe(2592);
  expect(frameUs(300, 2, '2.4')).toBe(1296);
  // OFDM: 20 us and symbols of 24 bits for 16 + 2400 + 6 bits: 101 of them; at 24 Mb/s 96 bits a symbol: 26. At 2.4 GHz 6 us more.
  expect(frameUs(300, 6, '5')).toBe(424);
  expect(frameUs(300, 24, '6')).toBe(124);
  expect(frameUs(300, 6, '2.4')).toBe(430);
});

test('eight names at 1 Mb/s take a fifth of a channel; DSSS is no rate of 5 and 6 GHz', () => {
  expect(beaconShare(8, 1, '2.4')).toBeCloseTo(0.2025, 4);
  expect(beaconShare(1, 6, '5')).toBeCloseTo(0.00414, 5);
  expect(basicRatesOf('5')).toEqual([6, 9, 12, 18, 24]);
  expect(basicRatesOf('2.4')).toContain(5.5);
});
