'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { useState } from 'react';
import { LIMITS } from '@/core/design/limits';
import { edit } from '@/core/design/commands';
import { WALK_PURPOSES } from '@/core/design/kinds/walk';
import { RoutePanel } from './RoutePanel';
import { onFloorWalks } from './walks';
import { lengthM } from '@/core/survey/walk';
import { BANDS } from '@/core/radio/band';
import { LENSES, lensOf } from '@/core/fields/lenses';
import type { Sample } from '@/core/survey/sample';
import { formatLength } from '@/core/units/length';
import { CheckField, LengthField, NumberField, SelectField, TextField, Value } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { useSamples } from '../../state/samplesStore';
import { bandLabel, type Place } from '../../state/selectors';
import { useSessionFields } from '../../state/sessionStore';
import {
  SPEEDS,
  connect,
  continueWalk,
  deleteWalk,
  disconnect,
  finishWalk,
  pause,
  resumeHere,
  standHere,
  startWalk,
  undoLastClick,
  useWalker,
} from './walker';

const PURPOSE_TEXT = { before: 'before anything changes', stick: 'access point on a stick', after: 'after all hangs' } as const;

const RECEIVER_TEXT = { off: 'not connected', searching: 'searching …', connecting: 'connecting …', connected: 'connected' } as const;

/** The receiver, the walk under way, and the walks there are. */
export function SurveyPanel({ place, samples }: { place: Place; samples: readonly Sample[] }) {
  const walker = useWalker();
  const [standS, setStandS] = useState(10);
  const design = useDocument((s) => s.design);
  const { walkId, alsoWalkIds, reachM, source, lens, set } = useSessionFields('walkId', 'alsoWalkIds', 'reachM', 'source', 'lens');
  const own = useSamples((s) => (walkId === null ? 0 : (s.byWalk[walkId] ?? []).length));
  const walks = onFloorWalks(design, place);
  const shown = walkId === null ? undefined : design.walks[walkId];
  const under = walker.walkId === null ? undefined : design.walks[walker.walkId];
  const { units } = place.project;
  return (
    <div>
      <h2>Survey</h2>
      <h3>Receiver (simulated)</h3>
      <Value label="state">
        <span data-testid="receiver-state" role="status">
          {walker.receiver === 'connected' && !walker.hearing ? 'connected, no answer from the site' : RECEIVER_TEXT[walker.receiver]}
        </span>
      </Value>
      {walker.channels > 0 && (
        <Value label="scan list">
          {walker.channels} channels, {((walker.channels * 110) / 1000).toFixed(1)} s a round
        </Value>
      )}
      {BANDS.map((band) => (
        <CheckField
          key={band}
          label={bandLabel(band)}
          checked={walker.bands.includes(band)}
          disabled={under !== undefined}
          onCommit={(on) => useWalker.setState({ bands: BANDS.filter((b) => (b === band ? on : walker.bands.includes(b))) })}
        />
      ))}
      <SelectField
        label="pace"
        value={walker.speed}
        options={SPEEDS.map((speed) => ({ value: speed, label: speed === 1 ? '1 m/s, as walked' : `${speed} times faster` }))}
        onCommit={(speed) => useWalker.setState({ speed })}
      />
      <div className="row">
        {walker.receiver === 'off' ? (
          <Button variant="contained" onClick={() => void connect()}>
            Connect receiver
          </Button>
        ) : (
          <Button variant="outlined" color="secondary" disabled={walker.receiver !== 'connected'} onClick={disconnect}>
            Disconnect
          </Button>
        )}
        {walker.receiver === 'connected' && under === undefined && (
          <Button variant="contained" disabled={walker.bands.length === 0} onClick={startWalk}>
            Start walk
          </Button>
        )}
      </div>
      {under !== undefined && (
        <>
          <h3>Walk under way</h3>
          <TextField
            label="name"
            value={under.name}
            maxLength={LIMITS.nameLength}
            onCommit={(name) => useDocument.getState().run('Rename walk', (d) => edit(d, 'walks', under.id, { name }))}
          />
          <p>
            {under.legs.length === 0
              ? 'Click the plan where you stand, then at each turn (by keyboard: P pins a spot, T walks there).'
              : walker.paused
                ? 'Paused. Resume here, or click elsewhere to begin a new leg there.'
                : 'Click the next turns; the receiver walks to each.'}
          </p>
          <NumberField label="stand for" value={standS} unit="s" min={1} max={600} digits={0} onCommit={setStandS} />
          <div className="row">
            <Button variant="outlined" color="secondary" disabled={under.legs.length === 0} onClick={() => standHere(standS)}>
              Stand here
            </Button>
          </div>
          <Value label="walked">{formatLength(lengthM(under.legs), units, 1)}</Value>
          <Value label="time">{(walker.clockMs / 1000).toFixed(0)} s</Value>
          <Value label="legs">{under.legs.length}</Value>
          <Value label="samples">
            <span data-testid="sample-count">{own}</span>
          </Value>
          <div className="row">
            {walker.paused ? (
              <Button variant="contained" onClick={resumeHere}>
                Resume here
              </Button>
            ) : (
              <Button variant="contained" onClick={pause}>
                Pause
              </Button>
            )}
            <Button variant="outlined" color="secondary" disabled={under.legs.length === 0} onClick={undoLastClick}>
              Undo last click
            </Button>
            <Button variant="outlined" color="secondary" onClick={finishWalk}>
              Finish
            </Button>
          </div>
        </>
      )}
      {under === undefined && shown !== undefined && (
        <>
          <h3>Walk in view</h3>
          <TextField
            label="name"
            value={shown.name}
            maxLength={LIMITS.nameLength}
            onCommit={(name) => useDocument.getState().run('Rename walk', (d) => edit(d, 'walks', shown.id, { name }))}
          />
          <SelectField
            label="purpose"
            value={shown.purpose ?? ''}
            options={[{ value: '', label: 'not said' }, ...WALK_PURPOSES.map((value) => ({ value, label: PURPOSE_TEXT[value] }))]}
            onCommit={(value) =>
              useDocument.getState().run('Purpose of the walk', (d) => edit(d, 'walks', shown.id, { purpose: value === '' ? null : value }))
            }
          />
          <TextField
            label="note"
            value={shown.note}
            maxLength={LIMITS.textLength}
            mayBeEmpty
            lines={2}
            onCommit={(note) => useDocument.getState().run('Note of the walk', (d) => edit(d, 'walks', shown.id, { note }))}
          />
          <Value label="state">{shown.finished ? 'finished' : 'not finished'}</Value>
          <Value label="walked">{formatLength(lengthM(shown.legs), units, 1)}</Value>
          <Value label="legs">{shown.legs.length}</Value>
          <Value label="samples">
            <span data-testid="sample-count">{own}</span>
          </Value>
          <div className="row">
            {!shown.finished && walker.receiver !== 'connected' && <p>Connect the receiver to go on with it.</p>}
            {!shown.finished && walker.receiver === 'connected' && (
              <Button variant="contained" onClick={() => continueWalk(shown)}>
                Continue
              </Button>
            )}
            <Button variant="outlined" color="secondary" onClick={() => deleteWalk(shown.id)}>
              Delete walk
            </Button>
          </div>
        </>
      )}
      {under === undefined && (
        <>
          <h3>Walks on this floor</h3>
          {walks.length === 0 && <p>None yet in this variant. Connect the receiver and start one.</p>}
          {walks.length > 1 && <p>{`Ticked ones count together: ${samples.length} samples in map and fit.`}</p>}
          {walks.map((walk) => (
            <div key={walk.id} className="walk-row">
              {walks.length > 1 && (
                <Checkbox
                  size="small"
                  checked={walk.id === walkId || alsoWalkIds.includes(walk.id)}
                  disabled={walk.id === walkId}
                  slotProps={{ input: { 'aria-label': `Count ${walk.name}` } }}
                  onChange={(_, on) => set({ alsoWalkIds: on ? [...alsoWalkIds, walk.id] : alsoWalkIds.filter((id) => id !== walk.id) })}
                />
              )}
              <Button
                fullWidth
                color="secondary"
                variant={walk.id === walkId ? 'contained' : 'text'}
                sx={{ justifyContent: 'flex-start' }}
                onClick={() => set({ walkId: walk.id, alsoWalkIds: alsoWalkIds.filter((id) => id !== walk.id) })}
              >
                {walk.name}
              </Button>
            </div>
          ))}
        </>
      )}
      <RoutePanel place={place} under={under} />
      <h3>Map</h3>
      <SelectField
        label="shows"
        value={lensOf(lens).measuredOnly ? lens : source}
        options={[
          { value: 'predicted', label: 'predicted' },
          { value: 'measured', label: 'measured' },
          ...LENSES.filter(({ measuredOnly }) => measuredOnly).map(({ id, label }) => ({ value: id, label })),
        ]}
        onCommit={(value) =>
          set(
            value === 'predicted'
              ? { source: value, lens: lensOf(lens).measuredOnly ? 'signal' : lens }
              : { source: 'measured', lens: value === 'measured' ? 'signal' : value },
          )
        }
      />
      <LengthField label="reach" valueM={reachM} units={units} minM={0.5} maxM={50} onCommit={(value) => set({ reachM: value })} />
      <p>
        Measured maps take each radio’s own readings, its shadows and the walls together; further than the reach from a reading of it nothing is
        claimed of a radio.
      </p>
    </div>
  );
}
