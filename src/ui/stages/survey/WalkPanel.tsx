'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { useState } from 'react';
import { edit } from '@/core/design/commands';
import type { Walk } from '@/core/design/design';
import { WALK_PURPOSES } from '@/core/design/kinds/walk';
import { LIMITS } from '@/core/design/limits';
import { NOTHING_HEARD, type Heard } from '@/core/survey/heard';
import { adapterOf } from '@/core/survey/setting';
import { endMs, lengthM } from '@/core/survey/walk';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { NumberField, SelectField, TextField, Value } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { useHeardOf } from '../../state/samplesStore';
import { bandLabel } from '../../state/selectors';
import { clock } from '../air/clock';
import { takeOut } from './surveyFiles';
import { continueWalk, deleteWalk, finishWalk, pause, resumeHere, standHere, undoLastClick, useWalker } from './walker';

const PURPOSE_TEXT = { before: 'before anything changes', stick: 'access point on a stick', after: 'after all hangs' } as const;

const changeWalk = (title: string, id: string, fields: Partial<Walk>): unknown =>
  useDocument.getState().run(title, (d) => edit(d, 'walks', id, fields));

/** Time of a walk up to a moment in which nothing was listened to, in s; null for one that does not say when it listened. */
function goneS({ scans }: Heard, untilMs: number): number | null {
  if (scans.length === 0) return null;
  return (untilMs - scans.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0)) / 1000;
}

/** What a walk has so far. @param untilMs where its clock stands */
function Facts({ walk, units, untilMs }: { walk: Walk; units: UnitSystem; untilMs: number }) {
  const heard = useHeardOf((s) => s.byWalk[walk.id] ?? NOTHING_HEARD);
  const gone = goneS(heard, untilMs);
  return (
    <>
      <Value label="walked">{formatLength(lengthM(walk.legs), units, 1)}</Value>
      <Value label="time">{`${(untilMs / 1000).toFixed(0)} s`}</Value>
      <Value label="legs">{walk.legs.length}</Value>
      <Value label="samples">
        <span data-testid="sample-count">{heard.samples.length}</span>
      </Value>
      {heard.swept.length > 0 && <Value label="looks">{heard.swept.length}</Value>}
      {gone !== null && gone >= 1 && <Value label="not listened">{`${gone.toFixed(0)} s`}</Value>}
    </>
  );
}

const NameField = ({ walk: { id, name } }: { walk: Walk }) => (
  <TextField label="name" value={name} maxLength={LIMITS.nameLength} onCommit={(text) => changeWalk('Rename walk', id, { name: text })} />
);

/** The walk that this window walks. */
export function WalkUnderWay({ walk: under, units }: { walk: Walk; units: UnitSystem }) {
  const walker = useWalker();
  const [standS, setStandS] = useState(10);
  return (
    <>
      <h3>Walk under way</h3>
      <NameField walk={under} />
      <p>
        {under.receiver === null
          ? 'Click where you are at each turn while your own receiver captures: time runs by the clock. After a pause the next click begins a leg.'
          : under.legs.length === 0
            ? 'Click the plan where you stand, then at each turn (by keyboard: P pins a spot, T walks there).'
            : walker.paused
              ? 'Paused. Resume here, or click elsewhere to begin a new leg there.'
              : 'Click the next turns; the receiver walks to each.'}
      </p>
      {under.receiver !== null && (
        <>
          <NumberField label="stand for" value={standS} unit="s" min={1} max={600} digits={0} onCommit={setStandS} />
          <div className="row">
            <Button variant="outlined" color="secondary" disabled={under.legs.length === 0} onClick={() => standHere(standS)}>
              Stand here
            </Button>
          </div>
        </>
      )}
      <Facts walk={under} units={units} untilMs={walker.clockMs} />
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
  );
}

/** The walk that is looked at. */
export function WalkInView({ walk: shown, units }: { walk: Walk; units: UnitSystem }) {
  const walker = useWalker();
  return (
    <>
      <h3>Walk in view</h3>
      <NameField walk={shown} />
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
      {shown.receiver !== null && <Value label="measured with">{adapterOf(shown.receiver.adapter).name}</Value>}
      {shown.receiver !== null && shown.receiver.swept !== null && (
        <Value label="swept">{`${shown.receiver.swept.bands.map(bandLabel).join(', ')}, from ${clock(shown.receiver.swept.fromMs)}`}</Value>
      )}
      <Facts walk={shown} units={units} untilMs={endMs(shown.legs)} />
      <Legs walk={shown} units={units} />
      {shown.scoredAt !== null && <p>The simulated site’s truth was looked at on {shown.scoredAt.slice(0, 10)}: what was found since is no proof.</p>}
      {shown.legs.length > 0 && (
        <p>Its turns can be dragged on the plan, or moved with the arrow keys; Delete takes one away with what was heard beyond it.</p>
      )}
      <div className="row">
        <Button size="small" variant="outlined" color="secondary" onClick={() => void takeOut(shown, 'csv')}>
          Take out as CSV
        </Button>
        <Button size="small" variant="outlined" color="secondary" onClick={() => void takeOut(shown, 'pcapng')}>
          As capture
        </Button>
      </div>
      <div className="row">
        {!shown.finished && shown.receiver !== null && walker.receiver !== 'connected' && <p>Connect the receiver to go on with it.</p>}
        {!shown.finished && (shown.receiver === null || walker.receiver === 'connected') && (
          <Button variant="contained" onClick={() => continueWalk(shown)}>
            Continue
          </Button>
        )}
        <Button variant="outlined" color="secondary" onClick={() => deleteWalk(shown.id)}>
          Delete walk
        </Button>
      </div>
    </>
  );
}

/** The legs of a walk, each of which may be left out. */
function Legs({ walk, units }: { walk: Walk; units: UnitSystem }) {
  const { id, legs, leftOut } = walk;
  if (legs.length < 2 && leftOut.length === 0) return null;
  const counted = (leg: number, on: boolean) =>
    changeWalk(on ? 'Count a leg again' : 'Leave a leg out', id, { leftOut: on ? leftOut.filter((one) => one !== leg) : [...leftOut, leg] });
  return (
    <details className="more">
      <summary>{leftOut.length === 0 ? `All ${legs.length} legs count` : `${legs.length - leftOut.length} of ${legs.length} legs count`}</summary>
      <fieldset className="ticks lines">
        <legend>Counts:</legend>
        {legs.map((leg, i) => (
          <label key={i}>
            <Checkbox size="small" checked={!leftOut.includes(i)} onChange={(_, on) => counted(i, on)} />
            {`leg ${i + 1}, ${formatLength(lengthM([leg]), units, 0)}`}
          </label>
        ))}
      </fieldset>
    </details>
  );
}
