'use client';
import Button from '@mui/material/Button';
import type { SignalKind } from '@/core/spectrum/signal';
import { formatArea, formatLength } from '@/core/units/length';
import { LEAST_TO_LOCATE } from '@/core/survey/fit/locate';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import { signed } from '../../state/format';
import type { Place } from '../../state/selectors';
import { forgetSignals, locateSignal, putOnPlan, useSignals, type HeardAt } from './signals';

/** Looks for where a signal comes from, by the spots at which it was told, says what was found, and puts it on the plan. */
export function LocatedSignal({ place, kind, readings }: { place: Place; kind: SignalKind; readings: readonly HeardAt[] }) {
  const design = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const { of, busy, found, problem } = useSignals();
  const here = of !== null && of.projectId === projectId && of.floorId === place.floor.id && of.kind === kind;
  const { units } = place.project;
  return (
    <>
      {readings.length < LEAST_TO_LOCATE ? (
        <span>{`From ${LEAST_TO_LOCATE} spots on it can be located. `}</span>
      ) : (
        <Button size="small" variant="outlined" color="secondary" disabled={here && busy} onClick={() => void locateSignal(place, kind, readings)}>
          Locate
        </Button>
      )}{' '}
      {here && found !== null && (
        <>
          <p role="status" data-testid="located-signal">
            {`Likeliest at ${formatLength(found.xM, units, 1)}, ${formatLength(found.yM, units, 1)}, ${roomAt(design, place, found)}; ${formatArea(found.regionM2, units)} hold it nine times in ten; about ${signed(found.eirpDbm)} dBm EIRP.`}
          </p>
          <Button size="small" variant="outlined" color="secondary" onClick={() => putOnPlan(place)}>
            Put it on the plan
          </Button>{' '}
          <Button size="small" color="secondary" onClick={forgetSignals}>
            Close
          </Button>
        </>
      )}
      {here && problem !== null && <p role="alert">{problem}</p>}
    </>
  );
}
