import { modelOf } from './catalogue';
import { describe, expect, test } from '@jest/globals';
import type { WidthMhz } from './band';
import { occupied20 } from './channel';
import { highestPowerDbm, lawProblem, lawWords, withinLaw, type SetRadio } from './law';
import { BANDS, WIDTHS_MHZ } from './band';
import { DOMAINS, allowedChannels, allowedWidths, domainName, ruleFor, rulesOf, type OwnDomain } from './regulation';

const six = (primary: number, widthMhz: WidthMhz) => ruleFor('US', { band: '6', primary, widthMhz });

describe('limits of power density', () => {
  test.each<[WidthMhz, number]>([
    // 47 CFR 15.407: low-power indoor access points 5 dBm/MHz and 30 dBm EIRP: 5 + 10 log10(20) = 18.01 and 3.01 more per doubling.
    [20, 18.01],
    [40, 21.02],
    [80, 24.03],
    [160, 27.04],
    [320, 30],
  ])('US 6 GHz indoors at %i MHz: %f dBm EIRP', (widthMhz, maxEirpDbm) => expect(six(1, widthMhz)!.maxEirpDbm).toBeCloseTo(maxEirpDbm, 2));
  test('EU: 10 dBm/MHz leave 23 dBm from 20 MHz on; 2.4 GHz 20 dBm', () => {
    expect(ruleFor('EU', { band: '5', primary: 36, widthMhz: 20 })!.maxEirpDbm).toBe(23);
    expect(ruleFor('EU', { band: '5', primary: 100, widthMhz: 20 })!.maxEirpDbm).toBeCloseTo(30, 6);
    expect(ruleFor('EU', { band: '2.4', primary: 1, widthMhz: 20 })!.maxEirpDbm).toBe(20);
    expect(ruleFor('US', { band: '5', primary: 52, widthMhz: 20 })!.maxEirpDbm).toBe(30);
  });
  test('320 MHz: whole blocks of sixteen, three in the US, one in the EU, none at 5 GHz', () => {
    const blocks = (domain: 'US' | 'EU') => new Set(allowedChannels(domain, '6', 320).map(({ channel }) => occupied20(channel).join()));
    expect(blocks('US').size).toBe(3);
    expect(blocks('EU').size).toBe(1);
    expect(occupied20({ band: '6', primary: 37, widthMhz: 320 })).toEqual(Array.from({ length: 16 }, (_, i) => 1 + 4 * i));
    expect(allowedWidths('US', '5')).toEqual([20, 40, 80, 160]);
  });
});

test('radar: one minute in general, ten where weather radar is; a bonded channel waits for its slowest part', () => {
  const of = (primary: number, widthMhz: WidthMhz = 20) => ruleFor('EU', { band: '5', primary, widthMhz })!;
  expect([of(36).checkS, of(52).checkS, of(120).checkS]).toEqual([null, 60, 600]);
  expect([of(116).weatherRadar, of(124).weatherRadar]).toEqual([false, true]);
  expect(of(116, 40)).toMatchObject({ checkS: 600, weatherRadar: true, dfs: true });
  expect(of(132).checkS).toBe(60);
  expect(ruleFor('US', { band: '5', primary: 120, widthMhz: 20 })).toMatchObject({ checkS: 60, subBand: 'U-NII-2C', powerClass: null });
  expect(six(5, 20)).toMatchObject({ subBand: 'U-NII-5', powerClass: 'low-power indoor', indoorOnly: true });
});

describe('law of one’s own', () => {
  const own: OwnDomain = {
    name: 'Harbour',
    rules: [
      { band: '5', subBand: 'Quay', powerClass: null, channels: [36, 40, 44], maxEirpDbm: 20, maxDensityDbmPerMhz: 5, checkS: 30, indoorOnly: false },
    ],
  };
  test('what is copied from a domain of the list allows the same', () => {
    for (const domain of DOMAINS)
      for (const band of BANDS)
        for (const widthMhz of WIDTHS_MHZ)
          expect(allowedChannels({ name: 'Copy', rules: rulesOf(domain) }, band, widthMhz)).toEqual(allowedChannels(domain, band, widthMhz));
  });
  test('its rules hold, and it is called by its name', () => {
    expect(allowedChannels(own, '5', 20).map(({ channel }) => channel.primary)).toEqual([36, 40, 44]);
    expect(allowedChannels(own, '5', 40).map(({ channel }) => channel.primary)).toEqual([36, 40]);
    // 5 dBm/MHz leave 18.01 dBm in 20 MHz and the 20 dBm of the whole from 40 MHz on.
    expect(ruleFor(own, { band: '5', primary: 36, widthMhz: 20 })).toMatchObject({ maxEirpDbm: expect.closeTo(18.01, 2), checkS: 30, dfs: true });
    expect(ruleFor(own, { band: '5', primary: 36, widthMhz: 40 })!.maxEirpDbm).toBe(20);
    expect(ruleFor(own, { band: '2.4', primary: 1, widthMhz: 20 })).toBeNull();
    expect([domainName(own), domainName('EU')]).toEqual(['Harbour', 'EU']);
    const problem = lawProblem(own, modelOf('heron-c4'), { band: '5', on: true, channel: 100, widthMhz: 20, txPowerDbm: 10 })!;
    expect(lawWords(problem)).toBe('Channel 100 at 20 MHz is not allowed in Harbour: choose another channel or width.');
  });
  test('an edited one is another: nothing of the old one is remembered', () => {
    expect(ruleFor(own, { band: '5', primary: 36, widthMhz: 20 })).not.toBeNull();
    const narrower: OwnDomain = { ...own, rules: own.rules.map((rule) => ({ ...rule, channels: [40] })) };
    expect(ruleFor(narrower, { band: '5', primary: 36, widthMhz: 20 })).toBeNull();
  });
});

describe('what model and law allow of a radio', () => {
  const radio: SetRadio = { band: '2.4', on: true, channel: 1, widthMhz: 20, txPowerDbm: 16 };
  // Heron C4: 3.8 dBi at 2.4 GHz, 3 to 22 dBm, 40 MHz; EU 20 dBm EIRP.
  const problem = (fields: Partial<SetRadio>, modelId = 'heron-c4') => lawProblem('EU', modelOf(modelId), { ...radio, ...fields });
  test('a lawful one has no problem; one that is off has none either', () => {
    expect(problem({})).toBeNull();
    expect(problem({ on: false, txPowerDbm: 22 })).toBeNull();
  });
  test('each kind of problem, with its numbers, and words that say what to do', () => {
    expect(problem({ txPowerDbm: 20 })).toEqual({ kind: 'eirp', domain: 'EU', eirpDbm: 23.8, maxEirpDbm: 20 });
    expect(problem({ txPowerDbm: 16.2 })).toBeNull();
    expect(problem({ txPowerDbm: 16.3 })).toMatchObject({ kind: 'eirp', eirpDbm: 20.1 });
    // The model's own limits are inside.
    expect([3, 22].map((txPowerDbm) => lawProblem('US', modelOf('heron-c4'), { ...radio, txPowerDbm }))).toEqual([null, null]);
    expect(problem({ txPowerDbm: 2 })).toMatchObject({ kind: 'power', minPowerDbm: 3 });
    expect(problem({ txPowerDbm: 23 })).toMatchObject({ kind: 'power', maxPowerDbm: 22 });
    expect(problem({ channel: 14 })).toMatchObject({ kind: 'channel', channel: 14 });
    expect(problem({ widthMhz: 40 }, 'wren-w2')).toMatchObject({ kind: 'width', maxWidthMhz: 20 });
    expect(problem({ band: '5', channel: 36 }, 'gannet-d2')).toMatchObject({ kind: 'outdoors', channel: 36 });
    expect(problem({ band: '6', channel: 5 })).toEqual({ kind: 'band' });
    expect(lawWords(problem({ txPowerDbm: 20 })!)).toBe('23.8 dBm EIRP is more than the 20 dBm that EU allows on this channel: lower the power.');
    for (const words of [{ txPowerDbm: 2 }, { channel: 14 }].map((fields) => lawWords(problem(fields)!))) expect(words).toMatch(/: c\w+/);
  });
  test('words for each kind', () => {
    expect(lawWords(problem({ band: '6', channel: 5 })!)).toMatch(/no radio in the band/);
    expect(lawWords(problem({ channel: 14 })!)).toBe('Channel 14 at 20 MHz is not allowed in EU: choose another channel or width.');
    expect(lawWords(problem({ widthMhz: 40 }, 'wren-w2')!)).toBe('The model has 20 MHz at most, not 40: choose a narrower width.');
    expect(lawWords(problem({ band: '5', channel: 36 }, 'gannet-d2')!)).toMatch(/indoor use only in EU/);
    expect(lawWords(problem({ txPowerDbm: 2 })!)).toBe('The model sends 3 dBm to 22 dBm, not 2 dBm: change the power.');
  });
  test('the highest power keeps the law to half a decibel, and the model where the law leaves more', () => {
    expect(highestPowerDbm('EU', modelOf('heron-c4'), radio)).toBe(16);
    expect(highestPowerDbm('US', modelOf('heron-c4'), radio)).toBe(22);
    expect(highestPowerDbm('EU', modelOf('heron-c4'), { ...radio, channel: 14 })).toBe(22);
    expect(highestPowerDbm('US', modelOf('kittiwake-t6'), { band: '6', channel: 5, widthMhz: 20 })).toBe(13);
    expect(highestPowerDbm('US', modelOf('kittiwake-t6'), { band: '6', channel: 5, widthMhz: 80 })).toBe(19);
    expect(withinLaw('EU', modelOf('heron-c4'), { ...radio, txPowerDbm: 20 }).txPowerDbm).toBe(16);
    expect(withinLaw('EU', modelOf('heron-c4'), radio)).toBe(radio);
  });
});
