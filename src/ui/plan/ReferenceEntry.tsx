'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import InputBase from '@mui/material/InputBase';
import { useState } from 'react';
import { v7 as uuid } from 'uuid';
import { onFloor, type Drawing } from '@/core/design/design';
import { measureDrawing, referenceAt } from '@/core/design/drawingCommands';
import { LIMITS } from '@/core/design/limits';
import { distanceM } from '@/core/geometry/point';
import { formatLength, parseLength, type UnitSystem } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import type { Line } from './tools/machine';

/** Asks for the true length of the line that was drawn over something known. */
export function ReferenceEntry({ line, drawing, units, onDone }: { line: Line; drawing: Drawing; units: UnitSystem; onDone: () => void }) {
  const { run, design } = useDocument.getState();
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const drawn = onFloor(design, 'walls', drawing.floorId).length > 0;
  const [along, setAlong] = useState(drawn);
  const set = () => {
    const lengthM = parseLength(text, units);
    if (lengthM === null || lengthM < LIMITS.wallLengthM.min || lengthM > LIMITS.coordinateM.max)
      return setProblem(
        units === 'us' ? 'Write a length as 12.5, 12 ft 6 in or 12\' 6", or 3.8 m.' : 'Write a length as 12.5, 320 cm or 10 ft 6 in.',
      );
    const id = uuid();
    // With nothing drawn yet only the outline can go along, and it should: it is the drawing's own.
    if (
      run('Measure the drawing', (d) =>
        measureDrawing(d, drawing.id, [{ id, reference: referenceAt(drawing, id, line.fromM, line.toM, lengthM) }], { along: along || !drawn }),
      )
    )
      onDone();
  };
  return (
    <div className="typed" role="group" aria-label="True length">
      <label>
        true length{' '}
        <InputBase
          className="entry wide"
          autoFocus
          value={text}
          placeholder={formatLength(distanceM(line.fromM, line.toM), units)}
          slotProps={{ input: { className: 'mono', 'aria-invalid': problem !== null } }}
          onChange={(event) => {
            setText(event.target.value);
            setProblem(null);
          }}
          onKeyDown={(event) => event.key === 'Enter' && set()}
        />
      </label>
      {drawn && (
        <FormControlLabel
          label="what is drawn goes along"
          control={<Checkbox checked={along} onChange={(event) => setAlong(event.target.checked)} />}
        />
      )}
      <Button size="small" variant="contained" onClick={set}>
        Set
      </Button>
      <Button size="small" color="secondary" onClick={onDone}>
        Cancel
      </Button>
      {problem !== null && (
        <span role="alert" className="urgent">
          {problem}
        </span>
      )}
    </div>
  );
}
