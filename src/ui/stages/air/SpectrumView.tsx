'use client';
import { useEffect, useMemo, useRef } from 'react';
import { binMhz, floorDbm } from '@/core/spectrum/sweep';
import { DENSITY_FROM_DBM } from '@/core/spectrum/traces';
import { useSize } from '../../plan/useSize';
import { useSession } from '../../state/sessionStore';
import { RAMP_STOPS, rampTable, TOKENS } from '../../theme/tokens';
import { useScheme } from '../../theme/useScheme';
import { signed } from '../../state/format';
import { clock } from './clock';
import type { DrawnRadio } from './outlines';
import {
  densityPicture,
  DENSITY_TOP_DBM,
  drawDuty,
  drawGrid,
  drawLevel,
  drawMarker,
  drawNetworks,
  drawTrace,
  levelAtMarker,
  mhzAt,
  traceOf,
  waterfallRows,
  yAt,
  type Sheet,
} from './spectrumDrawing';
import { setSweeps, TRACES, useSweeps } from './sweepStore';
import { addMarker } from './markers';
import { useShownSweeps } from './useShownSweeps';

const LEFT = 54;
/** Rows of the waterfall: a pixel each. */
const MOST_ROWS = 600;

/** What was swept: traces above, on one frequency axis with the waterfall, the density or the duty cycle below. */
export function SpectrumView({ radios, per }: { radios: readonly DrawnRadio[]; per: number }) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSize(box);
  const scheme = useScheme();
  const rampName = useSession((s) => s.ramp);
  const { shown, smoothOver, thresholdDbm, refDbm, dbPerDiv, lower, markers, trigger, triggered, gate, waits, hold } = useSweeps();
  const { setting, traces, sweeps, beside } = useShownSweeps();
  const ramp = useMemo(() => rampTable(RAMP_STOPS[rampName][scheme]), [rampName, scheme]);
  /** The waterfall's pixels so far: new rows are put on top of them. */
  const fall = useRef<{ picture: HTMLCanvasElement; last: number; key: string } | null>(null);
  const width = size?.widthPx ?? 0;
  const height = size?.heightPx ?? 0;
  const split = Math.round(height * 0.52);
  const sheet = useMemo<Sheet>(
    () => ({ left: LEFT, right: width - 10, top: 8, bottom: split - 18, refDbm, dbPerDiv, setting }),
    [width, split, refDbm, dbPerDiv, setting],
  );

  useEffect(() => {
    const surface = canvas.current;
    if (surface === null || width < 80 || height < 80) return;
    const t = TOKENS[scheme];
    const scale = window.devicePixelRatio || 1;
    if (surface.width !== Math.round(width * scale) || surface.height !== Math.round(height * scale)) {
      surface.width = Math.round(width * scale);
      surface.height = Math.round(height * scale);
    }
    const frame = requestAnimationFrame(() => {
      const g = surface.getContext('2d');
      if (g === null) return;
      g.setTransform(scale, 0, 0, scale, 0, 0);
      g.fillStyle = t.panel;
      g.fillRect(0, 0, width, height);
      drawGrid(g, sheet, t);
      g.save();
      g.beginPath();
      g.rect(sheet.left, sheet.top, sheet.right - sheet.left, sheet.bottom - sheet.top);
      g.clip();
      drawNetworks(g, sheet, radios, t);
      if (beside !== null) drawTrace(g, sheet, traceOf(beside, 'max', smoothOver), 'max', t, true);
      if (traces.sweeps > 0) for (const id of TRACES) if (shown.includes(id)) drawTrace(g, sheet, traceOf(traces, id, smoothOver), id, t);
      if (triggered) drawLevel(g, sheet, trigger.levelDbm, `trigger ${signed(trigger.levelDbm)} dBm`, t);
      if (lower === 'duty') drawLevel(g, sheet, thresholdDbm, `threshold ${signed(thresholdDbm)} dBm`, t);
      g.restore();
      for (const marker of markers) drawMarker(g, sheet, marker, levelAtMarker(traceOf(traces, marker.trace, smoothOver), setting, marker), t);

      const below = { left: LEFT, right: width - 10, top: split + 4, bottom: height - 6, setting };
      if (lower === 'duty') return drawDuty(g, below, traces, t);
      g.fillStyle = t.paper;
      g.fillRect(below.left, below.top, below.right - below.left, below.bottom - below.top);
      g.imageSmoothingEnabled = false;
      if (lower === 'density') {
        const picture = document.createElement('canvas');
        const data = densityPicture(traces, ramp);
        picture.width = data.width;
        picture.height = data.height;
        picture.getContext('2d')!.putImageData(data, 0, 0);
        g.drawImage(picture, below.left, below.top, below.right - below.left, below.bottom - below.top);
        g.fillStyle = t.ink2;
        g.font = '10.5px IBM Plex Mono, monospace';
        g.textAlign = 'right';
        g.fillText(`${signed(DENSITY_TOP_DBM)} dBm`, LEFT - 4, below.top + 9);
        g.fillText(signed(DENSITY_FROM_DBM), LEFT - 4, below.bottom);
        return;
      }
      // Paper is the noise, full ink what is strongest, in whole tens so that the picture does not flicker.
      const low = 10 * Math.floor(floorDbm(setting.rbwKhz) / 10);
      const high = Math.max(low + 30, 10 * Math.ceil(traces.max.reduce((most, dbm) => Math.max(most, dbm), low) / 10));
      const key = `${setting.startMhz}/${setting.stopMhz}/${setting.bins}/${low}/${high}/${per}/${rampName}/${scheme}`;
      const rows = Math.min(MOST_ROWS, Math.floor(below.bottom - below.top));
      const last = sweeps.at(-1)?.atMs ?? -1;
      let known = fall.current;
      if (known === null || known.key !== key || sweeps.length === 0) {
        const picture = document.createElement('canvas');
        picture.width = setting.bins;
        picture.height = MOST_ROWS;
        known = { picture, last: -Infinity, key };
      }
      // Only what came since is put on top; where it was set back, all of it again.
      if (last < known.last) known = { ...known, last: -Infinity };
      let begin = sweeps.length;
      while (begin > 0 && sweeps.length - begin < MOST_ROWS * per && sweeps[begin - 1]!.atMs > known.last) begin--;
      const fresh = sweeps.slice(begin);
      const whole = fresh.slice(0, fresh.length - (fresh.length % per));
      const pen = known.picture.getContext('2d')!;
      if (known.last === -Infinity) pen.clearRect(0, 0, known.picture.width, known.picture.height);
      if (whole.length > 0) {
        const pixels = waterfallRows(whole, setting.bins, per, low, high, ramp);
        const count = whole.length / per;
        pen.globalCompositeOperation = 'copy';
        pen.drawImage(known.picture, 0, count);
        pen.globalCompositeOperation = 'source-over';
        pen.putImageData(new ImageData(new Uint8ClampedArray(pixels.buffer as ArrayBuffer), setting.bins, count), 0, 0);
        known = { ...known, last: whole.at(-1)!.atMs };
      }
      fall.current = known;
      g.drawImage(known.picture, 0, 0, setting.bins, rows, below.left, below.top, below.right - below.left, rows);
      g.fillStyle = t.ink2;
      g.font = '10.5px IBM Plex Mono, monospace';
      g.textAlign = 'right';
      for (let y = 0; y < rows - 14; y += 48) {
        const swept = sweeps[sweeps.length - 1 - y * per];
        if (swept !== undefined) g.fillText(clock(swept.atMs).slice(3), LEFT - 4, below.top + y + 9);
      }
    });
    return () => cancelAnimationFrame(frame);
  }, [
    width,
    height,
    split,
    sheet,
    scheme,
    ramp,
    rampName,
    radios,
    shown,
    smoothOver,
    thresholdDbm,
    refDbm,
    dbPerDiv,
    lower,
    markers,
    trigger,
    triggered,
    setting,
    traces,
    sweeps,
    beside,
    per,
  ]);

  const peak = traces.sweeps === 0 ? null : traceOf(traces, 'max', 1);
  const highest = peak === null ? -1 : peak.reduce((best, dbm, b) => (dbm > peak[best]! ? b : best), 0);
  const words =
    peak === null
      ? 'nothing was swept yet'
      : `${traces.sweeps} sweeps, highest ${signed(peak[highest]!, 1)} dBm at ${binMhz(setting, highest).toFixed(1)} MHz`;
  return (
    <div className="air-spectrum" ref={box}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Spectrum ${setting.startMhz} to ${setting.stopMhz} MHz: ${words}`}
        style={{ width, height }}
        onClick={(event) => {
          const at = event.currentTarget.getBoundingClientRect();
          const [x, y] = [event.clientX - at.left, event.clientY - at.top];
          if (x < sheet.left || x > sheet.right || y > sheet.bottom) return;
          // The trace nearest to the click carries the marker.
          const mhz = mhzAt(sheet, x);
          const nearest = shown
            .map((id) => ({ id, off: Math.abs(yAt(sheet, levelAtMarker(traces[id], setting, { mhz })) - y) }))
            .reduce<{ id: (typeof shown)[number]; off: number } | null>((best, one) => (best === null || one.off < best.off ? one : best), null);
          addMarker(mhz, nearest?.id ?? 'live');
        }}
      />
      {(waits || hold) && (
        <span className="air-waits">{hold ? 'held' : gate.opensMs.length > 0 ? 'triggered: waits for the delay' : 'waits for the trigger'}</span>
      )}
      {traces.sweeps > 0 && markers.length > 0 && (
        <button type="button" className="quiet-button air-clear" onClick={() => setSweeps({ markers: [] })}>
          clear markers
        </button>
      )}
    </div>
  );
}
