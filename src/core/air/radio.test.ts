import { describe, expect, test } from '@jest/globals';
import { broadcast, radio } from './air.testing';
import { isLocal, makerOf } from './makers';
import { airtimeAt, beaconUsOf, channelAt, clientsAt, dayShare, highestMbps, overlaps, radioPieces, sendsAt, sumOf } from './radio';

const at = (hour: number) => hour * 3_600_000;

describe('airtime', () => {
  test('a beacon of 300 octets at 1 Mb/s takes 192 + 2400 us; six names take 6 x 2592 of 102 400 us', () => {
    const six = radio({ networks: Array.from({ length: 6 }, () => broadcast()), busy: 0 });
    expect(beaconUsOf(six)).toBe(2592);
    expect(airtimeAt(six, 0).beacons).toBeCloseTo((6 * 2592) / 102_400, 9);
    expect(sumOf(airtimeAt(six, 0))).toBeCloseTo(0.1519, 4);
  });
  test('at 6 Mb/s and 5 GHz 20 + 4 x 101 us', () => {
    const five = radio({ channel: { band: '5', primary: 36, widthMhz: 20 }, networks: [broadcast({ basicMbps: [6, 12] })] });
    expect(beaconUsOf(five)).toBe(20 + 4 * Math.ceil((16 + 2400 + 6) / 24));
  });
  test('data and what is sent again are the load of the hour, a quarter up or down', () => {
    for (let k = 0; k < 50; k++) {
      const { data, retries } = airtimeAt(radio(), at(9) + 20_000 * k);
      expect(data + retries).toBeGreaterThanOrEqual(0.3 * 0.85 - 1e-9);
      expect(data + retries).toBeLessThanOrEqual(0.3 * 1.15 + 1e-9);
      expect(retries / data).toBeGreaterThanOrEqual(0.05);
      expect(retries / data).toBeLessThanOrEqual(0.15);
    }
  });
  test('a radio that is off sends nothing; its frames come to its airtime', () => {
    const night = radio({ hours: [[22, 6]] });
    expect(sendsAt(night, at(12))).toBe(false);
    expect(sumOf(airtimeAt(night, at(12)))).toBe(0);
    expect(radioPieces(night, at(12) * 1000, at(12) * 1000 + 1e6)).toEqual([]);
    expect(clientsAt(night, at(12))).toBe(0);
    const us = 20e6;
    const from = at(23) * 1000;
    const frames = radioPieces(night, from, from + us).reduce((sum, { fromUs, toUs }) => sum + Math.min(toUs, from + us) - Math.max(fromUs, from), 0);
    expect(frames / us).toBeCloseTo(sumOf(airtimeAt(night, at(23))), 1);
    expect(Math.abs(frames / us - sumOf(airtimeAt(night, at(23))))).toBeLessThan(0.015);
  });
});

describe('the day', () => {
  test('visitors come about noon, a home is busy in the evening; straight between the hours', () => {
    expect(dayShare('visitors', at(12))).toBe(1);
    expect(dayShare('visitors', at(3))).toBeLessThan(0.05);
    expect(dayShare('home', at(20))).toBe(1);
    expect(dayShare('office', at(12.5))).toBeCloseTo((0.6 + 0.8) / 2, 9);
    expect(dayShare('office', at(24 + 9))).toBe(dayShare('office', at(9)));
  });
  test('a radio that saw radar is elsewhere for as long as it stays away', () => {
    const elsewhere = { band: '5', primary: 36, widthMhz: 20 } as const;
    const moved = radio({ moves: [{ fromMs: at(10.6), toMs: at(11.25), channel: elsewhere }] });
    expect(channelAt(moved, at(11))).toBe(elsewhere);
    expect(channelAt(moved, at(24 + 11))).toBe(elsewhere);
    expect(channelAt(moved, at(11.25)).primary).toBe(6);
  });
});

test('highest rates: two streams of VHT over 80 MHz come to 866.7 Mb/s, of HE over 20 MHz to 286.8', () => {
  expect(highestMbps(broadcast(), { band: '5', primary: 36, widthMhz: 80 })).toBeCloseTo(866.7, 1);
  expect(highestMbps(broadcast({ generation: 'Wi-Fi 6' }), { band: '2.4', primary: 1, widthMhz: 20 })).toBeCloseTo(286.8, 1);
});
test('channels lie over one another in part at 2.4 GHz: 1 and 4, not 1 and 5', () => {
  const on = (primary: number, widthMhz: 20 | 40 = 20) => ({ band: '2.4', primary, widthMhz }) as const;
  expect(overlaps(on(1), on(4))).toBe(true);
  expect(overlaps(on(1), on(5))).toBe(false);
  expect(overlaps(on(4, 40), on(9))).toBe(true);
  expect(overlaps(on(1), { band: '5', primary: 36, widthMhz: 20 })).toBe(false);
});
test('makers are of the made-up registry, by the second and third octet; names like those of an object’s own are none', () => {
  expect(makerOf('06:77:10:00:00:01')).toBe('Saltmarsh Radio');
  expect(makerOf('0a:55:12:00:00:01')).toBe('Wader & Tern');
  expect(makerOf('02:99:10:00:00:01')).toBeNull();
  expect(makerOf('constructor')).toBeNull();
  expect(isLocal('02:00:00:00:00:00')).toBe(true);
  expect(isLocal('00:77:10:00:00:01')).toBe(false);
});
