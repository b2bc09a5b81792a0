import { APART_24, channelOf, type Channel } from '../radio/channel';
import type { Band, WidthMhz } from '../radio/band';
import { allowedChannels, type AllowedChannel, type DfsUse, type Domain } from '../radio/regulation';
import { radioModelOf, type ApModel } from '../radio/catalogue';

/** A radio's state in a plan. */
export type Setting = Readonly<{ on: boolean; channel: number; widthMhz: WidthMhz; txPowerDbm: number }>;

/** A radio as the engine hands it to planning: what it is, how it is set, and its loss to every demand point. */
export type PlanRadio = Readonly<{
  apId: string;
  name: string;
  model: ApModel;
  band: Band;
  locked: boolean;
  /** Primary channels that planning may not use for it. */
  forbidden: readonly number[];
  before: Setting;
  /** What the engineer has settled for it already, today's setting or another: planned round, and not changed. */
  kept?: Setting;
  /** It is kept because only so many may be touched: true where it would have been, and others gain more. */
  spared?: boolean;
  /** Loss to each demand point of the search, in dB. */
  lossDb: Float32Array;
  /** Loss to each cell of the service area, in dB: what the sheet's figures are taken from, as the map's are. */
  cellLossDb: Float32Array;
  /** Loss to each radio of its band, in dB, in the order of the list; 0 to itself. */
  lossToRadioDb: Float32Array;
}>;

/**
 * What other people's networks put on a channel, from samples: share (0 to 1) of the measured spots where it is above -82 dBm, and the mean
 * level there; of all spots, and of those in each radio's cell. A radio in whose cell nobody has measured has the figures of all.
 */
export type OutsideNetwork = Readonly<{
  band: Band;
  channel: number;
  widthMhz: WidthMhz;
  share: number;
  levelDbm: number;
  cells?: ReadonlyArray<Readonly<{ apId: string; share: number; levelDbm: number }>>;
}>;

/** What a group of access points may have of its own; what is null is as for all. */
export type RuleGroup = Readonly<{
  name: string;
  apIds: readonly string[];
  channels: PlanRules['channels'] | null;
  widthsMhz: PlanRules['widthsMhz'] | null;
  dfs: DfsUse | null;
  minPowerDbm: number | null;
  maxPowerDbm: number | null;
  maySwitchOff24: boolean | null;
}>;

/** The engineer's choices for a retune. Costs are in radios sharing airtime, mean over the service area. */
export type PlanRules = Readonly<{
  domain: Domain;
  /** Channels (primaries) that may be used, by band; an empty list means all that the domain allows. */
  channels: Readonly<Record<Band, readonly number[]>>;
  widthsMhz: Readonly<Record<Band, readonly WidthMhz[]>>;
  dfs: DfsUse;
  minPowerDbm: number;
  maxPowerDbm: number;
  /** Decibels kept free below the highest power that model and domain allow. */
  headroomDb: number;
  planPower: boolean;
  /** By how much the powers of radios whose cells touch may differ, in dB. */
  powerSpreadDb: number;
  maySwitchOff24: boolean;
  /** Coverage that must be kept: share of the service area at this level or more. */
  thresholdDbm: number;
  coverageShare: number;
  /** Below this level nobody serves a spot: what every map and list ignores. */
  leastServiceDbm: number;
  /** How much better a change must be before a radio is touched. */
  changePenalty: number;
  /** So many radios may be touched at the most; null for any number. */
  mostChanges: number | null;
  /** What one halving of width costs a radio, per its share of the area. */
  widthCost: number;
  /** The first group that has an access point is its own. */
  groups: readonly RuleGroup[];
}>;

/** The rules as they hold for an access point. */
export function rulesFor(rules: PlanRules, { apId }: Pick<PlanRadio, 'apId'>): PlanRules {
  const group = rules.groups.find(({ apIds }) => apIds.includes(apId));
  if (group === undefined) return rules;
  const maxPowerDbm = group.maxPowerDbm ?? rules.maxPowerDbm;
  return {
    ...rules,
    channels: group.channels ?? rules.channels,
    widthsMhz: group.widthsMhz ?? rules.widthsMhz,
    dfs: group.dfs ?? rules.dfs,
    maxPowerDbm,
    // A lower maximum of its own takes the minimum of all down with it.
    minPowerDbm: Math.min(group.minPowerDbm ?? rules.minPowerDbm, maxPowerDbm),
    maySwitchOff24: group.maySwitchOff24 ?? rules.maySwitchOff24,
  };
}

/**
 * Where a plan is judged: demand points and cells of floors, one floor after the other, so many of each. In airtime every point counts alike; where more people are
 * there are more points. `areaWeight`: what each point counts of its floor's area, in whole numbers; null where all are alike.
 */
export type Ground = Readonly<{ floors: ReadonlyArray<Readonly<{ name: string; points: number; cells: number }>>; areaWeight: Int32Array | null }>;

/** All points and cells of some radios as one floor. */
export const oneGround = (radios: readonly PlanRadio[]): Ground => ({
  floors: [{ name: '', points: radios[0]?.lossDb.length ?? 0, cells: radios[0]?.cellLossDb.length ?? 0 }],
  areaWeight: null,
});

export const DEFAULT_RULES: Omit<PlanRules, 'domain'> = {
  channels: { '2.4': APART_24, '5': [], '6': [] },
  widthsMhz: { '2.4': [20], '5': [20, 40], '6': [80] },
  dfs: 'if equal',
  minPowerDbm: 5,
  maxPowerDbm: 20,
  headroomDb: 1,
  planPower: true,
  powerSpreadDb: 6,
  maySwitchOff24: true,
  thresholdDbm: -67,
  coverageShare: 0.95,
  leastServiceDbm: -90,
  changePenalty: 0.01,
  mostChanges: null,
  widthCost: 0.1,
  groups: [],
};

/** One channel a radio may take, with the highest conducted power allowed there. */
export type Option = Readonly<{ channel: Channel; maxPowerDbm: number; dfs: boolean; weatherRadar?: boolean }>;

/** Why a radio has no channel: the rule that took the last one. */
export type BarredBy = 'domain' | 'outdoor' | 'chosen' | 'forbidden' | 'dfs' | 'power';

/** The power a radio may use on a channel: the least of model, domain (EIRP less antenna gain) and rules, less the headroom. */
function powerCapDbm(radio: PlanRadio, maxEirpDbm: number, rules: PlanRules): number {
  const model = radioModelOf(radio.model, radio.band)!;
  return Math.min(rules.maxPowerDbm, Math.floor(Math.min(model.maxPowerDbm, maxEirpDbm - model.antenna.peakDbi)) - rules.headroomDb);
}

/** How a radio that is not planned stands after all: as it was settled, else as it is. */
export const standing = ({ before, kept }: PlanRadio): Setting => kept ?? before;

/** The one choice of a radio that is not planned. */
export const ownOption = (radio: PlanRadio): Option => ({
  channel: channelOf({ band: radio.band, ...standing(radio) }),
  maxPowerDbm: standing(radio).txPowerDbm,
  dfs: false,
});

/** Channels a radio may take under the rules; where there is none, which rule took the last. A radio that is locked or settled has its own only. */
export function optionsOf(radio: PlanRadio, all: PlanRules): { options: Option[]; barredBy: BarredBy | null } {
  const rules = rulesFor(all, radio);
  const { band } = radio;
  if (radio.locked || radio.kept !== undefined) return { options: [ownOption(radio)], barredBy: null };
  const { model } = radio;
  const limits = radioModelOf(model, band)!;
  const wanted = rules.channels[band];
  // A model narrower than every width asked for keeps to the widest it has.
  const widths = rules.widthsMhz[band].filter((widthMhz) => widthMhz <= limits.maxWidthMhz);
  const tests: ReadonlyArray<readonly [BarredBy, (allowed: AllowedChannel) => boolean]> = [
    ['outdoor', (allowed) => !(model.outdoor && allowed.indoorOnly)],
    ['chosen', ({ channel }) => wanted.length === 0 || wanted.includes(channel.primary)],
    ['forbidden', ({ channel }) => !radio.forbidden.includes(channel.primary)],
    ['dfs', (allowed) => rules.dfs !== 'never' || !allowed.dfs],
    ['power', (allowed) => powerCapDbm(radio, allowed.maxEirpDbm, rules) >= limits.minPowerDbm],
  ];
  let left = (widths.length > 0 ? widths : [limits.maxWidthMhz]).flatMap((widthMhz) => allowedChannels(rules.domain, band, widthMhz));
  if (left.length === 0) return { options: [], barredBy: 'domain' };
  for (const [rule, passes] of tests) {
    left = left.filter(passes);
    if (left.length === 0) return { options: [], barredBy: rule };
  }
  return {
    options: left.map(({ channel, maxEirpDbm, dfs, weatherRadar }) => ({
      channel,
      maxPowerDbm: powerCapDbm(radio, maxEirpDbm, rules),
      dfs,
      weatherRadar,
    })),
    barredBy: null,
  };
}

/** Lowest conducted power the rules and the model leave a radio, in dBm. */
export const lowestPowerDbm = (radio: PlanRadio, rules: PlanRules): number =>
  Math.max(rulesFor(rules, radio).minPowerDbm, radioModelOf(radio.model, radio.band)!.minPowerDbm);
