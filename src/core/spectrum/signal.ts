import { hashText, seeded } from '../random';
import { bell, block, chips, picture, shareBetween, type Shape } from './shape';

/** Kinds of signal that are not Wi-Fi. */
export const SIGNAL_KINDS = [
  'oven',
  'hopper',
  'carrier',
  'analogue-video',
  'digital-video',
  'phone',
  'sensor',
  'advertising',
  'noise',
  'radar',
] as const;
export type SignalKind = (typeof SIGNAL_KINDS)[number];

/** Hours of the day, from and to, in h. */
export type Hours = readonly (readonly [number, number])[];

/** A signal's transmitter as such: what it is, where in the spectrum, when of the day, and its seed. Without hours it is always on. */
export type SignalSource = Readonly<{
  kind: SignalKind;
  centreMhz: number;
  seed: number;
  hours: Hours;
  /** Within its hours it works for `onS` of every `everyS` seconds; all of the time where nothing is said. */
  works?: Readonly<{ onS: number; everyS: number }> | undefined;
}>;

/** A stretch of time in which a signal is on the air, in us, with its centre at the beginning and at the end. */
export type Piece = Readonly<{ fromUs: number; toUs: number; fromMhz: number; toMhz: number; shape: Shape }>;

export const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;

/** Whether a time of some day lies in the hours. Hours that end before they begin go over midnight. */
export function inHours(hours: Hours, atMs: number): boolean {
  if (hours.length === 0) return true;
  const hour = (((atMs % DAY_MS) + DAY_MS) % DAY_MS) / HOUR_MS;
  return hours.some(([from, to]) => (from <= to ? hour >= from && hour < to : hour >= from || hour < to));
}

/** Whether a source works at a time, in ms since some midnight. */
export function worksAt({ hours, works, seed }: Pick<SignalSource, 'hours' | 'works' | 'seed'>, atMs: number): boolean {
  if (!inHours(hours, atMs)) return false;
  if (works === undefined) return true;
  const everyMs = works.everyS * 1000;
  return (((atMs + (seed % everyMs)) % everyMs) + everyMs) % everyMs < works.onS * 1000;
}

/** Mains of 50 Hz: the seed's time within the cycle, the length of a cycle, and how much of it an oven radiates, with a half-wave rectifier and one tube. */
export const MAINS_US = 20_000;
const OVEN_ON_US = 8_800;
/** An oven's frequency goes up as the tube's current rises and comes back, within some 15 MHz in a half cycle: parts in which it is drawn. */
const OVEN_PARTS = 8;
const OVEN_SWING_MHZ = 14;

/** Slots of a hopper: 625 us, of which a packet takes 366, on 79 channels of 1 MHz from 2402 MHz (Bluetooth Core, volume 2, part B, 2 and 6.5). */
export const HOP_SLOT_US = 625;
const HOP_ON_US = 366;
export const HOP_CHANNELS = 79;
/** Advertising channels of the low-energy kind, in MHz, and an advertisement on each of 31 octets at 1 Mb/s (Bluetooth Core, volume 6, part B, 1.4 and 2.3). */
export const ADVERTISING_MHZ = [2402, 2426, 2480] as const;
const ADVERTISING_US = 376;
const ADVERTISING_EVERY_US = 100_000;
/** A frame of a low-rate network: up to 133 octets with preamble at 250 kb/s, chips at 2 MHz (IEEE 802.15.4-2020, 12). */
const SENSOR_FRAME_US = 4256;
/** A phone with direct sequence: a frame of 10 ms in which the two ends speak in turn. */
const PHONE_FRAME_US = 10_000;
const PHONE_ON_US = 2_400;

/** How the signal of a kind lies in the spectrum. */
export const SHAPE_OF: Readonly<Record<SignalKind, Shape>> = {
  oven: bell(5),
  hopper: bell(1),
  carrier: bell(0.2),
  'analogue-video': picture(17),
  'digital-video': block(8),
  phone: chips(1.35),
  sensor: chips(1.5),
  advertising: bell(1),
  noise: bell(90),
  radar: chips(0.5),
};

const SECOND_US = 1_000_000;
/** Less than this share of its power within: it is elsewhere. */
const LEAST_INSIDE = 1e-3;

/** How much of the time a signal is between two frequencies, and with what share of its power then, on the average over a second. */
export function presenceIn(source: SignalSource, fromMhz: number, toMhz: number, fromUs = 0): Readonly<{ busy: number; share: number }> {
  let [us, powerUs] = [0, 0];
  for (const piece of piecesOf(source, fromUs, fromUs + SECOND_US)) {
    const at = (piece.fromMhz + piece.toMhz) / 2;
    const inside = shareBetween(piece.shape, fromMhz - at, toMhz - at);
    if (inside < LEAST_INSIDE) continue;
    const length = Math.min(piece.toUs, fromUs + SECOND_US) - Math.max(piece.fromUs, fromUs);
    us += length;
    powerUs += length * inside;
  }
  return { busy: us / SECOND_US, share: us === 0 ? 0 : powerUs / us };
}

/**
 * Share of a signal's power that falls between two frequencies, on the average over a second in which it works: less the less of the time it is on, and the more of it is elsewhere. Of
 * what it sends while it is on.
 */
export function meanShareIn(kind: SignalKind, centreMhz: number, fromMhz: number, toMhz: number): number {
  const { busy, share } = presenceIn({ kind, centreMhz, seed: 1, hours: [] }, fromMhz, toMhz);
  return busy * share;
}

/**
 * How often and how long: what follows from the kind's standard or physics. Numbers between are by the seed, so that two of a kind are not the same. Times in us since some midnight;
 * asked again, or in parts, the answer is the same.
 */
export function piecesOf(source: SignalSource, fromUs: number, toUs: number): Piece[] {
  const { kind, seed, centreMhz } = source;
  const shape = SHAPE_OF[kind];
  const pieces: Piece[] = [];
  const add = (from: number, to: number, fromMhz: number, toMhz = fromMhz) => {
    if (to > fromUs && from < toUs && worksAt(source, from / 1000)) pieces.push({ fromUs: from, toUs: to, fromMhz, toMhz, shape });
  };
  /** Every one of a train's places in the time asked, beginning before it so that none is cut off. */
  const train = (everyUs: number, offsetUs: number, each: (n: number, startUs: number) => void) => {
    for (let n = Math.floor((fromUs - offsetUs) / everyUs) - 1; n * everyUs + offsetUs < toUs; n++) each(n, n * everyUs + offsetUs);
  };
  const chance = (n: number, what: string) => seeded(hashText(`${seed}/${what}/${n}`));
  switch (kind) {
    case 'oven':
      train(MAINS_US, seed % MAINS_US, (n, start) => {
        const slow = 2 * Math.sin(n / 60 + seed);
        for (let p = 0; p < OVEN_PARTS; p++) {
          const at = (x: number) => centreMhz + slow + OVEN_SWING_MHZ * (Math.sin((Math.PI * x) / OVEN_PARTS) - 0.5);
          const us = OVEN_ON_US / OVEN_PARTS;
          add(start + p * us, start + (p + 1) * us, at(p), at(p + 1));
        }
      });
      break;
    case 'hopper':
      train(HOP_SLOT_US, seed % HOP_SLOT_US, (n, start) => add(start, start + HOP_ON_US, 2402 + Math.floor(chance(n, 'hop')() * HOP_CHANNELS)));
      break;
    case 'carrier':
    case 'digital-video':
    case 'analogue-video':
    case 'noise': {
      // Always on: in stretches of a second, over which a carrier creeps a little.
      const creep = kind === 'carrier' ? 0.05 : 0;
      train(1_000_000, 0, (n, start) =>
        add(start, start + 1_000_000, centreMhz + creep * Math.sin(n / 30), centreMhz + creep * Math.sin((n + 1) / 30)),
      );
      break;
    }
    case 'phone':
      train(PHONE_FRAME_US, seed % PHONE_FRAME_US, (_, start) => {
        add(start, start + PHONE_ON_US, centreMhz);
        add(start + PHONE_FRAME_US / 2, start + PHONE_FRAME_US / 2 + PHONE_ON_US, centreMhz);
      });
      break;
    case 'sensor': {
      const everyUs = 60_000 + (seed % 40_000);
      train(everyUs, 0, (n, start) => {
        const uniform = chance(n, 'report');
        const at = start + uniform() * (everyUs - 2 * SENSOR_FRAME_US);
        add(at, at + SENSOR_FRAME_US * (0.35 + 0.65 * uniform()), centreMhz);
      });
      break;
    }
    case 'advertising':
      train(ADVERTISING_EVERY_US, seed % ADVERTISING_EVERY_US, (n, start) => {
        // Up to 10 ms later by chance each time (Bluetooth Core, volume 6, part B, 4.4.2.2).
        const at = start + chance(n, 'event')() * 10_000;
        ADVERTISING_MHZ.forEach((mhz, i) => add(at + i * 900, at + i * 900 + ADVERTISING_US, mhz));
      });
      break;
    case 'radar': {
      // As long as the antenna looks this way, 20 ms of each turn, a pulse of 2 us 1000 times a second (of the order of the test signals of EN 301 893, annex D).
      const turnUs = 2_400_000;
      train(turnUs, seed % turnUs, (_, start) => {
        for (let pulse = 0; pulse < 20; pulse++) add(start + pulse * 1000, start + pulse * 1000 + 2, centreMhz);
      });
      break;
    }
  }
  return pieces;
}
