'use client';
import Button from '@mui/material/Button';
import { LIMITS } from '@/core/design/limits';
import { MATERIALS, materialLossDb } from '@/core/building/material';
import { wallLengthM, type Wall } from '@/core/building/wall';
import { edit, moveWall, remove } from '@/core/design/commands';
import type { Project } from '@/core/design/design';
import { BANDS } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { bandLabel } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { LengthField, SelectField, Value } from './fields';

/** One wall: its material, ends and heights. */
export function WallForm({ wall, project }: { wall: Wall; project: Project }) {
  const { run, setNotice } = useDocument.getState();
  const { units } = project;
  const height = (fields: Pick<Partial<Wall>, 'baseM' | 'topM'>) => {
    const next = { ...wall, ...fields };
    if (next.topM <= next.baseM) return setNotice({ words: 'The top of a wall must be above its base; it stays as it was.' });
    run('Wall height', (design) => edit(design, 'walls', wall.id, fields));
  };
  const end = (label: string, part: 'a' | 'b', axis: 'x' | 'y', present: number) => (
    <LengthField
      label={label}
      valueM={present}
      units={units}
      minM={LIMITS.coordinateM.min}
      maxM={LIMITS.coordinateM.max}
      onCommit={(value) =>
        run('Move wall end', (design) => moveWall(design, wall.id, part, axis === 'x' ? value - present : 0, axis === 'y' ? value - present : 0))
      }
    />
  );
  const openings = Object.values(useDocument((s) => s.design.openings)).filter((opening) => opening.wallId === wall.id);
  return (
    <div>
      <h2>Wall</h2>
      <p>
        {formatLength(wallLengthM(wall), units)}, {openings.length === 0 ? 'no openings' : `${openings.length} openings`}
      </p>
      <p>Walls are shared by all variants.</p>
      <SelectField
        label="material"
        value={wall.materialId}
        options={MATERIALS.filter((m) => m.id !== 'open').map(({ id, name }) => ({ value: id, label: name }))}
        onCommit={(materialId) => run('Change material', (design) => edit(design, 'walls', wall.id, { materialId }))}
      />
      {BANDS.map((band) => (
        <Value key={band} label={bandLabel(band)}>
          {materialLossDb(wall.materialId, band).toFixed(1)} dB
        </Value>
      ))}
      <h3>Heights above the floor</h3>
      <LengthField label="base" valueM={wall.baseM} units={units} minM={0} maxM={LIMITS.heightM.max} onCommit={(baseM) => height({ baseM })} />
      <LengthField label="top" valueM={wall.topM} units={units} minM={0} maxM={LIMITS.heightM.max} onCommit={(topM) => height({ topM })} />
      <h3>Ends</h3>
      {end('A, x', 'a', 'x', wall.axM)}
      {end('A, y', 'a', 'y', wall.ayM)}
      {end('B, x', 'b', 'x', wall.bxM)}
      {end('B, y', 'b', 'y', wall.byM)}
      <Button
        variant="outlined"
        color="secondary"
        sx={{ mt: 1.5 }}
        onClick={() => {
          run('Delete wall', (design) => remove(design, 'walls', [wall.id]));
          useSession.getState().set({ selection: null });
        }}
      >
        Delete wall
      </Button>
    </div>
  );
}
