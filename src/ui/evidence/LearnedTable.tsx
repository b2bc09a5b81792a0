'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import { v7 as uuid } from 'uuid';
import type { Design } from '@/core/design/design';
import { takeLearned, type Taken } from '@/core/design/learnedCommands';
import type { Band } from '@/core/radio/band';
import { spreadDb, type FitSummary, type Learned } from '@/core/survey/fit/summary';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import type { Place } from '../state/selectors';
import { useSessionFields, type Session } from '../state/sessionStore';
import { whatOf } from './surveyWords';

/** What can be drawn, on this floor: an access point or a receiver that differs is seen to on site. */
const canBeTaken = (row: Learned, design: Design, floorId: string): boolean =>
  row.kind === 'wall' ? design.walls[row.wallId]?.floorId === floorId : row.kind === 'exponent' || row.kind === 'material';

/** Told apart from the drawing by so many deviations, it is ticked to begin with. */
const SURE = 2;

/** Everything that was learned, the surest deviations first; what is ticked can be taken into the drawing, as one step. */
export function LearnedTable({ summary, place, band }: { summary: FitSummary; place: Place; band: Band }) {
  const design = useDocument((s) => s.design);
  const { set } = useSessionFields('stage');
  const { learned, held, unheard } = summary;
  const [taken, setTaken] = useState<ReadonlySet<number>>(
    () =>
      new Set(
        learned.flatMap((row, i) =>
          canBeTaken(row, design, place.floor.id) && !held.includes(row.kind) && Math.abs(row.estimate) > SURE * row.sd ? [i] : [],
        ),
      ),
  );
  const rows = learned
    .map((row, i) => ({ row, i, weight: Math.abs(row.estimate) / row.sd }))
    .filter(({ row }) => !held.includes(row.kind) && (row.kind !== 'radio' || !unheard.includes(row.apId)))
    .sort((a, b) => b.weight - a.weight);
  const tick = (i: number, on: boolean) => setTaken(new Set(on ? [...taken, i] : [...taken].filter((one) => one !== i)));
  const take = () => {
    const what = takenOf([...taken].map((i) => learned[i]!));
    useDocument.getState().run(`Take what was measured on ${place.floor.name}, ${band} GHz`, (d) => takeLearned(d, place.floor.id, band, what, uuid));
  };
  return (
    <div className="learned">
      <Button variant="contained" disabled={taken.size === 0} onClick={take}>
        {taken.size === 0 ? 'Take into the drawing' : `Take the ${taken.size} ticked into the drawing`}
      </Button>
      <p role="status" aria-label="What taking it would bring">
        {`Each access point’s own offset apart, readings scatter around the drawing by ±${spreadDb(summary, []).toFixed(1)} dB${taken.size === 0 ? '' : `; with what is ticked, by ±${spreadDb(summary, [...taken]).toFixed(1)} dB`}. Of materials only ${band} GHz is changed, on this floor; an exponent is of all bands. An access point that differs is seen to on site.`}
      </p>
      <Table size="small" stickyHeader aria-label="What was learned">
        <TableHead>
          <TableRow>
            <TableCell>take</TableCell>
            <TableCell>what</TableCell>
            <TableCell title="Louder or weaker by; of materials and walls: loses more or less by, at one crossing; of the exponent: higher or lower by">
              differs from the drawing by
            </TableCell>
            <TableCell title="Standard deviation after the walk">±</TableCell>
            <TableCell title="Standard deviation before anything was measured">± before</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map(({ row, i }) => {
            const unit = row.kind === 'exponent' ? '' : ' dB';
            const digits = row.kind === 'exponent' ? 2 : 1;
            const number = (value: number) => `${value > 0 ? '+' : ''}${signed(value, digits)}${unit}`;
            const selection = selectionOf(row, design, place.floor.id);
            const words = whatOf(row, design);
            return (
              <TableRow key={i}>
                <TableCell padding="checkbox">
                  {canBeTaken(row, design, place.floor.id) && (
                    <Checkbox
                      size="small"
                      checked={taken.has(i)}
                      slotProps={{ input: { 'aria-label': `Take ${words}, ${number(row.estimate)}` } }}
                      onChange={(_, on) => tick(i, on)}
                    />
                  )}
                </TableCell>
                <TableCell sx={{ fontWeight: row.kind === 'radio' ? 600 : 400 }}>
                  {selection === null ? (
                    words
                  ) : (
                    <button type="button" className="plain" title="Show it on the plan" onClick={() => set({ selection })}>
                      {words}
                    </button>
                  )}
                </TableCell>
                <TableCell className="mono">{number(row.estimate)}</TableCell>
                <TableCell className="mono">{`${row.sd.toFixed(digits)}${unit}`}</TableCell>
                <TableCell className="mono">{`${row.priorSd.toFixed(digits)}${unit}`}</TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </div>
  );
}

function selectionOf(row: Learned, design: Design, floorId: string): Session['selection'] {
  if (row.kind === 'radio' && design.accessPoints[row.apId]?.floorId === floorId) return { table: 'accessPoints', ids: [row.apId] };
  return row.kind === 'wall' && design.walls[row.wallId]?.floorId === floorId ? { table: 'walls', ids: [row.wallId] } : null;
}

/** Rows that were ticked, as they are taken. */
function takenOf(rows: readonly Learned[]): Taken {
  return {
    exponentBy: rows.find(({ kind }) => kind === 'exponent')?.estimate ?? null,
    materials: rows.flatMap((row) => (row.kind === 'material' ? [{ materialId: row.materialId, byDb: row.estimate }] : [])),
    walls: rows.flatMap((row) => (row.kind === 'wall' ? [{ wallId: row.wallId, materialId: row.materialId, byDb: row.estimate }] : [])),
  };
}
