'use client';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { signalsOn } from '@/core/design/surveyCommands';
import { LEAST_TO_LOCATE } from '@/core/survey/fit/locate';
import { formatArea, formatLength } from '@/core/units/length';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { signed } from '../../state/format';
import { forgetKept, locateSignal, useSignals } from './signals';
import { SIGNAL_WORDS } from './signalWords';

/** Signals that were kept on the floor, each with the spots at which it was told, and where it comes from. */
export function KeptSignals({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const { of, busy, found, problem } = useSignals();
  const kept = useMemo(() => signalsOn(design, place.floor.id), [design, place.floor.id]);
  const { units } = place.project;
  if (kept.size === 0) return null;
  return (
    <section aria-label="Signals on this floor">
      <h3>Kept on this floor</h3>
      <ul className="air-kept">
        {[...kept].map(([kind, readings]) => {
          const loudest = readings.reduce((best, one) => (one.levelDbm > best.levelDbm ? one : best));
          const here = of !== null && of.projectId === projectId && of.floorId === place.floor.id && of.kind === kind;
          return (
            <li key={kind}>
              <b>{SIGNAL_WORDS[kind].label}</b>
              {`: at ${readings.length} ${readings.length === 1 ? 'spot' : 'spots'}, loudest ${signed(loudest.levelDbm)} dBm in ${roomAt(design, place, loudest)}. `}
              {readings.length < LEAST_TO_LOCATE ? (
                <span>{`From ${LEAST_TO_LOCATE} spots on it can be located. `}</span>
              ) : (
                <Button size="small" variant="outlined" color="secondary" disabled={here && busy} onClick={() => void locateSignal(place, kind)}>
                  Locate
                </Button>
              )}{' '}
              <button type="button" className="plain" onClick={() => forgetKept(readings)}>
                let it go
              </button>
              {here && found !== null && (
                <p role="status" data-testid="located-signal">
                  {`Likeliest at ${formatLength(found.xM, units, 1)}, ${formatLength(found.yM, units, 1)}, ${roomAt(design, place, found)}; ${formatArea(found.regionM2, units)} hold it nine times in ten; about ${signed(found.eirpDbm)} dBm EIRP.`}
                </p>
              )}
              {here && problem !== null && <p role="alert">{problem}</p>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
