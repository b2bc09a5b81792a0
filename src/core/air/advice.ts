import type { WidthMhz, Band } from '../radio/band';
import { channelExists, liesBetween, occupied20, type Channel } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import { overlapShare } from '../radio/overlap';
import type { AllowedChannel } from '../radio/regulation';
import { priceAt } from '../radio/sharing';
import { spreadOf } from '../survey/transfer';
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
    noiseDbm: dbmFromMw(mean(({ noiseDbm }) => mwFromDbm(noiseDbm))),
    busy,
    spread: dwells.length < 2 ? null : spreadOf(dwells.map(busyOf)),
    takers: [...takers.values()].sort((a, b) => b.share - a.share),
  };
}

/** What a radio takes of a channel: its share of the time, at the price of the model of sharing. */
export type Taking = Taker & Readonly<{ costs: number }>;

/**
 * A channel that could be taken. `left`: share of the time that is left, after what is waited for and what would disturb; `energyDbm`: mean energy over all of its width; `networks`: how many
 * stand on it, which is not the same thing; `takes`: who takes how much, most first.
 */
export type Option = Readonly<{
  channel: Channel;
  allowed: AllowedChannel;
  left: number;
  energyDbm: number;
  networks: number;
  notWifi: number;
  takes: readonly Taking[];
}>;

/** Energy in a channel of 20 MHz, in mW, less what an access point itself sends there; never below the receiver's noise. */
function withoutOwn({ band, channel, energyDbm }: LoadSummary, own: ReadonlyMap<string, Taker>, ofBand: Band): number {
  let mw = mwFromDbm(energyDbm);
  for (const { channel: primary, widthMhz, levelDbm, share } of own.values()) {
    const theirs: Channel = { band: ofBand, primary, widthMhz: widthMhz as WidthMhz };
    if (channelExists(theirs)) mw -= share * mwFromDbm(levelDbm) * overlapShare(theirs, { band, primary: channel, widthMhz: 20 });
  }
  return Math.max(mw, mwFromDbm(noiseDbm(band, 20)));
}

/**
 * What a channel of some width offers, from what was measured on the band's 20 MHz channels; null where one of its own was not dwelt on. Every radio that was read somewhere counts, by the most
 * that was seen of it and as its channel meets this one: waited for, taking width, or noise as strong as what would be waited for. Those that do not know each other are taken to send
 * independently.
 * @param exceptApId whose own frames do not count
 */
export function optionOf(
  allowed: AllowedChannel,
  loads: readonly LoadSummary[],
  networksOn: (channel: Channel) => number,
  exceptApId: string | null,
): Option | null {
  const { channel } = allowed;
  const here = loads.filter(({ band }) => band === channel.band);
  const parts = occupied20(channel).map((number) => here.find((one) => one.channel === number));
  if (!parts.every((part) => part !== undefined)) return null;
  const takers = new Map<string, Taker>();
  for (const { takers: all } of here)
    for (const taker of all)
      if ((taker.apId === null || taker.apId !== exceptApId) && taker.share > (takers.get(taker.bssid)?.share ?? 0)) takers.set(taker.bssid, taker);
  const takes = [...takers.values()]
    .map((taker): Taking => {
      const theirs: Channel = { band: channel.band, primary: taker.channel, widthMhz: taker.widthMhz as WidthMhz };
      return { ...taker, costs: channelExists(theirs) ? taker.share * priceAt(channel, theirs, taker.levelDbm) : 0 };
    })
    .filter(({ costs }) => costs > 0)
    .sort((a, b) => b.costs - a.costs);
  const own = new Map(
    here.flatMap(({ takers: all }) => all.filter(({ apId }) => apId !== null && apId === exceptApId)).map((taker) => [taker.bssid, taker]),
  );
  // One signal may lie over several of the parts: the most that any of them sees, of the time that Wi-Fi leaves.
  const notWifi = Math.min(1, Math.max(...parts.map((part) => part.notWifi / Math.max(1e-9, 1 - part.ours - part.others))));
  return {
    channel,
    allowed,
    left: takes.reduce((left, { costs }) => left * (1 - Math.min(1, costs)), 1) * (1 - notWifi),
    energyDbm: dbmFromMw(parts.reduce((sum, part) => sum + withoutOwn(part, own, channel.band), 0)),
    networks: networksOn(channel),
    notWifi,
    takes,
  };
}

/** Airtime that is too little to tell two channels apart by. */
export const SAME_SHARE = 0.01;

/** Options in order: most airtime left first; of those that are as good the one with less energy; then without radar detection; then the lower one. */
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

/** What is advised of some options in order: the first that does not lie between others. */
export const advisedOf = (options: readonly Option[]): Option | undefined => options.find(({ channel }) => !liesBetween(channel));
