import type { Burst, Look } from './bursts';
import { ADVERTISING_MHZ, HOP_CHANNELS, MAINS_US, type SignalKind } from './signal';

/** What is measured of some bursts and held against a kind. */
export const FEATURES = [
  'width',
  'flat',
  'length',
  'duty',
  'perSecond',
  'mainsLock',
  'wander',
  'places',
  'advertisingShare',
  'rhythm',
  'noRhythm',
  'raster',
] as const;
export type Feature = (typeof FEATURES)[number];

export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

/** How well starts fall on one place of a cycle: 1 all on the same, 0 anywhere. */
export function lockOf(starts: readonly number[], cycleUs: number): number {
  let [x, y] = [0, 0];
  for (const start of starts) {
    x += Math.cos((2 * Math.PI * start) / cycleUs);
    y += Math.sin((2 * Math.PI * start) / cycleUs);
  }
  return starts.length === 0 ? 0 : Math.hypot(x, y) / starts.length;
}

/** As `lockOf`, of all the time that some bursts are on the air, cut or not: what is on for a share s of each cycle comes to sin(pi s) / (pi s). */
export function timeLockOf(bursts: readonly Burst[], cycleUs: number): number {
  const turn = (2 * Math.PI) / cycleUs;
  let [x, y, sum] = [0, 0, 0];
  for (const { fromUs, lengthUs } of bursts) {
    // The phase within the cycle: times of a day are too large for the sine of an angle.
    const [from, to] = [(fromUs % cycleUs) * turn, ((fromUs % cycleUs) + lengthUs) * turn];
    x += (Math.sin(to) - Math.sin(from)) / turn;
    y += (Math.cos(from) - Math.cos(to)) / turn;
    sum += lengthUs;
  }
  return sum === 0 ? 0 : Math.hypot(x, y) / sum;
}

/** Share of a look's time in which at least one of some bursts is on the air. */
export function dutyOf(bursts: readonly Burst[], { forUs }: Pick<Look, 'forUs'>): number {
  let [sum, until] = [0, -Infinity];
  for (const { fromUs, lengthUs } of bursts) {
    const to = fromUs + lengthUs;
    sum += Math.max(0, to - Math.max(fromUs, until));
    until = Math.max(until, to);
  }
  return Math.min(1, sum / forUs);
}

const places = (bursts: readonly Burst[]): number => new Set(bursts.map(({ centreMhz }) => Math.round(centreMhz))).size;
const nearest = (mhz: number, rasterMhz: number, firstMhz: number): number =>
  Math.abs(mhz - firstMhz - rasterMhz * Math.round((mhz - firstMhz) / rasterMhz));

/** About 0, within a deviation: beyond it is against. Numbers that may lie between two ends are 0 there. */
const about = (value: number, usual: number, deviation: number): [number, number] => [usual, (value - usual) / deviation];
const between = (value: number, low: number, high: number, deviation: number): [number, number] =>
  value < low ? [low, (value - low) / deviation] : value > high ? [high, (value - high) / deviation] : [value, 0];

/**
 * How a kind is told: which bursts may be its own, how many are needed, and what is measured of them. Deviations are what the simulated receiver shows of the kind from scene to scene.
 */
export type Profile = Readonly<{
  own: (burst: Burst, look: Look) => boolean;
  /** Of the bursts that may be its own those that are; where one transmitter stays on its frequency, those of the frequency with most of the time. */
  fixed: boolean;
  /** Whether bursts that were cut speak too. */
  cuts?: true;
  least: number;
  measured: (bursts: readonly Burst[], look: Look) => ReadonlyArray<readonly [Feature, number, [number, number]]>;
}>;

export const lasts = ({ lengthUs }: Burst, { forUs }: Look): boolean => lengthUs >= 0.6 * forUs;
const seconds = ({ forUs }: Look): number => forUs / 1e6;
const starts = (bursts: readonly Burst[]): number[] => bursts.map(({ fromUs }) => fromUs);
const short = ({ widthMhz, lengthUs }: Burst): boolean => widthMhz <= 3 && lengthUs >= 250 && lengthUs <= 550;
const onAdvertising = (bursts: readonly Burst[]): number =>
  bursts.filter(({ centreMhz }) => ADVERTISING_MHZ.some((mhz) => Math.abs(centreMhz - mhz) <= 1.2)).length / bursts.length;
const continuous = (bursts: readonly Burst[], look: Look) => {
  const duty = dutyOf(bursts, look);
  return ['duty', duty, between(duty, 0.9, 1, 0.1)] as const;
};

export const PROFILES: Readonly<Record<SignalKind, Profile>> = {
  oven: {
    own: ({ widthMhz, lengthUs, centreMhz }) => widthMhz >= 2 && widthMhz <= 26 && lengthUs >= 1000 && lengthUs <= 12_000 && centreMhz < 2500,
    fixed: false,
    cuts: true,
    least: 15,
    measured: (bursts, look) => {
      const lock = Math.max(timeLockOf(bursts, MAINS_US), timeLockOf(bursts, (5 * MAINS_US) / 6));
      const duty = dutyOf(bursts, look);
      const wander = median(bursts.map(({ wentMhz }) => wentMhz));
      return [
        ['mainsLock', lock, between(lock, 0.6, 1, 0.1)],
        ['duty', duty, between(duty, 0.08, 0.5, 0.05)],
        ['wander', wander, between(wander, 5, 30, 1.5)],
      ];
    },
  },
  hopper: {
    own: short,
    fixed: false,
    least: 40,
    measured: (bursts, look) => {
      const [rate, length] = [bursts.length / seconds(look), median(bursts.map(({ lengthUs }) => lengthUs))];
      const [seen, expected] = [places(bursts), HOP_CHANNELS * (1 - Math.exp(-bursts.length / HOP_CHANNELS))];
      return [
        ['places', seen, between(seen, Math.min(expected * 0.85, 50), 85, 8)],
        ['length', length, about(length, 400, 60)],
        ['perSecond', rate, between(rate, 500, 1700, 250)],
      ];
    },
  },
  advertising: {
    own: short,
    fixed: false,
    least: 6,
    measured: (bursts, look) => {
      const [rate, length, share] = [bursts.length / seconds(look), median(bursts.map(({ lengthUs }) => lengthUs)), onAdvertising(bursts)];
      return [
        ['advertisingShare', share, between(share, 0.95, 1, 0.08)],
        ['length', length, about(length, 400, 60)],
        ['perSecond', rate, between(rate, 15, 600, 6)],
      ];
    },
  },
  carrier: {
    own: (burst, look) => lasts(burst, look) && burst.widthMhz <= 2.5,
    fixed: true,
    least: 1,
    measured: (bursts, look) => {
      const width = median(bursts.map(({ widthMhz }) => widthMhz));
      return [['width', width, between(width, 0, 1.5, 0.4)], continuous(bursts, look)];
    },
  },
  'analogue-video': {
    own: (burst, look) => lasts(burst, look) && burst.widthMhz >= 5 && burst.widthMhz <= 30,
    fixed: true,
    least: 1,
    measured: (bursts, look) => {
      const [width, flat] = [median(bursts.map(({ widthMhz }) => widthMhz)), median(bursts.map((burst) => burst.flat))];
      return [['width', width, about(width, 8.6, 1.4)], ['flat', flat, about(flat, 0.56, 0.1)], continuous(bursts, look)];
    },
  },
  'digital-video': {
    own: (burst, look) => lasts(burst, look) && burst.widthMhz >= 5 && burst.widthMhz <= 30,
    fixed: true,
    least: 1,
    measured: (bursts, look) => {
      const [width, flat] = [median(bursts.map(({ widthMhz }) => widthMhz)), median(bursts.map((burst) => burst.flat))];
      return [['width', width, between(width, 7, 9, 1)], ['flat', flat, between(flat, 0.9, 1, 0.1)], continuous(bursts, look)];
    },
  },
  phone: {
    own: ({ widthMhz, lengthUs }) => widthMhz >= 0.9 && widthMhz <= 4 && lengthUs >= 2000 && lengthUs <= 2900,
    fixed: true,
    least: 12,
    measured: (bursts, look) => {
      const [rate, length, rhythm] = [bursts.length / seconds(look), median(bursts.map(({ lengthUs }) => lengthUs)), lockOf(starts(bursts), 5000)];
      return [
        ['rhythm', rhythm, between(rhythm, 0.9, 1, 0.1)],
        ['length', length, about(length, 2450, 120)],
        ['perSecond', rate, between(rate, 25, 205, 10)],
      ];
    },
  },
  sensor: {
    own: ({ widthMhz, lengthUs, centreMhz }) => widthMhz >= 0.9 && widthMhz <= 5 && lengthUs >= 1200 && lengthUs <= 4600 && centreMhz < 2500,
    fixed: true,
    least: 4,
    measured: (bursts, look) => {
      const rate = bursts.length / seconds(look);
      const rhythm = lockOf(starts(bursts), 5000);
      const length = median(bursts.map(({ lengthUs }) => lengthUs));
      const wander = median(bursts.map(({ wentMhz }) => wentMhz));
      const width = median(bursts.map(({ widthMhz }) => widthMhz));
      const raster = nearest(median(bursts.map(({ centreMhz }) => centreMhz)), 5, 2405);
      return [
        ['noRhythm', rhythm, between(rhythm, 0, 0.6, 0.12)],
        ['length', length, between(length, 1500, 4400, 300)],
        ['perSecond', rate, between(rate, 4, 40, 8)],
        ['raster', raster, between(raster, 0, 0.8, 0.5)],
        // It stays where it is, and is as wide as its chips.
        ['wander', wander, between(wander, 0, 0.75, 0.4)],
        ['width', width, about(width, 2.4, 0.5)],
      ];
    },
  },
  noise: {
    own: (burst, look) => lasts(burst, look) && burst.widthMhz > 30,
    fixed: true,
    least: 1,
    measured: (bursts, look) => {
      const width = median(bursts.map(({ widthMhz }) => widthMhz));
      return [['width', width, between(width, 40, 200, 8)], continuous(bursts, look)];
    },
  },
  radar: {
    own: ({ lengthUs, widthMhz, centreMhz }) => lengthUs <= 110 && widthMhz <= 6 && centreMhz > 5000,
    fixed: true,
    least: 8,
    measured: (bursts) => {
      const rhythm = lockOf(starts(bursts), 1000);
      const length = median(bursts.map(({ lengthUs }) => lengthUs));
      return [
        ['rhythm', rhythm, between(rhythm, 0.85, 1, 0.1)],
        ['length', length, between(length, 0, 60, 30)],
      ];
    },
  },
};
