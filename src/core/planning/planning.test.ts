import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../random';
import { assign, components, costOf, type Assignment } from './assignment';
import { cliqueBound, leastOverlap } from './bound';
import { contentionCosts, interactionOf, outsideCost, total } from './interaction';
import { allowedChannels } from '../radio/regulation';
import { DEFAULT_RULES, optionsOf, overlapCost, type Option, type OutsideNetwork, type PlanRadio, type PlanRules, type Setting } from './problem';
import { retune, type RetuneSheet } from './retune';

const rules: PlanRules = { ...DEFAULT_RULES, domain: 'EU' };

function finish<P, R>(run: Generator<P, R>): R {
  let step = run.next();
  while (!step.done) step = run.next();
  return step.value;
}

/** Radios on a line of 100 points, 1 point a metre: loss 40 dB + 1 dB per point away. */
function lineRadios(positions: readonly number[], settings: ReadonlyArray<Partial<Setting>>, band: PlanRadio['band'] = '5', slope = 1): PlanRadio[] {
  return positions.map((at, r) => ({
    apId: `ap${r}`,
    name: `AP-${r}`,
    modelId: 'dunlin-c2',
    band,
    locked: false,
    before: { on: true, channel: band === '5' ? 36 : 1, widthMhz: 20, txPowerDbm: 10, ...settings[r] },
    lossDb: Float32Array.from({ length: 100 }, (_, c) => 60 + slope * Math.abs(c + 0.5 - at)),
    lossToRadioDb: Float32Array.from(positions, (other) => (other === at ? 0 : 60 + slope * Math.abs(other - at))),
  }));
}

describe('interaction, by hand', () => {
  // At 10 dBm a radio is at -82 dBm where its loss is 92 dB: 32 points away. Two radios at 20 and 80: each serves 50 points;
  // radio 0 reaches to 52, so it disturbs radio 1 on points 50 and 51 (2 of 100). Antennas are 60 points apart: loss 120, not heard.
  const radios = lineRadios([20, 80], [{}, {}]);
  const before = radios.map((radio) => radio.before);
  const interaction = interactionOf(radios, before, -67);
  test('weights, areas, coverage', () => {
    expect([...interaction.served]).toEqual([0.5, 0.5]);
    expect(interaction.weight[0 * 2 + 1]).toBeCloseTo(0.02);
    expect(interaction.weight[1 * 2 + 0]).toBeCloseTo(0.02);
    // -67 dBm is loss 77: 17 points to each side, so 34 points each.
    expect(interaction.covered).toBeCloseTo(0.68);
  });
  test('the cost is the weight where the channel is shared and next to nothing where it is not', () => {
    expect(total(contentionCosts(radios, before, interaction, []))).toBeCloseTo(0.04);
    expect(total(contentionCosts(radios, [before[0]!, { ...before[1]!, channel: 44 }], interaction, []))).toBeLessThan(0.0002);
  });
  test('an antenna that hears the other shares with it everywhere it serves', () => {
    const near = lineRadios([45, 55], [{}, {}]);
    const all = interactionOf(
      near,
      near.map((radio) => radio.before),
      -67,
    );
    expect(all.weight[0 * 2 + 1]).toBeCloseTo(all.served[1]!);
  });
  test('a radio that is off neither serves nor disturbs', () => {
    const one = interactionOf(radios, [before[0]!, { ...before[1]!, on: false }], -67);
    expect(one.served[1]).toBe(0);
    expect(total(contentionCosts(radios, [before[0]!, { ...before[1]!, on: false }], one, []))).toBe(0);
  });
  test('outside networks cost by their share of the spots and the overlap', () => {
    const outside: OutsideNetwork[] = [
      { band: '5', channel: 36, widthMhz: 20, share: 0.4 },
      { band: '2.4', channel: 1, widthMhz: 20, share: 1 },
    ];
    expect(outsideCost(outside, radios[0]!, { channel: 36, widthMhz: 20 }, 0.5)).toBeCloseTo(0.2);
    expect(outsideCost(outside, radios[0]!, { channel: 100, widthMhz: 20 }, 0.5)).toBe(0);
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

function bruteForce(problem: Assignment): number {
  const n = problem.sizes.length;
  const choice = new Int32Array(n);
  let best = Infinity;
  const descend = (r: number): void => {
    if (r === n) {
      best = Math.min(best, costOf(problem, choice));
      return;
    }
    for (let a = 0; a < problem.sizes[r]!; a++) {
      choice[r] = a;
      descend(r + 1);
    }
  };
  descend(0);
  return best;
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
          pair: (r, a, s, b) =>
            weight[r * n + s]! * overlapCost(list[a]!.channel, list[b]!.channel) +
            weight[s * n + r]! * overlapCost(list[b]!.channel, list[a]!.channel),
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
    expect(band!.costAfter).toBeLessThan(0.01);
    expect(band!.bound).toBeLessThanOrEqual(band!.costAfter);
    expect(band!.coverageAfter).toBeGreaterThanOrEqual(band!.requiredShare - 1e-9);
    expect(sheet.rows.filter((row) => row.before.channel !== row.after.channel).length).toBeGreaterThanOrEqual(4);
    for (const row of sheet.rows) expect(row.why.length).toBeGreaterThan(10);
  });
  test('the costs on the sheet are those of its settings', () => {
    const sheet = sheetOf(crowded);
    const after = sheet.rows.map((row) => row.after);
    expect(total(contentionCosts(crowded, after, interactionOf(crowded, after, rules.thresholdDbm), []))).toBeCloseTo(sheet.bands[0]!.costAfter, 9);
  });
  test('what is locked stays, and the others go round it', () => {
    const locked = crowded.map((radio, r) => (r === 2 ? { ...radio, locked: true } : radio));
    const sheet = sheetOf(locked);
    expect(sheet.rows[2]!.after).toEqual(locked[2]!.before);
    expect(sheet.rows.filter((row, r) => r !== 2 && row.after.channel === 36)).toHaveLength(0);
  });
  test('only allowed channels, widths, powers: EU without DFS leaves 36 to 48', () => {
    const sheet = sheetOf(crowded, { useDfs: false, widthsMhz: { ...rules.widthsMhz, '5': [20] }, maxPowerDbm: 9 });
    for (const { after } of sheet.rows) {
      expect([36, 40, 44, 48]).toContain(after.channel);
      expect(after.widthMhz).toBe(20);
      expect(after.txPowerDbm).toBeLessThanOrEqual(9);
      expect(after.txPowerDbm).toBeGreaterThanOrEqual(rules.minPowerDbm);
    }
  });
  test('no channel left, or no radio on, is said with a code', () => {
    expect(() => sheetOf(crowded, { channels: { ...rules.channels, '5': [149] } })).toThrow(expect.objectContaining({ code: 'NO_CHANNEL_ALLOWED' }));
    expect(() => sheetOf(crowded.map((radio) => ({ ...radio, before: { ...radio.before, on: false } })))).toThrow(
      expect.objectContaining({ code: 'NOTHING_TO_PLAN' }),
    );
  });
  test('a plan that is good stays: the stay cost', () => {
    const spread = lineRadios(
      [10, 30, 50, 70, 90],
      [36, 44, 100, 108, 116].map((channel) => ({ channel, widthMhz: 40 as const })),
    );
    expect(sheetOf(spread).rows.every((row) => row.after.channel === row.before.channel && row.why.startsWith('Stays'))).toBe(true);
  });
  test('measured networks of others are avoided', () => {
    const sheet = sheetOf(lineRadios([50], [{ widthMhz: 20 }]), { widthsMhz: { ...rules.widthsMhz, '5': [20] } }, [
      { band: '5', channel: 36, widthMhz: 80, share: 1 },
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
    const outdoor = { ...crowded[0]!, modelId: 'gannet-d2' };
    expect(optionsOf(outdoor, rules).every((option) => option.channel.primary >= 100)).toBe(true);
  });
  test('the same input gives the same sheet', () => expect(sheetOf(crowded)).toEqual(sheetOf(crowded)));
});
