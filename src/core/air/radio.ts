import { BEACON_INTERVAL_MS, BEACON_OCTETS, frameUs } from '../radio/beacon';
import type { Band } from '../radio/band';
import { centreMhz, channelExists, type Channel } from '../radio/channel';
import { HIGHEST_MCS, phyBetween, rateMbps, type Generation } from '../radio/rates';
import { hashText } from '../random';
import { framesOf } from '../spectrum/frames';
import { DAY_MS, inHours, piecesOf, type Hours, type Piece, type SignalSource } from '../spectrum/signal';

/** How busy a network is over the day. */
export const DAYS = ['visitors', 'office', 'home', 'steady'] as const;
export type Day = (typeof DAYS)[number];

/** Share of its busiest by the hour, 0 to 23; between the hours it goes straight. Working values. */
const BY_HOUR: Readonly<Record<Day, readonly number[]>> = {
  visitors: [2, 2, 2, 2, 2, 2, 3, 5, 15, 35, 60, 85, 100, 100, 85, 75, 65, 40, 15, 8, 5, 4, 3, 2].map((one) => one / 100),
  office: [3, 3, 3, 3, 3, 3, 5, 25, 70, 95, 100, 95, 60, 80, 100, 95, 85, 55, 25, 12, 8, 5, 4, 3].map((one) => one / 100),
  home: [20, 10, 5, 4, 4, 6, 20, 40, 30, 15, 12, 12, 20, 15, 12, 15, 25, 45, 70, 90, 100, 95, 75, 45].map((one) => one / 100),
  steady: Array.from({ length: 24 }, () => 1),
};

/** Security as a beacon tells it (IEEE 802.11-2020, 9.4.2.24, in the trade's words). */
export const SECURITIES = ['open', 'WEP', 'WPA2', 'WPA2/WPA3', 'WPA3'] as const;
export type Security = (typeof SECURITIES)[number];

/** A network's name as one radio sends it: what its beacons tell. Empty name: hidden. `tellsLoad`: whether they carry the load and the number of clients (9.4.2.27). */
export type Broadcast = Readonly<{
  bssid: string;
  ssid: string;
  generation: Generation;
  streams: number;
  basicMbps: readonly number[];
  security: Security;
  country: string | null;
  tellsLoad: boolean;
}>;

/** A stretch of each day in which a radio is elsewhere: it saw radar. */
export type Move = Readonly<{ fromMs: number; toMs: number; channel: Channel }>;

/** A radio as it arrives at a spot. `busy`: share of airtime for data at its busiest; `clients` as many as then. */
export type AirRadio = Readonly<{
  apId: string | null;
  levelDbm: number;
  channel: Channel;
  networks: readonly Broadcast[];
  busy: number;
  clients: number;
  day: Day;
  hours: Hours;
  moves: readonly Move[];
  seed: number;
}>;

/** A signal that is not Wi-Fi as it arrives at a spot, over all of its spectrum. */
export type AirSignal = Readonly<{ levelDbm: number; source: SignalSource }>;

/** The air at a spot: what arrives there, whenever it is on. */
export type AirSpot = Readonly<{ radios: readonly AirRadio[]; signals: readonly AirSignal[]; seed: number }>;

/** Frames that are sent again, as a share of data, by chance of the radio. */
const RETRIES = [0.05, 0.15] as const;
/** No radio sends more than this share of the time. */
const MOST_DATA = 0.9;
/** Load goes up and down within this time, and by this much. */
const WAVE_MS = 20_000;
const WAVE = 0.15;

const fraction = (text: string): number => hashText(text) / 4294967296;
const dayMs = (atMs: number): number => ((atMs % DAY_MS) + DAY_MS) % DAY_MS;

/** Share of its busiest at a time, by the kind of day. */
export function dayShare(day: Day, atMs: number): number {
  const hour = dayMs(atMs) / 3_600_000;
  const [low, rest] = [Math.floor(hour), hour % 1];
  const hours = BY_HOUR[day];
  return hours[low]! * (1 - rest) + hours[(low + 1) % 24]! * rest;
}

/** Time on the air of one beacon of a radio, in us: at the lowest basic rate. */
export const beaconUsOf = ({ networks, channel }: Pick<AirRadio, 'networks' | 'channel'>): number =>
  networks.length === 0 ? 0 : frameUs(BEACON_OCTETS, Math.min(...networks[0]!.basicMbps), channel.band);

/** Airtime of a radio at a time, in shares: its beacons, its data, and data sent again. */
export type Airtime = Readonly<{ beacons: number; data: number; retries: number }>;

/** Where a radio is at a time, and whether it sends at all. */
export const channelAt = ({ moves, channel }: Pick<AirRadio, 'moves' | 'channel'>, atMs: number): Channel =>
  moves.find(({ fromMs, toMs }) => dayMs(atMs) >= fromMs && dayMs(atMs) < toMs)?.channel ?? channel;
export const sendsAt = ({ hours }: Pick<AirRadio, 'hours'>, atMs: number): boolean => inHours(hours, atMs);

const NOTHING: Airtime = { beacons: 0, data: 0, retries: 0 };

/** How a radio's airtime is spent at a time. */
export function airtimeAt(radio: AirRadio, atMs: number): Airtime {
  if (!sendsAt(radio, atMs)) return NOTHING;
  const beacons = (radio.networks.length * beaconUsOf(radio)) / (1000 * BEACON_INTERVAL_MS);
  const wave = 1 - WAVE + 2 * WAVE * fraction(`${radio.seed}/wave/${Math.floor(atMs / WAVE_MS)}`);
  const again = RETRIES[0] + (RETRIES[1] - RETRIES[0]) * fraction(`${radio.seed}/retries`);
  const data = Math.min(MOST_DATA, radio.busy * dayShare(radio.day, atMs) * wave) / (1 + again);
  return { beacons, data, retries: data * again };
}

export const sumOf = ({ beacons, data, retries }: Airtime): number => Math.min(1, beacons + data + retries);

/** Clients that are associated at a time. */
export const clientsAt = (radio: AirRadio, atMs: number): number =>
  sendsAt(radio, atMs)
    ? Math.round(radio.clients * dayShare(radio.day, atMs) * (0.9 + 0.2 * fraction(`${radio.seed}/clients/${Math.floor(atMs / 60_000)}`)))
    : 0;

/** A radio's frames between two times, in us since some midnight. What it does changes from wave to wave. */
export function radioPieces(radio: AirRadio, fromUs: number, toUs: number): Piece[] {
  const pieces: Piece[] = [];
  const waveUs = WAVE_MS * 1000;
  for (let at = Math.floor(fromUs / waveUs) * waveUs; at < toUs; at += waveUs) {
    const [from, to] = [Math.max(fromUs, at), Math.min(toUs, at + waveUs)];
    const atMs = from / 1000;
    if (!sendsAt(radio, atMs)) continue;
    const { data, retries } = airtimeAt(radio, atMs);
    const sending = {
      channel: channelAt(radio, atMs),
      seed: radio.seed,
      share: data + retries,
      beaconUs: beaconUsOf(radio),
      beacons: radio.networks.length,
    };
    // One that began in the wave before belongs to that.
    pieces.push(...framesOf(sending, from, to).filter((piece) => piece.fromUs >= at || at <= fromUs));
  }
  return pieces;
}

export const signalPieces = ({ source }: AirSignal, fromUs: number, toUs: number): Piece[] => piecesOf(source, fromUs, toUs);

/** Highest rate of a network, in Mb/s. */
export function highestMbps({ generation, streams }: Pick<Broadcast, 'generation' | 'streams'>, { band, widthMhz }: Channel): number | null {
  const phy = phyBetween(generation, generation, band);
  for (let mcs = HIGHEST_MCS[phy]; mcs >= 0; mcs--) {
    const mbps = rateMbps(phy, widthMhz, mcs, streams);
    if (mbps !== null) return mbps;
  }
  return null;
}

/** The radio's channel as it is scanned for: beacons are on the primary. */
export const primaryOf = (band: Band, primary: number): Channel => ({ band, primary, widthMhz: 20 });

/** Whether two channels lie over one another, in whole or in part. */
export const overlaps = (a: Channel, b: Channel): boolean =>
  a.band === b.band && channelExists(a) && channelExists(b) && Math.abs(centreMhz(a) - centreMhz(b)) < (a.widthMhz + b.widthMhz) / 2;
