'use client';
import { useState } from 'react';
import { csvOf } from '@/core/formats/csv';
import { binMhz, SWEEP_LIMITS } from '@/core/spectrum/sweep';
import { NumberField, SelectField } from '../../inspector/fields';
import { saveFile } from '../../kit/saveFile';
import type { Place } from '../../state/selectors';
import { signed } from '../../state/format';
import { removeMarker, setMarker, toPeak } from './markers';
import { levelAtMarker, traceOf } from './spectrumDrawing';
import { TRACE_LABEL, TRACES, useSweeps } from './sweepStore';
import { useShownSweeps } from './useShownSweeps';

/** Markers with their readings: frequency, level, and what lies between them and the first. */
export function MarkersPanel({ place }: { place: Place }) {
  const markers = useSweeps((s) => s.markers);
  const smoothOver = useSweeps((s) => s.smoothOver);
  const { setting, traces } = useShownSweeps();
  const [chosen, choose] = useState<number | null>(null);
  const levels = markers.map((marker) => levelAtMarker(traceOf(traces, marker.trace, smoothOver), setting, marker));
  const current = markers.some(({ id }) => id === chosen) ? chosen : (markers[0]?.id ?? null);
  const save = () =>
    saveFile(
      `${place.project.name} spectrum`,
      'csv',
      new Blob(
        [
          csvOf({
            head: ['frequency (MHz)', 'live (dBm)', 'max hold (dBm)', 'average (dBm)', 'min hold (dBm)', 'time above threshold (%)'],
            rows: Array.from(traces.live, (live, b) => [
              Math.round(binMhz(setting, b) * 1000) / 1000,
              ...[live, traces.max[b]!, traces.mean[b]!, traces.min[b]!].map((dbm) => Math.round(dbm * 10) / 10),
              Math.round((1000 * traces.above[b]!) / Math.max(1, traces.sweeps)) / 10,
            ]),
          }),
        ],
        { type: 'text/csv' },
      ),
    );
  return (
    <section aria-label="Markers">
      <h2>Markers</h2>
      <p>
        <button type="button" className="quiet-button" onClick={() => toPeak(null, false)}>
          new at the peak
        </button>{' '}
        <button type="button" className="quiet-button" disabled={current === null} onClick={() => toPeak(current, true)}>
          next peak
        </button>{' '}
        <button type="button" className="quiet-button" disabled={traces.sweeps === 0} onClick={save}>
          CSV
        </button>
      </p>
      {markers.length === 0 && <p>Click on a trace to set a marker there.</p>}
      {markers.map((marker, i) => {
        const [dbm, first] = [levels[i]!, levels[0]!];
        return (
          <div key={marker.id} className={`air-marker${marker.id === current ? ' chosen' : ''}`} onFocus={() => choose(marker.id)}>
            <b>{marker.id}</b>
            <span className="mono">{`${marker.mhz.toFixed(2)} MHz`}</span>
            <span className="mono">{Number.isFinite(dbm) ? `${signed(dbm, 1)} dBm` : 'outside'}</span>
            {i > 0 && (
              <span className="mono second">{`Δ ${signed(marker.mhz - markers[0]!.mhz, 2)} MHz${Number.isFinite(dbm - first) ? `, ${signed(dbm - first, 1)} dB` : ''}`}</span>
            )}
            <SelectField
              label="rides"
              value={marker.trace}
              options={TRACES.map((value) => ({ value, label: TRACE_LABEL[value] }))}
              onCommit={(trace) => setMarker(marker.id, { trace })}
            />
            <NumberField
              label="at"
              unit="MHz"
              value={marker.mhz}
              {...SWEEP_LIMITS.mhz}
              digits={2}
              onCommit={(mhz) => setMarker(marker.id, { mhz })}
            />
            <button type="button" className="plain" onClick={() => removeMarker(marker.id)}>
              take away
            </button>
          </div>
        );
      })}
    </section>
  );
}
