import { describe, expect, test } from '@jest/globals';
import { coveredShares, exposureOf, total } from './exposure';
import { finish, lineRadios } from './line.testing';
import { shortOf, tunePowers } from './powers';
import { PowerState } from './powerState';
import { pairPrices } from './exposure';
import { DEFAULT_RULES, oneGround, optionsOf, rulesFor, type Ground, type PlanRadio, type PlanRules, type RuleGroup } from './problem';
import { bestOf, retune, type RetuneSheet } from './retune';

const rules: PlanRules = { ...DEFAULT_RULES, domain: 'EU' };
const sheetOf = (radios: readonly PlanRadio[], fields: Partial<PlanRules> = {}, ground?: Ground): RetuneSheet =>
  finish(retune(radios, { ...rules, ...fields }, [], 1, undefined, ground));
const group = (apIds: string[], fields: Partial<RuleGroup> = {}): RuleGroup => ({
  name: 'Group',
  apIds,
  channels: null,
  widthsMhz: null,
  dfs: null,
  minPowerDbm: null,
  maxPowerDbm: null,
  maySwitchOff24: null,
  ...fields,
});
const crowded = lineRadios([10, 30, 50, 70, 90], [{}, {}, {}, {}, {}]);

describe('a group of access points with rules of its own', () => {
  const only = { '2.4': [], '5': [149, 153], '6': [] };
  test('has its own channels, widths and powers; what it leaves open is as for all', () => {
    const own = group(['ap1', 'ap3'], { channels: only, maxPowerDbm: 8, dfs: 'never' });
    const of = (apId: string) => rulesFor({ ...rules, groups: [own] }, { apId });
    expect([of('ap1').channels, of('ap1').maxPowerDbm, of('ap1').dfs, of('ap1').widthsMhz]).toEqual([only, 8, 'never', rules.widthsMhz]);
    expect(of('ap0')).toEqual({ ...rules, groups: [own] });
    // A lower maximum takes the minimum down with it.
    expect(rulesFor({ ...rules, minPowerDbm: 10, groups: [own] }, { apId: 'ap1' }).minPowerDbm).toBe(8);
  });
  test('of two groups the first that has it holds', () => {
    const groups = [group(['ap1'], { maxPowerDbm: 8 }), group(['ap1'], { maxPowerDbm: 12 })];
    expect(rulesFor({ ...rules, groups }, { apId: 'ap1' }).maxPowerDbm).toBe(8);
  });
  test('and is planned by them', () => {
    const widthsMhz = { ...rules.widthsMhz, '5': [20 as const] };
    const lower = group(['ap1', 'ap3'], { channels: { ...rules.channels, '5': [44, 48] }, widthsMhz, maxPowerDbm: 8 });
    const sheet = sheetOf(crowded, { channels: { ...rules.channels, '5': [36, 40] }, groups: [lower] });
    for (const { apId, after } of sheet.rows) {
      const inGroup = ['ap1', 'ap3'].includes(apId);
      expect(inGroup ? [44, 48] : [36, 40]).toContain(after.channel);
      if (inGroup) expect(after.txPowerDbm).toBeLessThanOrEqual(8);
      if (inGroup) expect(after.widthMhz).toBe(20);
    }
    expect(sheet.rows.some(({ apId, after }) => !['ap1', 'ap3'].includes(apId) && after.txPowerDbm > 8)).toBe(true);
    const forbidden = group(['ap1'], { channels: { ...rules.channels, '5': [100] }, dfs: 'never' });
    expect(optionsOf(crowded[1]!, { ...rules, groups: [forbidden] }).barredBy).toBe('dfs');
    expect(optionsOf(crowded[0]!, { ...rules, groups: [forbidden] }).barredBy).toBeNull();
  });
  test('2.4 GHz radios of a group may stay on where others may be switched off', () => {
    const close = lineRadios(
      [48, 49, 50, 51, 52, 53],
      Array.from({ length: 6 }, () => ({})),
      '2.4',
      0.3,
    );
    const off = (groups: RuleGroup[]) =>
      sheetOf(close, { groups, coverageShare: 0.5 })
        .rows.filter(({ after }) => !after.on)
        .map(({ apId }) => apId);
    expect(off([]).length).toBeGreaterThan(0);
    const all = close.map(({ apId }) => apId);
    expect(off([group(all, { maySwitchOff24: false })])).toEqual([]);
    expect(
      sheetOf(close, { maySwitchOff24: false, coverageShare: 0.5, groups: [group(all.slice(0, 3), { maySwitchOff24: true })] }).rows.filter(
        ({ after, apId }) => !after.on && !all.slice(0, 3).includes(apId),
      ),
    ).toEqual([]);
  });
});

describe('radar detection', () => {
  const two = lineRadios([30, 70], [{ channel: 36 }, { channel: 36 }]);
  const sheet = (dfs: PlanRules['dfs'], channels: number[]) =>
    sheetOf(two, { dfs, channels: { ...rules.channels, '5': channels }, widthsMhz: { ...rules.widthsMhz, '5': [20] }, changePenalty: 0 }).rows.map(
      ({ after }) => after.channel,
    );
  test('only if as good: a channel without it is taken first; never: not even where it would help', () => {
    expect(sheet('if equal', [36, 44, 100]).sort((a, b) => a - b)).toEqual([36, 44]);
    expect(sheet('if equal', [36, 100]).sort((a, b) => a - b)).toEqual([36, 100]);
    expect(sheet('never', [36, 100])).toEqual([36, 36]);
  });
});

describe('so many changes at the most', () => {
  test('those that gain most are made, the others say why they stay; without need of a limit all is as without', () => {
    const free = sheetOf(crowded);
    const changed = ({ rows }: RetuneSheet) => rows.filter(({ before, after }) => JSON.stringify(before) !== JSON.stringify(after));
    expect(changed(free).length).toBeGreaterThan(2);
    const two = sheetOf(crowded, { mostChanges: 2 });
    expect(changed(two).length).toBeLessThanOrEqual(2);
    expect(two.bands[0]!.contentionAfter).toBeLessThan(two.bands[0]!.contentionBefore);
    expect(two.bands[0]!.contentionAfter).toBeGreaterThanOrEqual(free.bands[0]!.contentionAfter);
    for (const row of two.rows.filter((one) => !changed(two).includes(one))) expect(row.why).toMatch(/no more changes are allowed|Stays/);
    expect(two.rows.some(({ why }) => why.includes('no more changes'))).toBe(true);
    expect(changed(sheetOf(crowded, { mostChanges: 0 }))).toEqual([]);
    expect(sheetOf(crowded, { mostChanges: 5 })).toEqual(free);
  });
  test('what the law forbids goes first, however many there are of it', () => {
    // 149 is not allowed in the EU: three of them, and two that only share.
    const radios = lineRadios([10, 12, 40, 60, 95], [{ channel: 36 }, { channel: 36 }, { channel: 149 }, { channel: 149 }, { channel: 149 }]);
    const sheet = sheetOf(radios, { mostChanges: 3, planPower: false, widthsMhz: { ...rules.widthsMhz, '5': [20] } });
    expect(sheet.rows.filter(({ before, after }) => before.channel !== after.channel).map(({ apId }) => apId)).toEqual(['ap2', 'ap3', 'ap4']);
  });
  test('of a busy pair and a quiet one the busy pair is parted', () => {
    // Two side by side, and two far apart that hardly meet, on two channels that do not overlap.
    const radios = lineRadios([10, 12, 40, 95], [{ channel: 36 }, { channel: 36 }, { channel: 52 }, { channel: 52 }]);
    const sheet = sheetOf(radios, { mostChanges: 1, planPower: false, widthsMhz: { ...rules.widthsMhz, '5': [20] } });
    const [one] = sheet.rows.filter(({ before, after }) => before.channel !== after.channel);
    expect(['ap0', 'ap1']).toContain(one!.apId);
  });
});

describe('floors together', () => {
  const half = (radios: readonly PlanRadio[], below = 50): Ground => ({
    floors: [
      { name: 'Below', points: below, cells: below },
      { name: 'Above', points: radios[0]!.lossDb.length - below, cells: radios[0]!.cellLossDb.length - below },
    ],
    areaWeight: null,
  });
  test('figures are those of each floor, and of all', () => {
    const ground = half(crowded, 30);
    const [band] = sheetOf(crowded, {}, ground).bands;
    expect(band!.floors.map(({ name }) => name)).toEqual(['Below', 'Above']);
    const part = (from: number, to: number) => crowded.map((radio) => ({ ...radio, lossDb: radio.lossDb.subarray(from, to) }));
    const before = crowded.map((radio) => radio.before);
    band!.floors.forEach((floor, f) => {
      const exposure = exposureOf(f === 0 ? part(0, 30) : part(30, 100), before, rules);
      expect(floor.contentionBefore).toBeCloseTo(total(exposure.airtime) / total(exposure.served), 9);
      expect(floor.coverageBefore).toBeCloseTo(exposure.covered, 9);
      expect(floor.coverageAfter).toBeGreaterThanOrEqual(floor.requiredShare - 1e-9);
    });
    const [alone] = sheetOf(crowded).bands;
    expect(band!.contentionBefore).toBeCloseTo(alone!.contentionBefore, 9);
    expect(band!.coverageBefore).toBeCloseTo(alone!.coverageBefore, 9);
    expect(alone!.floors).toHaveLength(1);
  });
  test('coverage is kept on each: what one floor has to spare does not make up for another', () => {
    const ground = half(crowded);
    expect(shortOf(ground, [1, 0.5], [0.8, 0.9])).toBeCloseTo(0.2, 9);
    expect(shortOf(ground, [0.7, 0.9], [0.8, 0.9])).toBeCloseTo(0.05, 9);
    expect(shortOf(ground, [1, 1], [0.8, 0.9])).toBe(0);
  });
  test('points of people count their own area: covered is a share of the area, not of the points', () => {
    const radios = lineRadios([25, 75], [{ txPowerDbm: 10 }, { txPowerDbm: 3 }]);
    const weight = Int32Array.from({ length: 100 }, (_, c) => (c < 50 ? 1 : 3));
    const ground: Ground = { floors: [{ name: '', points: 100, cells: 100 }], areaWeight: weight };
    const settings = radios.map(({ before }) => before);
    // At -67 dBm: 77 dB and 70 dB of loss, 17 and 10 points to both sides.
    expect(coveredShares(radios, settings, rules, ground)[0]).toBeCloseTo((34 * 1 + 20 * 3) / 200, 9);
    expect(coveredShares(radios, settings, rules, oneGround(radios))[0]).toBeCloseTo(0.54, 9);
    const state = new PowerState(radios, [10, 3], [20, 20], pairPrices(radios, settings), rules, [0, 0], ground);
    expect(state.coveredShare).toBeCloseTo(0.47, 9);
    state.set(1, 10);
    expect(state.coveredShare).toBeCloseTo((34 + 34 * 3) / 200, 9);
    expect(Array.from(state.coveredShares)).toEqual([expect.closeTo(0.68, 9)]);
    state.set(1, 3);
    expect(state.coveredShare).toBeCloseTo(0.47, 9);
  });
});

test('a 2.4 GHz radio that is switched off leaves its clients to the others: that is charged', () => {
  // Two far apart that do not share: switching one off gains nothing but its own moves, and makes one cell of all.
  const radios = lineRadios([25, 75], [{ channel: 1 }, { channel: 11 }], '2.4', 0.5);
  const run = (serving: number) => {
    const settings = radios.map(({ before }) => before);
    const all = { ...rules, coverageShare: 0, maySwitchOff24: true };
    finish(tunePowers(radios, settings, [15, 15], all, [], oneGround(radios), [0], serving, 1));
    return settings.filter(({ on }) => on).length;
  };
  expect(run(2)).toBe(2);
});

test('of several starts the best of each band is kept, the first of equals', () => {
  const sheet = (objectives: ReadonlyArray<readonly [string, number]>, name: string): RetuneSheet =>
    ({
      rows: objectives.map(([band]) => ({ band, name })),
      bands: objectives.map(([band, objective]) => ({ band, objective, name })),
      stopped: name === 'b',
    }) as unknown as RetuneSheet;
  const best = bestOf([
    sheet(
      [
        ['2.4', 2],
        ['5', 1],
      ],
      'a',
    ),
    sheet(
      [
        ['2.4', 1],
        ['5', 1],
      ],
      'b',
    ),
    sheet([['2.4', 3]], 'c'),
  ]);
  expect(best.rows.map((row) => [row.band, row.name])).toEqual([
    ['2.4', 'b'],
    ['5', 'a'],
  ]);
  expect(best.bands.map(({ objective }) => objective)).toEqual([1, 1]);
  expect(best.stopped).toBe(true);
});
