'use client';
import { useEffect, useState } from 'react';
import { SelectField, TextField } from '../../inspector/fields';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { middleOf, useAir } from './airStore';
import { clock } from './clock';
import { deleteRecording, renameRecording, stopRecording } from './recordings';
import { lengthMs, replayTo, setSweeps, useSweeps, type Recording } from './sweepStore';

/** A step of the replay, in ms: it goes as fast as it was. */
const STEP_MS = 100;

/** The recording that is shown, sweep by sweep as it was: played, or moved to a time by hand. */
function ReplayBar({ recording }: { recording: Recording }) {
  const replay = useSweeps((s) => s.replay);
  const [runs, setRuns] = useState(false);
  const length = lengthMs(recording);
  const untilMs = replay?.id === recording.id ? replay.untilMs : length;
  useEffect(() => {
    if (!runs) return;
    const timer = setInterval(() => {
      const at = useSweeps.getState().replay?.untilMs ?? 0;
      replayTo(recording, Math.min(length, at + STEP_MS));
      if (at + STEP_MS >= length) setRuns(false);
    }, STEP_MS);
    return () => clearInterval(timer);
  }, [runs, recording, length]);
  const play = () => {
    if (!runs && untilMs >= length) replayTo(recording, 0);
    setRuns(!runs);
  };
  return (
    <div className="row replay">
      <button type="button" className="quiet-button" aria-label={runs ? 'pause replay' : 'replay'} onClick={play}>
        {runs ? 'pause' : 'replay'}
      </button>
      <input
        type="range"
        aria-label="Replayed up to"
        aria-valuetext={`${(untilMs / 1000).toFixed(1)} of ${(length / 1000).toFixed(1)} s`}
        min={0}
        max={Math.max(1, Math.ceil(length))}
        step={STEP_MS}
        value={untilMs}
        onChange={(event) => {
          setRuns(false);
          replayTo(recording, Number(event.currentTarget.value));
        }}
      />
      <span className="mono">{`${(untilMs / 1000).toFixed(1)} s`}</span>
    </div>
  );
}

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
            onCommit={(id) => setSweeps({ playing: id === '' ? null : id, replay: null })}
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
          <ReplayBar key={played.id} recording={played} />
          <TextField label="name" value={played.name} maxLength={60} onCommit={(name) => renameRecording(projectId, played.id, name)} />
          <button type="button" className="quiet-button" onClick={() => deleteRecording(projectId, played.id)}>
            delete recording
          </button>
        </>
      )}
    </>
  );
}
