import type { Band } from '../radio/band';
import { centreMhz, occupied20, type Channel } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import { CCA_DBM, kindAt, priceAt, sharingOf } from '../radio/sharing';
import { overlapShare } from '../radio/overlap';
import { shareBetween } from '../spectrum/shape';
import { dbmFromMw, mwFromDbm } from '../units/decibel';
import { airtimeAt, channelAt, primaryOf, radioPieces, sendsAt, signalPieces, sumOf, type AirRadio, type AirSpot } from './radio';

/** A radio whose frames were read on a channel, by its first network: how loud, and for how much of the time. */
export type Taker = Readonly<{
  bssid: string;
  ssid: string;
  apId: string | null;
  channel: number;
  widthMhz: number;
  levelDbm: number;
  share: number;
}>;

/**
 * A channel of 20 MHz as it was dwelt on: the share of the time in which a radio here would have waited, for ours, for others' Wi-Fi, and for what is not Wi-Fi, of each alone what the one
 * before does not take already; the mean energy in it and the mean of what is left beside frames of Wi-Fi, in dBm; and whose frames were read, for how much of the time.
 */
export type ChannelLoad = Readonly<{
  band: Band;
  channel: number;
  ms: number;
  ours: number;
  others: number;
  notWifi: number;
  energyDbm: number;
  noiseDbm: number;
  takers: readonly Taker[];
}>;

/** Whether a radio here waits for another one on a channel. */
const waitedFor = (band: Band, primary: number, radio: AirRadio, atMs: number): boolean => {
  const channel = channelAt(radio, atMs);
  return channel.band === band && kindAt(sharingOf(primaryOf(band, primary), channel), radio.levelDbm) === 'airtime';
};

type Span = readonly [from: number, to: number];
/** Stretches of time as disjoint ones in order. */
function joined(spans: Span[]): Span[] {
  spans.sort((a, b) => a[0] - b[0]);
  const out: Array<[number, number]> = [];
  for (const [from, to] of spans) {
    const last = out.at(-1);
    if (last !== undefined && from <= last[1]) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  }
  return out;
}
const lengthOf = (spans: readonly Span[]): number => spans.reduce((sum, [from, to]) => sum + to - from, 0);

/** Dwells on a channel from a time on: what a radio that stands here finds there. @param exceptApId whose own frames do not count: it is about where that one should be */
export function dwell(spot: AirSpot, band: Band, primary: number, fromMs: number, ms: number, exceptApId: string | null = null): ChannelLoad {
  const [fromUs, toUs] = [fromMs * 1000, (fromMs + ms) * 1000];
  const own = primaryOf(band, primary);
  const clip = ({ fromUs: from, toUs: to }: { fromUs: number; toUs: number }): Span => [Math.max(from, fromUs), Math.min(to, toUs)];
  const [ours, others, notWifi]: [Span[], Span[], Span[]] = [[], [], []];
  const takers: Taker[] = [];
  let frames = 0;
  let noise = mwFromDbm(noiseDbm(band, 20)) * (toUs - fromUs);
  for (const radio of spot.radios) {
    if (radio.apId !== null && radio.apId === exceptApId) continue;
    const channel = channelAt(radio, fromMs);
    const inside = overlapShare(channel, own);
    if (inside === 0) continue;
    const spans = joined(radioPieces(radio, fromUs, toUs).map(clip));
    frames += lengthOf(spans) * mwFromDbm(radio.levelDbm) * inside;
    if (!waitedFor(band, primary, radio, fromMs)) continue;
    (radio.apId === null ? others : ours).push(...spans);
    const first = radio.networks[0];
    // What lies over the channel in part is waited for and not read.
    if (first !== undefined && spans.length > 0 && occupied20(channel).includes(primary))
      takers.push({
        bssid: first.bssid,
        ssid: first.ssid,
        apId: radio.apId,
        channel: channel.primary,
        widthMhz: channel.widthMhz,
        levelDbm: Math.round(radio.levelDbm),
        share: lengthOf(spans) / (toUs - fromUs),
      });
  }
  const middle = centreMhz(own);
  for (const signal of spot.signals) {
    const mw = mwFromDbm(signal.levelDbm);
    for (const piece of signalPieces(signal, fromUs, toUs)) {
      const at = (piece.fromMhz + piece.toMhz) / 2;
      const inside = shareBetween(piece.shape, middle - 10 - at, middle + 10 - at);
      const span = clip(piece);
      noise += mw * inside * (span[1] - span[0]);
      // What cannot be read counts where its energy in the channel is above the threshold of energy detection.
      if (dbmFromMw(mw * inside) >= CCA_DBM.energy) notWifi.push(span);
    }
  }
  const total = toUs - fromUs;
  const oursUs = lengthOf(joined([...ours]));
  const wifiUs = lengthOf(joined([...ours, ...others]));
  const allUs = lengthOf(joined([...ours, ...others, ...notWifi]));
  return {
    band,
    channel: primary,
    ms,
    ours: oursUs / total,
    others: (wifiUs - oursUs) / total,
    notWifi: (allUs - wifiUs) / total,
    energyDbm: dbmFromMw((noise + frames) / total),
    noiseDbm: dbmFromMw(noise / total),
    takers: takers.sort((a, b) => b.share - a.share),
  };
}

/**
 * Airtime that a channel truly leaves about a time, beside what a radio there would wait for or be disturbed by: for the bench, nobody measures so. Every radio takes its share of the time at
 * the price of the one model of sharing; signals take the share that `dutyOf` says. None waits for another.
 */
export function trulyLeft(
  spot: AirSpot,
  serving: Channel,
  atMs: number,
  exceptApId: string | null,
  dutyOf: (signal: AirSpot['signals'][number], centreMhz: number) => number,
): number {
  let left = 1;
  for (const radio of spot.radios) {
    if ((radio.apId !== null && radio.apId === exceptApId) || !sendsAt(radio, atMs)) continue;
    left *= 1 - sumOf(airtimeAt(radio, atMs)) * priceAt(serving, channelAt(radio, atMs), radio.levelDbm);
  }
  for (const signal of spot.signals) left *= 1 - dutyOf(signal, centreMhz(serving));
  return left;
}
