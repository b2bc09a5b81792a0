import type { WidthMhz } from '../radio/band';
import { channelExists, middlePowerDbm, type Channel } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import type { Generation } from '../radio/rates';
import { sharingOf } from '../radio/sharing';
import { dbmFromMw, mwFromDbm } from '../units/decibel';
import { disturbedMw, NO_DISTURBERS, type Disturber } from './disturber';
import { compiledKernel, type Kernel } from './kernel/kernel';
import { kernelTopThree } from './kernel/strongest';

/** A radio that is on, with its loss field, made at its band's middle: what the combining pass needs. Its levels are `middlePowerDbm` less that loss. */
export type LitRadio = Readonly<{
  key: string;
  name: string;
  txPowerDbm: number;
  channel: Channel;
  streams: number;
  generation: Generation;
  lossDb: Float32Array;
}>;

/**
 * The strongest three radios of every cell. `level` holds three planes of dBm one after another (strongest, second, third), -Infinity
 * where there are fewer radios; `radio` holds the indices likewise, -1 where none.
 */
export type TopThree = Readonly<{ cells: number; level: Float32Array; radio: Int16Array }>;

/** Empty result to merge radios into. */
export function newTopThree(cells: number): TopThree {
  return { cells, level: new Float32Array(cells * 3).fill(-Infinity), radio: new Int16Array(cells * 3).fill(-1) };
}

/** Merges one radio into `top` in one pass over memory. The radio with the lower index keeps its place on equal levels. */
export function mergeRadio(top: TopThree, sent: Pick<LitRadio, 'lossDb' | 'txPowerDbm' | 'channel'>, index: number): void {
  const { lossDb } = sent;
  const { cells, level, radio } = top;
  const second = cells;
  const third = cells * 2;
  const power = Math.fround(middlePowerDbm(sent));
  for (let i = 0; i < cells; i++) {
    // As the kernel computes: what is compared is what is kept.
    const rssiDbm = Math.fround(power - lossDb[i]!);
    if (!(rssiDbm > level[third + i]!)) continue;
    if (rssiDbm > level[i]!) {
      level[third + i] = level[second + i]!;
      radio[third + i] = radio[second + i]!;
      level[second + i] = level[i]!;
      radio[second + i] = radio[i]!;
      level[i] = rssiDbm;
      radio[i] = index;
    } else if (rssiDbm > level[second + i]!) {
      level[third + i] = level[second + i]!;
      radio[third + i] = radio[second + i]!;
      level[second + i] = rssiDbm;
      radio[second + i] = index;
    } else {
      level[third + i] = rssiDbm;
      radio[third + i] = index;
    }
  }
}

/** Fewer cells than this are not worth the kernel's while: a spot is one. */
const FEW_CELLS = 256;

/** The strongest three of all radios at every cell. @param kernel what does it; null for TypeScript, which gives the same */
export function topThree(
  radios: readonly Pick<LitRadio, 'lossDb' | 'txPowerDbm' | 'channel'>[],
  cells: number,
  kernel: Kernel | null = cells < FEW_CELLS ? null : compiledKernel(),
): TopThree {
  const top = newTopThree(cells);
  if (kernel === null) radios.forEach((radio, index) => mergeRadio(top, radio, index));
  else kernelTopThree(kernel, radios, cells, top);
  return top;
}

/** Signal of the n-th strongest radio (0, 1, 2) in dBm; NaN below `ignoreBelowDbm` or where none is heard. */
export function signalInto(top: TopThree, rank: 0 | 1 | 2, ignoreBelowDbm: number, out: Float32Array): void {
  const from = rank * top.cells;
  for (let i = 0; i < top.cells; i++) {
    const level = top.level[from + i]!;
    out[i] = level >= ignoreBelowDbm ? level : NaN;
  }
}

/** SNR of the strongest radio in dB: its level less the noise in its own width, with what disturbers put into it; NaN where none is heard. */
export function snrInto(
  top: TopThree,
  radios: readonly LitRadio[],
  noiseFigureDb: number,
  ignoreBelowDbm: number,
  out: Float32Array,
  disturbers: readonly Disturber[] = NO_DISTURBERS,
): void {
  const noise = Float64Array.from(radios, ({ channel }) => noiseDbm(channel.band, channel.widthMhz, noiseFigureDb));
  if (disturbers.length > 0) {
    const floorMw = noise.map(mwFromDbm);
    for (let i = 0; i < top.cells; i++) {
      const [level, s] = [top.level[i]!, top.radio[i]!];
      out[i] = level >= ignoreBelowDbm ? level - dbmFromMw(floorMw[s]! + disturbedMw(disturbers, s, i)) : NaN;
    }
    return;
  }
  for (let i = 0; i < top.cells; i++) {
    const level = top.level[i]!;
    out[i] = level >= ignoreBelowDbm ? level - noise[top.radio[i]!]! : NaN;
  }
}

/** Kind of the strongest radio at each cell, by each radio's `kindIndex`; NaN where none is heard. */
export function kindsInto(top: TopThree, kindIndex: ArrayLike<number>, ignoreBelowDbm: number, out: Float32Array): void {
  for (let i = 0; i < top.cells; i++) out[i] = top.level[i]! >= ignoreBelowDbm ? kindIndex[top.radio[i]!]! : NaN;
}

/**
 * From which level at a client each other radio takes airtime from the one that serves it: n x n, at [server * n + other]. -Infinity where
 * the serving antenna itself hears the other, so that it takes airtime from every client; Infinity where it never does.
 * `levelAtDbm[s * n + j]` is the level of radio j at the antenna of radio s.
 */
export const airtimeLimits = (radios: readonly { channel: Channel }[], levelAtDbm: Float32Array): Float64Array =>
  limitsOf(radios, levelAtDbm, (serving, other) => sharingOf(serving, other).airtimeFromDbm);

/**
 * As `airtimeLimits`, but if each serving radio used `widthMhz` around its primary channel, and for taking airtime or width. NaN at
 * [server * n + server] where there is no such channel.
 */
export function widthLimits(radios: readonly { channel: Channel }[], levelAtDbm: Float32Array, widthMhz: WidthMhz): Float64Array {
  const wide = radios.map(({ channel }) => ({ ...channel, widthMhz }));
  const limits = limitsOf(radios, levelAtDbm, (_serving, other, s) => {
    if (!channelExists(wide[s]!)) return Infinity;
    const { airtimeFromDbm, widthFromDbm } = sharingOf(wide[s]!, other);
    return Math.min(airtimeFromDbm, widthFromDbm);
  });
  wide.forEach((channel, s) => channelExists(channel) || (limits[s * (radios.length + 1)] = NaN));
  return limits;
}

function limitsOf(
  radios: readonly { channel: Channel }[],
  levelAtDbm: Float32Array,
  fromDbm: (serving: Channel, other: Channel, s: number) => number,
): Float64Array {
  const n = radios.length;
  const limits = new Float64Array(n * n).fill(Infinity);
  for (let s = 0; s < n; s++) {
    for (let j = 0; j < n; j++) {
      if (s === j) continue;
      const from = fromDbm(radios[s]!.channel, radios[j]!.channel, s);
      limits[s * n + j] = levelAtDbm[s * n + j]! >= from ? -Infinity : from;
    }
  }
  return limits;
}

/**
 * How many other radios the serving radio or its client shares with at each cell, by `limits`; NaN where none serves.
 * @param met where given, n x n: adds 1 at [server * n + other] for each cell of the mask
 */
export function sharersInto(
  top: TopThree,
  radios: readonly LitRadio[],
  limits: Float64Array,
  ignoreBelowDbm: number,
  out: Float32Array,
  met: Float64Array | null = null,
  mask: Uint8Array | null = null,
): void {
  const n = radios.length;
  const powers = Float64Array.from(radios, middlePowerDbm);
  // Most pairs never share, or share everywhere the one serves: those are settled once.
  const everywhere = new Int32Array(n);
  const some = radios.map((_, s) => Int32Array.from(radios.keys()).filter((j) => Number.isFinite(limits[s * n + j]!)));
  for (let at = 0; at < n * n; at++) if (limits[at] === -Infinity) everywhere[Math.floor(at / n)]!++;
  const cells = new Float64Array(n);
  for (let i = 0; i < top.cells; i++) {
    const s = top.radio[i]!;
    if (!(top.level[i]! >= ignoreBelowDbm) || limits[s * n + s] !== Infinity) {
      out[i] = NaN;
      continue;
    }
    const counted = met !== null && (mask === null || mask[i] === 1);
    if (counted) cells[s]!++;
    let count = everywhere[s]!;
    const own = some[s]!;
    for (let k = 0; k < own.length; k++) {
      const j = own[k]!;
      if (powers[j]! - radios[j]!.lossDb[i]! < limits[s * n + j]!) continue;
      count++;
      if (counted) met[s * n + j]!++;
    }
    out[i] = count;
  }
  if (met !== null) for (let at = 0; at < n * n; at++) if (limits[at] === -Infinity) met[at]! += cells[Math.floor(at / n)]!;
}
