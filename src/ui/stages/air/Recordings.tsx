'use client';
import { v7 as uuid } from 'uuid';
import { SelectField, TextField } from '../../inspector/fields';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { middleOf, useAir } from './airStore';
import { clock } from './clock';
import { setSweeps, useSweeps } from './sweepStore';

/** Sweeps that are kept under a name, shown again, and held against each other. */
export function Recordings({ place }: { place: Place }) {
  const { recordings, recordingFromMs, sweeps, setting, playing, beside } = useSweeps();
  const clockMs = useAir((s) => s.clockMs);
  const design = useDocument((s) => s.design);
  const stop = () => {
    const { spot } = useAir.getState();
    const kept = sweeps.filter(({ atMs }) => atMs >= (recordingFromMs ?? Infinity));
    if (kept.length === 0) return setSweeps({ recordingFromMs: null });
    const where = roomAt(design, place, spot ?? middleOf(place.floor.outline));
    const id = uuid();
    setSweeps({
      recordingFromMs: null,
      recordings: [...recordings, { id, name: `${where} ${clock(kept[0]!.atMs)}`, setting, sweeps: kept, spot: where }],
    });
  };
  const played = recordings.find(({ id }) => id === playing);
  const choices = recordings.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <>
      <button type="button" className="quiet-button" onClick={() => (recordingFromMs === null ? setSweeps({ recordingFromMs: clockMs }) : stop())}>
        {recordingFromMs === null ? 'record' : `stop recording (${sweeps.filter(({ atMs }) => atMs >= recordingFromMs).length} sweeps)`}
      </button>
      {recordings.length > 0 && (
        <>
          <SelectField
            label="show"
            value={playing ?? ''}
            options={[{ value: '', label: 'what is live' }, ...choices]}
            onCommit={(id) => setSweeps({ playing: id === '' ? null : id })}
          />
          <SelectField
            label="beside it"
            value={beside ?? ''}
            options={[{ value: '', label: 'nothing' }, ...choices]}
            onCommit={(id) => setSweeps({ beside: id === '' ? null : id })}
          />
        </>
      )}
      {played !== undefined && (
        <>
          <TextField
            label="name"
            value={played.name}
            maxLength={60}
            onCommit={(name) => setSweeps({ recordings: recordings.map((one) => (one.id === played.id ? { ...one, name } : one)) })}
          />
          <button
            type="button"
            className="quiet-button"
            onClick={() => setSweeps({ playing: null, recordings: recordings.filter(({ id }) => id !== played.id) })}
          >
            delete recording
          </button>
        </>
      )}
    </>
  );
}
