import { binMhz } from '@/core/spectrum/sweep';
import { nextPeak, peakOf } from '@/core/spectrum/traces';
import { setSweeps, useSweeps, type Marker, type TraceId } from './sweepStore';

/** As many as a table holds beside the drawing. */
export const MOST_MARKERS = 8;

/** Sets a marker at a frequency, with the lowest number that is free; the newest one moves when there are too many. */
export function addMarker(mhz: number, trace: TraceId): void {
  const { markers } = useSweeps.getState();
  const id = Array.from({ length: MOST_MARKERS }, (_, i) => i + 1).find((one) => !markers.some((marker) => marker.id === one)) ?? MOST_MARKERS;
  setSweeps({ markers: [...markers.filter((marker) => marker.id !== id), { id, mhz, trace }].sort((a, b) => a.id - b.id) });
}

export const setMarker = (id: number, fields: Partial<Marker>): void =>
  setSweeps({ markers: useSweeps.getState().markers.map((marker) => (marker.id === id ? { ...marker, ...fields } : marker)) });
export const removeMarker = (id: number): void => setSweeps({ markers: useSweeps.getState().markers.filter((marker) => marker.id !== id) });

/** Moves a marker to the highest level of its trace, or to the next lower peak; sets one where there is none. */
export function toPeak(id: number | null, next: boolean): void {
  const { markers, traces, setting } = useSweeps.getState();
  const marker = markers.find((one) => one.id === id);
  const trace = traces[marker?.trace ?? 'max'];
  const bin =
    marker === undefined || !next
      ? peakOf(trace)
      : nextPeak(trace, Math.floor(((marker.mhz - setting.startMhz) / (setting.stopMhz - setting.startMhz)) * setting.bins));
  if (bin < 0) return;
  const mhz = binMhz(setting, bin);
  if (marker === undefined) addMarker(mhz, 'max');
  else setMarker(marker.id, { mhz });
}
