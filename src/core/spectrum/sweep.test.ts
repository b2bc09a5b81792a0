import { describe, expect, test } from '@jest/globals';
import { UpperRoomError } from '../errors';
import { bell, block } from './shape';
import { piecesOf } from './signal';
import { binMhz, checkSweep, floorDbm, leastSweepMs, sweep, type Received, type SweepSetting } from './sweep';
import { addSweep, noTraces } from './traces';

const setting: SweepSetting = { startMhz: 2400, stopMhz: 2500, bins: 500, rbwKhz: 300, sweepMs: 50, detector: 'peak' };
const always = (levelDbm: number, centreMhz: number, shape = bell(0.1)): Received => ({
  levelDbm,
  pieces: (fromUs, toUs) => [{ fromUs: fromUs - 1, toUs: toUs + 1, fromMhz: centreMhz, toMhz: centreMhz, shape }],
});
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

describe('levels', () => {
  test('noise: -174 dBm/Hz in 1.0645 x 300 kHz with a noise figure of 12 dB is -107.0 dBm', () => {
    expect(floorDbm(300)).toBeCloseTo(-106.96, 1);
    expect(floorDbm(100)).toBeCloseTo(floorDbm(300) - 4.77, 1);
    expect(mean(Array.from(sweep(setting, [], 0, 1)))).toBeCloseTo(-107, 0);
  });
  test('a line reads its level at its frequency, and 3 dB less half the bandwidth aside', () => {
    const levels = sweep({ ...setting, bins: 1000, sweepMs: 10_000 }, [always(-50, 2450.05)], 0, 1);
    expect(levels[500]!).toBeCloseTo(-50, 0);
    expect(levels[502]!).toBeGreaterThan(-56);
    expect(levels[510]!).toBeLessThan(-95);
  });
  test('of a block of 20 MHz at -50 dBm the filter takes 10 log10(0.319 / 20) = -18.0 dB', () => {
    const levels = sweep(setting, [always(-50, 2450, block(20))], 0, 1);
    const inside = Array.from(levels).filter((_, b) => Math.abs(binMhz(setting, b) - 2450) < 9);
    expect(mean(inside)).toBeCloseTo(-68, 0);
    expect(levels[Math.floor(500 * 0.3)]!).toBeLessThan(-100);
  });
  test('an emitter on top of the receiver reads no more than it can', () => {
    expect(Math.max(...sweep(setting, [always(30, 2450)], 0, 1))).toBe(0);
  });
  test('the same sweep is the same; a later one flickers otherwise', () => {
    expect(sweep(setting, [], 50_000, 3)).toEqual(sweep(setting, [], 50_000, 3));
    expect(sweep(setting, [], 50_000, 3)).not.toEqual(sweep(setting, [], 100_000, 3));
  });
});

describe('time', () => {
  /** On for a fifth of each 10 ms, everywhere. */
  const train: Received = {
    levelDbm: -40,
    pieces: (fromUs, toUs) => {
      const pieces = [];
      for (let n = Math.floor(fromUs / 10_000) - 1; n * 10_000 < toUs; n++)
        pieces.push({ fromUs: n * 10_000, toUs: n * 10_000 + 2000, fromMhz: 2450, toMhz: 2450, shape: block(90) });
      return pieces;
    },
  };
  test('a burst is seen only where the receiver is just then', () => {
    const levels = sweep(setting, [train], 0, 1);
    // 100 us a bin: bins 0 to 19 of every 100 see it.
    expect(Array.from({ length: 5 }, (_, k) => levels[100 * k + 50]! < -100)).toEqual([true, true, true, true, true]);
    expect([levels[110]!, levels[210]!, levels[310]!].every((dbm) => dbm > -75)).toBe(true);
  });
  test('the share of time above a threshold is the duty cycle, within its sampling error', () => {
    let traces = noTraces(setting.bins);
    // A sweep of 47.3 ms does not run in step with the train.
    const free = { ...setting, sweepMs: 47.3 };
    for (let i = 0; i < 200; i++) traces = addSweep(traces, sweep(free, [train], i * 47_300, 1), -80, 10);
    const shares = Array.from(traces.above.slice(100, 400), (above) => above / 200);
    // Of 200 looks at a share of 0.2 the deviation is 0.028; of 300 bins together far less.
    expect(mean(shares)).toBeCloseTo(0.2, 1);
    expect(Math.abs(mean(shares) - 0.2)).toBeLessThan(0.02);
  });
  test('a peak detector sees the burst that passes in a bin, a mean one its share of it', () => {
    const short: Received = { levelDbm: -40, pieces: () => [{ fromUs: 25_000, toUs: 25_010, fromMhz: 2450.1, toMhz: 2450.1, shape: bell(0.1) }] };
    const at = (detector: 'peak' | 'mean') => sweep({ ...setting, detector }, [short], 0, 1)[250]!;
    expect(at('peak')).toBeGreaterThan(-46);
    // 10 of 100 us: 10 dB less.
    expect(at('peak') - at('mean')).toBeCloseTo(10, 0);
  });
  test('a hopper fills max hold, and the mean of a sweep hardly shows it', () => {
    const hopper = { kind: 'hopper', centreMhz: 2441, seed: 5, hours: [] } as const;
    const sources: Received[] = [{ levelDbm: -50, pieces: (from, to) => piecesOf(hopper, from, to) }];
    let traces = noTraces(setting.bins);
    for (let i = 0; i < 600; i++) traces = addSweep(traces, sweep({ ...setting, sweepMs: 47.3 }, sources, i * 47_300, 1), -80, 10);
    const band = Array.from(traces.max).filter((_, b) => binMhz(setting, b) > 2403 && binMhz(setting, b) < 2479);
    expect(band.filter((dbm) => dbm > -75).length / band.length).toBeGreaterThan(0.97);
    const live = Array.from(traces.live).filter((dbm) => dbm > -75).length / setting.bins;
    expect(live).toBeLessThan(0.1);
  });
});

describe('what does not go', () => {
  test('a sweep takes 2.5 span / RBW^2: 2.8 ms for 100 MHz at 300 kHz, 25 ms at 100 kHz', () => {
    expect(leastSweepMs(setting)).toBeCloseTo(2.78, 2);
    expect(leastSweepMs({ ...setting, rbwKhz: 100 })).toBeCloseTo(25, 6);
  });
  test.each([
    [{ rbwKhz: 3000, startMhz: 2449, stopMhz: 2450 }, 'wider than the span'],
    [{ startMhz: 2500, stopMhz: 2400 }, 'the span is'],
    [{ startMhz: 100 }, 'start and stop lie'],
    [{ stopMhz: 7100, startMhz: 2400 }, 'the span is'],
    [{ sweepMs: 0 }, 'a sweep takes'],
    [{ rbwKhz: 100, sweepMs: 20 }, '25 ms or more'],
    [{ bins: 0 }, 'bins'],
    [{ rbwKhz: NaN }, 'missing'],
  ] as const)('%j is refused', (fields, why) => {
    expect.assertions(2);
    try {
      checkSweep({ ...setting, ...fields });
    } catch (error) {
      expect((error as UpperRoomError).code).toBe('SWEEP_REFUSED');
      expect((error as UpperRoomError).details.why).toContain(why);
    }
  });
});
