'use client';
import { useMemo } from 'react';
import { signalsOn } from '@/core/design/surveyCommands';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { signed } from '../../state/format';
import { LocatedSignal } from './LocatedSignal';
import { forgetKept } from './signals';
import { SIGNAL_WORDS } from '../../state/signalWords';

/** Signals that were kept on the floor, each with the spots at which it was told, and where it comes from. */
export function KeptSignals({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const kept = useMemo(() => signalsOn(design, place.floor.id), [design, place.floor.id]);
  if (kept.size === 0) return null;
  return (
    <section aria-label="Signals on this floor">
      <h3>Kept on this floor</h3>
      <ul className="air-kept">
        {[...kept].map(([kind, readings]) => {
          const loudest = readings.reduce((best, one) => (one.levelDbm > best.levelDbm ? one : best));
          return (
            <li key={kind}>
              <b>{SIGNAL_WORDS[kind].label}</b>
              {`: at ${readings.length} ${readings.length === 1 ? 'spot' : 'spots'}, loudest ${signed(loudest.levelDbm)} dBm in ${roomAt(design, place, loudest)}. `}
              <button type="button" className="plain" onClick={() => forgetKept(readings)}>
                let it go
              </button>
              <LocatedSignal place={place} kind={kind} readings={readings} />
            </li>
          );
        })}
      </ul>
    </section>
  );
}
