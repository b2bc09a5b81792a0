import { CCA_PREAMBLE_DBM, noiseDbm } from '../radio/noise';
import { sharesPrimary } from '../radio/overlap';
import type { Channel } from '../radio/channel';

/** A radio that is on, with its loss field: what the combining pass needs. */
export type LitRadio = Readonly<{ key: string; name: string; txPowerDbm: number; channel: Channel; lossDb: Float32Array }>;

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
export function mergeRadio(top: TopThree, lossDb: Float32Array, txPowerDbm: number, index: number): void {
  const { cells, level, radio } = top;
  const second = cells;
  const third = cells * 2;
  for (let i = 0; i < cells; i++) {
    const rssiDbm = txPowerDbm - lossDb[i]!;
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

/** The strongest three of all radios at every cell. */
export function topThree(radios: readonly LitRadio[], cells: number): TopThree {
  const top = newTopThree(cells);
  radios.forEach((radio, index) => mergeRadio(top, radio.lossDb, radio.txPowerDbm, index));
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

/** SNR of the strongest radio in dB: its level less the noise in its own width; NaN where none is heard. */
export function snrInto(top: TopThree, radios: readonly LitRadio[], noiseFigureDb: number, ignoreBelowDbm: number, out: Float32Array): void {
  const noise = Float64Array.from(radios, ({ channel }) => noiseDbm(channel.band, channel.widthMhz, noiseFigureDb));
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
 * For each pair of radios, why they share airtime wherever the first one serves: 0 never (another primary), 1 where the client hears the
 * second, 2 everywhere (the serving antenna itself hears it above clear channel assessment).
 * `levelAtDbm[s * n + j]` is the level of radio j at the antenna of radio s. Radios of one access point (`siteOf`) on one primary always share.
 */
export function sharingOf(radios: readonly { channel: Channel }[], levelAtDbm: Float32Array): Uint8Array {
  const n = radios.length;
  const sharing = new Uint8Array(n * n);
  for (let s = 0; s < n; s++) {
    for (let j = 0; j < n; j++) {
      if (s === j || !sharesPrimary(radios[s]!.channel, radios[j]!.channel)) continue;
      sharing[s * n + j] = levelAtDbm[s * n + j]! >= CCA_PREAMBLE_DBM ? 2 : 1;
    }
  }
  return sharing;
}

/**
 * Contention: how many other radios the serving radio or its client must defer to at each cell; NaN where none serves.
 * A radio counts when it has the same primary channel and either end hears it at -82 dBm or more.
 */
export function contentionInto(top: TopThree, radios: readonly LitRadio[], sharing: Uint8Array, ignoreBelowDbm: number, out: Float32Array): void {
  const n = radios.length;
  for (let i = 0; i < top.cells; i++) {
    if (!(top.level[i]! >= ignoreBelowDbm)) {
      out[i] = NaN;
      continue;
    }
    const s = top.radio[i]!;
    let count = 0;
    for (let j = 0, at = s * n; j < n; j++, at++) {
      const how = sharing[at]!;
      if (how === 2 || (how === 1 && radios[j]!.txPowerDbm - radios[j]!.lossDb[i]! >= CCA_PREAMBLE_DBM)) count++;
    }
    out[i] = count;
  }
}
