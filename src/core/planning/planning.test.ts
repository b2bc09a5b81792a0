import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../random';
import { assign, components, costOf, type Assignment } from './assignment';
import { cliqueBound, leastOverlap } from './bound';
import { bruteForce } from './bruteForce.testing';
import { finish, lineRadios } from './line.testing';
import { assignmentOf, cellsOf, outsideCost, priceTable, withoutAlikes } from './choices';
import { exposureOf, reachOf, takenFrom, total } from './exposure';
import { costsOf } from './powers';
import { BANDS, type WidthMhz } from '../radio/band';
import { modelOf, radioModelOf } from '../radio/catalogue';
import { channelOf, middlePowerDbm } from '../radio/channel';
import { allowedChannels, allowedWidths, DOMAINS, ruleFor } from '../radio/regulation';
import { airtimeLimits, sharersInto, topThree, type LitRadio } from '../fields/combine';
import { DEFAULT_RULES, optionsOf, type Option, type OutsideNetwork, type PlanRadio, type PlanRules } from './problem';
import { meanContention, retune, type RetuneProgress, type RetuneSheet } from './retune';

const rules: PlanRules = { ...DEFAULT_RULES, domain: 'EU' };

describe('exposure, by hand', () => {
  // At 10 dBm a radio is at -82 dBm where its loss is 92 dB: 32 points away. Two radios at 20 and 80: each serves 50 points;
  // radio 0 reaches to 52, so it takes airtime from radio 1 on points 50 and 51 (2 of 100). Antennas are 60 points apart: loss 120, not heard.
  const radios = lineRadios([20, 80], [{}, {}]);
  const before = radios.map((radio) => radio.before);
  const exposure = exposureOf(radios, before, rules);
  test('who takes airtime where, areas, coverage', () => {
    expect([...exposure.served]).toEqual([0.5, 0.5]);
    expect([...exposure.airtime]).toEqual([0, 0.02, 0.02, 0]);
    expect([...exposure.price]).toEqual([0, 0.02, 0.02, 0]);
    // -67 dBm is loss 77: 17 points to each side, so 34 points each.
    expect(exposure.covered).toBeCloseTo(0.68);
    expect(meanContention(exposure)).toBeCloseTo(0.04);
  });
  test('the cost is the price where the channel is shared and nothing where it is not', () => {
    expect(total(costsOf(radios, before, exposure, []))).toBeCloseTo(0.04);
    const apart = [before[0]!, { ...before[1]!, channel: 108 }];
    expect(total(costsOf(radios, apart, exposureOf(radios, apart, rules), []))).toBe(0);
  });
  test('a wide signal is heard less far: 3 dB per doubling', () => {
    // 40 MHz: -78.99 dBm is 28.99 points away. From 45 the radio reaches to 73.99, from 55 to 26.01: the 24 points beyond the middle.
    const wide = lineRadios([30, 70], [{ widthMhz: 40 }, { widthMhz: 40 }]);
    const setAt = (widthMhz: WidthMhz) => wide.map((radio) => ({ ...radio.before, widthMhz }));
    // Antennas are 40 points apart (loss 100): not heard. 20 MHz reaches 32 points, to 62: 12 points of the other's; 40 MHz to 58.99: 9.
    expect(exposureOf(wide, setAt(20), rules).airtime[1]).toBeCloseTo(0.12);
    expect(exposureOf(wide, setAt(40), rules).airtime[1]).toBeCloseTo(0.09);
  });
  test('an antenna that hears the other shares with it everywhere it serves', () => {
    const near = lineRadios([45, 55], [{}, {}]);
    const all = exposureOf(
      near,
      near.map((radio) => radio.before),
      rules,
    );
    expect(all.airtime[0 * 2 + 1]).toBeCloseTo(all.served[1]!);
  });
  test('a radio that is off neither serves nor disturbs; where nobody is loud enough, nobody serves', () => {
    const settings = [before[0]!, { ...before[1]!, on: false }];
    const one = exposureOf(radios, settings, rules);
    expect(one.served[1]).toBe(0);
    expect(total(costsOf(radios, settings, one, []))).toBe(0);
    // -60 dBm is loss 70: 10 points to each side.
    expect([...exposureOf(radios, before, { ...rules, leastServiceDbm: -60 }).served]).toEqual([0.2, 0.2]);
  });
  test('outside networks cost by their share of the spots, their level and their spectrum', () => {
    const outside: OutsideNetwork[] = [
      { band: '5', channel: 36, widthMhz: 20, share: 0.4, levelDbm: -75 },
      { band: '2.4', channel: 1, widthMhz: 20, share: 1, levelDbm: -50 },
    ];
    const on = (channel: number, widthMhz: WidthMhz) => channelOf({ band: '5', channel, widthMhz });
    expect(outsideCost(outside, on(36, 20), 0.5, 'ap0')).toBeCloseTo(0.2);
    expect(outsideCost(outside, on(100, 20), 0.5, 'ap0')).toBe(0);
    // Only a quarter of the width is met.
    expect(outsideCost(outside, on(48, 80), 0.5, 'ap0')).toBeCloseTo(0.05, 2);
  });
  test('what a choice of channels costs by reach is what its exposure says, for random floors, channels and widths', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const uniform = seeded(seed);
        const some = lineRadios(
          Array.from({ length: 5 }, () => uniform() * 100),
          Array.from({ length: 5 }, () => ({ txPowerDbm: 3 + Math.floor(uniform() * 15), on: uniform() < 0.9 })),
          '5',
          0.7,
        );
        const lists = some.map(() =>
          ([20, 40, 80] as const).flatMap((width) =>
            allowedChannels('EU', '5', width).map(({ channel }): Option => ({ channel, maxPowerDbm: 20, dfs: false })),
          ),
        );
        const prices = priceTable(lists);
        const settings = some.map((radio) => radio.before);
        const problem = assignmentOf(
          some,
          lists,
          settings,
          reachOf(some, settings, rules, prices.levels),
          prices,
          { ...rules, widthCost: 0, changePenalty: 0, maxPowerDbm: -99 },
          [],
        );
        const choice = lists.map((list) => Math.floor(uniform() * list.length));
        const chosen = settings.map((setting, r) => {
          const { primary, widthMhz } = lists[r]![choice[r]!]!.channel;
          return { ...setting, channel: primary, widthMhz };
        });
        const exposure = exposureOf(some, chosen, rules, undefined, 'middle');
        expect(costOf(problem, choice)).toBeCloseTo(total(takenFrom(exposure, exposure.price)), 5);
      }),
      { numRuns: 60, seed: 4 },
    );
  });
});

describe('levels are those of the channel', () => {
  // 36 is 0.52 dB better than the middle of the band, 165 half a decibel worse.
  const at = (channel: number, lossDb: number): PlanRadio => {
    const [radio] = lineRadios([50], [{ channel }]);
    return {
      ...radio!,
      apId: `on ${channel}`,
      lossDb: Float32Array.of(lossDb),
      cellLossDb: Float32Array.of(lossDb),
      lossToRadioDb: new Float32Array(2).fill(200),
    };
  };
  test('of two that lose alike at the middle the lower channel serves', () => {
    expect(cellsOf([at(165, 70), at(36, 70)], [{ at: 0, levelDbm: -60 }])).toEqual([{ apId: 'on 36', share: 1, levelDbm: -60 }]);
    expect([...exposureOf([at(165, 70), at(36, 70)], [at(165, 70).before, at(36, 70).before], rules).served]).toEqual([0, 1]);
  });
  test('a spot that is covered on its channel, and would not be at the middle, needs no more power', () => {
    // 10 dBm less 77.4 dB is -67.4 dBm at the middle and -66.9 on 36.
    const only = { ...rules, channels: { ...rules.channels, '5': [36] }, widthsMhz: { ...rules.widthsMhz, '5': [20] }, coverageShare: 1 } as const;
    const sheet = finish(retune([at(36, 77.4)], only, [], 1));
    expect(sheet.bands[0]).toMatchObject({ coverageBefore: 1, coverageAfter: 1 });
    expect(sheet.rows[0]!.after.txPowerDbm).toBe(10);
  });
});

describe('networks of others have places', () => {
  // Two radios at 20 and 80; a network heard loudly on the left quarter only.
  const radios = lineRadios([20, 80], [{ widthMhz: 20 }, { widthMhz: 20 }]);
  const spots = Array.from({ length: 100 }, (_, at) => ({ at, levelDbm: at < 25 ? -60 : null }));
  const network: OutsideNetwork = { band: '5', channel: 36, widthMhz: 20, share: 0.25, levelDbm: -60, cells: cellsOf(radios, spots) };
  test('in whose cell, and how much of it', () => {
    expect(network.cells).toEqual([
      { apId: 'ap0', share: 0.5, levelDbm: -60 },
      { apId: 'ap1', share: 0, levelDbm: -Infinity },
    ]);
    const on36 = channelOf({ band: '5', channel: 36, widthMhz: 20 });
    expect([outsideCost([network], on36, 0.5, 'ap0'), outsideCost([network], on36, 0.5, 'ap1')]).toEqual([0.25, 0]);
    // Where nobody has listened, what holds for all spots.
    expect(outsideCost([network], on36, 0.5, 'ap9')).toBe(0.125);
    expect(cellsOf(radios, [])).toEqual([]);
  });
  test('the radio beside it goes away from it, and the other one takes its channel', () => {
    const sheet = finish(
      retune(radios, { ...rules, channels: { ...rules.channels, '5': [36, 44] }, widthsMhz: { ...rules.widthsMhz, '5': [20] } }, [network], 1),
    );
    expect(sheet.rows.map(({ after }) => after.channel)).toEqual([44, 36]);
  });
});

describe('choices that are alike', () => {
  const wide = (primary: number): Option => ({ channel: { band: '6', primary, widthMhz: 80 }, maxPowerDbm: 20, dfs: false });
  const radio = lineRadios([50], [{ channel: 9, widthMhz: 80 }], '5')[0]!;
  test('four primaries of one block are one choice: the present one, else a preferred scanning channel', () => {
    const list = [1, 5, 9, 13, 17, 21, 25, 29].map(wide);
    expect(withoutAlikes([list], [{ ...radio, band: '6' }], []).map((kept) => kept.map(({ channel }) => channel.primary))).toEqual([[9, 21]]);
  });
  test('a narrow channel inside the block, or a network of others on it, tells them apart', () => {
    const list = [1, 5, 9, 13].map(wide);
    const narrow: Option = { channel: { band: '6', primary: 5, widthMhz: 20 }, maxPowerDbm: 20, dfs: false };
    // The narrow one takes airtime on 5, three quarters of the width on 1, half of it on 9 and 13 alike.
    expect(withoutAlikes([[...list, narrow]], [{ ...radio, band: '6' }], [])[0]!.length).toBe(4);
    const outside: OutsideNetwork[] = [{ band: '6', channel: 13, widthMhz: 20, share: 1, levelDbm: -60 }];
    expect(withoutAlikes([list], [{ ...radio, band: '6' }], outside)[0]!.map(({ channel }) => channel.primary)).toEqual([5, 9, 13]);
  });
});

describe('lens and planner are one', () => {
  test('random plans of mixed widths: the sheet’s contention is the map’s, radio by radio', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.constantFrom(...BANDS), (seed, band) => {
        const uniform = seeded(seed);
        const widths = allowedWidths('US', band);
        const n = 6;
        const radios = lineRadios(
          Array.from({ length: n }, () => uniform() * 100),
          Array.from({ length: n }, () => {
            const list = allowedChannels('US', band, widths[Math.floor(uniform() * widths.length)]!).slice(0, 12);
            const { primary, widthMhz } = list[Math.floor(uniform() * list.length)]!.channel;
            return { channel: primary, widthMhz, txPowerDbm: Math.floor(uniform() * 18) };
          }),
          band,
          0.8,
        );
        const settings = radios.map((radio) => radio.before);
        const exposure = exposureOf(radios, settings, rules);
        const lit: LitRadio[] = radios.map((radio, r) => ({
          key: radio.apId,
          name: radio.name,
          txPowerDbm: settings[r]!.txPowerDbm,
          channel: channelOf({ band, ...settings[r]! }),
          streams: 2,
          generation: 'Wi-Fi 6',
          lossDb: radio.lossDb,
        }));
        const levels = Float32Array.from({ length: n * n }, (_, k) => middlePowerDbm(lit[k % n]!) - radios[k % n]!.lossToRadioDb[Math.floor(k / n)]!);
        const values = new Float32Array(100);
        const met = new Float64Array(n * n);
        sharersInto(topThree(lit, 100), lit, airtimeLimits(lit, levels), rules.leastServiceDbm, values, met);
        const heard = values.filter((value) => !Number.isNaN(value));
        expect(meanContention(exposure)).toBeCloseTo(heard.length === 0 ? 0 : heard.reduce((sum, value) => sum + value, 0) / heard.length, 9);
        for (let s = 0; s < n; s++) for (let j = 0; j < n; j++) expect(exposure.airtime[j * n + s]).toBeCloseTo(met[s * n + j]! / 100, 9);
      }),
      { numRuns: 80, seed: 11 },
    );
  });
});

/** A random assignment with a full table of symmetric pair costs. */
function randomProblem(n: number, k: number, seed: number): Assignment {
  const uniform = seeded(seed);
  const weight = Array.from({ length: n }, () => Array.from({ length: n }, () => (uniform() < 0.6 ? uniform() : 0)));
  const single = Array.from({ length: n }, () => Array.from({ length: k }, () => uniform() * 0.3));
  const w = (r: number, s: number) => weight[Math.min(r, s)]![Math.max(r, s)]!;
  return {
    sizes: Array.from({ length: n }, () => k),
    single: (r, a) => single[r]![a]!,
    pair: (r, a, s, b) => (a === b ? w(r, s) : Math.abs(a - b) === 1 ? w(r, s) * 0.3 : 0),
    neighbours: Array.from({ length: n }, (_, r) => Array.from({ length: n }, (_, s) => s).filter((s) => s !== r && w(r, s) > 0)),
  };
}

describe('assignment', () => {
  test.each(Array.from({ length: 12 }, (_, seed) => seed + 1))('small problems are solved to the optimum of brute force (seed %d)', (seed) => {
    const problem = randomProblem(7, 3, seed);
    const solution = finish(assign(problem, new Int32Array(7), seed));
    expect(solution.exact).toBe(true);
    expect(solution.cost).toBeCloseTo(bruteForce(problem), 9);
    expect(costOf(problem, solution.choice)).toBeCloseTo(solution.cost, 9);
  });
  test('large problems are never worse than today, and the same seed gives the same plan', () => {
    const problem = randomProblem(40, 5, 99);
    const present = Int32Array.from({ length: 40 }, (_, r) => r % 5);
    const first = finish(assign(problem, present, 3));
    expect(first.cost).toBeLessThanOrEqual(costOf(problem, present));
    expect([...finish(assign(problem, present, 3)).choice]).toEqual([...first.choice]);
  });
  test('groups that cannot disturb each other are apart', () =>
    expect(components([[1], [0], [3], [2, 4], [3], []])).toEqual([[0, 1], [2, 3, 4], [5]]));
});

describe('the lower bound', () => {
  const options = (primaries: readonly number[]): Option[] =>
    primaries.map((primary) => ({ channel: { band: '2.4', primary, widthMhz: 20 }, maxPowerDbm: 20, dfs: false }));
  test('least overlap: three radios fit on 1, 6, 11; a fourth must share', () => {
    expect(leastOverlap(options([1, 6, 11]), 3)).toBeLessThan(0.02);
    expect(leastOverlap(options([1, 6, 11]), 4)).toBeGreaterThanOrEqual(2);
    expect(leastOverlap(options([1, 6, 11]), 4)).toBeLessThan(2.1);
    expect(leastOverlap(options([6]), 3)).toBeCloseTo(6, 9);
  });
  test('80 MHz at 6 GHz: six blocks in the UK, whatever the primaries; the seventh radio must share', () => {
    const wide: Option[] = allowedChannels('UK', '6', 80).map(({ channel }) => ({ channel, maxPowerDbm: 20, dfs: false }));
    expect(wide).toHaveLength(24);
    expect(leastOverlap(wide, 6)).toBeLessThan(0.05);
    expect(leastOverlap(wide, 7)).toBeGreaterThan(1.9);
    expect(cliqueBound(7, new Float64Array(49).fill(1), wide)).toBeGreaterThan(1.9);
  });
  test('never exceeds the true optimum, and is not idle', () => {
    let tight = 0;
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const uniform = seeded(seed);
        const n = 6;
        const weight = Float64Array.from({ length: n * n }, (_, k) => (k % (n + 1) === 0 ? 0 : uniform()));
        const list = options([1, 6, 11]);
        const problem: Assignment = {
          sizes: Array.from({ length: n }, () => 3),
          single: () => 0,
          neighbours: Array.from({ length: n }, (_, r) => Array.from({ length: n }, (_, s) => s).filter((s) => s !== r)),
          pair: (r, a, s, b) => (weight[r * n + s]! + weight[s * n + r]!) * (a === b ? 1 : 0),
        };
        const optimum = bruteForce(problem);
        const bound = cliqueBound(n, weight, list);
        if (bound > 0.3 * optimum) tight++;
        expect(bound).toBeLessThanOrEqual(optimum + 1e-9);
      }),
      { numRuns: 40, seed: 7 },
    );
    expect(tight).toBeGreaterThan(10);
  });
});

describe('retune', () => {
  const crowded = lineRadios([10, 30, 50, 70, 90], [{}, {}, {}, {}, {}]);
  const sheetOf = (radios: readonly PlanRadio[], fields: Partial<PlanRules> = {}, outside: OutsideNetwork[] = []): RetuneSheet =>
    finish(retune(radios, { ...rules, ...fields }, outside, 1));

  test('five on one channel go apart: nothing is shared, nothing lost', () => {
    const sheet = sheetOf(crowded);
    const [band] = sheet.bands;
    expect(band!.costBefore).toBeGreaterThan(1);
    expect(band!.contentionBefore).toBeGreaterThan(1);
    expect(band!.contentionAfter).toBe(0);
    expect(band!.costAfter).toBeLessThan(0.01);
    expect(band!.bound).toBeLessThanOrEqual(band!.costAfter);
    expect(band!.coverageAfter).toBeGreaterThanOrEqual(band!.requiredShare - 1e-9);
    expect(sheet.rows.filter((row) => row.before.channel !== row.after.channel).length).toBeGreaterThanOrEqual(2);
    for (const row of sheet.rows) expect(row.why.length).toBeGreaterThan(10);
  });
  test('the costs on the sheet are those of its settings', () => {
    const sheet = sheetOf(crowded);
    const after = sheet.rows.map((row) => row.after);
    const exposure = exposureOf(crowded, after, rules);
    const costs = costsOf(crowded, after, exposureOf(crowded, after, rules, undefined, 'middle'), []);
    expect(total(costs)).toBeCloseTo(sheet.bands[0]!.costAfter, 9);
    expect(meanContention(exposure)).toBeCloseTo(sheet.bands[0]!.contentionAfter, 9);
    const weighed = sheet.rows.reduce((sum, row, r) => sum + row.loadAfter.contention * exposure.served[r]!, 0);
    expect(weighed / total(exposure.served)).toBeCloseTo(sheet.bands[0]!.contentionAfter, 9);
  });
  test('on its way it says what no choice of channels at these powers goes below, and that is never more than the best so far or the end', () => {
    const four = [36, 40, 44, 48];
    // Eight in one hall on four channels: some must share.
    const close = lineRadios(
      [10, 12, 14, 16, 18, 20, 22, 24],
      Array.from({ length: 8 }, () => ({ channel: 36 })),
    );
    const run = retune(
      close,
      { ...rules, channels: { ...rules.channels, '5': four }, widthsMhz: { ...rules.widthsMhz, '5': [20] }, planPower: false },
      [],
      1,
    );
    const told: RetuneProgress[] = [];
    let step = run.next();
    for (; !step.done; step = run.next()) told.push(step.value);
    expect(told.length).toBeGreaterThan(0);
    expect(new Set(told.map(({ stage }) => stage))).toEqual(new Set(['channels', 'proof']));
    for (const { bound, bestCost } of told.filter(({ stage }) => stage === 'channels')) {
      expect(bound!).toBeGreaterThan(0.05);
      expect(bound!).toBeLessThanOrEqual(bestCost + 1e-9);
    }
    expect(told[0]!.bound!).toBeLessThanOrEqual(step.value.bands[0]!.costAfter + 1e-9);
    expect(step.value.bands[0]!.costAfter).toBeLessThanOrEqual(told[0]!.costBefore);
  });
  test('what is locked stays, and the others go round it', () => {
    const locked = crowded.map((radio, r) => (r === 2 ? { ...radio, locked: true } : radio));
    const sheet = sheetOf(locked);
    expect(sheet.rows[2]!.after).toEqual(locked[2]!.before);
    expect(sheet.rows.filter((row, r) => r !== 2 && row.after.channel === 100)).toHaveLength(0);
  });
  test('who must go on sharing is said, the most first, and their parts add up to the figure', () => {
    const one = sheetOf(crowded, { channels: { ...rules.channels, '5': [36] }, widthsMhz: { ...rules.widthsMhz, '5': [20] }, planPower: false });
    const { stillSharing, contentionAfter } = one.bands[0]!;
    expect(stillSharing.length).toBeGreaterThan(3);
    expect(stillSharing.reduce((sum, { radios }) => sum + radios, 0)).toBeCloseTo(contentionAfter, 9);
    expect(stillSharing.map(({ radios }) => radios)).toEqual(stillSharing.map(({ radios }) => radios).sort((a, b) => b - a));
    // Of five in a line the neighbours share most, and none with itself.
    const place = new Map(crowded.map(({ name }, r) => [name, r]));
    expect(Math.abs(place.get(stillSharing[0]!.one)! - place.get(stillSharing[0]!.other)!)).toBe(1);
    expect(stillSharing.every(({ one: a, other }) => a !== other)).toBe(true);
    expect(sheetOf(crowded).bands[0]!.stillSharing).toEqual([]);
  });
  test('what is settled is kept, the rest is planned round it, and today’s figures stay today’s', () => {
    const first = sheetOf(crowded);
    const settled = { ...crowded[1]!.before, channel: 48, txPowerDbm: 7 };
    const sheet = sheetOf(crowded.map((radio, r) => (r === 1 ? { ...radio, kept: settled } : r === 3 ? { ...radio, kept: radio.before } : radio)));
    expect(sheet.rows[1]).toMatchObject({ before: crowded[1]!.before, after: settled, why: 'Kept from the sheet before.' });
    expect(sheet.rows[3]).toMatchObject({ after: crowded[3]!.before, why: 'Left as it is, as was chosen.' });
    expect(sheet.rows.filter(({ after }, r) => r !== 1 && after.channel === 48)).toEqual([]);
    expect(sheet.bands[0]!.contentionBefore).toBe(first.bands[0]!.contentionBefore);
  });
  test('with every radio settled the sheet tells what these settings come to, no more', () => {
    const proposed = sheetOf(crowded);
    const half = proposed.rows.map(({ before, after }, r) => (r % 2 === 0 ? after : before));
    const sheet = sheetOf(crowded.map((radio, r) => ({ ...radio, kept: half[r]! })));
    expect(sheet.rows.map(({ after }) => after)).toEqual(half);
    const exposure = exposureOf(crowded, half, rules);
    expect(sheet.bands[0]!.contentionAfter).toBeCloseTo(meanContention(exposure), 9);
    expect(sheet.bands[0]!.coverageAfter).toBeCloseTo(exposure.covered, 9);
    expect(total(costsOf(crowded, half, exposure, []))).toBeCloseTo(sheet.bands[0]!.costAfter, 9);
  });
  test('only allowed channels, widths, powers: EU without DFS leaves 36 to 48', () => {
    const sheet = sheetOf(crowded, { dfs: 'never', widthsMhz: { ...rules.widthsMhz, '5': [20] }, maxPowerDbm: 9 });
    for (const { after } of sheet.rows) {
      expect([36, 40, 44, 48]).toContain(after.channel);
      expect(after.widthMhz).toBe(20);
      expect(after.txPowerDbm).toBeLessThanOrEqual(9);
      expect(after.txPowerDbm).toBeGreaterThanOrEqual(rules.minPowerDbm);
    }
  });
  test('a radio without an allowed channel stays, its row says why and what helps, and the rest is planned', () => {
    const outdoor = crowded.map((radio, r) => (r === 1 ? { ...radio, model: modelOf('gannet-d2') } : radio));
    const sheet = sheetOf(outdoor, {
      domain: 'UK',
      channels: { ...rules.channels, '5': [36, 40, 44, 48] },
      widthsMhz: { ...rules.widthsMhz, '5': [20] },
    });
    expect(sheet.rows[1]).toMatchObject({ barredBy: 'chosen', after: outdoor[1]!.before });
    expect(sheet.rows[1]!.why).toBe('Left as it is: none of the channels chosen is one that it may use: add channels to the list.');
    expect(sheet.bands[0]!.contentionAfter).toBeLessThan(sheet.bands[0]!.contentionBefore / 2);
    const barred = (fields: Partial<PlanRules>, radio: Partial<PlanRadio> = {}) => optionsOf({ ...crowded[0]!, ...radio }, { ...rules, ...fields });
    expect(barred({}, { model: modelOf('gannet-d2'), band: '2.4' }).barredBy).toBeNull();
    expect(barred({ channels: { ...rules.channels, '5': [149] } }).barredBy).toBe('chosen');
    expect(barred({ channels: { ...rules.channels, '5': [36] } }, { forbidden: [36] }).barredBy).toBe('forbidden');
    expect(barred({ channels: { ...rules.channels, '5': [100] }, dfs: 'never' }).barredBy).toBe('dfs');
    expect(barred({ headroomDb: 40 }).barredBy).toBe('power');
    expect(barred({ widthsMhz: { ...rules.widthsMhz, '5': [] } }).barredBy).toBeNull();
    expect(barred({}).options.length).toBeGreaterThan(10);
  });
  test('no radio on is said with a code', () => {
    expect(() => sheetOf(crowded.map((radio) => ({ ...radio, before: { ...radio.before, on: false } })))).toThrow(
      expect.objectContaining({ code: 'NOTHING_TO_PLAN' }),
    );
  });
  test('a forbidden channel is not used, also where it would be the best', () => {
    const forbidden = crowded.map((radio) => ({ ...radio, forbidden: [36, 40, 44, 48, 52] }));
    for (const { after } of sheetOf(forbidden).rows) expect([36, 40, 44, 48, 52]).not.toContain(after.channel);
  });
  test('every plan keeps the law, in every domain, band and width', () => {
    for (const domain of DOMAINS) {
      for (const band of BANDS) {
        for (const widthMhz of allowedWidths(domain, band)) {
          const radios = lineRadios([10, 40, 70], [{ widthMhz: 20, txPowerDbm: 30 }, {}, { txPowerDbm: 25 }], band).map((radio) => ({
            ...radio,
            model: modelOf('kittiwake-t6'),
          }));
          const sheet = sheetOf(radios, {
            domain,
            channels: { '2.4': [], '5': [], '6': [] },
            widthsMhz: { '2.4': [widthMhz], '5': [widthMhz], '6': [widthMhz] },
            maxPowerDbm: 36,
            headroomDb: 0,
          });
          for (const { after } of sheet.rows) {
            const rule = ruleFor(domain, channelOf({ band, ...after }));
            const peakDbi = radioModelOf(modelOf('kittiwake-t6'), band)!.antenna.peakDbi;
            expect(rule).not.toBeNull();
            expect(after.txPowerDbm + peakDbi).toBeLessThanOrEqual(rule!.maxEirpDbm + 1e-9);
          }
        }
      }
    }
  });
  test('a plan that is good stays: the change penalty', () => {
    const spread = lineRadios(
      [10, 30, 50, 70, 90],
      [36, 44, 100, 108, 116].map((channel) => ({ channel, widthMhz: 40 as const })),
    );
    expect(sheetOf(spread).rows.every((row) => row.after.channel === row.before.channel && row.why.startsWith('Stays'))).toBe(true);
  });
  test('measured networks of others are avoided', () => {
    const sheet = sheetOf(lineRadios([50], [{ widthMhz: 20 }]), { widthsMhz: { ...rules.widthsMhz, '5': [20] } }, [
      { band: '5', channel: 36, widthMhz: 80, share: 1, levelDbm: -60 },
    ]);
    expect([36, 40, 44, 48]).not.toContain(sheet.rows[0]!.after.channel);
  });
  test('2.4 GHz: too many radios are switched off or made quiet, and coverage is kept', () => {
    const many = lineRadios(
      [5, 15, 25, 35, 45, 55, 65, 75, 85, 95],
      Array.from({ length: 10 }, () => ({ channel: 6, txPowerDbm: 18 })),
      '2.4',
      0.4,
    );
    const sheet = sheetOf(many);
    const [band] = sheet.bands;
    expect(band!.costAfter).toBeLessThan(band!.costBefore / 3);
    expect(sheet.rows.some((row) => !row.after.on && row.why.startsWith('Off'))).toBe(true);
    expect(band!.coverageAfter).toBeGreaterThanOrEqual(band!.requiredShare - 1e-9);
    expect(band!.bound).toBeLessThanOrEqual(band!.costAfter + 1e-9);
  });
  test('coverage is kept even where giving it up would save much contention: one channel for ten', () => {
    const many = lineRadios(
      [5, 15, 25, 35, 45, 55, 65, 75, 85, 95],
      Array.from({ length: 10 }, () => ({ channel: 6, txPowerDbm: 12 })),
      '2.4',
      0.6,
    );
    for (const coverageShare of [1, 0.8]) {
      const [band] = sheetOf(many, { channels: { ...rules.channels, '2.4': [6] }, coverageShare, thresholdDbm: -58 }).bands;
      expect(band!.costAfter).toBeLessThan(band!.costBefore);
      expect(band!.coverageAfter).toBeGreaterThanOrEqual(Math.min(coverageShare, band!.coverageBefore) - 1e-9);
    }
  });
  test('an outdoor radio takes no indoor-only channel', () => {
    const outdoor = { ...crowded[0]!, model: modelOf('gannet-d2') };
    expect(optionsOf(outdoor, rules).options.every((option) => option.channel.primary >= 100)).toBe(true);
  });
  test('the same input gives the same sheet', () => expect(sheetOf(crowded)).toEqual(sheetOf(crowded)));
  test('among plans of equal cost the one with most separation: whom a metal wall saves goes apart as well where there is room', () => {
    // Pairs hear each other below -82 dBm everywhere, at -100 dBm and more: nobody pays anybody anything on one channel.
    const lossDb = [0, 1].map((own) => Float32Array.from({ length: 100 }, (_, c) => (Math.floor(c / 50) === own ? 60 : 105)));
    const pair = lineRadios([20, 80], [{ channel: 36 }, { channel: 36 }]).map((radio, r) => ({
      ...radio,
      lossDb: lossDb[r]!,
      cellLossDb: lossDb[r]!,
      lossToRadioDb: Float32Array.from([r === 0 ? 0 : 110, r === 1 ? 0 : 110]),
    }));
    const own = { ...rules, widthsMhz: { ...rules.widthsMhz, '5': [20 as const] }, changePenalty: 0 };
    const [a, b] = sheetOf(pair, own).rows;
    expect(a!.after.channel).not.toBe(b!.after.channel);
    // Where changing costs, a difference that nobody pays for is not worth it.
    expect(sheetOf(pair, { ...own, changePenalty: 0.01 }).rows.map(({ after }) => after.channel)).toEqual([36, 36]);
  });
  test('among equals: no radar detection before radar detection, weather radar last, the present channel before all', () => {
    const one = (channel: number, channels: readonly number[]) =>
      sheetOf(lineRadios([50], [{ channel, widthMhz: 20 }]), {
        channels: { ...rules.channels, '5': channels },
        widthsMhz: { ...rules.widthsMhz, '5': [20] },
      }).rows[0]!.after.channel;
    // In the EU 36 needs no radar detection, 52 does, 120 is shared with weather radar.
    expect(one(165, [120, 52, 36])).toBe(36);
    expect(one(165, [120, 52])).toBe(52);
    expect(one(120, [120, 52, 36])).toBe(120);
    const six = (channel: number, channels: readonly number[]) =>
      sheetOf(
        lineRadios([50], [{ channel, widthMhz: 20 }], '6').map((radio) => ({ ...radio, model: modelOf('kittiwake-t6') })),
        { channels: { ...rules.channels, '6': channels }, widthsMhz: { ...rules.widthsMhz, '6': [20] } },
      ).rows[0]!.after.channel;
    expect(six(33, [1, 9, 21])).toBe(21);
    expect(six(9, [1, 9, 21])).toBe(9);
  });
  test('powers of neighbours stay within the spread, and cells are not made unequal for nothing', () => {
    const uniform = seeded(12);
    const many = lineRadios(
      Array.from({ length: 12 }, (_, r) => 4 + r * 8.4),
      Array.from({ length: 12 }, () => ({ channel: 1, txPowerDbm: 5 + Math.floor(uniform() * 14) })),
      '2.4',
      0.8,
    );
    for (const powerSpreadDb of [3, 6]) {
      const sheet = sheetOf(many, { powerSpreadDb, maySwitchOff24: false });
      const powers = sheet.rows.map(({ after }) => after.txPowerDbm);
      powers.slice(1).forEach((dbm, i) => expect(Math.abs(dbm - powers[i]!)).toBeLessThanOrEqual(powerSpreadDb));
      // Within it they may differ, and it pays that they do.
      expect(new Set(powers).size).toBeGreaterThan(1);
    }
  });
  test('no coverage is given away where nobody shares, however little must be kept', () => {
    const two = lineRadios(
      [25, 75],
      [
        { channel: 36, txPowerDbm: 12 },
        { channel: 44, txPowerDbm: 12 },
      ],
    );
    const [band] = sheetOf(two, { coverageShare: 0.1 }).bands;
    expect(band!.coverageAfter).toBeGreaterThanOrEqual(band!.coverageBefore - 1e-9);
  });
  test('the runner-up is other spectrum, not another primary of the same', () => {
    const wide = lineRadios([50], [{ channel: 36, widthMhz: 80 }]).map((radio) => ({ ...radio, model: modelOf('heron-c4') }));
    const [row] = sheetOf(wide, { widthsMhz: { ...rules.widthsMhz, '5': [80] } }).rows;
    const blockOf = (channel: number) => Math.floor((channel - 36) / 16);
    const [primary] = row!.runnerUp!.label.split('/').map(Number);
    expect(blockOf(primary!)).not.toBe(blockOf(row!.after.channel));
  });
});
