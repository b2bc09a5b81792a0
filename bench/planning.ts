import { modelOf } from '@/core/radio/catalogue';
import { assign, costOf, type Assignment } from '@/core/planning/assignment';
import { assignmentOf, priceTable, withoutAlikes } from '@/core/planning/choices';
import { exposureOf, reachOf } from '@/core/planning/exposure';
import { costsOf } from '@/core/planning/powers';
import { DEFAULT_RULES, optionsOf, type PlanRadio, type PlanRules } from '@/core/planning/problem';
import { retune, type RetuneSheet } from '@/core/planning/retune';
import { seeded } from '@/core/random';
import { BANDS, type Band } from '@/core/radio/band';
import type { BenchScene } from './scenes';

type Row = [string, string, string];

/** The radios of one band as planning takes them, crowded on one or two channels. */
export function planRadios({ aps, mask, grid }: BenchScene, fields: Float32Array[][], between: readonly Float32Array[], band: Band): PlanRadio[] {
  const n = aps.length;
  const b = BANDS.indexOf(band);
  const inside = Array.from({ length: grid.cols * grid.rows }, (_, i) => i).filter((i) => mask[i] === 1);
  const stride = Math.max(1, Math.ceil(inside.length / Math.min(4000, 300_000 / n)));
  const demand = inside.filter((_, k) => k % stride === 0);
  const own = aps.map((ap, i) => ({ ap, i })).filter(({ ap }) => ap.antennas[b]);
  const channel = { '2.4': [1, 6], '5': [36, 44], '6': [5] }[band];
  return own.map(({ ap, i }, k) => ({
    apId: ap.name,
    name: ap.name,
    model: modelOf(ap.modelId),
    band,
    locked: false,
    forbidden: [],
    before: {
      on: true,
      channel: channel[k % channel.length]!,
      widthMhz: band === '6' ? 80 : band === '5' ? 40 : 20,
      txPowerDbm: Math.min(ap.txPowerDbm, 16),
    },
    lossDb: Float32Array.from(demand, (cell) => fields[i]![b]![cell]!),
    cellLossDb: Float32Array.from(inside, (cell) => fields[i]![b]![cell]!),
    lossToRadioDb: Float32Array.from(own, ({ i: j }) => between[b]![i * n + j]!),
  }));
}

/** Radio by radio, each the cheapest beside those before it. */
export function greedyChoice(problem: Assignment): Int32Array {
  const choice = new Int32Array(problem.sizes.length);
  problem.sizes.forEach((size, r) => {
    const at = (a: number) => problem.neighbours[r]!.reduce((sum, s) => sum + (s < r ? problem.pair(r, a, s, choice[s]!) : 0), problem.single(r, a));
    for (let a = 1, least = at(0); a < size; a++) {
      const cost = at(a);
      if (cost < least) [least, choice[r]] = [cost, a];
    }
  });
  return choice;
}

/** Runs a search to its end. */
export function finish<R>(run: Generator<unknown, R, boolean | undefined>): R {
  let step = run.next();
  while (!step.done) step = run.next();
  return step.value;
}

/** A retune of each band, and the choice of channels alone against all on one channel, chance, the greedy way down, and a long search. */
export function benchRetune(scene: BenchScene, fields: Float32Array[][], between: readonly Float32Array[]): Row[] {
  const rows: Row[] = [];
  const rules: PlanRules = { ...DEFAULT_RULES, domain: 'UK' };
  for (const band of BANDS) {
    const radios = planRadios(scene, fields, between, band);
    if (radios.length < 2) continue;
    const begin = performance.now();
    const sheet: RetuneSheet = finish(retune(radios, rules, [], 1));
    const result = sheet.bands[0]!;
    const powers = sheet.rows.filter(({ after }) => after.on).map(({ after }) => after.txPowerDbm);
    rows.push([
      `retune ${band} GHz, ${radios.length} radios`,
      (performance.now() - begin).toFixed(0),
      `radios sharing airtime, mean: ${result.contentionBefore.toFixed(2)} -> ${result.contentionAfter.toFixed(2)}; cost ${result.costBefore.toFixed(2)} -> ${result.costAfter.toFixed(2)}, bound ${result.bound.toFixed(2)}${result.proven ? ' (proven)' : ''}; coverage ${(result.coverageBefore * 100).toFixed(1)} -> ${(result.coverageAfter * 100).toFixed(1)} %; ${Math.min(...powers)} to ${Math.max(...powers)} dBm`,
    ]);
    rows.push(channelsAlone(radios, rules, band));
  }
  return rows;
}

function channelsAlone(radios: readonly PlanRadio[], rules: PlanRules, band: Band): Row {
  const options = withoutAlikes(
    radios.map((radio) => optionsOf(radio, rules).options),
    radios,
    [],
  );
  const prices = priceTable(options, true);
  const before = radios.map((radio) => radio.before);
  const problem = assignmentOf(radios, options, before, reachOf(radios, before, rules, prices.levels), prices, rules, []);
  const uniform = seeded(5);
  const one = new Int32Array(radios.length);
  const chance = Int32Array.from(options, (list) => Math.floor(uniform() * list.length));
  const begin = performance.now();
  const found = finish(assign(problem, one, 1));
  const took = performance.now() - begin;
  const long = finish(assign(problem, found.choice, 2, 12));
  const base = total(radios, rules);
  return [
    `channels alone, ${band} GHz, ${radios.length} radios x ${new Set(options.flat().map(({ channel }) => `${channel.primary}/${channel.widthMhz}`)).size} channels`,
    took.toFixed(0),
    `cost ${found.cost.toFixed(3)}${found.exact ? ' (proven)' : ''}; one channel ${costOf(problem, one).toFixed(2)}, chance ${costOf(problem, chance).toFixed(2)}, greedy ${costOf(problem, greedyChoice(problem)).toFixed(3)}, 12 times as long ${long.cost.toFixed(3)}; as found ${base.toFixed(2)}`,
  ];
}

const total = (radios: readonly PlanRadio[], rules: PlanRules): number => {
  const before = radios.map((radio) => radio.before);
  return costsOf(radios, before, exposureOf(radios, before, rules), []).reduce((sum, cost) => sum + cost, 0);
};
