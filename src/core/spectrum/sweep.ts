import { UpperRoomError } from '../errors';
import { hashText } from '../random';
import { mwFromDbm } from '../units/decibel';
import { filtered, NOISE_BANDWIDTH, passes } from './shape';
import type { Piece } from './signal';

/** Something that arrives at the receiver: how strong, over all of its spectrum, and when. */
export type Received = Readonly<{ levelDbm: number; pieces: (fromUs: number, toUs: number) => readonly Piece[] }>;

/**
 * A swept receiver: it goes from `startMhz` to `stopMhz` in `sweepMs`, bin after bin, and lets through what is within its resolution bandwidth. `detector`: of what a bin sees while the
 * receiver is there, the strongest or the mean.
 */
export type SweepSetting = Readonly<{ startMhz: number; stopMhz: number; bins: number; rbwKhz: number; sweepMs: number; detector: 'peak' | 'mean' }>;

export const SWEEP_LIMITS = {
  mhz: { min: 2300, max: 7200 },
  spanMhz: { min: 0.5, max: 1300 },
  bins: { min: 50, max: 4000 },
  rbwKhz: { min: 10, max: 3000 },
  sweepMs: { min: 1, max: 10_000 },
} as const;

/** Noise figure of the swept receiver, in dB. */
export const SWEPT_NOISE_FIGURE_DB = 12;
/** Stronger than this its input is driven too hard and reads no more, in dBm. */
export const OVERLOAD_DBM = 0;

/**
 * The shortest time for a span at a resolution bandwidth, in ms: a filter needs the time to rise, so that half the bandwidth takes four times as long: 2.5 span / RBW^2, the usual rule for
 * bell-shaped filters.
 */
export const leastSweepMs = ({ startMhz, stopMhz, rbwKhz }: Pick<SweepSetting, 'startMhz' | 'stopMhz' | 'rbwKhz'>): number =>
  (1e3 * 2.5 * (stopMhz - startMhz) * 1e6) / (rbwKhz * 1e3) ** 2;

/** What the receiver reads where nothing is on the air, in dBm: thermal noise in the resolution filter and its noise figure. */
export const floorDbm = (rbwKhz: number): number => -174 + 10 * Math.log10(rbwKhz * 1e3 * NOISE_BANDWIDTH) + SWEPT_NOISE_FIGURE_DB;

/** Centre of a bin, in MHz. */
export const binMhz = ({ startMhz, stopMhz, bins }: Pick<SweepSetting, 'startMhz' | 'stopMhz' | 'bins'>, bin: number): number =>
  startMhz + ((bin + 0.5) / bins) * (stopMhz - startMhz);

/** @throws UpperRoomError SWEEP_REFUSED with what is wrong with a setting */
export function checkSweep(setting: SweepSetting): void {
  const { startMhz, stopMhz, bins, rbwKhz, sweepMs } = setting;
  const span = stopMhz - startMhz;
  const refuse = (why: string) => {
    throw new UpperRoomError('SWEEP_REFUSED', { why });
  };
  const within = (value: number, { min, max }: { min: number; max: number }) => value >= min && value <= max;
  if (![startMhz, stopMhz, bins, rbwKhz, sweepMs].every(Number.isFinite)) refuse('a value is missing');
  if (!within(startMhz, SWEEP_LIMITS.mhz) || !within(stopMhz, SWEEP_LIMITS.mhz))
    refuse(`start and stop lie between ${SWEEP_LIMITS.mhz.min} and ${SWEEP_LIMITS.mhz.max} MHz`);
  if (!within(span, SWEEP_LIMITS.spanMhz)) refuse(`the span is ${SWEEP_LIMITS.spanMhz.min} to ${SWEEP_LIMITS.spanMhz.max} MHz`);
  if (!Number.isInteger(bins) || !within(bins, SWEEP_LIMITS.bins)) refuse(`there are ${SWEEP_LIMITS.bins.min} to ${SWEEP_LIMITS.bins.max} bins`);
  if (!within(rbwKhz, SWEEP_LIMITS.rbwKhz)) refuse(`the RBW is ${SWEEP_LIMITS.rbwKhz.min} to ${SWEEP_LIMITS.rbwKhz.max} kHz`);
  if (rbwKhz / 1e3 > span) refuse('the RBW is wider than the span');
  if (!within(sweepMs, SWEEP_LIMITS.sweepMs)) refuse(`a sweep takes ${SWEEP_LIMITS.sweepMs.min} to ${SWEEP_LIMITS.sweepMs.max} ms`);
  if (sweepMs < leastSweepMs(setting) * (1 - 1e-9)) refuse(`at this RBW a sweep takes ${Math.ceil(leastSweepMs(setting) * 10) / 10} ms or more`);
}

/**
 * One sweep that begins at `fromUs`: the level in each bin, in dBm. A bin sees only what is on the air while the receiver passes it, so that a short burst elsewhere is missed; noise and
 * signals flicker as much as so short a look makes them.
 * @throws UpperRoomError SWEEP_REFUSED
 */
export function sweep(setting: SweepSetting, sources: readonly Received[], fromUs: number, seed: number): Float32Array {
  checkSweep(setting);
  const { startMhz, stopMhz, bins, rbwKhz, sweepMs, detector } = setting;
  const rbwMhz = rbwKhz / 1e3;
  const stepMhz = (stopMhz - startMhz) / bins;
  const binUs = (sweepMs * 1e3) / bins;
  const totalMw = new Float64Array(bins).fill(mwFromDbm(floorDbm(rbwKhz)));
  const one = new Float64Array(bins);
  for (const { levelDbm, pieces } of sources) {
    const mw = mwFromDbm(levelDbm);
    let [low, high] = [bins, -1];
    for (const { fromUs: from, toUs: to, fromMhz, toMhz, shape } of pieces(fromUs, fromUs + sweepMs * 1e3)) {
      const through = filtered(shape, rbwMhz);
      const first = Math.max(0, Math.floor((from - fromUs) / binUs), Math.floor((Math.min(fromMhz, toMhz) - through.reachMhz - startMhz) / stepMhz));
      const last = Math.min(
        bins - 1,
        Math.ceil((to - fromUs) / binUs) - 1,
        Math.ceil((Math.max(fromMhz, toMhz) + through.reachMhz - startMhz) / stepMhz),
      );
      for (let b = first; b <= last; b++) {
        const begins = fromUs + b * binUs;
        const [seenFrom, seenTo] = [Math.max(from, begins), Math.min(to, begins + binUs)];
        const seen = seenTo - seenFrom;
        if (!(seen > 0)) continue;
        const centre = fromMhz === toMhz ? fromMhz : fromMhz + ((toMhz - fromMhz) * ((seenFrom + seenTo) / 2 - from)) / (to - from);
        const power = mw * passes(through, startMhz + (b + 0.5) * stepMhz - centre);
        if (detector === 'mean') one[b]! += (power * seen) / binUs;
        else if (power > one[b]!) one[b] = power;
      }
      low = Math.min(low, first);
      high = Math.max(high, last);
    }
    for (let b = low; b <= high; b++) {
      totalMw[b]! += one[b]!;
      one[b] = 0;
    }
  }
  // The mean of n independent looks at noise-like power spreads by 4.34 / sqrt(n) dB.
  const spreadDb = 4.34 / Math.sqrt(Math.max(1, binUs * rbwMhz));
  let state = hashText(`${seed}/${Math.round(fromUs)}`);
  const levels = new Float32Array(bins);
  for (let b = 0; b < bins; b++) {
    // The sum of four even numbers, near enough a normal one, of deviation 1.
    let sum = 0;
    for (let k = 0; k < 4; k++) {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      sum += state / 4294967296;
    }
    levels[b] = Math.min(OVERLOAD_DBM, 10 * Math.log10(totalMw[b]!) + spreadDb * (sum - 2) * Math.sqrt(3));
  }
  return levels;
}
