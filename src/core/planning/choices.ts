import { channelLabel, channelOf, isPreferredScanning, middlePowerDbm, type Channel } from '../radio/channel';
import { priceOf, type PriceStep } from '../radio/sharing';
import type { Assignment } from './assignment';
import type { Reach } from './exposure';
import type { DfsUse } from '../radio/regulation';
import { rulesFor, type Option, type OutsideNetwork, type PlanRadio, type PlanRules, type Setting } from './problem';

/** What other people's networks take from a radio's area on a channel: each where it was heard in its cell, at the price of its level there. */
export function outsideCost(networks: readonly OutsideNetwork[], channel: Channel, servedShare: number, apId: string): number {
  let cost = 0;
  for (const network of networks) {
    if (network.band !== channel.band) continue;
    const { share, levelDbm } = network.cells?.find((cell) => cell.apId === apId) ?? network;
    for (const { dbm, more } of priceOf(channel, channelOf(network))) if (levelDbm >= dbm) cost += share * servedShare * more;
  }
  return cost;
}

/** A spot where the air was listened to, as the place of one of the radios' losses, and what a network was heard at; null where it was not. */
export type HeardSpot = Readonly<{ at: number; levelDbm: number | null }>;

/** A network's figures in each radio's cell, as the radios are set now; radios in whose cell nobody has listened are left out. */
export function cellsOf(radios: readonly PlanRadio[], spots: readonly HeardSpot[]): NonNullable<OutsideNetwork['cells']> {
  const found = radios.map(({ apId }) => ({ apId, spots: 0, heard: 0, sumDbm: 0 }));
  for (const { at, levelDbm } of spots) {
    let best = -Infinity;
    let server = -1;
    radios.forEach(({ band, before, lossDb }, r) => {
      const level = before.on ? middlePowerDbm({ ...before, channel: channelOf({ band, ...before }) }) - lossDb[at]! : -Infinity;
      if (level > best) [best, server] = [level, r];
    });
    const cell = found[server];
    if (cell === undefined) continue;
    cell.spots++;
    if (levelDbm === null) continue;
    cell.heard++;
    cell.sumDbm += levelDbm;
  }
  return found.flatMap(({ apId, spots: all, heard, sumDbm }) =>
    all === 0 ? [] : [{ apId, share: heard / all, levelDbm: heard === 0 ? -Infinity : sumDbm / heard }],
  );
}

/** Every distinct channel of the lists, in the order met. */
const distinctOf = (options: readonly (readonly Option[])[]): Channel[] => [
  ...new Map(options.flat().map(({ channel }) => [channelLabel(channel), channel])).values(),
];

const textOf = (steps: readonly PriceStep[]): string => steps.map(({ dbm, more }) => `${dbm}:${more}`).join();

/**
 * Choices of primary that are alike become one: two channels which share with every channel in play, and with other people's networks, at the
 * same price both ways are no choice. The present one is kept, else a preferred scanning channel, else the first.
 */
export function withoutAlikes(options: readonly (readonly Option[])[], radios: readonly PlanRadio[], outside: readonly OutsideNetwork[]): Option[][] {
  const met = [...distinctOf(options), ...outside.map(channelOf)];
  const signs = new Map<string, string>();
  const signOf = (channel: Channel): string => {
    const label = channelLabel(channel);
    let sign = signs.get(label);
    if (sign === undefined) {
      sign = met.map((other) => `${textOf(priceOf(channel, other))}/${textOf(priceOf(other, channel))}`).join('|');
      signs.set(label, sign);
    }
    return sign;
  };
  return options.map((list, r) => {
    const { channel: primary, widthMhz } = radios[r]!.before;
    const rankOf = ({ channel }: Option) => (channel.primary === primary && channel.widthMhz === widthMhz ? 0 : isPreferredScanning(channel) ? 1 : 2);
    const kept = new Map<string, Option>();
    for (const option of list) {
      const key = `${option.maxPowerDbm}/${option.dfs}/${option.weatherRadar === true}/${option.channel.widthMhz}/${signOf(option.channel)}`;
      const known = kept.get(key);
      if (known === undefined || rankOf(option) < rankOf(known)) kept.set(key, option);
    }
    return [...kept.values()];
  });
}

/**
 * Prices of every two channels in play as one table: pair costs are asked for many thousand times, and a table per pair of radios would not
 * fit memory for hundreds of them. Made once per band; `levels` is what a reach must be taken at.
 */
export type PriceTable = Readonly<{
  size: number;
  /** Where each radio's options stand in the table. */
  at: readonly Int32Array[];
  levels: Float64Array;
  /** Steps of (other a, serving b) are entries start[a * size + b] to start[a * size + b + 1]. */
  start: Int32Array;
  /** Width of each channel. */
  widthsMhz: readonly number[];
  level: Int32Array;
  more: Float64Array;
}>;

/** How much below the level at which a pair begins to cost its nearness counts still, in dB, and how little: it only chooses among plans of equal cost. */
const APART_DB = [10, 20, 30];
const APART_COST = 1e-4;

/** The steps of a price, and, for what lies below them, next to nothing: so that of plans that cost the same the one with most separation is taken. */
function withSeparation(steps: readonly PriceStep[]): PriceStep[] {
  const [first] = steps;
  return first === undefined ? [] : [...APART_DB.map((db) => ({ dbm: first.dbm - db, more: APART_COST })), ...steps];
}

/** @param separation whether pairs that cost nothing are kept apart as well */
export function priceTable(options: readonly (readonly Option[])[], separation = false): PriceTable {
  const distinct = distinctOf(options);
  const position = new Map(distinct.map((channel, i) => [channelLabel(channel), i]));
  const size = distinct.length;
  const steps = distinct.flatMap((other) =>
    distinct.map((serving) => (separation ? withSeparation(priceOf(serving, other)) : priceOf(serving, other))),
  );
  const levels = Float64Array.from(new Set(steps.flatMap((list) => list.map(({ dbm }) => dbm)))).sort();
  const levelAt = new Map(Array.from(levels, (dbm, i) => [dbm, i]));
  const start = new Int32Array(size * size + 1);
  steps.forEach((list, i) => (start[i + 1] = start[i]! + list.length));
  const flat = steps.flat();
  return {
    size,
    at: options.map((list) => Int32Array.from(list, ({ channel }) => position.get(channelLabel(channel))!)),
    levels,
    start,
    widthsMhz: distinct.map(({ widthMhz }) => widthMhz),
    level: Int32Array.from(flat, ({ dbm }) => levelAt.get(dbm)!),
    more: Float64Array.from(flat, ({ more }) => more),
  };
}

/**
 * What settles among plans of equal cost: where the rules say so, without radar detection before with it, weather radar last, at 6 GHz preferred scanning channels first. The
 * present channel comes before all of these, by the change penalty.
 */
const PREFERENCE = { dfs: 2e-5, weatherRadar: 4e-5, notScanned: 1e-5 };
const preferenceCost = ({ channel, dfs, weatherRadar }: Option, use: DfsUse): number =>
  (dfs && use === 'if equal' ? PREFERENCE.dfs : 0) +
  (weatherRadar === true ? PREFERENCE.weatherRadar : 0) +
  (channel.band === '6' && !isPreferredScanning(channel) ? PREFERENCE.notScanned : 0);

/** Cost of each decibel by which a channel's limit lies below the radio's power. */
const LOST_DB_COST = 0.02;

/** What a setting costs its radio apart from the others: outside networks, narrowness, lost power, change. */
export function singleCost(
  radio: PlanRadio,
  option: Option,
  setting: Setting,
  all: PlanRules,
  outside: readonly OutsideNetwork[],
  served: number,
): number {
  const rules = rulesFor(all, radio);
  const { primary, widthMhz } = option.channel;
  const widest = Math.max(...rules.widthsMhz[radio.band], widthMhz);
  const changed = primary !== radio.before.channel || widthMhz !== radio.before.widthMhz;
  return (
    outsideCost(outside, option.channel, served, radio.apId) +
    rules.widthCost * served * Math.log2(widest / widthMhz) +
    LOST_DB_COST * Math.max(0, Math.min(setting.txPowerDbm, rules.maxPowerDbm) - option.maxPowerDbm) +
    (changed ? rules.changePenalty : 0) +
    preferenceCost(option, rules.dfs)
  );
}

const reachSum = (share: Float32Array, at: number, k: number): number => {
  let sum = 0;
  for (let i = at; i < at + k; i++) sum += share[i]!;
  return sum;
};

/**
 * Who meets whom. Among many hundreds nearly all reach each other somewhere, and tables for all pairs would not fit memory: of more than so many the
 * search leaves out those that meet least. What a plan costs is always taken of all.
 */
const MOST_NEIGHBOURS = 160;

function neighboursOf(n: number, weight: (r: number, s: number) => number): number[][] {
  const all = Array.from({ length: n }, (_, r) => r);
  const met = all.map((r) => all.filter((s) => weight(r, s) > 0));
  if (n <= MOST_NEIGHBOURS) return met;
  const kept = met.map(
    (list, r) => new Set(list.length <= MOST_NEIGHBOURS ? list : [...list].sort((a, b) => weight(r, b) - weight(r, a)).slice(0, MOST_NEIGHBOURS)),
  );
  return met.map((list, r) => list.filter((s) => kept[r]!.has(s) || kept[s]!.has(r)));
}

/** The choice of channels at the present powers, as an assignment. @param singleOf what an option costs its radio alone, where not all of it is asked */
export function assignmentOf(
  radios: readonly PlanRadio[],
  options: readonly (readonly Option[])[],
  settings: readonly Setting[],
  reach: Reach,
  prices: PriceTable,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  singleOf = singleCost,
): Assignment {
  const { n, share, served } = reach;
  const k = prices.levels.length;
  const { size, at, start, level, more } = prices;
  const single = radios.map((radio, r) =>
    Float64Array.from(options[r]!, (option) => singleOf(radio, option, settings[r]!, rules, outside, served[r]!)),
  );
  const takes = (other: number, from: number, serving: number, to: number): number => {
    const base = (other * n + serving) * k;
    let price = 0;
    for (let i = start[from * size + to]!, end = start[from * size + to + 1]!; i < end; i++) price += more[i]! * share[base + level[i]!]!;
    return price;
  };
  return {
    sizes: options.map((list) => list.length),
    kinds: {
      size,
      of: (r, a) => at[r]![a]!,
      overlap: (a, b) => start[a * size + b]! < start[a * size + b + 1]! || start[b * size + a]! < start[b * size + a + 1]!,
      rank: (a) => Math.log2(prices.widthsMhz[a]! / 20),
    },
    single: (r, a) => single[r]![a]!,
    pair: (r, a, s, b) => takes(r, at[r]![a]!, s, at[s]![b]!) + takes(s, at[s]![b]!, r, at[r]![a]!),
    neighbours: neighboursOf(n, (r, s) => (r === s || k === 0 ? 0 : reachSum(share, (r * n + s) * k, k) + reachSum(share, (s * n + r) * k, k))),
  };
}
