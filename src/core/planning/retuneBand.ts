import type { Band } from '../radio/band';
import { channelLabel, channelOf } from '../radio/channel';
import { sharingOf } from '../radio/sharing';
import { assign, leastCost, type Stop } from './assignment';
import { airtimeBound, cliqueBound } from './bound';
import { assignmentOf, outsideCost, priceTable, singleCost, withoutAlikes } from './choices';
import { coveredShares, exposureOf, reachOf, takenFrom, total, type Exposure, type Reach } from './exposure';
import { SHORT_COST, costsOf, powersBack, shortOf, touchingPairs, tunePowers, unevenCost } from './powers';
import {
  lowestPowerDbm,
  optionsOf,
  ownOption,
  standing,
  type Ground,
  type Option,
  type OutsideNetwork,
  type PlanRadio,
  type PlanRules,
  type Setting,
} from './problem';
import { runnerUpOf, takersOf, whyOf } from './reasons';
import { meanContention, sharingPairs, type BandResult, type Load, type RetuneProgress, type SheetRow } from './sheet';

/**
 * What radios of one band lose on their way with the channels of these settings, as the map has it: to each cell of the service area, and to each other. The search compares channels on
 * one field of each radio, at the band's middle; the sheet's figures are those of the map.
 */
export type LossesAt = (radios: readonly PlanRadio[], settings: readonly Setting[]) => ReadonlyArray<Pick<PlanRadio, 'cellLossDb' | 'lossToRadioDb'>>;

/** Channels and powers in turn; what a round finds is only made better by the next, which needs less work. */
const EFFORT = [1, 0.6, 0.6];

const indexOfSetting = (options: readonly Option[], setting: Setting): number =>
  Math.max(
    0,
    options.findIndex(({ channel }) => channel.primary === setting.channel && channel.widthMhz === setting.widthMhz),
  );

/** The exposure over every cell of the service area, and of each floor: what map and sheet both show. */
type Figures = Readonly<{ all: Exposure; floors: readonly Exposure[] }>;

function figuresOf(radios: readonly PlanRadio[], settings: readonly Setting[], rules: PlanRules, lossesAt: LossesAt, { floors }: Ground): Figures {
  const losses = lossesAt(radios, settings);
  let from = 0;
  const each = floors.map(({ cells }) => {
    const to = from + cells;
    const here = radios.map((radio, r) => ({ ...radio, lossDb: losses[r]!.cellLossDb.subarray(from, to), lossToRadioDb: losses[r]!.lossToRadioDb }));
    from = to;
    return exposureOf(here, settings, rules);
  });
  return {
    floors: each,
    all:
      each.length === 1
        ? each[0]!
        : together(
            each,
            floors.map(({ cells }) => cells / (from || 1)),
          ),
  };
}

/** Exposures of floors as one, each by its share of the cells. */
function together(floors: readonly Exposure[], shares: readonly number[]): Exposure {
  const summed = (of: (floor: Exposure) => Float64Array): Float64Array =>
    of(floors[0]!).map((_, at) => floors.reduce((sum, floor, f) => sum + shares[f]! * of(floor)[at]!, 0));
  return {
    n: floors[0]!.n,
    airtime: summed(({ airtime }) => airtime),
    price: summed(({ price }) => price),
    served: summed(({ served }) => served),
    covered: floors.reduce((sum, { covered }, f) => sum + shares[f]! * covered, 0),
  };
}

type Search = { settings: Setting[]; choice: Int32Array; objective: number };

/** What a retune is asked besides its radios. */
export type RetuneTask = Readonly<{ rules: PlanRules; outside: readonly OutsideNetwork[]; seed: number; lossesAt: LossesAt; ground: Ground }>;

/** Plans the radios of one band. */
export function* retuneBand(
  band: Band,
  radios: readonly PlanRadio[],
  { rules, outside, seed, lossesAt, ground }: RetuneTask,
): Generator<RetuneProgress, { rows: SheetRow[]; summary: BandResult; worth: number[]; stopped: boolean }, Stop> {
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
  const figuresBefore = figuresOf(radios, before, rules, lossesAt, ground);
  const coveredBefore = coveredShares(radios, before, rules, ground);
  const requiredShares = ground.floors.map(({ points, cells }, f) => {
    // Where only some of the cells are searched, chance may miss the share by its deviation: so much more is kept.
    const chance = points > 0 && points < cells ? Math.sqrt((rules.coverageShare * (1 - rules.coverageShare)) / points) : 0;
    return Math.min(rules.coverageShare + chance, Math.max(coveredBefore[f]!, figuresBefore.floors[f]!.covered));
  });
  const serving = exposureBefore.served.filter((share) => share > 0).length;
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
      const tuning = tunePowers(radios, settings, caps, rules, outside, ground, requiredShares, serving, seed + round, EFFORT[round]);
      for (let tuned = tuning.next(stopped); !tuned.done; tuned = tuning.next(stopped))
        stopped = (yield { band, stage: 'powers', bestCost: tuned.value, costBefore, bound: null }) === true || stopped;
    }
    const exposure = exposureOf(radios, settings, rules);
    // Coverage comes first, then contention with what channels cost alone.
    const singles = radios.reduce(
      (sum, radio, r) => sum + singleCost(radio, options[r]![choice[r]!]!, settings[r]!, rules, [], exposure.served[r]!),
      0,
    );
    const short = shortOf(ground, coveredShares(radios, settings, rules, ground), requiredShares);
    const cost = total(costsOf(radios, settings, exposure, outside));
    const objective = cost + singles + SHORT_COST * short + unevenCost(settings, exposure.served, pairs, rules, serving);
    if (best !== null && objective >= best.objective - 1e-6) break;
    best = { settings, choice, objective };
    if (stopped) break;
  }
  const final = best!;
  const reach = reachAt(final.settings);
  const costAfter = costAt(final.settings);
  const proof: RetuneProgress = { band, stage: 'proof', bestCost: costAfter, costBefore, bound: null };
  const bound = Math.min(costAfter, yield* boundOf(radios, options, final, rules, outside, seed, proof));
  const figuresAfter = figuresOf(radios, final.settings, rules, lossesAt, ground);
  const problem = problemAt(final.settings, reach);
  const loadsBefore = loadsOf(radios, before, figuresBefore.all, outside);
  const loadsAfter = loadsOf(radios, final.settings, figuresAfter.all, outside);
  const caps = radios.map((_, r) => capOf(r, final.choice[r]!));
  const back = powersBack(radios, before, final.settings, caps, rules, outside, ground, requiredShares, serving);
  const worth = radios.map((radio, r) => {
    const own = options[r]!.findIndex(({ channel }) => channel.primary === radio.before.channel && channel.widthMhz === radio.before.widthMhz);
    const at = (a: number): number => problem.neighbours[r]!.reduce((sum, s) => sum + problem.pair(r, a, s, final.choice[s]!), problem.single(r, a));
    // A channel that it may not have any more must go, before all else.
    return own < 0 ? Infinity : back[r]!.worth + at(own) - at(final.choice[r]!);
  });
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
        takers: takersOf(radios, r, figuresBefore.all),
        barredBy,
        othersBefore: loadsBefore[r]!.others,
        capDbm: caps[r] ?? radio.before.txPowerDbm,
        cause: back[r]!.cause,
      }),
    };
  });
  return {
    rows,
    stopped,
    worth,
    summary: {
      band,
      contentionBefore: meanContention(figuresBefore.all),
      contentionAfter: meanContention(figuresAfter.all),
      costBefore,
      costAfter,
      bound,
      proven: costAfter - bound <= 2e-6 * costAfter + 1e-9,
      objective: final.objective,
      thresholdDbm: rules.thresholdDbm,
      coverageBefore: figuresBefore.all.covered,
      coverageAfter: figuresAfter.all.covered,
      requiredShare: Math.min(rules.coverageShare, figuresBefore.all.covered),
      floors: ground.floors.map(({ name }, f) => ({
        name,
        contentionBefore: meanContention(figuresBefore.floors[f]!),
        contentionAfter: meanContention(figuresAfter.floors[f]!),
        coverageBefore: figuresBefore.floors[f]!.covered,
        coverageAfter: figuresAfter.floors[f]!.covered,
        requiredShare: Math.min(rules.coverageShare, figuresBefore.floors[f]!.covered),
      })),
      stillSharing: sharingPairs(radios, figuresAfter.all),
    },
  };
}

/**
 * What any channels cost at these powers, at the least: what airtime, width, noise and networks of others cost, without what only settles among equals
 * or keeps radios as they are. Proved for small floors, else by cliques and a relaxation.
 */
function* boundOf(
  radios: readonly PlanRadio[],
  options: readonly (readonly Option[])[],
  { settings, choice }: Search,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
  progress: RetuneProgress,
): Generator<RetuneProgress, number, Stop> {
  const prices = priceTable(options);
  const reach = reachOf(radios, settings, rules, prices.levels);
  const others = (
    { apId }: PlanRadio,
    { channel }: Option,
    _setting: Setting,
    _rules: PlanRules,
    networks: readonly OutsideNetwork[],
    served: number,
  ) => outsideCost(networks, channel, served, apId);
  // Whatever the channels are, nobody has less of other people's networks than on the best of them.
  const least = radios.reduce(
    (sum, radio, r) => sum + Math.min(...options[r]!.map((option) => others(radio, option, settings[r]!, rules, outside, reach.served[r]!))),
    0,
  );
  const taken = leastTaken(reach, options);
  const relaxing = airtimeBound(radios.length, taken, distinctOptions(options), BOUND_WORK);
  let relaxed = relaxing.next();
  for (; !relaxed.done; relaxed = relaxing.next())
    // Whoever stops the search wants to see it: the quick bound will do.
    if ((yield progress) === true) return least + cliqueBound(radios.length, taken, distinctOptions(options));
  const pairs = relaxed.value;
  if (radios.length > PROVED_UP_TO) return least + pairs;
  const problem = assignmentOf(radios, options, settings, reach, prices, rules, outside, others);
  const search = leastCost(problem, choice, seed);
  let step = search.next();
  while (!step.done) step = search.next();
  return Math.max(least + pairs, step.value ?? 0);
}

/** What a bound may spend, in products: two or three seconds for hundreds. */
export const BOUND_WORK = 6e8;

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
