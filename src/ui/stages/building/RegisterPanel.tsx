'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { floorBelow, registerFloor, registration } from '@/core/design/floorCommands';
import { UpperRoomError } from '@/core/errors';
import { formatLength } from '@/core/units/length';
import { CheckField, Value } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { usePairs } from './usePairs';

/** Laying a floor over the one below by pairs of common points: what is left between them before anything moves. */
export function RegisterPanel({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const { pairs, setPairs, end } = usePairs(place.floor.id);
  const [scaled, setScaled] = useState(false);
  const below = floorBelow(design, place.floor.id);
  const { units } = place.project;
  let found: ReturnType<typeof registration> | null = null;
  let problem: string | null = null;
  try {
    found = pairs.length > 0 ? registration(pairs, scaled) : null;
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    problem = wordsOf(error);
  }
  if (below === null) return <p>This is the lowest floor: the others are laid over it.</p>;
  return (
    <div>
      <h2>{`Lay ${place.floor.name} over ${below.name}`}</h2>
      <p>{`The walls of ${below.name} are shown in second ink. Click a spot of this floor, then the same spot of the floor below: a stair core, a lift, a corner. Two pairs far apart will do; more show how well they agree.`}</p>
      {pairs.map((_, i) => (
        <div key={i} className="row">
          <Value label={`pair ${i + 1}`}>{found === null ? '–' : `${formatLength(found.residualsM[i]!, units)} left`}</Value>
          <Button size="small" color="secondary" aria-label={`Take pair ${i + 1} away`} onClick={() => setPairs(pairs.filter((__, j) => j !== i))}>
            Take away
          </Button>
        </div>
      ))}
      {problem !== null && <p role="status">{problem}</p>}
      {found !== null && (
        <>
          <Value label="turn">{`${found.similarity.turnDeg.toFixed(2)}°`}</Value>
          <Value label="scale">{found.similarity.scale.toFixed(4)}</Value>
        </>
      )}
      <CheckField label="scale as well" checked={scaled} onCommit={setScaled} />
      <div className="row">
        <Button
          variant="contained"
          disabled={found === null}
          onClick={() => {
            if (useDocument.getState().run(`Lay ${place.floor.name} over ${below.name}`, (d) => registerFloor(d, place.floor.id, pairs, scaled))) {
              end();
              useSession.getState().set({ view: null });
            }
          }}
        >
          Lay it over
        </Button>
        <Button color="secondary" onClick={end}>
          Cancel
        </Button>
      </div>
    </div>
  );
}
