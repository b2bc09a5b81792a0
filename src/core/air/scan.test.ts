import { describe, expect, test } from '@jest/globals';
import { NOTHING_ON_AIR, withRounds, MOST_KEPT, levelOf } from './heard';
import { broadcast, radio } from './air.testing';
import { clientsAt } from './radio';
import { roundsBetween, type Round } from './scan';

const all = { channels: [1, 6, 11].map((channel) => ({ band: '2.4' as const, channel })), dwellMs: 110, intervalMs: 0 };
const spot = { radios: [radio()], signals: [], seed: 1 };

describe('rounds', () => {
  test('begin one after the other as long as their channels take, or as far apart as they are asked', () => {
    expect(roundsBetween(spot, all, 0, 3300).map(({ atMs }) => atMs)).toEqual([0, 330, 660, 990, 1320, 1650, 1980, 2310, 2640, 2970]);
    expect(roundsBetween(spot, { ...all, intervalMs: 1000 }, 500, 3300).map(({ atMs }) => atMs)).toEqual([1000, 2000, 3000]);
    expect(roundsBetween(spot, all, 0, 33_000, 10)).toHaveLength(10);
  });
  test('an interval of 0 and no time on a channel end all the same', () => {
    expect(roundsBetween(spot, { channels: [], dwellMs: 0, intervalMs: 0 }, 0, 50).length).toBeLessThanOrEqual(50);
  });
  test('asked again or in parts they are the same; who is on no channel of the list is not heard', () => {
    const whole = roundsBetween(spot, all, 0, 3300);
    expect([...roundsBetween(spot, all, 0, 1000), ...roundsBetween(spot, all, 1000, 3300)]).toEqual(whole);
    expect(roundsBetween(spot, { ...all, channels: [{ band: '2.4', channel: 1 }] }, 0, 1000).flatMap(({ readings }) => readings)).toEqual([]);
  });
  test('each name once a round, at about its level; below the noise never', () => {
    const rounds = roundsBetween(
      { ...spot, radios: [radio({ networks: [broadcast(), broadcast({ bssid: '06:55:00:00:00:01' })] })] },
      all,
      0,
      66_000,
    );
    expect(rounds.every(({ readings }) => readings.length === 2)).toBe(true);
    const mean = rounds.flatMap(({ readings }) => readings.map(({ dbm }) => dbm)).reduce((sum, dbm) => sum + dbm, 0) / (2 * rounds.length);
    expect(Math.abs(mean + 60)).toBeLessThan(0.5);
    expect(roundsBetween({ ...spot, radios: [radio({ levelDbm: -115 })] }, all, 0, 66_000).flatMap(({ readings }) => readings)).toEqual([]);
  });
  test('each name announces its own clients: together they are the radio’s', () => {
    const names = ['02', '06', '0a'].map((octet) => broadcast({ bssid: `${octet}:55:00:00:00:01` }));
    const [round] = roundsBetween({ ...spot, radios: [radio({ networks: names })] }, all, 0, 330);
    const announced = round!.readings.map(({ clients }) => clients!);
    expect(announced.reduce((sum, one) => sum + one, 0)).toBe(clientsAt(radio(), 110));
    expect(Math.max(...announced) - Math.min(...announced)).toBeLessThanOrEqual(1);
  });
  test('a shorter stay than the beacons’ interval hears as many less', () => {
    const heard = roundsBetween(spot, { ...all, dwellMs: 51.2 }, 0, 153_600);
    const share = heard.filter(({ readings }) => readings.length > 0).length / heard.length;
    expect(share).toBeGreaterThan(0.42);
    expect(share).toBeLessThan(0.58);
  });
  test('5000 networks at one spot', () => {
    const many = Array.from({ length: 5000 }, (_, i) => radio({ seed: i, networks: [broadcast({ bssid: `02:99:${i}` })] }));
    expect(roundsBetween({ ...spot, radios: many }, all, 0, 330)[0]!.readings).toHaveLength(5000);
  });
});

describe('heard so far', () => {
  const round = (atMs: number, dbm: number | null, channel = 6): Round => ({
    atMs,
    readings: dbm === null ? [] : [{ network: broadcast(), band: '2.4', channel, widthMhz: 20, dbm, load: null, clients: null }],
  });
  const heard = (rounds: Round[], listens = true) => withRounds(NOTHING_ON_AIR, rounds, () => listens).networks.get(broadcast().bssid)!;
  test('now, best and mean; a gap where it was listened for and not heard', () => {
    const one = heard([round(0, -60), round(1000, -50), round(2000, null)]);
    expect(one).toMatchObject({ nowDbm: null, bestDbm: -50, meanDbm: -55, times: 2, firstMs: 0, lastMs: 1000 });
    expect(one.history.dbm).toEqual([-60, -50, NaN]);
    expect(levelOf(one)).toBe(-50);
  });
  test('where it was not listened for nothing follows', () => {
    const one = heard([round(0, -60), round(1000, null)], false);
    expect(one.nowDbm).toBe(-60);
    expect(one.history.dbm).toEqual([-60]);
  });
  test('a change of channel is kept with its time', () => {
    expect(heard([round(0, -60), round(1000, -60, 11), round(2000, -60, 11)]).moved).toEqual([
      { atMs: 1000, channel: 11, band: '2.4', widthMhz: 20 },
    ]);
  });
  test('a day is kept thinner where it is older, from its first to its last reading', () => {
    const one = heard(Array.from({ length: 5000 }, (_, i) => round(1000 * i, -60)));
    expect(one.history.atMs.length).toBeLessThanOrEqual(MOST_KEPT);
    expect(one.history.atMs[0]).toBe(0);
    expect(one.history.atMs.at(-1)).toBe(4_999_000);
    expect(one.times).toBe(5000);
  });
});
