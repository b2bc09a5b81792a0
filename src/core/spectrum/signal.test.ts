import { describe, expect, test } from '@jest/globals';
import { ADVERTISING_MHZ, inHours, meanShareIn, piecesOf, SIGNAL_KINDS, worksAt, type SignalKind, type SignalSource } from './signal';

const source = (kind: SignalKind, fields: Partial<SignalSource> = {}): SignalSource => ({ kind, centreMhz: 2450, seed: 12345, hours: [], ...fields });
const AT_US = 4.4e10;

/** Time on the air by brute force: what of each stretch lies within. */
const airtime = (kind: SignalKind, forUs: number): number => {
  const spans = piecesOf(source(kind), AT_US, AT_US + forUs).map(
    ({ fromUs, toUs }) => [Math.max(AT_US, fromUs), Math.min(AT_US + forUs, toUs)] as const,
  );
  return spans.reduce((sum, [from, to]) => sum + to - from, 0) / forUs;
};

describe('time on the air', () => {
  test.each([
    ['oven', 0.44],
    ['hopper', 366 / 625],
    ['carrier', 1],
    ['analogue-video', 1],
    ['digital-video', 1],
    ['noise', 1],
    ['phone', 0.48],
    ['advertising', (3 * 376) / 100_000],
  ] as const)('%s: %d', (kind, share) => {
    expect(airtime(kind, 10e6)).toBeCloseTo(share, 3);
  });
  test('sensors report by chance, of frames of 1.5 to 4.3 ms, and a radar is there 20 ms of each turn', () => {
    const frames = piecesOf(source('sensor'), AT_US, AT_US + 60e6).map(({ fromUs, toUs }) => toUs - fromUs);
    expect(Math.min(...frames)).toBeGreaterThan(1400);
    expect(Math.max(...frames)).toBeLessThanOrEqual(4256);
    expect(airtime('sensor', 60e6)).toBeGreaterThan(0.02);
    expect(airtime('sensor', 60e6)).toBeLessThan(0.06);
    const pulses = piecesOf(source('radar'), AT_US, AT_US + 24e6);
    expect(pulses.length).toBe(200);
    expect(pulses.every(({ fromUs, toUs }) => toUs - fromUs === 2)).toBe(true);
  });
  test.each(SIGNAL_KINDS)('%s asked in parts is the same as asked at once', (kind) => {
    const key = ({ fromUs, fromMhz }: { fromUs: number; fromMhz: number }) => `${fromUs}/${fromMhz}`;
    const whole = piecesOf(source(kind), AT_US, AT_US + 3e6).map(key);
    const parts = [0, 1e6, 2e6].flatMap((from) => piecesOf(source(kind), AT_US + from, AT_US + from + 1e6).map(key));
    expect([...new Set(parts)].sort()).toEqual([...new Set(whole)].sort());
  });
});

describe('where they are', () => {
  test('a hopper is on each of 79 frequencies, an advertiser on its three', () => {
    const hops = piecesOf(source('hopper'), AT_US, AT_US + 1e6);
    const places = new Set(hops.map(({ fromMhz }) => fromMhz));
    expect(places.size).toBe(79);
    expect(Math.min(...places)).toBe(2402);
    expect(Math.max(...places)).toBe(2480);
    expect([...new Set(piecesOf(source('advertising'), AT_US, AT_US + 1e6).map(({ fromMhz }) => fromMhz))]).toEqual([...ADVERTISING_MHZ]);
  });
  test('an oven is on once in 20 ms, and its frequency goes up and comes back', () => {
    const pieces = piecesOf(source('oven'), AT_US, AT_US + 20_000);
    const starts = piecesOf(source('oven'), AT_US, AT_US + 1e6).map(({ fromUs }) => Math.round(fromUs % 20_000));
    expect(new Set(starts).size).toBe(8);
    const highest = Math.max(...pieces.map(({ toMhz }) => toMhz));
    const lowest = Math.min(...pieces.map(({ fromMhz }) => fromMhz));
    expect(highest - lowest).toBeCloseTo(14, 0);
  });
});

describe('when of the day', () => {
  const at = (hour: number) => hour * 3_600_000;
  test('from the first minute of its hours, not at the last, also over midnight and on later days', () => {
    expect(inHours([[11.5, 14]], at(11.5))).toBe(true);
    expect(inHours([[11.5, 14]], at(14))).toBe(false);
    expect(inHours([[11.5, 14]], at(24 + 12))).toBe(true);
    expect(inHours([[22, 2]], at(1))).toBe(true);
    expect(inHours([[22, 2]], at(12))).toBe(false);
    expect(inHours([], at(3))).toBe(true);
  });
  test('what works so long of every so many seconds is off for the rest', () => {
    const works = { onS: 30, everyS: 120 };
    const on = Array.from({ length: 240 }, (_, s) => worksAt({ hours: [], works, seed: 7 }, at(12) + 1000 * s)).filter(Boolean).length;
    expect(on).toBe(60);
    expect(piecesOf(source('noise', { hours: [[9, 10]] }), AT_US, AT_US + 1e6)).toEqual([]);
  });
});

describe('what of a signal falls into a channel, on the average', () => {
  test.each([
    ['carrier', 2450, 2440, 2460, 1],
    ['carrier', 2450, 2460, 2480, 0],
    // A block of 8 MHz: half of it on each side of its centre.
    ['digital-video', 2450, 2450, 2470, 0.5],
    // 20 of 79 frequencies, for 366 of 625 us.
    ['hopper', 2441, 2430, 2450, (20 / 79) * (366 / 625)],
    // 44 % of the time, all of it within so wide a stretch.
    ['oven', 2450, 2400, 2500, 0.44],
    ['advertising', 2441, 2392, 2412, 376 / 100_000],
  ] as const)('%s about %d MHz from %d to %d', (kind, centre, from, to, share) => {
    expect(Math.abs(meanShareIn(kind, centre, from, to) - share)).toBeLessThan(0.02 * share + 0.004 * (kind === 'hopper' ? 4 : 1));
  });
});
