import { describe, expect, test } from '@jest/globals';
import { neededSnrDb, phyBetween, rateMbps, rateSteps, stepAt, type Phy, type ResourceUnit } from './rates';
import type { WidthMhz } from './band';

describe('rates of the standard', () => {
  // Published figures, in Mb/s: IEEE 802.11-2020 tables 19-27 to 19-38 (HT) and 21-29 to 21-60 (VHT), IEEE 802.11ax-2021 tables 27-79 to 27-111, IEEE 802.11be-2024, 36.5.
  test.each<[Phy, WidthMhz, number, number, number, number]>([
    ['HT', 20, 7, 1, 0.8, 65],
    ['HT', 20, 7, 1, 0.4, 72.2],
    ['HT', 40, 7, 2, 0.4, 300],
    ['HT', 40, 0, 1, 0.8, 13.5],
    ['VHT', 20, 8, 1, 0.4, 86.7],
    ['VHT', 80, 9, 2, 0.4, 866.7],
    ['VHT', 80, 9, 1, 0.8, 390],
    ['VHT', 160, 9, 4, 0.4, 3466.7],
    ['VHT', 40, 4, 1, 0.8, 81],
    ['HE', 20, 0, 1, 0.8, 8.6],
    ['HE', 20, 11, 1, 0.8, 143.4],
    ['HE', 40, 9, 2, 1.6, 433.3],
    ['HE', 80, 11, 2, 0.8, 1201],
    ['HE', 80, 5, 1, 3.2, 245],
    ['HE', 160, 11, 4, 0.8, 4803.9],
    ['EHT', 320, 13, 1, 0.8, 2882.4],
    ['EHT', 320, 13, 4, 0.8, 11529.4],
    ['EHT', 160, 12, 2, 0.8, 2594.1],
  ])('%s %d MHz, MCS %d, %d streams, guard %d us: %d Mb/s', (phy, width, mcs, streams, guardUs, mbps) =>
    expect(rateMbps(phy, width, mcs, streams, guardUs)).toBeCloseTo(mbps, 1),
  );
  test.each<[ResourceUnit, number, number, number]>([
    [26, 11, 0.8, 14.7],
    [52, 7, 1.6, 16.7],
    [106, 0, 0.8, 3.75],
    [242, 11, 0.8, 143.4],
    [996, 11, 0.8, 600.5],
  ])('a resource unit of %d tones, MCS %d, guard %d us: %d Mb/s', (unit, mcs, guardUs, mbps) =>
    expect(rateMbps('HE', 80, mcs, 1, guardUs, unit)).toBeCloseTo(mbps, 1),
  );
  test.each<[string, number | null]>([
    ['VHT 20 MHz MCS 9 on one stream', rateMbps('VHT', 20, 9, 1)],
    ['VHT 80 MHz MCS 6 on three', rateMbps('VHT', 80, 6, 3)],
    ['HT 80 MHz', rateMbps('HT', 80, 7, 1)],
    ['HE MCS 12', rateMbps('HE', 80, 12, 1)],
    ['a guard interval of another layer', rateMbps('HE', 80, 0, 1, 0.4)],
    ['a resource unit of VHT', rateMbps('VHT', 80, 0, 1, 0.4, 26)],
  ])('there is no %s', (_what, mbps) => expect(mbps).toBeNull());
  test('VHT at 20 MHz has MCS 9 on three streams', () => expect(rateMbps('VHT', 20, 9, 3, 0.4)).toBeCloseTo(288.9, 1));
});

describe('what a rate needs', () => {
  // Receiver minimum input level sensitivity at 20 MHz: IEEE 802.11-2020, tables 19-23 and 21-25 (MCS 0 to 9), IEEE 802.11ax-2021, table 27-51 (to 11), IEEE 802.11be-2024, 36.3.21.2 (to 13).
  test.each([-82, -79, -77, -74, -70, -66, -65, -64, -59, -57, -54, -52, -49, -46].map((dbm, mcs) => [mcs, dbm] as const))(
    'MCS %d needs what a receiver must do at %d dBm, 15 dB over thermal noise',
    (mcs, dbm) => expect(neededSnrDb(mcs) + (-174 + 10 * Math.log10(20e6)) + 15).toBeCloseTo(dbm, 9),
  );
  test('by hand: MCS 0 at -82 dBm over -174 + 73.01 + 10 + 5 = -85.99 needs 3.99 dB; MCS 13 at -46 needs 39.99', () => {
    expect(neededSnrDb(0)).toBeCloseTo(3.99, 2);
    expect(neededSnrDb(7)).toBeCloseTo(21.99, 2);
    expect(neededSnrDb(13)).toBeCloseTo(39.99, 2);
  });
  test('one stream: each MCS from its own SNR on; below the first nothing', () => {
    const steps = rateSteps('HE', 20, 1);
    expect(steps.map(({ mcs }) => mcs)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]);
    expect(stepAt(steps, 3.9)).toBeNull();
    expect(stepAt(steps, 4)).toMatchObject({ mcs: 0 });
    expect(stepAt(steps, 21.9)).toMatchObject({ mcs: 6 });
    expect(stepAt(steps, 22)).toMatchObject({ mcs: 7 });
    expect(stepAt(steps, 90)).toMatchObject({ mcs: 11 });
  });
  test('two streams cost 3 dB, and are taken as soon as they are faster', () => {
    const steps = rateSteps('HE', 20, 2);
    // Two streams of MCS 1 need 6.99 + 3.01 = 10.0 dB for 34.4 Mb/s, one of MCS 2 needs 8.99 for 25.8.
    expect(stepAt(steps, 9.9)).toMatchObject({ mcs: 2, streams: 1 });
    expect(stepAt(steps, 10.05)).toMatchObject({ mcs: 1, streams: 2 });
    expect(steps.every((step, i) => i === 0 || (step.snrDb >= steps[i - 1]!.snrDb && step.mbps > steps[i - 1]!.mbps))).toBe(true);
  });
  test('four streams cost 6 dB', () =>
    // 33.99 + 6.02 for MCS 11 on four.
    expect(rateSteps('HE', 80, 4).at(-1)).toMatchObject({ mcs: 11, streams: 4, snrDb: expect.closeTo(40.01, 2) }));
  test('two ends speak the older one’s language; VHT is none at 2.4 GHz', () => {
    expect(phyBetween('Wi-Fi 7', 'Wi-Fi 6', '5')).toBe('HE');
    expect(phyBetween('Wi-Fi 5', 'Wi-Fi 7', '5')).toBe('VHT');
    expect(phyBetween('Wi-Fi 5', 'Wi-Fi 7', '2.4')).toBe('HT');
    expect(phyBetween('Wi-Fi 6E', 'Wi-Fi 6', '6')).toBe('HE');
  });
});
