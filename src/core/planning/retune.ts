import { UpperRoomError } from '../errors';
import { BANDS, type Band } from '../radio/band';
import { channelLabel, channelOf } from '../radio/channel';
import { assign, type Assignment, type Stop } from './assignment';
import { cliqueBound } from './bound';
import { contentionCosts, interactionOf, outsideCost, total, type Interaction } from './interaction';
import { tunePowers } from './powers';
import { lowestPowerDbm, optionsOf, overlapCost, type Option, type OutsideNetwork, type PlanRadio, type PlanRules, type Setting } from './problem';

/** One row of the retune sheet. Contention figures: other radios heard on the channel, per spot of the radio's own area. */
export type SheetRow = Readonly<{
  apId: string;
  name: string;
  band: Band;
  locked: boolean;
  before: Setting;
  after: Setting;
  contentionBefore: number;
  contentionAfter: number;
  why: string;
  /** The next best channel and how much more it would cost; `null` when there is no other. */
  runnerUp: { label: string; extraCost: number } | null;
}>;

/** The result for one band: costs in radios heard per spot of the service area. `bound` holds for any channels at the planned powers. */
export type BandResult = Readonly<{
  band: Band;
  costBefore: number;
  costAfter: number;
  bound: number;
  proven: boolean;
  coverageBefore: number;
  coverageAfter: number;
  requiredShare: number;
}>;

/** `stopped`: somebody ended the search; this is the best it had. Bands that it had not begun are not in it. */
export type RetuneSheet = Readonly<{ rows: readonly SheetRow[]; bands: readonly BandResult[]; stopped: boolean }>;

export type RetuneProgress = Readonly<{ band: Band; bestCost: number; costBefore: number }>;

const MAX_ROUNDS = 3;
/** Cost of each decibel by which a channel's limit lies below the radio's power. */
const LOST_DB_COST = 0.02;

type State = { settings: Setting[]; interaction: Interaction };

/**
 * Plans channels, widths and powers for the radios that are on, band by band: channels by assignment at the present powers, then powers
 * against coverage and contention, in turn until nothing improves. Yields progress; sent true at a yield, it ends with the best so far.
 * Deterministic: the same radios, rules and seed give the same sheet.
 * @throws UpperRoomError NOTHING_TO_PLAN, NO_CHANNEL_ALLOWED
 */
export function* retune(
  radios: readonly PlanRadio[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
): Generator<RetuneProgress, RetuneSheet, Stop> {
  const rows: SheetRow[] = [];
  const bands: BandResult[] = [];
  let stopped = false;
  for (const band of BANDS) {
    const ofBand = radios.filter((radio) => radio.band === band);
    const on = ofBand.map((_, i) => i).filter((i) => ofBand[i]!.before.on);
    if (on.length === 0) continue;
    const own = on.map((i) => ({ ...ofBand[i]!, lossToRadioDb: Float32Array.from(on, (j) => ofBand[i]!.lossToRadioDb[j]!) }));
    const result = yield* retuneBand(band, own, rules, outside, seed);
    rows.push(...result.rows);
    bands.push(result.summary);
    stopped = result.stopped;
    if (stopped) break;
  }
  if (bands.length === 0) throw new UpperRoomError('NOTHING_TO_PLAN');
  return { rows, bands, stopped };
}

function stateOf(radios: readonly PlanRadio[], settings: Setting[], rules: PlanRules): State {
  return { settings, interaction: interactionOf(radios, settings, rules.thresholdDbm) };
}

/** What a setting costs its radio apart from the others: outside networks, narrowness, lost power, change. */
function singleCost(
  radio: PlanRadio,
  option: Option,
  setting: Setting,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  served: number,
): number {
  const { primary, widthMhz } = option.channel;
  const widest = Math.max(...rules.widthsMhz[radio.band], widthMhz);
  const changed = primary !== radio.before.channel || widthMhz !== radio.before.widthMhz;
  return (
    outsideCost(outside, radio, { channel: primary, widthMhz }, served) +
    rules.widthCost * served * Math.log2(widest / widthMhz) +
    LOST_DB_COST * Math.max(0, Math.min(setting.txPowerDbm, rules.maxPowerDbm) - option.maxPowerDbm) +
    (changed ? rules.stayCost : 0)
  );
}

/**
 * Overlap of every two channels that any radio may take, as one table, and where each radio's options stand in it: pair costs are asked
 * for many thousand times, and a table per pair of radios would not fit memory for hundreds of them.
 */
function overlapTable(options: readonly Option[][]): { table: Float64Array; at: Int32Array[]; size: number } {
  const index = new Map<string, number>();
  const distinct: Option[] = [];
  const at = options.map((list) =>
    Int32Array.from(list, (option) => {
      const key = `${option.channel.primary}/${option.channel.widthMhz}`;
      let position = index.get(key);
      if (position === undefined) {
        position = distinct.push(option) - 1;
        index.set(key, position);
      }
      return position;
    }),
  );
  const size = distinct.length;
  const table = new Float64Array(size * size);
  distinct.forEach((a, i) => distinct.forEach((b, k) => (table[i * size + k] = overlapCost(a.channel, b.channel))));
  return { table, at, size };
}

function problemOf(
  radios: readonly PlanRadio[],
  options: readonly Option[][],
  state: State,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
): Assignment {
  const { n, weight, served } = state.interaction;
  const single = radios.map((radio, r) =>
    Float64Array.from(options[r]!, (option) => singleCost(radio, option, state.settings[r]!, rules, outside, served[r]!)),
  );
  const { table, at, size } = overlapTable(options);
  const on = (r: number) => state.settings[r]!.on;
  const neighbours = radios.map((_, r) =>
    radios.map((__, s) => s).filter((s) => s !== r && on(r) && on(s) && weight[r * n + s]! + weight[s * n + r]! > 0),
  );
  return {
    sizes: options.map((list) => list.length),
    single: (r, a) => single[r]![a]!,
    pair: (r, a, s, b) => {
      const from = at[r]![a]!;
      const to = at[s]![b]!;
      return weight[r * n + s]! * table[from * size + to]! + weight[s * n + r]! * table[to * size + from]!;
    },
    neighbours,
  };
}

const indexOfSetting = (options: readonly Option[], setting: Setting): number =>
  Math.max(
    0,
    options.findIndex(({ channel }) => channel.primary === setting.channel && channel.widthMhz === setting.widthMhz),
  );

function* retuneBand(
  band: Band,
  radios: readonly PlanRadio[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  seed: number,
): Generator<RetuneProgress, { rows: SheetRow[]; summary: BandResult; stopped: boolean }, Stop> {
  const options = radios.map((radio) => optionsOf(radio, rules));
  const before = stateOf(
    radios,
    radios.map((radio) => radio.before),
    rules,
  );
  const costsBefore = contentionCosts(radios, before.settings, before.interaction, outside);
  const costBefore = total(costsBefore);
  const requiredShare = Math.min(rules.coverageShare, before.interaction.covered);
  const capOf = (r: number, choice: number) => (radios[r]!.locked ? radios[r]!.before.txPowerDbm : options[r]![choice]!.maxPowerDbm);
  const place = (state: State, choice: Int32Array): Setting[] =>
    state.settings.map((setting, r) => {
      if (radios[r]!.locked) return setting;
      const { channel } = options[r]![choice[r]!]!;
      const cap = capOf(r, choice[r]!);
      const txPowerDbm = rules.planPower
        ? Math.min(cap, Math.max(Math.min(cap, lowestPowerDbm(radios[r]!, rules)), setting.txPowerDbm))
        : Math.min(cap, setting.txPowerDbm);
      return { ...setting, channel: channel.primary, widthMhz: channel.widthMhz, txPowerDbm };
    });

  let state = before;
  let choice: Int32Array = Int32Array.from(radios, (_, r) => indexOfSetting(options[r]!, radios[r]!.before));
  let exact = false;
  let stopped = false;
  let best: { state: State; choice: Int32Array; exact: boolean; objective: number } | null = null;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const search = assign(problemOf(radios, options, state, rules, outside), choice, seed + round);
    let step = search.next();
    while (!step.done) {
      stopped = (yield { band, bestCost: step.value, costBefore }) === true || stopped;
      step = search.next(stopped);
    }
    choice = step.value.choice;
    exact = step.value.exact;
    const settings = place(state, choice);
    if (rules.planPower) {
      const caps = radios.map((_, r) => capOf(r, choice[r]!));
      const tuning = tunePowers(radios, settings, caps, rules, outside, requiredShare);
      for (let tuned = tuning.next(stopped); !tuned.done; tuned = tuning.next(stopped))
        stopped = (yield { band, bestCost: tuned.value, costBefore }) === true || stopped;
    }
    state = stateOf(radios, settings, rules);
    // Coverage comes first, then contention with what channels cost alone.
    const singles = radios.reduce(
      (sum, radio, r) => sum + singleCost(radio, options[r]![choice[r]!]!, settings[r]!, rules, [], state.interaction.served[r]!),
      0,
    );
    const short = Math.max(0, requiredShare - state.interaction.covered);
    const objective = total(contentionCosts(radios, settings, state.interaction, outside)) + singles + short * 100;
    if (best !== null && objective >= best.objective - 1e-6) break;
    best = { state, choice, exact, objective };
    if (stopped) break;
  }
  const final = best!;
  const problem = problemOf(radios, options, final.state, rules, outside);
  const costsAfter = contentionCosts(radios, final.state.settings, final.state.interaction, outside);
  const costAfter = total(costsAfter);
  const shared = options.filter((_, r) => !radios[r]!.locked).flat();
  const bound = Math.min(
    costAfter,
    cliqueBound(radios.length, final.state.interaction.weight, shared.length > 0 ? [...shared, ...options.flat()] : options.flat()),
  );
  const rows = radios.map((radio, r) =>
    rowOf({ radios, r, before, after: final.state, costsBefore, costsAfter, rules, runnerUp: runnerUpOf(problem, options, final.choice, r) }),
  );
  return {
    rows,
    stopped,
    summary: {
      band,
      costBefore,
      costAfter,
      bound,
      proven: final.exact && costAfter - bound < 1e-9,
      coverageBefore: before.interaction.covered,
      coverageAfter: final.state.interaction.covered,
      requiredShare,
    },
  };
}

function runnerUpOf(problem: Assignment, options: readonly Option[][], choice: Int32Array, r: number): SheetRow['runnerUp'] {
  let best: SheetRow['runnerUp'] = null;
  const at = (a: number) => problem.neighbours[r]!.reduce((sum, s) => sum + problem.pair(r, a, s, choice[s]!), problem.single(r, a));
  const own = at(choice[r]!);
  options[r]!.forEach((option, a) => {
    if (a === choice[r]) return;
    const extraCost = at(a) - own;
    if (best === null || extraCost < best.extraCost) best = { label: channelLabel(option.channel), extraCost };
  });
  return best;
}

type RowInput = {
  radios: readonly PlanRadio[];
  r: number;
  before: State;
  after: State;
  costsBefore: Float64Array;
  costsAfter: Float64Array;
  rules: PlanRules;
  runnerUp: SheetRow['runnerUp'];
};

function rowOf({ radios, r, before, after, costsBefore, costsAfter, rules, runnerUp }: RowInput): SheetRow {
  const radio = radios[r]!;
  const perOwnArea = (cost: number, state: State) => (state.interaction.served[r]! > 0 ? cost / state.interaction.served[r]! : 0);
  const contentionBefore = perOwnArea(costsBefore[r]!, before);
  const contentionAfter = perOwnArea(costsAfter[r]!, after);
  const row = {
    apId: radio.apId,
    name: radio.name,
    band: radio.band,
    locked: radio.locked,
    before: radio.before,
    after: after.settings[r]!,
    contentionBefore,
    contentionAfter,
    runnerUp: radio.locked || !after.settings[r]!.on ? null : runnerUp,
  };
  return { ...row, why: whyOf(row, sharersOf(radios, r, before), rules) };
}

/** Names of the radios that took most from this one's area, worst first. */
function sharersOf(radios: readonly PlanRadio[], r: number, { settings, interaction }: State): string[] {
  const { n, weight } = interaction;
  const own = channelOf({ band: radios[r]!.band, ...settings[r]! });
  return radios
    .map((radio, i) => ({
      name: radio.name,
      cost: i === r ? 0 : weight[i * n + r]! * overlapCost(channelOf({ band: radio.band, ...settings[i]! }), own),
    }))
    .filter(({ cost }) => cost > 0.002)
    .sort((a, b) => b.cost - a.cost)
    .map(({ name }) => name);
}

function whyOf(row: Omit<SheetRow, 'why'>, sharers: readonly string[], rules: PlanRules): string {
  if (row.locked) return 'Locked: left as it is.';
  const { before, after } = row;
  const reasons: string[] = [];
  if (!after.on)
    return `Off: coverage at ${String(rules.thresholdDbm).replace('-', '−')} dBm is kept without it, and its channel is free for the others.`;
  const listed = sharers.length > 3 ? `${sharers.slice(0, 3).join(', ')} and ${sharers.length - 3} more` : sharers.join(', ');
  const channelChanged = before.channel !== after.channel;
  if (channelChanged && sharers.length > 0) reasons.push(`${before.channel} was shared with ${listed}.`);
  else if (channelChanged) reasons.push(`Makes room for others, or leaves a channel that is loaded or not allowed.`);
  if (before.widthMhz !== after.widthMhz)
    reasons.push(
      after.widthMhz < before.widthMhz ? `Narrower: ${before.widthMhz} MHz overlapped others.` : `Wider: ${after.widthMhz} MHz fits without overlap.`,
    );
  if (after.txPowerDbm < before.txPowerDbm)
    reasons.push(`${before.txPowerDbm - after.txPowerDbm} dB less is enough for coverage and is heard less elsewhere.`);
  if (after.txPowerDbm > before.txPowerDbm) reasons.push(`${after.txPowerDbm - before.txPowerDbm} dB more keeps the coverage.`);
  return reasons.length > 0 ? reasons.join(' ') : 'Stays: no change saves more than the stay cost.';
}
