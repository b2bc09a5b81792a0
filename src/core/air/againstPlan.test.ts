import { describe, expect, test } from '@jest/globals';
import { againstPlan, type DesignedHere } from './againstPlan';
import { NOTHING_ON_AIR, withRounds, type HeardAir } from './heard';
import { broadcast } from './air.testing';
import type { Reading } from './scan';

const OURS = '02:55:00:00:00:01';
const THEIRS = '02:77:10:00:00:09';
const designed: DesignedHere = { apId: 'a', name: 'Q-01', channel: { band: '2.4', primary: 1, widthMhz: 20 }, predictedDbm: -60 };
const reading = (fields: Partial<Reading> = {}): Reading => ({
  network: broadcast({ bssid: OURS, basicMbps: [6, 12] }),
  band: '2.4',
  channel: 1,
  widthMhz: 20,
  dbm: -60,
  load: 0.2,
  clients: 3,
  ...fields,
});
const heardOf = (readings: readonly Reading[], rounds = 3): HeardAir =>
  withRounds(
    NOTHING_ON_AIR,
    Array.from({ length: rounds }, (_, i) => ({ atMs: 1000 * i, readings })),
    () => true,
  );
const ownerOf = (bssid: string) => (bssid === OURS || bssid.endsWith(OURS.slice(2)) ? 'a' : null);
const keys = (heard: HeardAir, plan: readonly DesignedHere[] = [designed], floorDbm = -90) =>
  againstPlan(heard, plan, ownerOf, ['hall'], 'UK', floorDbm).map(({ key, severity }) => `${severity} ${key}`);

describe('ours', () => {
  test('as planned: nothing', () => expect(keys(heardOf([reading()]))).toEqual([]));
  test('on another channel or width', () => {
    expect(keys(heardOf([reading({ channel: 6 })]))).toEqual(['mend channel:a/2.4']);
    expect(keys(heardOf([reading({ widthMhz: 40 })]))).toEqual(['mend channel:a/2.4']);
  });
  test('10 dB off, either way; not at 9', () => {
    expect(keys(heardOf([reading({ dbm: -70 })]))).toEqual(['mend level:a/2.4']);
    expect(keys(heardOf([reading({ dbm: -50 })]))).toEqual(['mend level:a/2.4']);
    expect(keys(heardOf([reading({ dbm: -69 })]))).toEqual([]);
  });
  test('missed where it should be loud, after two rounds; not where it is faint anyway', () => {
    expect(keys(heardOf([]))).toEqual(['stop missing:a/2.4']);
    // Who should be on a channel that is not listened to is not missed.
    const missed = (primary: number) =>
      againstPlan(heardOf([]), [designed], ownerOf, ['hall'], 'UK', -90, (channel) => channel.primary === primary).map(({ key }) => key);
    expect(missed(designed.channel.primary)).toEqual(['missing:a/2.4']);
    expect(missed(designed.channel.primary + 5)).toEqual([]);
    expect(keys(heardOf([], 1))).toEqual([]);
    expect(keys(heardOf([]), [{ ...designed, predictedDbm: -76 }])).toEqual([]);
  });
  test('gone for a minute and more is missed; for less it may be by chance', () => {
    const gone = (forMs: number) => withRounds(heardOf([reading()]), [{ atMs: 2000 + forMs, readings: [] }], () => true);
    expect(keys(gone(30_000))).toEqual([]);
    expect(keys(gone(60_000))).toEqual(['stop missing:a/2.4']);
  });
  test('beacons of six names at 1 Mb/s take 15 %', () => {
    const six = ['02', '06', '0a', '0e', '12', '16'].map((octet) =>
      reading({ network: broadcast({ bssid: octet + OURS.slice(2), basicMbps: [1, 2] }) }),
    );
    const [found] = againstPlan(heardOf(six), [designed], ownerOf, ['hall'], 'UK', -90);
    expect(found).toMatchObject({ key: 'beacons:2.4', apId: 'a' });
    expect(found!.title).toContain('15.2 %');
    expect(found!.bssids).toHaveLength(6);
  });
});

describe('others', () => {
  const other = (fields: Partial<Reading> = {}) => reading({ network: broadcast({ bssid: THEIRS, ssid: 'boatyard' }), ...fields });
  test('on our channel, from -82 dBm; beside it not', () => {
    expect(keys(heardOf([reading(), other({ dbm: -82 })]))).toEqual([`note neighbour:${THEIRS}`]);
    expect(keys(heardOf([reading(), other({ dbm: -83 })]))).toEqual([]);
    expect(keys(heardOf([reading(), other({ channel: 11 })]))).toEqual([]);
  });
  test('under our name, and not of the design', () => {
    expect(keys(heardOf([reading(), other({ network: broadcast({ bssid: THEIRS, ssid: 'hall' }), channel: 11 })]))).toEqual([
      `stop stranger:${THEIRS}`,
    ]);
  });
  test('on a channel that the law forbids', () => {
    expect(keys(heardOf([reading(), other({ channel: 14 })]))).toEqual([`note forbidden:${THEIRS}`]);
  });
  test('what is ignored is not told', () => {
    expect(keys(heardOf([reading(), other({ dbm: -80 })]), [designed], -70)).toEqual([]);
  });
  test('stops come first', () => {
    const all = keys(
      heardOf([reading({ channel: 6 }), other({ dbm: -60 }), other({ network: broadcast({ bssid: '02:77:10:00:00:0a', ssid: 'hall' }) })]),
    );
    expect(all.map((one) => one.split(' ')[0])).toEqual(['stop', 'mend', 'note', 'note']);
  });
});
