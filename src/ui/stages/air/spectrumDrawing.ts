import { binMhz, type SweepSetting } from '@/core/spectrum/sweep';
import { DENSITY_FROM_DBM, DENSITY_LEVELS, DENSITY_STEP_DB, smooth, type Traces } from '@/core/spectrum/traces';
import { maskPoints } from '@/core/radio/overlap';
import { centreMhz } from '@/core/radio/channel';
import type { Tokens } from '../../theme/tokens';
import { signed } from '../../state/format';
import type { DrawnRadio } from './outlines';
import type { Marker, Swept, TraceId } from './sweepStore';

/** Where on the canvas levels over frequency are drawn, in px of the page. */
export type Sheet = Readonly<{ left: number; right: number; top: number; bottom: number; refDbm: number; dbPerDiv: number; setting: SweepSetting }>;
export const DIVISIONS = 8;

export const xAt = ({ left, right, setting: { startMhz, stopMhz } }: Sheet, mhz: number): number =>
  left + ((mhz - startMhz) / (stopMhz - startMhz)) * (right - left);
export const mhzAt = ({ left, right, setting: { startMhz, stopMhz } }: Sheet, x: number): number =>
  startMhz + ((x - left) / (right - left)) * (stopMhz - startMhz);
export const yAt = ({ top, bottom, refDbm, dbPerDiv }: Sheet, dbm: number): number =>
  Math.min(bottom, Math.max(top, top + ((refDbm - dbm) / (DIVISIONS * dbPerDiv)) * (bottom - top)));

const font = (px: number, mono = true): string => `${px}px ${mono ? 'IBM Plex Mono' : 'Inter'}, sans-serif`;

/** The trace that is asked for, smoothed. */
export const traceOf = (traces: Traces, id: TraceId, over: number): Float32Array => smooth(traces[id], over);

/** Paper, level lines and frequencies. */
export function drawGrid(g: CanvasRenderingContext2D, sheet: Sheet, t: Tokens): void {
  const { left, right, top, bottom, refDbm, dbPerDiv, setting } = sheet;
  g.fillStyle = t.paper;
  g.fillRect(left, top, right - left, bottom - top);
  g.strokeStyle = t.rule;
  g.lineWidth = 1;
  g.fillStyle = t.ink2;
  g.font = font(10.5);
  g.textAlign = 'right';
  for (let i = 0; i <= DIVISIONS; i++) {
    const y = Math.round(top + (i / DIVISIONS) * (bottom - top)) + 0.5;
    g.beginPath();
    g.moveTo(left, y);
    g.lineTo(right, y);
    g.stroke();
    g.fillText(signed(refDbm - i * dbPerDiv), left - 6, y + 3.5);
  }
  g.textAlign = 'center';
  const span = setting.stopMhz - setting.startMhz;
  const raw = span / 8;
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200].find((one) => one >= raw) ?? 200;
  for (let mhz = Math.ceil(setting.startMhz / step) * step; mhz <= setting.stopMhz + 1e-6; mhz += step) {
    const x = Math.round(xAt(sheet, mhz)) + 0.5;
    g.beginPath();
    g.moveTo(x, top);
    g.lineTo(x, bottom);
    g.stroke();
    if (x > left + 16 && x < right - 30) g.fillText(step < 1 ? mhz.toFixed(1) : String(Math.round(mhz)), x, bottom + 13);
  }
  g.textAlign = 'right';
  g.fillText('MHz', right, bottom + 13);
}

/** Networks behind the traces, in outline: their masks, at the level that the resolution bandwidth lets through of them. */
export function drawNetworks(g: CanvasRenderingContext2D, sheet: Sheet, radios: readonly DrawnRadio[], t: Tokens): void {
  g.lineWidth = 1;
  for (const { channel, dbm, picked, apId } of radios) {
    const inFilter = dbm + 10 * Math.log10(sheet.setting.rbwKhz / 1000 / channel.widthMhz);
    const mhz = centreMhz(channel);
    const half = maskPoints(channel.widthMhz).slice(1);
    const points = [
      ...half.toReversed().map(([offset, dbr]) => [mhz - offset, inFilter + dbr] as const),
      ...half.map(([offset, dbr]) => [mhz + offset, inFilter + dbr] as const),
    ];
    g.strokeStyle = picked ? t.hand : t.ink2;
    g.globalAlpha = picked ? 1 : 0.6;
    g.setLineDash(apId === null ? [4, 3] : []);
    g.beginPath();
    points.forEach(([f, level], i) => (i === 0 ? g.moveTo(xAt(sheet, f), yAt(sheet, level)) : g.lineTo(xAt(sheet, f), yAt(sheet, level))));
    g.stroke();
  }
  g.globalAlpha = 1;
  g.setLineDash([]);
}

/** Line kinds by trace: live one line, max hold two thin ones, the mean dotted, min hold dashed. */
const DASH: Readonly<Record<TraceId, readonly number[]>> = { live: [], max: [], mean: [1.5, 3], min: [6, 4] };

export function drawTrace(g: CanvasRenderingContext2D, sheet: Sheet, trace: Float32Array, id: TraceId, t: Tokens, second = false): void {
  const { setting } = sheet;
  const line = (offset: number, width: number) => {
    g.lineWidth = width;
    g.strokeStyle = second ? t.ink2 : t.ink;
    g.setLineDash([...DASH[id]]);
    g.beginPath();
    let begun = false;
    for (let b = 0; b < trace.length; b++) {
      const dbm = trace[b]!;
      if (!Number.isFinite(dbm)) continue;
      const [x, y] = [xAt(sheet, binMhz(setting, b)), yAt(sheet, dbm) + offset];
      if (begun) g.lineTo(x, y);
      else g.moveTo(x, y);
      begun = true;
    }
    g.stroke();
  };
  if (id === 'max') {
    line(-1.2, 0.8);
    line(1.2, 0.8);
  } else line(0, id === 'mean' ? 1.8 : 1.3);
  g.setLineDash([]);
}

/** A marker as a numbered cross on its trace, and its level; NaN outside of the span. */
export function levelAtMarker(trace: Float32Array, setting: SweepSetting, { mhz }: Pick<Marker, 'mhz'>): number {
  const bin = Math.floor(((mhz - setting.startMhz) / (setting.stopMhz - setting.startMhz)) * setting.bins);
  return bin >= 0 && bin < trace.length ? trace[bin]! : NaN;
}

export function drawMarker(g: CanvasRenderingContext2D, sheet: Sheet, marker: Marker, dbm: number, t: Tokens): void {
  if (!Number.isFinite(dbm)) return;
  const [x, y] = [xAt(sheet, marker.mhz), yAt(sheet, dbm)];
  g.strokeStyle = t.hand;
  g.lineWidth = 1.6;
  g.beginPath();
  g.moveTo(x - 6, y);
  g.lineTo(x + 6, y);
  g.moveTo(x, y - 6);
  g.lineTo(x, y + 6);
  g.stroke();
  g.fillStyle = t.hand;
  g.font = font(11);
  g.textAlign = 'left';
  g.fillText(String(marker.id), x + 5, y - 6);
}

/** A level as a line across with a flag at the left. */
export function drawLevel(g: CanvasRenderingContext2D, sheet: Sheet, dbm: number, words: string, t: Tokens): void {
  const y = Math.round(yAt(sheet, dbm)) + 0.5;
  g.strokeStyle = t.hand;
  g.lineWidth = 1;
  g.setLineDash([2, 3]);
  g.beginPath();
  g.moveTo(sheet.left, y);
  g.lineTo(sheet.right, y);
  g.stroke();
  g.setLineDash([]);
  g.fillStyle = t.hand;
  g.font = font(10.5, false);
  g.textAlign = 'left';
  g.fillText(words, sheet.left + 4, y - 3);
}

/** Share of time at the threshold or above, over the whole height. */
export function drawDuty(g: CanvasRenderingContext2D, box: Omit<Sheet, 'refDbm' | 'dbPerDiv'>, { above, sweeps }: Traces, t: Tokens): void {
  const { left, right, top, bottom, setting } = box;
  g.fillStyle = t.paper;
  g.fillRect(left, top, right - left, bottom - top);
  g.font = font(10.5);
  for (const share of [0, 25, 50, 75, 100]) {
    const y = bottom - (share / 100) * (bottom - top);
    g.strokeStyle = t.rule;
    g.beginPath();
    g.moveTo(left, y);
    g.lineTo(right, y);
    g.stroke();
    g.fillStyle = t.ink2;
    g.textAlign = 'right';
    g.fillText(`${share} %`, left - 4, y + 3.5);
  }
  if (sweeps === 0) return;
  g.fillStyle = t.ink;
  g.globalAlpha = 0.65;
  g.beginPath();
  g.moveTo(left, bottom);
  for (let b = 0; b < above.length; b++)
    g.lineTo(xAt({ ...box, refDbm: 0, dbPerDiv: 1 }, binMhz(setting, b)), bottom - (above[b]! / sweeps) * (bottom - top));
  g.lineTo(right, bottom);
  g.closePath();
  g.fill();
  g.globalAlpha = 1;
}

/** How often each bin was at which level: a picture of bins by levels, the highest level on top, in a ramp of 256 entries. */
export function densityPicture({ bins, density, sweeps }: Traces, ramp: Uint32Array): ImageData {
  const pixels = new Uint32Array(bins * DENSITY_LEVELS);
  for (let b = 0; b < bins; b++)
    for (let level = 0; level < DENSITY_LEVELS; level++) {
      const count = density[b * DENSITY_LEVELS + level]!;
      // The root keeps what is rare in sight.
      pixels[(DENSITY_LEVELS - 1 - level) * bins + b] =
        ramp[count === 0 ? 0 : Math.min(255, 40 + Math.floor(215 * Math.sqrt(count / Math.max(1, sweeps))))]!;
    }
  return new ImageData(new Uint8ClampedArray(pixels.buffer), bins, DENSITY_LEVELS);
}
export const DENSITY_TOP_DBM = DENSITY_FROM_DBM + DENSITY_STEP_DB * DENSITY_LEVELS;

/** Some sweeps as rows of a waterfall, the newest on top: of `per` sweeps that make a row the strongest in each bin. */
export function waterfallRows(sweeps: readonly Swept[], bins: number, per: number, lowDbm: number, highDbm: number, ramp: Uint32Array): Uint32Array {
  const rows = Math.floor(sweeps.length / per);
  const pixels = new Uint32Array(rows * bins);
  const scale = 255 / (10 * (highDbm - lowDbm));
  for (let r = 0; r < rows; r++) {
    const last = sweeps.length - 1 - r * per;
    for (let b = 0; b < bins; b++) {
      let most = -32768;
      for (let k = 0; k < per; k++) {
        const tenths = sweeps[last - k]!.tenthsDbm[b]!;
        if (tenths > most) most = tenths;
      }
      pixels[r * bins + b] = ramp[Math.min(255, Math.max(0, Math.round((most - 10 * lowDbm) * scale)))]!;
    }
  }
  return pixels;
}
