'use client';
import { SelectField, TextField } from '../../inspector/fields';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { middleOf, useAir } from './airStore';
import { clock } from './clock';
import { deleteRecording, renameRecording, stopRecording } from './recordings';
import { setSweeps, useSweeps } from './sweepStore';

/** Sweeps that are kept under a name, shown again, and held against each other. */
export function Recordings({ place }: { place: Place }) {
  const { recordings, recordingFromMs, sweeps, playing, beside } = useSweeps();
  const projectId = useDocument((s) => s.projectId);
  const clockMs = useAir((s) => s.clockMs);
  const design = useDocument((s) => s.design);
  if (projectId === null) return null;
  const stop = () => {
    const { spot } = useAir.getState();
    const where = roomAt(design, place, spot ?? middleOf(place.floor.outline));
    stopRecording(projectId, (startMs) => ({ name: `${where} ${clock(startMs)}`, spot: where }));
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
          <TextField label="name" value={played.name} maxLength={60} onCommit={(name) => renameRecording(projectId, played.id, name)} />
          <button type="button" className="quiet-button" onClick={() => deleteRecording(projectId, played.id)}>
            delete recording
          </button>
        </>
      )}
    </>
  );
}
