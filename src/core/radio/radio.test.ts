import { describe, expect, test } from '@jest/globals';
import { gainDbi } from './antenna';
import { AP_MODELS, modelOf, radioModelOf } from './catalogue';
import { centreMhz, channelExists, middlePowerDbm, occupied20, offMiddleDb, pathMhz, type Channel } from './channel';
import { noiseDbm } from './noise';
import { overlapShare } from './overlap';
import { allowedChannels, allowedWidths, ruleFor } from './regulation';

const ch = (band: Channel['band'], primary: number, widthMhz: Channel['widthMhz'] = 20): Channel => ({ band, primary, widthMhz });

describe('channels', () => {
  test.each([
    // IEEE 802.11-2020, Annex E: centre = channel starting frequency + 5 x centre index
    [ch('2.4', 1), 2412],
    [ch('2.4', 6), 2437],
    [ch('2.4', 13), 2472],
    [ch('2.4', 14), 2484],
    [ch('2.4', 1, 40), 2422],
    [ch('5', 36), 5180],
    [ch('5', 64), 5320],
    [ch('5', 144), 5720],
    [ch('5', 165), 5825],
    [ch('5', 36, 80), 5210],
    [ch('5', 48, 80), 5210],
    [ch('5', 100, 160), 5570],
    [ch('5', 149, 40), 5755],
    [ch('6', 1), 5955],
    [ch('6', 5, 80), 5985],
    [ch('6', 233), 7115],
    [ch('6', 37, 160), 6185],
  ])('%j is centred at %d MHz', (channel, mhz) => expect(centreMhz(channel)).toBe(mhz));
  test.each([ch('5', 37), ch('5', 181, 80), ch('2.4', 15), ch('2.4', 1, 80), ch('6', 2), ch('5', 140, 160)])('%j does not exist', (channel) => {
    expect(channelExists(channel)).toBe(false);
    expect(() => centreMhz(channel)).toThrow(expect.objectContaining({ code: 'CHANNEL_UNKNOWN' }));
  });
  test.each([
    // By hand: 20 log10(5180 / 5500), (5825 / 5500), (5955 / 6525), (7115 / 6525), (2412 / 2442).
    [ch('5', 36), -0.5207],
    [ch('5', 165), 0.4987],
    [ch('6', 1), -0.79398],
    [ch('6', 233), 0.7519],
    [ch('2.4', 1), -0.1074],
  ])('a way on %j costs %d dB more than at the middle of its band', (channel, db) => {
    expect(offMiddleDb(channel)).toBeCloseTo(db, 4);
    expect(middlePowerDbm({ txPowerDbm: 17, channel })).toBeCloseTo(17 - db, 4);
  });
  test('what is no channel is taken as at the middle of its band', () => {
    expect(pathMhz(ch('5', 37))).toBe(5500);
    expect(offMiddleDb(ch('5', 37))).toBe(0);
  });
  test('a bonded channel occupies its block whatever its primary', () => {
    expect(occupied20(ch('5', 44, 80))).toEqual([36, 40, 44, 48]);
    expect(occupied20(ch('2.4', 11, 40))).toEqual([7, 11]);
  });
});

describe('overlap', () => {
  test('on the same channel nearly all power counts, across bands none', () => {
    for (const channel of [ch('2.4', 6), ch('5', 36, 80), ch('6', 5, 160)]) expect(overlapShare(channel, channel)).toBeGreaterThan(0.98);
    expect(overlapShare(ch('2.4', 1), ch('5', 36))).toBe(0);
  });
  test('2.4 GHz: 1 and 3 overlap in part, 1 and 6 hardly, and it falls with distance', () => {
    const shares = [1, 2, 3, 4, 5, 6, 11].map((n) => overlapShare(ch('2.4', 1), ch('2.4', n)));
    for (let i = 1; i < shares.length; i++) expect(shares[i]!).toBeLessThan(shares[i - 1]!);
    expect(shares[2]).toBeGreaterThan(0.4);
    expect(shares[5]).toBeLessThan(0.01);
    expect(shares[6]).toBe(0);
  });
  test('a wide channel puts a quarter of its power into a part of it; the narrow one lies wholly inside', () => {
    expect(overlapShare(ch('5', 36, 80), ch('5', 44))).toBeCloseTo(0.25, 1);
    expect(overlapShare(ch('5', 44), ch('5', 36, 80))).toBeGreaterThan(0.98);
  });
});

describe('regulation', () => {
  test('Canada and Australia keep weather radar free, Japan and the EU do not; each has its own end of 2.4 and 6 GHz', () => {
    const primaries = (domain: 'CA' | 'AU' | 'JP' | 'EU', band: '2.4' | '5' | '6') =>
      allowedChannels(domain, band, 20).map(({ channel }) => channel.primary);
    for (const domain of ['CA', 'AU'] as const) {
      expect(primaries(domain, '5')).not.toContain(120);
      expect(primaries(domain, '5')).not.toContain(128);
      expect(primaries(domain, '5')).toContain(149);
    }
    for (const domain of ['JP', 'EU'] as const) {
      expect(primaries(domain, '5')).toContain(124);
      expect(primaries(domain, '5')).not.toContain(149);
    }
    expect([primaries('CA', '2.4').at(-1), primaries('AU', '2.4').at(-1), primaries('JP', '2.4').at(-1)]).toEqual([11, 13, 13]);
    expect([primaries('CA', '6').at(-1), primaries('AU', '6').at(-1), primaries('JP', '6').at(-1)]).toEqual([233, 125, 93]);
    // 5 dBm/MHz over 80 MHz are 24 dBm; 30 dBm from 320 MHz on.
    expect(ruleFor('CA', { band: '6', primary: 5, widthMhz: 80 })!.maxEirpDbm).toBeCloseTo(24.03, 2);
    expect(ruleFor('CA', { band: '5', primary: 52, widthMhz: 20 })).toMatchObject({ maxEirpDbm: 30, dfs: true, indoorOnly: false });
    expect(ruleFor('AU', { band: '5', primary: 36, widthMhz: 20 })).toMatchObject({ maxEirpDbm: 23, dfs: false, indoorOnly: true });
  });

  test.each([
    ['US', '2.4', 20, 11],
    ['EU', '2.4', 20, 13],
    ['EU', '5', 20, 19],
    ['EU', '5', 80, 16],
    ['UK', '5', 20, 24],
    ['US', '5', 20, 25],
    ['US', '6', 20, 59],
    ['EU', '6', 20, 24],
  ] as const)('%s %s GHz at %d MHz has %d primaries', (domain, band, width, count) =>
    expect(allowedChannels(domain, band, width)).toHaveLength(count),
  );
  test('DFS is known, and a bonded channel takes the strictest part', () => {
    expect(ruleFor('EU', ch('5', 52))!.dfs).toBe(true);
    expect(ruleFor('EU', ch('5', 36))!.dfs).toBe(false);
    expect(ruleFor('EU', ch('5', 36, 160))).toMatchObject({ dfs: true, maxEirpDbm: 23 });
    expect(ruleFor('EU', ch('5', 149))).toBeNull();
    expect(ruleFor('US', ch('2.4', 13))).toBeNull();
    expect(allowedWidths('EU', '2.4')).toEqual([20, 40]);
  });
});

describe('antennas of the catalogue', () => {
  test('the peak is where it points, and a patch is weak behind', () => {
    const patch = radioModelOf(modelOf('gannet-d2'), '5')!.antenna;
    expect(gainDbi(patch, 180, 0, 0, 50, 0)).toBeCloseTo(patch.peakDbi, 5);
    expect(gainDbi(patch, 180, 0, 0, -50, 0)).toBeLessThan(patch.peakDbi - 18);
    expect(gainDbi(patch, 90, 0, 50, 0, 0)).toBeCloseTo(patch.peakDbi, 5);
  });
  test('tilting down moves the peak down', () => {
    const patch = radioModelOf(modelOf('gannet-d2'), '5')!.antenna;
    const down30 = -Math.tan(Math.PI / 6) * 20;
    expect(gainDbi(patch, 0, 30, 0, -20, down30)).toBeGreaterThan(gainDbi(patch, 0, 0, 0, -20, down30) + 3);
  });
  test('no direction exceeds the peak', () => {
    for (const model of AP_MODELS) {
      for (const { antenna } of model.radios) {
        for (let a = 0; a < 360; a += 7) {
          for (let e = -80; e <= 80; e += 10) {
            const gain = gainDbi(
              antenna,
              40,
              10,
              Math.sin((a * Math.PI) / 180) * 10,
              -Math.cos((a * Math.PI) / 180) * 10,
              Math.tan((e * Math.PI) / 180) * 10,
            );
            expect(gain).toBeLessThanOrEqual(antenna.peakDbi + 1e-9);
          }
        }
      }
    }
  });
  test('an unknown model is an error with a code', () =>
    expect(() => modelOf('phoenix')).toThrow(expect.objectContaining({ code: 'MODEL_UNKNOWN' })));
});

test('noise doubles with the bandwidth', () => {
  // -174 + 10 log10(20e6) + 7 + 1 = -92.99 dBm, the trade's "around -92"
  expect(noiseDbm('5', 20)).toBeCloseTo(-92.99, 2);
  expect(noiseDbm('5', 40) - noiseDbm('5', 20)).toBeCloseTo(3.01, 2);
});
