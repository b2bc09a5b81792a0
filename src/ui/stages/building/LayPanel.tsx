'use client';
import Button from '@mui/material/Button';
import { layDrawing } from '@/core/design/drawingCommands';
import type { Drawing } from '@/core/design/design';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { usePairs } from './usePairs';

/** Laying a drawing, a newer one say, over the walls that stand: two pairs of points, and it lies where they do. */
export function LayPanel({ place, drawing }: { place: Place; drawing: Drawing }) {
  const { pairs, setPairs, end } = usePairs(place.floor.id);
  return (
    <div>
      <h2>{`Lay “${drawing.name}” over the walls`}</h2>
      <p>
        Click a spot of the drawing, then the same spot of the walls, twice or more, far apart. The drawing moves, turns and grows; the walls stay
        where they are.
      </p>
      <p role="status">{`${pairs.length} ${pairs.length === 1 ? 'pair' : 'pairs'} of points`}</p>
      <div className="row">
        <Button
          variant="contained"
          disabled={pairs.length < 2}
          onClick={() => useDocument.getState().run('Lay drawing over the walls', (d) => layDrawing(d, drawing.id, pairs)) && end()}
        >
          Lay it over
        </Button>
        <Button color="secondary" onClick={() => setPairs([])}>
          Begin again
        </Button>
        <Button color="secondary" onClick={end}>
          Cancel
        </Button>
      </div>
    </div>
  );
}
