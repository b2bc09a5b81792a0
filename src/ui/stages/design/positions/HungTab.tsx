'use client';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { zonesWithLevel } from '@/core/design/service';
import { BANDS, type Band } from '@/core/radio/band';
import { SelectField } from '../../../inspector/fields';
import { useDocument } from '../../../state/documentStore';
import { percent } from '../../../state/format';
import { bandLabel, useViewDesign, type Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import { askAside, askThinOut, keepJudged, takeAnswer, useHung, type Answer, type Carried } from './hung';
import { MetTable } from './MetTable';

/** What hangs: what it meets, also while one is being moved; what each carries; which can go, and which serve more a little aside. */
export function HungTab({ place }: { place: Place }) {
  const design = useViewDesign();
  const saved = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const preview = useSession((s) => s.preview);
  const bands = BANDS.filter((one) => place.aps.some(({ radios }) => radios.some(({ band, on }) => on && band === one)));
  const [wished, setBand] = useState<Band>(useSession.getState().band);
  const band = bands.includes(wished) ? wished : (bands.at(-1) ?? '5');
  const { still, shown, before, answer, busy, problem } = useHung();
  const [change] = preview?.kind === 'drag' && preview.changes.length === 1 ? preview.changes : [];
  const trial = preview !== null;
  const movingId = change?.table === 'accessPoints' ? change.id : null;
  const owed = zonesWithLevel(saved, place.floor.id).length > 0;
  const hasRadios = bands.length > 0;
  useEffect(() => {
    if (owed && hasRadios) void keepJudged({ design, place, band, trial, movingId });
  }, [design, place, band, trial, movingId, owed, hasRadios]);
  if (!owed) return <p>No zone of this floor has a service level: draw a service zone in Building and give it a level in Brief.</p>;
  if (!hasRadios) return <p>No radio of this floor is on.</p>;
  const fits =
    still !== null &&
    still.projectId === projectId &&
    still.floorId === place.floor.id &&
    still.variantId === place.variant.id &&
    still.band === band;
  return (
    <>
      <p>What hangs here is held against what is owed, on a lattice of points. Drag one and see what it costs.</p>
      <SelectField label="judged by" value={band} options={bands.map((one) => ({ value: one, label: bandLabel(one) }))} onCommit={setBand} />
      {!fits || shown === null ? (
        <p role="status">Working out what is met …</p>
      ) : (
        <MetTable groups={shown.groups} before={(trial ? still : before)?.groups} />
      )}
      <div className="row">
        <Button variant="outlined" disabled={!fits || busy !== null} onClick={() => void askThinOut(place)}>
          {busy === 'thin' ? 'Looking …' : 'Which can go?'}
        </Button>
        <Button variant="outlined" disabled={!fits || busy !== null} onClick={() => void askAside(place)}>
          {busy === 'aside' ? 'Looking …' : 'A little aside?'}
        </Button>
      </div>
      {problem !== null && <p role="alert">{problem}</p>}
      {fits && answer !== null && <Answered answer={answer} old={answer.of.design !== saved} />}
      {fits && still !== null && <CarriedTable carried={still.carried} />}
    </>
  );
}

/** An answer, and the button that takes it. */
function Answered({ answer, old }: { answer: Answer; old: boolean }) {
  const count = answer.kind === 'thin' ? answer.goes.length : answer.moves.length;
  const points = `${count} access ${count === 1 ? 'point' : 'points'}`;
  const words =
    answer.kind === 'thin'
      ? count === 0
        ? 'None can go: without any of them something falls below what is owed, or below what it is.'
        : `${points} can go together, and nothing falls below what is owed, or below what it is today: ${answer.goes.map(({ name }) => name).join(', ')}.`
      : count === 0
        ? 'None would serve more within 3 m of where it hangs, or not enough to climb for.'
        : `${points} would serve more: ${answer.moves.map(({ name, movedM }) => `${name} by ${movedM} m`).join(', ')}.`;
  return (
    <div role="group" aria-label="Answer">
      <p role="status">{words}</p>
      {count > 0 && (
        <>
          <MetTable groups={answer.groups} before={answer.of.groups} />
          {old && <p>The design has changed since: ask again.</p>}
          <div className="row">
            <Button variant="contained" disabled={old} onClick={takeAnswer}>
              {answer.kind === 'thin' ? `Take down ${points}` : `Move ${points}`}
            </Button>
            <Button
              color="secondary"
              onClick={() =>
                useSession
                  .getState()
                  .set({ selection: { table: 'accessPoints', ids: (answer.kind === 'thin' ? answer.goes : answer.moves).map(({ apId }) => apId) } })
              }
            >
              Show them
            </Button>
          </div>
        </>
      )}
    </div>
  );
}

/** What each carries, the least first: those are the first that might go. */
function CarriedTable({ carried }: { carried: readonly Carried[] }) {
  const set = useSession((s) => s.set);
  return (
    <>
      <h3>What each carries</h3>
      <table className="dense" aria-label="What each carries">
        <thead>
          <tr>
            <th scope="col">without it</th>
            <th scope="col">of its area</th>
            <th scope="col">loses</th>
          </tr>
        </thead>
        <tbody>
          {[...carried]
            .sort((a, b) => a.lost - b.lost)
            .map(({ apId, name, lost, of }) => (
              <tr key={apId}>
                <td>
                  <button type="button" className="quiet-button" onClick={() => set({ selection: { table: 'accessPoints', ids: [apId] } })}>
                    {name}
                  </button>
                </td>
                <td className="mono">{percent(lost)}</td>
                <td className="wide">{of ?? 'nothing'}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}
