import { BANDS, type Band } from '../radio/band';
import { centreMhz, channelExists } from '../radio/channel';
import type { SignalKind } from '../spectrum/signal';
import type { MeasuredSpot } from './measured';

/**
 * The swept receiver as it is carried on a walk: over which bands, and what time of the day, in ms since midnight, it is on the site when the walk begins. The simulated air goes by that
 * time, whatever the walker's own clock says.
 */
export type Carried = Readonly<{ bands: readonly Band[]; fromMs: number }>;

/** A signal that is not Wi-Fi as it was told in a look: how strong while it was on, about where, how likely. */
export type SweptSignal = Readonly<{ kind: SignalKind; levelDbm: number; centreMhz: number; likelihood: number }>;

/** A channel of 20 MHz in a look: the mean energy in it, and the mean of what is left beside frames of Wi-Fi, in dBm. */
export type SweptChannel = Readonly<{ channel: number; energyDbm: number; noiseDbm: number }>;

/** What the swept receiver found in one look at a part of a band; `tMs` is the middle of the look, since the walk began. */
export type Swept = Readonly<{ leg: number; tMs: number; band: Band; channels: readonly SweptChannel[]; signals: readonly SweptSignal[] }>;

/** One look takes so long, in ms of the walk, and takes in no more than this. */
export const SWEPT_LOOK_MS = 1000;
const WIDEST_MHZ = 100;

/** Channels of 20 MHz that one look takes in, and the stretch of spectrum that it goes over. */
export type SweptPart = Readonly<{ band: Band; channels: readonly number[]; startMhz: number; stopMhz: number }>;

/** What is looked at one after the other: the channels of each band from the lowest up, as many at once as a look takes in. At 2.4 GHz that is all of them up to 13. */
export function sweptParts(bands: readonly Band[]): SweptPart[] {
  return BANDS.filter((band) => bands.includes(band)).flatMap((band) => {
    const parts: Array<{ band: Band; channels: number[]; startMhz: number; stopMhz: number }> = [];
    for (let channel = 1; channel <= (band === '2.4' ? 13 : 233); channel++) {
      const at = { band, primary: channel, widthMhz: 20 } as const;
      if (!channelExists(at)) continue;
      const [from, to] = [centreMhz(at) - 10, centreMhz(at) + 10];
      const last = parts.at(-1);
      if (last !== undefined && to - last.startMhz <= WIDEST_MHZ) {
        last.channels.push(channel);
        last.stopMhz = to;
      } else parts.push({ band, channels: [channel], startMhz: from, stopMhz: to });
    }
    return parts;
  });
}

/** The looks that end within a stretch of a walk's time: which part, and from when. The same walk asked in parts has the same looks. */
export function looksBetween(parts: readonly SweptPart[], fromMs: number, toMs: number): Array<Readonly<{ part: SweptPart; fromMs: number }>> {
  const looks: Array<{ part: SweptPart; fromMs: number }> = [];
  if (parts.length === 0) return looks;
  for (let n = Math.max(0, Math.floor(fromMs / SWEPT_LOOK_MS)); (n + 1) * SWEPT_LOOK_MS <= toMs; n++)
    looks.push({ part: parts[n % parts.length]!, fromMs: n * SWEPT_LOOK_MS });
  return looks;
}

/** What of looks a map shows: the mean energy or noise in a channel, or in whichever has most of it, or the level of a kind of signal. */
export type SweptAsked = Readonly<{ what: 'energy' | 'noise'; channel: number | null }> | Readonly<{ what: 'signal'; kind: SignalKind }>;

/**
 * What a map shows of some looks of a band, at their places. Of a kind of signal only those count in which it was told: in others it may have been off, too weak, or hidden behind frames.
 */
export function sweptSpots(looks: ReadonlyArray<Swept & { xM: number; yM: number }>, band: Band, asked: SweptAsked): MeasuredSpot[] {
  const own = looks.filter((look) => look.band === band);
  if (asked.what === 'signal')
    return own.flatMap(({ xM, yM, signals }) => {
      const levels = signals.filter(({ kind }) => kind === asked.kind).map(({ levelDbm }) => levelDbm);
      return levels.length === 0 ? [] : [{ xM, yM, levelDbm: Math.max(...levels) }];
    });
  const value = (one: SweptChannel): number => (asked.what === 'energy' ? one.energyDbm : one.noiseDbm);
  return own.flatMap(({ xM, yM, channels }) => {
    const values = channels.filter(({ channel }) => asked.channel === null || channel === asked.channel).map(value);
    return values.length === 0 ? [] : [{ xM, yM, levelDbm: Math.max(...values) }];
  });
}

/** Kinds of signal that some looks of a band told, each with how often. */
export function kindsTold(looks: readonly Swept[], band: Band): Map<SignalKind, number> {
  const told = new Map<SignalKind, number>();
  for (const look of looks)
    if (look.band === band) for (const kind of new Set(look.signals.map((one) => one.kind))) told.set(kind, (told.get(kind) ?? 0) + 1);
  return told;
}

/** Channels of a band that some looks went over, ascending. */
export const channelsSwept = (looks: readonly Swept[], band: Band): number[] =>
  [...new Set(looks.flatMap((look) => (look.band === band ? look.channels.map(({ channel }) => channel) : [])))].sort((a, b) => a - b);
