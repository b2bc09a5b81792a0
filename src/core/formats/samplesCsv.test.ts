import { describe, expect, test } from '@jest/globals';
import type { Sample } from '../survey/sample';
import { csvOf } from './csv';
import { readSamplesCsv, samplesTable } from './samplesCsv';

const sample: Sample = {
  leg: 2,
  tMs: 110,
  xM: 1.5,
  yM: -2.25,
  bssid: '02:55:aa:00:01:02',
  ssid: 'mus,"eum',
  apId: 'ap',
  band: '6',
  channel: 37,
  widthMhz: 80,
  rssiDbm: -61,
};
const limits = { coordinateM: { min: -1000, max: 2000 }, legs: 500 };
const problem = (text: string): string => {
  try {
    readSamplesCsv(text, () => null, limits);
  } catch (error) {
    return String((error as { details: { problem: string } }).details.problem);
  }
  return 'none';
};
const head = 'x [m],y [m],BSSID,channel,level [dBm]';

describe('samples as a table', () => {
  test('what is taken out comes back, walk by walk', () => {
    const walks = [
      { walk: 'One', samples: [sample, { ...sample, tMs: 220 }] },
      { walk: 'Two', samples: [{ ...sample, band: '2.4' as const, channel: 6, widthMhz: 20 }] },
    ];
    expect(readSamplesCsv(csvOf(samplesTable(walks, () => 'Q-01')), () => 'ap', limits)).toEqual(walks);
  });
  test('columns in any order, with other names, units and separators; what need not be there is filled in', () => {
    const text = 'RSSI;MAC;Y (ft);x [ft];channel;time [s]\n-50;02-55-AA-00-01-02;10;20;36;1.5\n−70;02:55:aa:00:01:02;0;0;6;2\n';
    const [{ walk, samples }] = readSamplesCsv(text, () => null, limits) as [ReturnType<typeof readSamplesCsv>[number]];
    expect(walk).toBe('');
    expect(samples[0]).toEqual({
      ...sample,
      leg: 0,
      tMs: 1500,
      xM: expect.closeTo(6.096, 9),
      yM: expect.closeTo(3.048, 9),
      ssid: '',
      apId: null,
      band: '5',
      channel: 36,
      widthMhz: 20,
      rssiDbm: -50,
    });
    expect(samples[1]).toMatchObject({ band: '2.4', rssiDbm: -70, tMs: 2000 });
    expect(
      readSamplesCsv(`${head}\n1,2,02:55:aa:00:01:02,6,-50\n1,2,02:55:aa:00:01:02,6,-50`, () => null, limits)[0]!.samples.map(({ tMs }) => tMs),
    ).toEqual([0, 100]);
  });
  test('what is wrong is said with its line', () => {
    expect(problem('')).toBe('it is empty');
    expect(problem('a,b\n1,2')).toContain('no column x, y, bssid, channel, level');
    expect(problem(head)).toBe('there is a head and no samples');
    expect(problem(`${head}\n1,2,02:55:aa:00:01:02,6,-50\n1,2,02:55:aa:00:01:02,6,weak`)).toContain('line 3: level “weak”');
    expect(problem(`${head}\n,2,02:55:aa:00:01:02,6,-50`)).toContain('line 2: x “” is no number');
    expect(problem(`${head}\n1,2,02:55,6,-50`)).toContain('is no address');
    expect(problem(`${head}\n1,2,02:55:aa:00:01:02,35,-50`)).toContain('no channel 35');
    expect(problem(`${head},band\n1,2,02:55:aa:00:01:02,36,-50,7`)).toContain('is no band');
    expect(problem(`${head},width\n1,2,02:55:aa:00:01:02,36,-50,30`)).toContain('no channel 36 of 30 MHz');
    expect(problem('x [miles],y [m],BSSID,channel,level\n1,2,02:55:aa:00:01:02,36,-50')).toContain('unit that is not known');
    expect(problem(`${head}\n1e9,2,02:55:aa:00:01:02,36,-50`)).toContain('is no number from');
  });
});
