'use client';
import { onFloor, openingsOf, referencesOf, type Drawing } from '@/core/design/design';
import { worstError } from '@/core/design/drawingCommands';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { BringIn } from './BringIn';
import { foundDrawing, useFinding } from './finding';

/** The plan's papers: what there is of the floor and what state it is in, in any order. A line opens what it tells of. */
export function Papers({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const { set } = useSession.getState();
  const { id } = place.floor;
  const drawings = onFloor(design, 'drawings', id);
  const walls = onFloor(design, 'walls', id);
  const finding = useFinding();
  const proposed = foundDrawing(finding)?.floorId === id ? (finding.found?.walls.length ?? 0) : 0;
  const openings = openingsOf(design, id);
  const zones = onFloor(design, 'zones', id);
  const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
  return (
    <>
      <h3>The plan’s papers</h3>
      <ul className="papers">
        {drawings.map((drawing) => (
          <li key={drawing.id}>
            <button type="button" className="quiet-button" onClick={() => set({ selection: { table: 'drawings', ids: [drawing.id] } })}>
              {drawing.name}
            </button>
            <span>{sizeText(drawing, referencesOf(design, drawing.id).length, worstError(drawing, referencesOf(design, drawing.id)))}</span>
          </li>
        ))}
        {drawings.length === 0 && <li>No drawing: the floor is a bare grid, drawn in metres.</li>}
        <li>
          {count(walls.length, 'wall', 'walls')}
          {proposed > 0 && (
            <button
              type="button"
              className="quiet-button"
              onClick={() => set({ tool: 'review', selection: { table: 'drawings', ids: [finding.of!.drawingId] } })}
            >
              {`${proposed} proposed`}
            </button>
          )}
        </li>
        <li>{`${count(openings.filter((one) => one.kind === 'door').length, 'door', 'doors')}, ${count(openings.filter((one) => one.kind === 'window').length, 'window', 'windows')}`}</li>
        <li>{count(zones.length, 'zone', 'zones')}</li>
      </ul>
      <BringIn />
      <p>PNG, JPEG, WebP, SVG, PDF or DXF; it may also be dropped on the plan or pasted.</p>
    </>
  );
}

/** What is said of the size of a drawing on which nothing was measured. */
const SIZE_FROM = {
  guess: 'not to scale',
  words: 'scale guessed from the lengths written on it',
  file: 'true size by the file’s units',
  walls: 'as large as the walls it was laid over',
} as const;

function sizeText({ scaleFrom, hidden }: Drawing, count: number, worst: number | null): string {
  const size =
    worst !== null ? `true size by ${count} ${count === 1 ? 'length' : 'lengths'}, worst ${(worst * 100).toFixed(1)} %` : SIZE_FROM[scaleFrom];
  return hidden ? `${size}, hidden` : size;
}
