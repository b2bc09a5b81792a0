import type { WidthMhz, Band } from '../radio/band';
import { channelOf, occupied20, type Channel } from '../radio/channel';
import type { AllowedChannel } from '../radio/regulation';
import { dbmFromMw, mwFromDbm } from '../units/decibel';
import type { ChannelLoad, Taker } from './load';

/** All that was dwelt on one channel: each time, in the order it was measured. */
export type Measured = Readonly<{ band: Band; channel: number; dwells: readonly ChannelLoad[] }>;

/** What a measurement came to: means over its time, and how far the busy shares of single dwells lie apart (standard deviation; null of one alone). */
export type LoadSummary = Omit<ChannelLoad, 'takers'> & Readonly<{ busy: number; spread: number | null; takers: readonly Taker[] }>;

export const busyOf = ({ ours, others, notWifi }: Pick<ChannelLoad, 'ours' | 'others' | 'notWifi'>): number => Math.min(1, ours + others + notWifi);

/** A channel's dwells as one. */
export function summaryOf({ band, channel, dwells }: Measured): LoadSummary {
  const ms = dwells.reduce((sum, one) => sum + one.ms, 0);
  const mean = (of: (one: ChannelLoad) => number) => dwells.reduce((sum, one) => sum + of(one) * one.ms, 0) / ms;
  const busy = mean(busyOf);
  const takers = new Map<string, Taker>();
  for (const one of dwells)
    for (const taker of one.takers) takers.set(taker.bssid, { ...taker, share: (takers.get(taker.bssid)?.share ?? 0) + (taker.share * one.ms) / ms });
  return {
    band,
    channel,
    ms,
    ours: mean(({ ours }) => ours),
    others: mean(({ others }) => others),
    notWifi: mean(({ notWifi }) => notWifi),
    energyDbm: dbmFromMw(mean(({ energyDbm }) => mwFromDbm(energyDbm))),
    busy,
    spread: dwells.length < 2 ? null : Math.sqrt(dwells.reduce((sum, one) => sum + (busyOf(one) - busy) ** 2, 0) / (dwells.length - 1)),
    takers: [...takers.values()].sort((a, b) => b.share - a.share),
  };
}

/**
 * A channel that could be taken. `left`: share of the time in which all of it is free; `energyDbm`: mean energy over all of its width; `networks`: how many stand on it, which is not the same
 * thing; `takes`: what takes most.
 */
export type Option = Readonly<{
  channel: Channel;
  allowed: AllowedChannel;
  left: number;
  energyDbm: number;
  networks: number;
  notWifi: number;
  takes: readonly Taker[];
}>;

/**
 * What a channel of some width offers, from what was measured on each of its 20 MHz channels; null where one of them was not dwelt on. A network as wide as several of them is counted
 * once, by the most that was seen of it; those that do not know each other are taken to send independently.
 * @param exceptApId whose own frames do not count
 */
export function optionOf(
  allowed: AllowedChannel,
  loads: readonly LoadSummary[],
  networksOn: (channel: Channel) => number,
  exceptApId: string | null,
): Option | null {
  const { channel } = allowed;
  const parts = occupied20(channel).map((number) => loads.find((one) => one.band === channel.band && one.channel === number));
  if (!parts.every((part) => part !== undefined)) return null;
  const takers = new Map<string, Taker>();
  for (const { takers: all } of parts)
    for (const taker of all)
      if (taker.apId === null || taker.apId !== exceptApId) if (taker.share > (takers.get(taker.bssid)?.share ?? 0)) takers.set(taker.bssid, taker);
  const takes = [...takers.values()].sort((a, b) => b.share - a.share);
  // One signal may lie over several of the parts: the most that any of them sees, of the time that Wi-Fi leaves.
  const notWifi = Math.max(...parts.map((part) => part.notWifi / Math.max(1e-9, 1 - part.ours - part.others)));
  const free = takes.reduce((left, { share }) => left * (1 - share), 1);
  return {
    channel,
    allowed,
    left: free * (1 - Math.min(1, notWifi)),
    energyDbm: dbmFromMw(parts.reduce((sum, { energyDbm }) => sum + mwFromDbm(energyDbm), 0)),
    networks: networksOn(channel),
    notWifi: Math.min(1, notWifi),
    takes,
  };
}

/** Airtime that is too little to tell two channels apart by. */
export const SAME_SHARE = 0.01;

/** Options in order: most airtime left first; of those that are as good, the one with less energy; then without radar detection; then the lower one. */
export function ranked(options: readonly Option[]): Option[] {
  const steps = (left: number) => Math.round(left / SAME_SHARE);
  return [...options].sort(
    (a, b) =>
      steps(b.left) - steps(a.left) ||
      Math.round(a.energyDbm) - Math.round(b.energyDbm) ||
      Number(a.allowed.dfs) - Number(b.allowed.dfs) ||
      a.channel.primary - b.channel.primary,
  );
}

/** What a radio stands on, beside the best of its width. */
export const ofSetting = (options: readonly Option[], radio: Readonly<{ band: Band; channel: number; widthMhz: WidthMhz }>): Option | null => {
  const channel = channelOf(radio);
  return (
    options.find(
      (one) => one.channel.band === channel.band && one.channel.primary === channel.primary && one.channel.widthMhz === channel.widthMhz,
    ) ?? null
  );
};
