import { UpperRoomError } from '../errors';
import { sharesPrimary, overlapShare } from '../radio/overlap';
import { channelOf, type Channel } from '../radio/channel';
import type { Band, WidthMhz } from '../radio/band';
import { allowedChannels, type Domain } from '../radio/regulation';
import { radioModelOf, modelOf } from '../radio/catalogue';

/** A radio's state in a plan. */
export type Setting = Readonly<{ on: boolean; channel: number; widthMhz: WidthMhz; txPowerDbm: number }>;

/** A radio as the engine hands it to planning: what it is, how it is set, and its loss to every demand point. */
export type PlanRadio = Readonly<{
  apId: string;
  name: string;
  modelId: string;
  band: Band;
  locked: boolean;
  before: Setting;
  /** Loss to each demand point, in dB. */
  lossDb: Float32Array;
  /** Loss to each radio of its band, in dB, in the order of the list; 0 to itself. */
  lossToRadioDb: Float32Array;
}>;

/** What other people's networks put on a channel, from samples: share (0 to 1) of the measured spots where it is above -82 dBm. */
export type OutsideNetwork = Readonly<{ band: Band; channel: number; widthMhz: WidthMhz; share: number }>;

/** The engineer's choices for a retune. Costs are in the unit of the cost: other radios heard per spot of the service area. */
export type PlanRules = Readonly<{
  domain: Domain;
  /** Channels (primaries) that may be used, by band; an empty list means all that the domain allows. */
  channels: Readonly<Record<Band, readonly number[]>>;
  widthsMhz: Readonly<Record<Band, readonly WidthMhz[]>>;
  useDfs: boolean;
  minPowerDbm: number;
  maxPowerDbm: number;
  /** Decibels kept free below the highest power that model and domain allow. */
  headroomDb: number;
  planPower: boolean;
  maySwitchOff24: boolean;
  /** Coverage that must be kept: share of the service area at this level or more. */
  thresholdDbm: number;
  coverageShare: number;
  /** How much better a change must be before a radio is touched. */
  stayCost: number;
  /** What one halving of width costs a radio, per its share of the area. */
  widthCost: number;
}>;

export const DEFAULT_RULES: Omit<PlanRules, 'domain'> = {
  channels: { '2.4': [1, 6, 11], '5': [], '6': [] },
  widthsMhz: { '2.4': [20], '5': [20, 40], '6': [80] },
  useDfs: true,
  minPowerDbm: 5,
  maxPowerDbm: 20,
  headroomDb: 1,
  planPower: true,
  maySwitchOff24: true,
  thresholdDbm: -67,
  coverageShare: 0.95,
  stayCost: 0.01,
  widthCost: 0.1,
};

/** One channel a radio may take, with the highest conducted power allowed there. */
export type Option = Readonly<{ channel: Channel; maxPowerDbm: number; dfs: boolean }>;

/** The power a radio may use on a channel: the least of model, domain (EIRP less antenna gain) and rules, less the headroom. */
function powerCapDbm(radio: PlanRadio, maxEirpDbm: number, rules: PlanRules): number {
  const model = radioModelOf(radio.modelId, radio.band)!;
  return Math.min(rules.maxPowerDbm, Math.floor(Math.min(model.maxPowerDbm, maxEirpDbm - model.antenna.peakDbi)) - rules.headroomDb);
}

/** Channels a radio may take under the rules. A locked radio has its own only. @throws UpperRoomError NO_CHANNEL_ALLOWED */
export function optionsOf(radio: PlanRadio, rules: PlanRules): Option[] {
  const { band } = radio;
  const own = channelOf({ band, ...radio.before });
  if (radio.locked) return [{ channel: own, maxPowerDbm: radio.before.txPowerDbm, dfs: false }];
  const model = modelOf(radio.modelId);
  const limits = radioModelOf(radio.modelId, band)!;
  const wanted = rules.channels[band];
  // A model narrower than every width asked for keeps to the widest it has.
  const widths = rules.widthsMhz[band].filter((widthMhz) => widthMhz <= limits.maxWidthMhz);
  const options = (widths.length > 0 ? widths : [limits.maxWidthMhz]).flatMap((widthMhz) =>
    allowedChannels(rules.domain, band, widthMhz)
      .filter(
        (allowed) =>
          (wanted.length === 0 || wanted.includes(allowed.channel.primary)) &&
          (rules.useDfs || !allowed.dfs) &&
          !(model.outdoor && allowed.indoorOnly),
      )
      .map((allowed) => ({ channel: allowed.channel, maxPowerDbm: powerCapDbm(radio, allowed.maxEirpDbm, rules), dfs: allowed.dfs }))
      .filter((option) => option.maxPowerDbm >= limits.minPowerDbm),
  );
  if (options.length === 0) throw new UpperRoomError('NO_CHANNEL_ALLOWED', { radio: radio.name, band });
  return options;
}

/** Lowest conducted power the rules and the model leave a radio, in dBm. */
export const lowestPowerDbm = (radio: PlanRadio, rules: PlanRules): number =>
  Math.max(rules.minPowerDbm, radioModelOf(radio.modelId, radio.band)!.minPowerDbm);

/**
 * How much a transmission on `from` costs a receiver on `to`: 1 when they share the primary channel and so take turns,
 * else the share of its power that falls into the receiver's channel.
 */
export const overlapCost = (from: Channel, to: Channel): number => (sharesPrimary(from, to) ? 1 : overlapShare(from, to));
