import { UpperRoomError } from '../errors';
import { BANDS, type Band } from '../radio/band';
import { channelLabel, channelOf } from '../radio/channel';
import { sharingOf } from '../radio/sharing';
import { assign, leastCost, type Stop } from './assignment';
import { cliqueBound } from './bound';
import { assignmentOf, outsideCost, priceTable, singleCost, withoutAlikes } from './choices';
import { exposureOf, reachOf, takenFrom, total, type Exposure, type Reach } from './exposure';
import { SHORT_COST, costsOf, powerCauses, touchingPairs, tunePowers, unevenCost } from './powers';
import {
  lowestPowerDbm,
  optionsOf,
  ownOption,
  standing,
  type BarredBy,
  type Option,
  type OutsideNetwork,
  type PlanRadio,
  type PlanRules,
  type Setting,
} from './problem';
import { runnerUpOf, takersOf, whyOf, type RunnerUp } from './reasons';

/**
 * What a radio's own area has to bear, in radios, mean over it: `contention`, radios that take airtime, as the map counts them; `partial`,
 * the price of those that take only width or are noise; `others`, the price of other people's networks.
 */
export type Load = Readonly<{ contention: number; partial: number; others: number }>;

/** One row of the retune sheet. */
export type SheetRow = Readonly<{
  apId: string;
  name: string;
  band: Band;
  locked: boolean;
  /** No channel is left for it under the rules; it stays. */
  barredBy: BarredBy | null;
  before: Setting;
  after: Setting;
  loadBefore: Load;
  loadAfter: Load;
  why: string;
  runnerUp: RunnerUp | null;
}>;

/**
 * The result for one band. Contention: radios sharing airtime, mean over the area served, the same number as the map's. Cost: what the search
 * weighs (airtime, width, noise, networks of others), over its demand points, at the band's middle; `bound` holds for any channels at the planned powers.
 */
export type BandResult = Readonly<{
  band: Band;
  contentionBefore: number;
  contentionAfter: number;
  costBefore: number;
  costAfter: number;
  bound: number;
  proven: boolean;
  /** Shares of the service area at `thresholdDbm` or more. */
  thresholdDbm: number;
  coverageBefore: number;
  coverageAfter: number;
  requiredShare: number;
  /** Who still shares airtime with whom, the most first, each pair's part of `contentionAfter`. */
  stillSharing: readonly SharingPair[];
}>;

/** Two radios that share airtime, and their part of the mean number of radios that share: of both cells, over the area served. */
export type SharingPair = Readonly<{ one: string; other: string; radios: number }>;

/** `stopped`: somebody ended the search; this is the best it had. Bands that it had not begun are not in it. */
export type RetuneSheet = Readonly<{ rows: readonly SheetRow[]; bands: readonly BandResult[]; stopped: boolean }>;

/** How far a search is: what the best so far costs, and while channels are chosen what no choice at the powers of this round goes below. */
export type RetuneProgress = Readonly<{ band: Band; stage: 'channels' | 'powers'; bestCost: number; costBefore: number; bound: number | null }>;

/**
 * What radios of one band lose on their way with the channels of these settings, as the map has it: to each cell of the service area, and to each other. The search compares channels on
 * one field of each radio, at the band's middle; the sheet's figures are those of the map.
 */
export type LossesAt = (radios: readonly PlanRadio[], settings: readonly Setting[]) => ReadonlyArray<Pick<PlanRadio, 'cellLossDb' | 'lossToRadioDb'>>;

/** Channels and powers in turn; what a round finds is only made better by the next, which needs less work. */
const EFFORT = [1, 0.6, 0.6];

/**
 * Plans channels, widths and powers for the radios that are on, band by band: channels by assignment at the present powers, then powers
 * against coverage and contention, in turn until nothing improves. Yields progress; sent true at a yield, it ends with the best so far.
 * A radio without any allowed channel is left as it is, and its row says so. Deterministic: the same radios, rules and seed give the same sheet.
 * @param lossesAt left out, what the radios carry is taken
 * @throws UpperRoomError NOTHING_TO_PLAN
 */
export function* retune(
  radios: readonly PlanRadio[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
  lossesAt: LossesAt = (own) => own,
): Generator<RetuneProgress, RetuneSheet, Stop> {
  const rows: SheetRow[] = [];
  const bands: BandResult[] = [];
  let stopped = false;
  for (const band of BANDS) {
    const ofBand = radios.filter((radio) => radio.band === band);
    const on = ofBand.map((_, i) => i).filter((i) => ofBand[i]!.before.on);
    if (on.length === 0) continue;
    const own = on.map((i) => ({ ...ofBand[i]!, lossToRadioDb: Float32Array.from(on, (j) => ofBand[i]!.lossToRadioDb[j]!) }));
    const result = yield* retuneBand(band, own, rules, outside, seed, lossesAt);
    rows.push(...result.rows);
    bands.push(result.summary);
    stopped = result.stopped;
    if (stopped) break;
  }
  if (bands.length === 0) throw new UpperRoomError('NOTHING_TO_PLAN');
  return { rows, bands, stopped };
}

const indexOfSetting = (options: readonly Option[], setting: Setting): number =>
  Math.max(
    0,
    options.findIndex(({ channel }) => channel.primary === setting.channel && channel.widthMhz === setting.widthMhz),
  );

/** The exposure over every cell of the service area: what map and sheet both show. */
function figuresOf(radios: readonly PlanRadio[], settings: readonly Setting[], rules: PlanRules, lossesAt: LossesAt): Exposure {
  const losses = lossesAt(radios, settings);
  return exposureOf(
    radios.map((radio, r) => ({ ...radio, lossDb: losses[r]!.cellLossDb, lossToRadioDb: losses[r]!.lossToRadioDb })),
    settings,
    rules,
  );
}

/** Radios sharing airtime, mean over the area served. */
export function meanContention(exposure: Exposure): number {
  const served = total(exposure.served);
  return served > 0 ? total(takenFrom(exposure, exposure.airtime)) / served : 0;
}

/** The pairs that share airtime, the most first; their parts add up to `meanContention`. */
function sharingPairs(radios: readonly PlanRadio[], { n, airtime, served }: Exposure): SharingPair[] {
  const area = total(served);
  const pairs: SharingPair[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const shared = airtime[i * n + j]! + airtime[j * n + i]!;
      if (shared > 0) pairs.push({ one: radios[j]!.name, other: radios[i]!.name, radios: shared / area });
    }
  return pairs.sort((a, b) => b.radios - a.radios);
}

type Search = { settings: Setting[]; choice: Int32Array; objective: number };

function* retuneBand(
  band: Band,
  radios: readonly PlanRadio[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
  lossesAt: LossesAt,
): Generator<RetuneProgress, { rows: SheetRow[]; summary: BandResult; stopped: boolean }, Stop> {
  const found = radios.map((radio) => optionsOf(radio, rules));
  const fixed = radios.map((radio, r) => radio.locked || radio.kept !== undefined || found[r]!.barredBy !== null);
  const options = withoutAlikes(
    radios.map((radio, r) => (fixed[r] ? [ownOption(radio)] : found[r]!.options)),
    radios,
    outside,
  );
  const prices = priceTable(options, true);
  const pairs = touchingPairs(radios);
  const before = radios.map((radio) => radio.before);
  const exposureBefore = exposureOf(radios, before, rules);
  const costAt = (settings: readonly Setting[]): number =>
    total(costsOf(radios, settings, exposureOf(radios, settings, rules, undefined, 'middle'), outside));
  const costBefore = costAt(before);
  // Where only some of the cells are searched, chance may miss the share by its deviation: so much more is kept.
  const points = radios[0]!.lossDb.length;
  const chance = points < radios[0]!.cellLossDb.length ? Math.sqrt((rules.coverageShare * (1 - rules.coverageShare)) / points) : 0;
  const figuresBefore = figuresOf(radios, before, rules, lossesAt);
  const requiredShare = Math.min(rules.coverageShare + chance, Math.max(exposureBefore.covered, figuresBefore.covered));
  const capOf = (r: number, choice: number): number | null => (fixed[r] ? null : options[r]![choice]!.maxPowerDbm);
  const place = (settings: readonly Setting[], choice: Int32Array): Setting[] =>
    settings.map((setting, r) => {
      const cap = capOf(r, choice[r]!);
      if (cap === null) return setting;
      const { channel } = options[r]![choice[r]!]!;
      const lowest = rules.planPower ? Math.min(cap, lowestPowerDbm(radios[r]!, rules)) : -Infinity;
      return { ...setting, channel: channel.primary, widthMhz: channel.widthMhz, txPowerDbm: Math.min(cap, Math.max(lowest, setting.txPowerDbm)) };
    });
  const reachAt = (settings: readonly Setting[]): Reach => reachOf(radios, settings, rules, prices.levels);
  const problemAt = (settings: readonly Setting[], reach: Reach) => assignmentOf(radios, options, settings, reach, prices, rules, outside);

  let settings: Setting[] = radios.map(standing);
  let choice: Int32Array = Int32Array.from(radios, (_, r) => indexOfSetting(options[r]!, radios[r]!.before));
  let stopped = false;
  let best: Search | null = null;
  for (let round = 0; round < EFFORT.length; round++) {
    const reach = reachAt(settings);
    const bound = cliqueBound(radios.length, leastTaken(reach, options), distinctOptions(options));
    const search = assign(problemAt(settings, reach), choice, seed + round, EFFORT[round]);
    let step = search.next();
    while (!step.done) {
      stopped = (yield { band, stage: 'channels', bestCost: step.value, costBefore, bound }) === true || stopped;
      step = search.next(stopped);
    }
    choice = step.value.choice;
    settings = place(settings, choice);
    if (rules.planPower) {
      const caps = radios.map((_, r) => capOf(r, choice[r]!));
      const tuning = tunePowers(radios, settings, caps, rules, outside, requiredShare, seed + round, EFFORT[round]);
      for (let tuned = tuning.next(stopped); !tuned.done; tuned = tuning.next(stopped))
        stopped = (yield { band, stage: 'powers', bestCost: tuned.value, costBefore, bound: null }) === true || stopped;
    }
    const exposure = exposureOf(radios, settings, rules);
    // Coverage comes first, then contention with what channels cost alone.
    const singles = radios.reduce(
      (sum, radio, r) => sum + singleCost(radio, options[r]![choice[r]!]!, settings[r]!, rules, [], exposure.served[r]!),
      0,
    );
    const short = Math.max(0, requiredShare - exposure.covered);
    const cost = total(costsOf(radios, settings, exposure, outside));
    const objective = cost + singles + SHORT_COST * short + unevenCost(settings, exposure.served, pairs, rules);
    if (best !== null && objective >= best.objective - 1e-6) break;
    best = { settings, choice, objective };
    if (stopped) break;
  }
  const final = best!;
  const reach = reachAt(final.settings);
  const costAfter = costAt(final.settings);
  const bound = Math.min(costAfter, yield* boundOf(radios, options, final, rules, outside, seed));
  const figuresAfter = figuresOf(radios, final.settings, rules, lossesAt);
  const problem = problemAt(final.settings, reach);
  const loadsBefore = loadsOf(radios, before, figuresBefore, outside);
  const loadsAfter = loadsOf(radios, final.settings, figuresAfter, outside);
  const causes = powerCauses(
    radios,
    before,
    final.settings,
    radios.map((_, r) => capOf(r, final.choice[r]!)),
    rules,
    outside,
    requiredShare,
  );
  const rows = radios.map((radio, r): SheetRow => {
    const after = final.settings[r]!;
    const { barredBy } = found[r]!;
    return {
      apId: radio.apId,
      name: radio.name,
      band,
      locked: radio.locked,
      barredBy,
      before: radio.before,
      after,
      loadBefore: loadsBefore[r]!,
      loadAfter: loadsAfter[r]!,
      runnerUp: fixed[r] || !after.on ? null : runnerUpOf(problem, options[r]!, final.choice, r),
      why: whyOf(radio, after, rules, {
        takers: takersOf(radios, r, figuresBefore),
        barredBy,
        othersBefore: loadsBefore[r]!.others,
        capDbm: capOf(r, final.choice[r]!) ?? radio.before.txPowerDbm,
        cause: causes[r]!,
      }),
    };
  });
  return {
    rows,
    stopped,
    summary: {
      band,
      contentionBefore: meanContention(figuresBefore),
      contentionAfter: meanContention(figuresAfter),
      costBefore,
      costAfter,
      bound,
      proven: costAfter - bound <= 2e-6 * costAfter + 1e-9,
      thresholdDbm: rules.thresholdDbm,
      coverageBefore: figuresBefore.covered,
      coverageAfter: figuresAfter.covered,
      requiredShare: Math.min(rules.coverageShare, figuresBefore.covered),
      stillSharing: sharingPairs(radios, figuresAfter),
    },
  };
}

/**
 * What any channels cost at these powers, at the least: what airtime, width, noise and networks of others cost, without what only settles among equals
 * or keeps radios as they are. Proved for small floors, else by cliques.
 */
function* boundOf(
  radios: readonly PlanRadio[],
  options: readonly (readonly Option[])[],
  { settings, choice }: Search,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
): Generator<RetuneProgress, number, Stop> {
  const prices = priceTable(options);
  const reach = reachOf(radios, settings, rules, prices.levels);
  const byCliques = cliqueBound(radios.length, leastTaken(reach, options), distinctOptions(options));
  if (radios.length > PROVED_UP_TO) return byCliques;
  const others = (
    { apId }: PlanRadio,
    { channel }: Option,
    _setting: Setting,
    _rules: PlanRules,
    networks: readonly OutsideNetwork[],
    served: number,
  ) => outsideCost(networks, channel, served, apId);
  const problem = assignmentOf(radios, options, settings, reach, prices, rules, outside, others);
  const search = leastCost(problem, choice, seed);
  let step = search.next();
  while (!step.done) step = search.next();
  return Math.max(byCliques, step.value ?? 0);
}

/** Every channel in play once. */
const distinctOptions = (options: readonly (readonly Option[])[]): Option[] => [
  ...new Map(options.flat().map((option) => [channelLabel(option.channel), option])).values(),
];

/** More radios than this are hardly ever proved in a moment. */
const PROVED_UP_TO = 30;

/** What each radio takes from each other at the least when it takes its airtime: where it is heard even on the widest channel in play. */
export function leastTaken({ n, levels, share }: Reach, options: readonly (readonly Option[])[]): Float64Array {
  const from = Math.max(...options.flat().map(({ channel }) => sharingOf(channel, channel).airtimeFromDbm));
  const k = levels.indexOf(from);
  return Float64Array.from({ length: n * n }, (_, pair) => (k < 0 ? 0 : share[pair * levels.length + k]!));
}

function loadsOf(radios: readonly PlanRadio[], settings: readonly Setting[], exposure: Exposure, outside: readonly OutsideNetwork[]): Load[] {
  const airtime = takenFrom(exposure, exposure.airtime);
  const price = takenFrom(exposure, exposure.price);
  return radios.map(({ band, apId }, r) => {
    const served = exposure.served[r]!;
    if (!(served > 0)) return { contention: 0, partial: 0, others: 0 };
    return {
      contention: airtime[r]! / served,
      partial: Math.max(0, price[r]! - airtime[r]!) / served,
      others: outsideCost(outside, channelOf({ band, ...settings[r]! }), 1, apId),
    };
  });
}
