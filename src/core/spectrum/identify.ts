import type { Burst, Look } from './bursts';
import { ADVERTISING_MHZ, HOP_CHANNELS, MAINS_US, SIGNAL_KINDS, type SignalKind } from './signal';

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
  'spread',
] as const;
export type Feature = (typeof FEATURES)[number];

/** One measured number beside what the kind would show: how many of its usual deviations they are apart. */
export type Evidence = Readonly<{ feature: Feature; value: number; usual: number; off: number }>;

/** What is on the air, as far as it can be told: a kind and its likelihood, or not known. */
export type Identified = Readonly<{
  kind: SignalKind | 'not known';
  likelihood: number;
  evidence: readonly Evidence[];
  /** Of the bursts that it explains: how many, where, how strong while it is on the air, and the share of time. */
  bursts: number;
  centreMhz: number;
  fromMhz: number;
  toMhz: number;
  levelDbm: number;
  duty: number;
  /** The next best kind, and its likelihood. */
  second: Readonly<{ kind: SignalKind; likelihood: number }> | null;
}>;

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

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
type Profile = Readonly<{
  own: (burst: Burst, look: Look) => boolean;
  /** Of the bursts that may be its own those that are; where one transmitter stays on its frequency, those of the frequency with most of the time. */
  fixed: boolean;
  /** Whether bursts that were cut speak too. */
  cuts?: true;
  least: number;
  measured: (bursts: readonly Burst[], look: Look) => ReadonlyArray<readonly [Feature, number, [number, number]]>;
}>;

const lasts = ({ lengthUs }: Burst, { forUs }: Look): boolean => lengthUs >= 0.6 * forUs;
const seconds = ({ forUs }: Look): number => forUs / 1e6;
const starts = (bursts: readonly Burst[]): number[] => bursts.map(({ fromUs }) => fromUs);
const short = ({ widthMhz, lengthUs }: Burst): boolean => widthMhz <= 3 && lengthUs >= 250 && lengthUs <= 550;
const onAdvertising = (bursts: readonly Burst[]): number =>
  bursts.filter(({ centreMhz }) => ADVERTISING_MHZ.some((mhz) => Math.abs(centreMhz - mhz) <= 1.2)).length / bursts.length;
const continuous = (bursts: readonly Burst[], look: Look) => {
  const duty = dutyOf(bursts, look);
  return ['duty', duty, between(duty, 0.9, 1, 0.1)] as const;
};

const PROFILES: Readonly<Record<SignalKind, Profile>> = {
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

/** Frames of Wi-Fi that were not decoded: as wide as a channel, and never long (IEEE 802.11-2020, table 9-34: 5.484 ms at most). */
const isFrame = ({ widthMhz, lengthUs, wentMhz }: Burst): boolean => widthMhz >= 13 && lengthUs <= 5600 && wentMhz < 6;

/** Bursts less frames that were not decoded, and what of their skirts stood alone beside them: at the same time, near by and far weaker. */
function withoutFrames(bursts: readonly Burst[]): Burst[] {
  const frames = bursts.filter(isFrame);
  return bursts.filter(
    (burst) =>
      burst.levelDbm >= LEAST_DBM &&
      !isFrame(burst) &&
      !frames.some(
        (frame) =>
          burst.fromUs < frame.fromUs + frame.lengthUs &&
          burst.fromUs + burst.lengthUs > frame.fromUs &&
          burst.lengthUs <= frame.lengthUs + 100 &&
          burst.levelDbm < frame.levelDbm - 12 &&
          Math.abs(burst.centreMhz - frame.centreMhz) < 1.8 * frame.widthMhz,
      ),
  );
}

/** As likely as what is 3.3 deviations off: beyond, nothing known is it. */
const UNKNOWN = Math.exp(-0.5 * 3.3 ** 2);
/** Fainter bursts are as likely the flicker of distant networks. */
const LEAST_DBM = -88;
/** Something weaker than this share of the time and seen less often than this is not told. */
const LEAST_DUTY = 0.01;
const LEAST_BURSTS = 12;

function ofKind(kind: SignalKind, bursts: readonly Burst[], look: Look) {
  const { own, fixed, cuts, least, measured } = PROFILES[kind];
  let mine = bursts.filter((burst) => (!burst.cut || cuts === true || lasts(burst, look)) && own(burst, look));
  if (fixed && mine.length > 0) {
    // The frequency on which most of the time is.
    const time = new Map<number, number>();
    for (const { centreMhz, lengthUs } of mine) time.set(Math.round(centreMhz), (time.get(Math.round(centreMhz)) ?? 0) + lengthUs);
    const around = (mhz: number) => [mhz - 1, mhz, mhz + 1].reduce((sum, one) => sum + (time.get(one) ?? 0), 0);
    const at = [...time.keys()].reduce((best, mhz) => (around(mhz) > around(best) ? mhz : best));
    mine = mine.filter(({ centreMhz }) => Math.abs(centreMhz - at) <= 1.6);
  }
  if (mine.length < least) return null;
  const evidence = measured(mine, look).map(([feature, value, [usual, off]]): Evidence => ({
    feature,
    value,
    usual,
    off: Number.isFinite(off) ? off : 9,
  }));
  return { kind, mine, evidence, weight: Math.exp(-0.5 * evidence.reduce((sum, { off }) => sum + off ** 2, 0)) };
}

function describe(bursts: readonly Burst[], look: Look) {
  const edges = bursts.map(
    ({ centreMhz, widthMhz, wentMhz }) => [centreMhz - (widthMhz + wentMhz) / 2, centreMhz + (widthMhz + wentMhz) / 2] as const,
  );
  return {
    bursts: bursts.length,
    centreMhz: median(bursts.map(({ centreMhz }) => centreMhz)),
    fromMhz: edges.reduce((low, [from]) => Math.min(low, from), Infinity),
    toMhz: edges.reduce((high, [, to]) => Math.max(high, to), -Infinity),
    levelDbm: median(bursts.map(({ levelDbm }) => levelDbm)),
    duty: dutyOf(bursts, look),
  };
}

/**
 * What is on the air in a look: the likeliest kind takes the bursts that speak for it, what is left is looked at again, and what nothing known explains is said to be not known. Likelihoods
 * are of one kind against all others and none, for the bursts that it takes.
 */
export function identify(all: readonly Burst[], look: Look): Identified[] {
  const found: Identified[] = [];
  let left = withoutFrames(all);
  let kinds: readonly SignalKind[] = SIGNAL_KINDS;
  for (;;) {
    const candidates = kinds.flatMap((kind) => ofKind(kind, left, look) ?? []);
    const best = candidates.reduce<(typeof candidates)[number] | null>((top, one) => (top === null || one.weight > top.weight ? one : top), null);
    if (best === null || best.weight < UNKNOWN) break;
    // Only those that would take the same bursts stand against it.
    const mine = new Set(best.mine);
    const rivals = candidates.filter((one) => one.kind !== best.kind && one.mine.some((burst) => mine.has(burst)));
    const sum = best.weight + UNKNOWN + rivals.reduce((total, { weight }) => total + weight, 0);
    const second = rivals.reduce<(typeof rivals)[number] | null>((top, one) => (top === null || one.weight > top.weight ? one : top), null);
    found.push({
      kind: best.kind,
      likelihood: best.weight / sum,
      evidence: best.evidence,
      ...describe(best.mine, look),
      second: second === null ? null : { kind: second.kind, likelihood: second.weight / sum },
    });
    left = left.filter((burst) => !mine.has(burst));
    // What remains of one that comes and goes, or was cut by something else, is not another of its kind.
    kinds = kinds.filter((kind) => kind !== best.kind || PROFILES[kind].fixed);
    left = left.filter((burst) => !found.some((one) => leftover(burst, one)));
  }
  const rest = describe(
    left.filter(({ cut }) => !cut),
    look,
  );
  if (rest.duty >= LEAST_DUTY && rest.bursts >= LEAST_BURSTS) found.push({ kind: 'not known', likelihood: 1, evidence: [], ...rest, second: null });
  return found;
}

/** A piece that another signal, or a decoded frame, cut off from one that was told: within its frequencies, and no stronger. */
const leftover = ({ centreMhz, levelDbm }: Burst, one: Identified): boolean =>
  centreMhz >= one.fromMhz - 2 && centreMhz <= one.toMhz + 2 && levelDbm <= one.levelDbm + 6 && one.kind !== 'hopper' && one.kind !== 'advertising'
    ? true
    : one.kind === 'hopper' && levelDbm <= one.levelDbm + 6 && levelDbm >= one.levelDbm - 40;
