import { hashText } from '../random';
import { mwFromDbm } from '../units/decibel';
import { filtered, NOISE_BANDWIDTH, passes, type Shape } from './shape';
import type { Received } from './sweep';
import { SWEPT_NOISE_FIGURE_DB } from './sweep';

/** A look at all of a stretch of spectrum at once, again and again: it sees every burst, and is short for that. */
export type Look = Readonly<{ startMhz: number; stopMhz: number; stepMhz: number; everyUs: number; forUs: number }>;

/** Something that was on the air without a break. Cut: it may have gone on where nothing is known, before the look, after it, or behind a decoded frame. */
export type Burst = Readonly<{
  fromUs: number;
  lengthUs: number;
  centreMhz: number;
  /** How far its middle went while it lasted. */
  wentMhz: number;
  /** Width at 10 dB below its strongest cell, the median of its snapshots. */
  widthMhz: number;
  /** Its width at 3 dB below, in parts of that at 10 dB: near 1 for a flat top with steep sides. */
  flat: number;
  levelDbm: number;
  cut: boolean;
}>;

/** What is known to be a frame of Wi-Fi: it was decoded, and its cells are left out. */
export type Frame = Readonly<{ fromUs: number; toUs: number; fromMhz: number; toMhz: number }>;

/** A cell counts as on the air from so many dB above the noise. */
const ABOVE_NOISE_DB = 9;
/** Less than this part of the noise is left out. */
const LOST_IN_NOISE = 1e-3;

/**
 * The bursts in a look. The spectrum is seen in cells of `stepMhz` and `everyUs`; cells in which a frame was decoded are unknown, and what goes on behind them is taken to go on.
 */
export function burstsIn(look: Look, sources: readonly Received[], frames: readonly Frame[], fromUs: number, seed: number): Burst[] {
  const { startMhz, stopMhz, stepMhz, everyUs, forUs } = look;
  const cols = Math.round((stopMhz - startMhz) / stepMhz);
  const rows = Math.round(forUs / everyUs);
  const noiseMw = mwFromDbm(-174 + 10 * Math.log10(stepMhz * 1e6 * NOISE_BANDWIDTH) + SWEPT_NOISE_FIGURE_DB);
  const mw = new Float32Array(rows * cols);
  const row = new Float64Array(cols);
  for (const { levelDbm, pieces } of sources) {
    const power = mwFromDbm(levelDbm);
    /** What is in `row`: of which shape, about which frequency, and from which cell to which. */
    let [shape, about, lowest, highest]: [Shape | null, number, number, number] = [null, NaN, 0, -1];
    for (const piece of pieces(fromUs, fromUs + forUs)) {
      const first = Math.max(0, Math.floor((piece.fromUs - fromUs) / everyUs));
      const last = Math.min(rows - 1, Math.ceil((piece.toUs - fromUs) / everyUs) - 1);
      for (let r = first; r <= last; r++) {
        const from = Math.max(piece.fromUs, fromUs + r * everyUs);
        const to = Math.min(piece.toUs, fromUs + (r + 1) * everyUs);
        const seen = (to - from) / everyUs;
        if (!(seen > 0)) continue;
        const centre = piece.fromMhz + ((piece.toMhz - piece.fromMhz) * ((from + to) / 2 - piece.fromUs)) / (piece.toUs - piece.fromUs);
        if (shape !== piece.shape || centre !== about) {
          [shape, about] = [piece.shape, centre];
          const through = filtered(shape, stepMhz);
          lowest = Math.max(0, Math.floor((centre - through.reachMhz - startMhz) / stepMhz));
          highest = Math.min(cols - 1, Math.ceil((centre + through.reachMhz - startMhz) / stepMhz));
          for (let c = lowest; c <= highest; c++) row[c] = power * passes(through, startMhz + (c + 0.5) * stepMhz - centre);
          // What is far below the noise changes nothing.
          while (lowest <= highest && row[lowest]! < LOST_IN_NOISE * noiseMw) lowest++;
          while (highest >= lowest && row[highest]! < LOST_IN_NOISE * noiseMw) highest--;
        }
        for (let c = lowest, i = r * cols + lowest; c <= highest; c++, i++) mw[i]! += seen * row[c]!;
      }
    }
  }
  const unknown = new Uint8Array(rows * cols);
  for (const frame of frames) {
    const first = Math.max(0, Math.floor((frame.fromUs - fromUs) / everyUs));
    const last = Math.min(rows - 1, Math.ceil((frame.toUs - fromUs) / everyUs) - 1);
    const lowest = Math.max(0, Math.floor((frame.fromMhz - startMhz) / stepMhz));
    const highest = Math.min(cols - 1, Math.ceil((frame.toMhz - startMhz) / stepMhz) - 1);
    for (let r = first; r <= last; r++) for (let c = lowest; c <= highest; c++) unknown[r * cols + c] = 1;
  }
  // Noise flickers by as much as so short a look makes it.
  const spread = 1 / Math.sqrt(Math.max(1, everyUs * stepMhz));
  let state = hashText(`${seed}/look/${Math.round(fromUs)}`);
  const threshold = noiseMw * 10 ** (ABOVE_NOISE_DB / 10);
  for (let i = 0; i < mw.length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    mw[i] = (mw[i]! + noiseMw) * (1 + spread * (state / 2147483648 - 1));
  }
  return linked({ cols, rows, mw, unknown, threshold, look, fromUs });
}

type Cells = Readonly<{
  cols: number;
  rows: number;
  mw: Float32Array;
  unknown: Uint8Array;
  threshold: number;
  look: Look;
  fromUs: number;
}>;
type Open = {
  first: number;
  last: number;
  lowest: number;
  highest: number;
  centres: number[];
  widths: number[];
  sumMw: number;
  seen: number;
  beside: number;
};

/** Runs of cells above the threshold, linked from snapshot to snapshot where they overlap. */
function linked({ cols, rows, mw, unknown, threshold, look, fromUs }: Cells): Burst[] {
  const { startMhz, stepMhz, everyUs } = look;
  let open: Array<Open | null> = [];
  const closed: Open[] = [];
  for (let r = 0; r < rows; r++) {
    const row = r * cols;
    const next: Array<Open | null> = [];
    for (let c = 0; c < cols; c++) {
      if (mw[row + c]! < threshold || unknown[row + c] === 1) continue;
      let [end, peak, sum] = [c, c, 0];
      // Behind cells that are not known a run goes on where it is there again after them.
      for (let next = c; next < cols && (unknown[row + next] === 1 || mw[row + next]! >= threshold); next++) {
        if (unknown[row + next] === 1) continue;
        if (mw[row + next]! > mw[row + peak]!) peak = next;
        sum += mw[row + next]!;
        end = next + 1;
      }
      // The run as wide as it is 10 dB below its strongest cell.
      const least = mw[row + peak]! / 10;
      let [lowest, highest] = [peak, peak];
      while (lowest > c && (unknown[row + lowest - 1] === 1 || mw[row + lowest - 1]! >= least)) lowest--;
      while (highest < end - 1 && (unknown[row + highest + 1] === 1 || mw[row + highest + 1]! >= least)) highest++;
      while (unknown[row + lowest] === 1) lowest++;
      while (unknown[row + highest] === 1) highest--;
      const beside = unknown[row + c - 1] === 1 || unknown[row + end] === 1 || (r > 0 && unknown[row - cols + peak] === 1) ? 1 : 0;
      const centre = startMhz + ((lowest + highest + 1) / 2) * stepMhz;
      const width = (highest - lowest + 1) * stepMhz;
      let at = 0;
      let known: Open | null = null;
      for (; at < open.length && known === null; at++) {
        const one = open[at]!;
        if (one !== null && one.lowest <= highest + 1 && one.highest >= lowest - 1) known = one;
      }
      if (known === null) next.push({ first: r, last: r, lowest, highest, centres: [centre], widths: [width], sumMw: sum, seen: 1, beside });
      else {
        open[at - 1] = null;
        known.last = r;
        known.lowest = lowest;
        known.highest = highest;
        known.sumMw += sum;
        known.seen++;
        known.beside += beside;
        known.centres.push(centre);
        known.widths.push(width);
        next.push(known);
      }
      c = end;
    }
    // What a decoded frame hides is taken to go on behind it.
    for (const one of open) {
      if (one === null) continue;
      const middle = row + Math.floor((one.lowest + one.highest) / 2);
      if (unknown[middle] === 1) {
        one.beside++;
        next.push(one);
      } else closed.push(one);
    }
    open = next;
  }
  closed.push(...open.filter((one) => one !== null));
  /** What a burst looks like on the average of its snapshots, about its middle: how wide it is at 3 and at 10 dB below its highest. */
  const widthsOf = (first: number, last: number, centreMhz: number) => {
    const mean = new Float64Array(cols);
    const count = new Uint32Array(cols);
    const step = Math.max(1, Math.floor((last - first + 1) / 400));
    for (let r = first; r <= last; r += step)
      for (let c = 0; c < cols; c++)
        if (unknown[r * cols + c] === 0) {
          mean[c]! += mw[r * cols + c]!;
          count[c]!++;
        }
    for (let c = 0; c < cols; c++) mean[c] = count[c] === 0 ? NaN : mean[c]! / count[c]!;
    const middle = Math.min(cols - 1, Math.max(0, Math.floor((centreMhz - startMhz) / stepMhz)));
    let peak = middle;
    for (let c = Math.max(0, middle - 4); c <= Math.min(cols - 1, middle + 4); c++) if (!(mean[c]! <= mean[peak]!)) peak = c;
    const width = (below: number) => {
      let [lowest, highest] = [peak, peak];
      const least = mean[peak]! * 10 ** (-below / 10);
      while (lowest > 0 && !(mean[lowest - 1]! < least)) lowest--;
      while (highest < cols - 1 && !(mean[highest + 1]! < least)) highest++;
      return (highest - lowest + 1) * stepMhz;
    };
    return { narrow: width(3), wide: width(10) };
  };
  return closed
    .map(({ first, last, centres, widths, sumMw, seen, beside }): Burst => {
      const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
      const centreMhz = middle(centres);
      // One that lasts is seen better on the average.
      const lasting = last - first > 40 ? widthsOf(first, last, centreMhz) : null;
      return {
        fromUs: fromUs + first * everyUs,
        lengthUs: (last - first + 1) * everyUs,
        centreMhz,
        wentMhz: Math.max(...range(centres)) - Math.min(...range(centres)),
        widthMhz: lasting?.wide ?? middle(widths),
        flat: lasting === null ? NaN : lasting.narrow / lasting.wide,
        levelDbm: 10 * Math.log10(sumMw / seen / NOISE_BANDWIDTH),
        cut: first === 0 || last === rows - 1 || beside > 0.1 * (last - first + 1),
      };
    })
    .sort((a, b) => a.fromUs - b.fromUs);
}

/** A tenth at each end may be where the burst rose and fell. */
function range(values: readonly number[]): number[] {
  const sorted = [...values].sort((a, b) => a - b);
  const off = Math.floor(values.length / 10);
  return [sorted[off]!, sorted[sorted.length - 1 - off]!];
}
