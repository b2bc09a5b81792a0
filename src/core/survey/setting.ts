import { BANDS, type Band } from '../radio/band';
import { channelExists } from '../radio/channel';
import type { Carried } from './swept';

/** A channel that the receiver visits. */
export type ScanChannel = Readonly<{ band: Band; channel: number }>;

/** Time on one channel: a little more than the usual beacon interval of 102.4 ms (100 time units, IEEE 802.11-2020, 9.4.1.3). */
export const DWELL_MS = 110;

/**
 * What measures: kinds of adapter, with what each is known to read more than a reference receiver, in dB. Held in a hand or built into a case a receiver reads less, with an antenna of its
 * own more.
 */
export const ADAPTERS = [
  { id: 'reference', name: 'reference receiver', offsetDb: 0 },
  { id: 'outside-antenna', name: 'receiver with its own antenna', offsetDb: 3 },
  { id: 'notebook', name: 'notebook, built in', offsetDb: -2 },
  { id: 'phone', name: 'phone in the hand', offsetDb: -5 },
  { id: 'handset', name: 'voice handset at the belt', offsetDb: -8 },
] as const;
export type AdapterId = (typeof ADAPTERS)[number]['id'];
export const adapterOf = (id: AdapterId) => ADAPTERS.find((adapter) => adapter.id === id)!;

/** How the receiver is set: what it is, which bands and of them which channels it listens to and how long on each, and whose beacons it keeps. */
export type ReceiverSetting = Readonly<{
  adapter: AdapterId;
  bands: readonly Band[];
  /** Primary channels, of whichever of the bands has them; without any all on which something is. */
  channels: readonly number[];
  dwellMs: number;
  /** Only this network is kept; of all where it is ''. */
  ssid: string;
  /** The swept receiver beside it; null where none is carried. */
  swept: Carried | null;
}>;

export const DEFAULT_SETTING: ReceiverSetting = { adapter: 'reference', bands: BANDS, channels: [], dwellMs: DWELL_MS, ssid: '', swept: null };

/** The chosen channels of a setting, by band and number; empty where all are meant. */
export const chosenChannels = ({ bands, channels }: Pick<ReceiverSetting, 'bands' | 'channels'>): ScanChannel[] =>
  bands.flatMap((band) =>
    [...new Set(channels)]
      .filter((channel) => channelExists({ band, primary: channel, widthMhz: 20 }))
      .sort((a, b) => a - b)
      .map((channel) => ({ band, channel })),
  );

/**
 * A stretch of time on one leg in which the receiver went through its list: at time t it is on `channels[floor(t / dwellMs) % channels.length]`. What was not scanned was not listened to, and
 * nothing follows from hearing nothing there.
 */
export type Scan = Readonly<{ leg: number; fromMs: number; toMs: number; dwellMs: number; channels: readonly ScanChannel[]; ssid: string }>;

const sameList = (a: Scan, b: Scan): boolean =>
  a.leg === b.leg &&
  a.dwellMs === b.dwellMs &&
  a.ssid === b.ssid &&
  a.channels.length === b.channels.length &&
  a.channels.every(({ band, channel }, i) => band === b.channels[i]!.band && channel === b.channels[i]!.channel);

/** Stretches one after the other as one where the list is the same and nothing lies between. */
export function joinScans(scans: readonly Scan[]): Scan[] {
  const joined: Scan[] = [];
  for (const scan of scans) {
    const last = joined.at(-1);
    if (last !== undefined && last.toMs === scan.fromMs && sameList(last, scan)) joined[joined.length - 1] = { ...last, toMs: scan.toMs };
    else joined.push(scan);
  }
  return joined;
}

/** The stretches up to a time. */
export const scansUntil = (scans: readonly Scan[], tMs: number): Scan[] =>
  scans.filter(({ fromMs }) => fromMs < tMs).map((scan) => (scan.toMs <= tMs ? scan : { ...scan, toMs: tMs }));
