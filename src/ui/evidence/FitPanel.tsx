'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { useMemo } from 'react';
import type { Held } from '@/core/survey/fit/solve';
import type { FitSummary } from '@/core/survey/fit/summary';
import type { Counted } from '@/core/survey/heard';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { bandLabel, useStillDesign, type Place } from '../state/selectors';
import { useSessionFields, type Session } from '../state/sessionStore';
import { NOT_LOOKED, lookForFaults, stopLooking, surveyQuestion, useFaultsFound, useLearned } from '../state/surveyed';
import type { FoundFault } from '@/engine/protocol';
import { PX_PER_DB } from '../plan/ResidualsLayer';
import { ScorePanel } from './ScorePanel';
import { LearnedTable } from './LearnedTable';
import { ResidualChart } from './ResidualChart';
import { faultWords, whatOf } from './surveyWords';

/** What the walk in view teaches of the building: how sure its map is, what differs from the drawing, and what may be wrong with it. */
export function FitPanel({ place, heard }: { place: Place; heard: Counted }) {
  const { band, source, held, set } = useSessionFields('band', 'source', 'held');
  // The design that the map is of.
  const design = useStillDesign();
  const learned = useLearned();
  const faults = useFaultsFound();
  const asked = useMemo(() => surveyQuestion(design, place, heard, band, held), [design, place, heard, band, held]);
  if (heard.samples.length === 0) return <p className="empty">No samples yet: start a walk, or choose one at the right.</p>;
  const { summary, error } = learned.key === asked.key ? learned : NOTHING;
  return (
    <div className="fit">
      <div className="told">
        {source !== 'measured' ? (
          <div className="row">
            <p>What is learned from a walk comes with its measured map.</p>
            <Button variant="contained" onClick={() => set({ source: 'measured', lens: 'signal' })}>
              Show the measured map
            </Button>
          </div>
        ) : error !== null ? (
          <p role="alert">{error}</p>
        ) : summary === null ? (
          <p role="status">{`Learning from the walk in ${bandLabel(band)} …`}</p>
        ) : (
          <>
            <FitText summary={summary} place={place} />
            <ResidualChart histogram={summary.histogram} />
          </>
        )}
        {source === 'measured' && <MayDiffer />}
        <Faults asked={asked} faults={faults.key === asked.key ? faults : NOT_LOOKED} place={place} band={bandLabel(band)} />
        <ScorePanel place={place} />
      </div>
      {source === 'measured' && summary !== null && <LearnedTable key={asked.key} summary={summary} place={place} band={band} />}
    </div>
  );
}

const NOTHING = { summary: null, error: null };

const KINDS: ReadonlyArray<Readonly<{ kind: Held[number]; label: string }>> = [
  { kind: 'offset', label: 'receiver' },
  { kind: 'exponent', label: 'path loss exponent' },
  { kind: 'radio', label: 'access points' },
  { kind: 'material', label: 'materials' },
  { kind: 'wall', label: 'single walls' },
];

/** What a walk may teach; what is unticked is held to the drawing, and the rest is learned anew. */
function MayDiffer() {
  const { held, set } = useSessionFields('held');
  return (
    <fieldset className="ticks">
      <legend>May differ from the drawing:</legend>
      {KINDS.map(({ kind, label }) => (
        <label key={kind}>
          <Checkbox
            size="small"
            checked={!held.includes(kind)}
            onChange={(_, may) => set({ held: may ? held.filter((one) => one !== kind) : [...held, kind] })}
          />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

/** How well it foretells, in a sentence; and what it cannot tell. */
function FitText({ summary, place }: { summary: FitSummary; place: Place }) {
  const design = useDocument((s) => s.design);
  const { readings, unheardSpots, crossValidatedDb, drawnDb, scatter, confused, unheard, learned } = summary;
  const { units } = place.project;
  const nameOf = (apId: string) => design.accessPoints[apId]?.name ?? 'deleted AP';
  return (
    <>
      <p data-testid="fit-text">
        {`${readings} readings of a square metre each${unheardSpots > 0 ? `, and ${unheardSpots} spots where a radio was listened for and not heard` : ''}. A reading left out is foretold to ±${crossValidatedDb.toFixed(1)} dB by its neighbours and what was learned, to ±${drawnDb.toFixed(1)} dB by the drawing alone (root mean square). Shadows: ${Math.sqrt(scatter.shadowVar).toFixed(1)} dB, reaching ${formatLength(scatter.correlationM, units, 1)}; one beacon: ±${Math.sqrt(scatter.beaconVar).toFixed(1)} dB.`}
      </p>
      <p>{`Bars on the plan: what is left at each spot beyond what was learned, up where it is louder, ${10 * PX_PER_DB} pixels for 10 dB.`}</p>
      {unheard.length > 0 && <p>{`Never heard in this band: ${unheard.map(nameOf).join(', ')}.`}</p>}
      <p>
        What all access points share cannot be told from the receiver’s own offset.
        {confused.length > 0 &&
          ` Hardly told apart by this walk: ${confused.map((pair) => pair.map((i) => whatOf(learned[i]!, design)).join(' and ')).join('; ')}.`}
      </p>
    </>
  );
}

/** What is not as drawn: asked for, for it takes seconds. */
function Faults({
  asked,
  faults,
  place,
  band,
}: {
  asked: ReturnType<typeof surveyQuestion>;
  faults: ReturnType<typeof useFaultsFound.getState>;
  place: Place;
  band: string;
}) {
  const design = useDocument((s) => s.design);
  const { set } = useSessionFields('stage');
  return (
    <section aria-label="What is not as drawn">
      <div className="row">
        {faults.busy ? (
          <>
            <Button variant="outlined" color="secondary" onClick={stopLooking}>
              Stop looking
            </Button>
            <p role="status">Looking for what is not as drawn: up to half a minute …</p>
          </>
        ) : (
          <Button variant="outlined" color="secondary" onClick={() => void lookForFaults(asked)}>
            {`Look for what is not as drawn, in ${band}`}
          </Button>
        )}
      </div>
      {faults.error !== null && <p role="alert">{faults.error}</p>}
      {faults.found?.length === 0 && (
        <p role="status">
          Nothing stands out. What a walk can tell: an access point on another channel, weak or loud by 10 dB, hung 2 m or more from its place, two
          that are swapped, a wall of 10 dB that 15 readings look through. Less than that is lost in shadows.
        </p>
      )}
      {faults.found !== null && faults.found.length > 0 && (
        <ol className="faults" aria-label="Found, the strongest evidence first">
          {faults.found.map((fault, i) => (
            <li key={i}>
              {faultWords(fault, design, place.project.units)}{' '}
              <button type="button" className="plain" onClick={() => set(placeOfFault(fault))}>
                show
              </button>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

/** What to select or pin so that the plan shows where a fault is. */
function placeOfFault(fault: FoundFault): Partial<Session> {
  if (fault.kind === 'obstacle')
    return { pinned: { xM: (fault.fromM[0] + fault.toM[0]) / 2, yM: (fault.fromM[1] + fault.toM[1]) / 2 }, explainedApId: null };
  if (fault.kind === 'elsewhere') return { pinned: { xM: fault.xM, yM: fault.yM }, explainedApId: fault.apIds[0] ?? null };
  if (fault.kind === 'wall') return { selection: { table: 'walls', ids: [fault.wallId] } };
  return { selection: { table: 'accessPoints', ids: [...fault.apIds] } };
}
