import { middlePowerDbm } from '../radio/channel';
import { noiseDbm } from '../radio/noise';
import { sharingOf } from '../radio/sharing';
import { mwFromDbm } from '../units/decibel';
import type { LitRadio, TopThree } from './combine';
import { disturbedMw, NO_DISTURBERS, type Disturber } from './disturber';

const LN10_TENTH = Math.LN10 / 10;

/** What one radio does to a cell that another serves: the share of its power that falls inside, in dB, and from which level it is waited for instead. */
type Into = Readonly<{ shareDb: Float64Array; waitedFromDbm: Float64Array }>;

/**
 * For every serving radio and every other, at [server * n + other]; -Infinity dB where no spectrum is shared, or, where levels at antennas are given, the
 * antenna itself waits for the other.
 */
function intoOf(radios: readonly LitRadio[], levelAtDbm: Float32Array | null): Into {
  const n = radios.length;
  const shareDb = new Float64Array(n * n).fill(-Infinity);
  const waitedFromDbm = new Float64Array(n * n).fill(Infinity);
  for (let s = 0; s < n; s++) {
    for (let j = 0; j < n; j++) {
      if (j === s) continue;
      const { noiseShare, airtimeFromDbm, widthFromDbm } = sharingOf(radios[s]!.channel, radios[j]!.channel);
      const waitedFrom = Math.min(airtimeFromDbm, widthFromDbm);
      if (noiseShare === 0 || (levelAtDbm !== null && levelAtDbm[s * n + j]! >= waitedFrom)) continue;
      shareDb[s * n + j] = 10 * Math.log10(noiseShare);
      waitedFromDbm[s * n + j] = waitedFrom;
    }
  }
  return { shareDb, waitedFromDbm };
}

/**
 * Noise and interference in the serving radio's own channel at each cell, in dBm: the receiver's noise, what disturbers put into it, and of every other radio that neither end waits
 * for the share of its power that falls inside, all of them sending at once. NaN where nobody serves.
 * @param levelAtDbm level of radio j at the antenna of radio s, at [s * n + j]
 */
export function noiseInto(
  top: TopThree,
  radios: readonly LitRadio[],
  levelAtDbm: Float32Array,
  noiseFigureDb: number,
  ignoreBelowDbm: number,
  out: Float32Array,
  disturbers: readonly Disturber[] = NO_DISTURBERS,
): void {
  const n = radios.length;
  const { shareDb, waitedFromDbm } = intoOf(radios, levelAtDbm);
  const powers = Float64Array.from(radios, middlePowerDbm);
  const floorMw = Float64Array.from(radios, ({ channel }) => mwFromDbm(noiseDbm(channel.band, channel.widthMhz, noiseFigureDb)));
  for (let i = 0; i < top.cells; i++) {
    const s = top.radio[i]!;
    if (!(top.level[i]! >= ignoreBelowDbm)) {
      out[i] = NaN;
      continue;
    }
    let sumMw = floorMw[s]! + disturbedMw(disturbers, s, i);
    for (let j = 0, at = s * n; j < n; j++, at++) {
      if (shareDb[at] === -Infinity) continue;
      const dbm = powers[j]! - radios[j]!.lossDb[i]!;
      // The client waits for what it hears, and so do those that send to it.
      if (dbm < waitedFromDbm[at]!) sumMw += Math.exp((dbm + shareDb[at]!) * LN10_TENTH);
    }
    out[i] = 10 * Math.log10(sumMw);
  }
}

/** SINR of the serving radio in dB: its level less `noiseInto`. */
export function sinrInto(
  top: TopThree,
  radios: readonly LitRadio[],
  levelAtDbm: Float32Array,
  noiseFigureDb: number,
  ignoreBelowDbm: number,
  out: Float32Array,
  disturbers: readonly Disturber[] = NO_DISTURBERS,
): void {
  noiseInto(top, radios, levelAtDbm, noiseFigureDb, ignoreBelowDbm, out, disturbers);
  for (let i = 0; i < top.cells; i++) out[i] = top.level[i]! - out[i]!;
}

/**
 * Strongest other radio in the serving radio's channel at each cell, in dBm of what falls inside, waited for or not; `NO_INTERFERER_DBM` where no other
 * sends there, NaN where nobody serves.
 */
export function strongestOtherInto(top: TopThree, radios: readonly LitRadio[], ignoreBelowDbm: number, out: Float32Array): void {
  const n = radios.length;
  const { shareDb } = intoOf(radios, null);
  const powers = Float64Array.from(radios, middlePowerDbm);
  for (let i = 0; i < top.cells; i++) {
    const s = top.radio[i]!;
    if (!(top.level[i]! >= ignoreBelowDbm)) {
      out[i] = NaN;
      continue;
    }
    let most = NO_INTERFERER_DBM;
    for (let j = 0, at = s * n; j < n; j++, at++) {
      const dbm = powers[j]! - radios[j]!.lossDb[i]! + shareDb[at]!;
      if (dbm > most) most = dbm;
    }
    out[i] = most;
  }
}

/**
 * How severely the strongest other radio in the serving radio's channel disturbs at each cell while it sends, 0 to 100: the share of the SNR, in dB, that it
 * takes. 100 (SNR - SINR) / SNR, with the noise and that one radio in SINR; 100 where nothing is left, 0 where no other sends there. NaN where nobody serves, or where
 * the noise alone leaves no SNR.
 */
export function severityInto(top: TopThree, radios: readonly LitRadio[], noiseFigureDb: number, ignoreBelowDbm: number, out: Float32Array): void {
  strongestOtherInto(top, radios, ignoreBelowDbm, out);
  const noise = Float64Array.from(radios, ({ channel }) => noiseDbm(channel.band, channel.widthMhz, noiseFigureDb));
  for (let i = 0; i < top.cells; i++) {
    const other = out[i]!;
    if (Number.isNaN(other)) continue;
    const floorDbm = noise[top.radio[i]!]!;
    const snrDb = top.level[i]! - floorDbm;
    if (!(snrDb > 0)) out[i] = NaN;
    else if (other <= NO_INTERFERER_DBM) out[i] = 0;
    else out[i] = Math.min(100, (1000 * Math.log10(1 + mwFromDbm(other - floorDbm))) / snrDb);
  }
}

/** A radio in the serving radio's channel at a cell, and what of it falls inside, in dBm. */
export type Interferer = Readonly<{ radio: number; dbm: number }>;

/** All radios that send into the serving radio's channel at a cell, the strongest first: whose level `strongestOtherInto` shows there. */
export function interferersAt(top: TopThree, radios: readonly LitRadio[], cell: number): Interferer[] {
  const s = top.radio[cell]!;
  if (s < 0) return [];
  const { shareDb } = intoOf(radios, null);
  return radios
    .map((radio, j) => ({ radio: j, dbm: middlePowerDbm(radio) - radio.lossDb[cell]! + shareDb[s * radios.length + j]! }))
    .filter(({ dbm }) => dbm > NO_INTERFERER_DBM)
    .sort((a, b) => b.dbm - a.dbm);
}

/** Weaker than this nothing is told apart from nothing. */
export const NO_INTERFERER_DBM = -130;
