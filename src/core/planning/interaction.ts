import { CCA_PREAMBLE_DBM } from '../radio/noise';
import { channelOf } from '../radio/channel';
import { overlapCost, type OutsideNetwork, type PlanRadio, type Setting } from './problem';

/**
 * Who disturbs whom at given powers. `weight[i * n + j]` is the share of the whole service area that radio j serves and in which radio i
 * is above clear channel assessment (-82 dBm), at the spot or at j's own antenna. `served[j]` is the share that j serves at all;
 * `covered` the share at the threshold or more.
 */
export type Interaction = Readonly<{ n: number; weight: Float64Array; served: Float64Array; covered: number }>;

/** Below this nobody serves a spot. */
const LEAST_SERVICE_DBM = -90;

/** Every demand point counts the same. Radios that are off neither serve nor disturb. */
export function interactionOf(radios: readonly PlanRadio[], settings: readonly Setting[], thresholdDbm: number): Interaction {
  const n = radios.length;
  const points = radios[0]?.lossDb.length ?? 0;
  const weight = new Float64Array(n * n);
  const served = new Float64Array(n);
  let coveredPoints = 0;
  const losses = radios.map((radio) => radio.lossDb);
  const powers = Float64Array.from(settings, (setting) => (setting.on ? setting.txPowerDbm : -Infinity));
  const levels = new Float64Array(n);
  for (let c = 0; c < points; c++) {
    let best = -Infinity;
    let server = -1;
    for (let i = 0; i < n; i++) {
      const level = powers[i]! - losses[i]![c]!;
      levels[i] = level;
      if (level > best) {
        best = level;
        server = i;
      }
    }
    if (best >= thresholdDbm) coveredPoints++;
    if (server < 0 || best < LEAST_SERVICE_DBM) continue;
    served[server]!++;
    for (let i = 0; i < n; i++) if (i !== server && levels[i]! >= CCA_PREAMBLE_DBM) weight[i * n + server]!++;
  }
  for (let j = 0; j < n; j++) {
    for (let i = 0; i < n; i++) {
      if (i !== j && powers[i]! - radios[i]!.lossToRadioDb[j]! >= CCA_PREAMBLE_DBM) weight[i * n + j] = served[j]!;
      weight[i * n + j]! /= points || 1;
    }
  }
  for (let j = 0; j < n; j++) served[j]! /= points || 1;
  return { n, weight, served, covered: points === 0 ? 0 : coveredPoints / points };
}

/** What outside networks cost each radio's area on a channel. */
export function outsideCost(
  network: readonly OutsideNetwork[],
  radio: PlanRadio,
  setting: Pick<Setting, 'channel' | 'widthMhz'>,
  servedShare: number,
): number {
  let cost = 0;
  for (const other of network)
    if (other.band === radio.band) cost += other.share * servedShare * overlapCost(channelOf(other), channelOf({ band: radio.band, ...setting }));
  return cost;
}

/** What a transmission of radio i costs radio j on the channels as set: n x n, at [i * n + j]. It does not hang on power. */
export function overlapMatrix(radios: readonly PlanRadio[], settings: readonly Setting[]): Float64Array {
  const n = radios.length;
  const channels = radios.map((radio, i) => channelOf({ band: radio.band, ...settings[i]! }));
  const overlaps = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) if (i !== j) overlaps[i * n + j] = overlapCost(channels[i]!, channels[j]!);
  return overlaps;
}

/**
 * Per radio: other radios heard on its channel, per spot of the whole service area; the sum over radios is the floor's mean.
 * @param overlaps of the settings' channels, where the caller has them already
 */
export function contentionCosts(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  interaction: Interaction,
  outside: readonly OutsideNetwork[],
  overlaps = overlapMatrix(radios, settings),
): Float64Array {
  const { n, weight, served } = interaction;
  const costs = new Float64Array(n);
  for (let j = 0; j < n; j++) {
    if (!settings[j]!.on) continue;
    let cost = outsideCost(outside, radios[j]!, settings[j]!, served[j]!);
    for (let i = 0; i < n; i++) {
      const w = weight[i * n + j]!;
      if (w > 0 && settings[i]!.on) cost += w * overlaps[i * n + j]!;
    }
    costs[j] = cost;
  }
  return costs;
}

export const total = (values: Float64Array): number => values.reduce((sum, value) => sum + value, 0);
