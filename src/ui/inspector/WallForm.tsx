'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { LIMITS } from '@/core/design/limits';
import { lossDbOf } from '@/core/building/material';
import { wallLengthM, type Wall } from '@/core/building/wall';
import { edit } from '@/core/design/commands';
import type { Project } from '@/core/design/design';
import type { Change } from '@/core/design/step';
import { moveWalls, openingsIn } from '@/core/design/wallCommands';
import { BANDS } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { actionOf, isEnabled } from '../commands/actions';
import { offsetSelected } from '../commands/buildingActions';
import { useDocument } from '../state/documentStore';
import { bandLabel } from '../state/selectors';
import { materialOptions, useMaterials } from '../state/useMaterials';
import { common, LengthField, SelectField, Value } from './fields';

/** What can be done with the selected walls, by the actions of the same names. */
const WALL_ACTIONS = ['split', 'join', 'meet', 'mirror-x', 'mirror-y', 'copy', 'select-material', 'select-connected', 'delete'] as const;

/** One wall, or several at once: material, heights, ends, and what can be done with them. */
export function WallForm({ walls, project }: { walls: readonly Wall[]; project: Project }) {
  const { run, setNotice } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const { all, of } = useMaterials();
  const { units } = project;
  const first = walls[0]!;
  const single = walls.length === 1;
  const ids = walls.map((wall) => wall.id);
  const what = single ? 'wall' : `${walls.length} walls`;
  const materialId = common(walls, (wall) => wall.materialId);
  const every = (title: string, fields: Partial<Wall>) =>
    run(`${title} of ${what}`, (d) => ids.flatMap((id): Change[] => edit(d, 'walls', id, fields)));
  const height = (fields: Pick<Partial<Wall>, 'baseM' | 'topM'>) => {
    if (walls.some((wall) => (fields.topM ?? wall.topM) <= (fields.baseM ?? wall.baseM)))
      return setNotice({ words: 'The top of a wall must be above its base; it stays as it was.' });
    every('Height', fields);
  };
  const end = (label: string, part: 'a' | 'b', axis: 'x' | 'y', present: number) => (
    <LengthField
      label={label}
      valueM={present}
      units={units}
      minM={LIMITS.coordinateM.min}
      maxM={LIMITS.coordinateM.max}
      onCommit={(value) =>
        run('Move wall end', (d) => moveWalls(d, ids, part, axis === 'x' ? value - present : 0, axis === 'y' ? value - present : 0, 'none'))
      }
    />
  );
  const openings = ids.flatMap((id) => openingsIn(design, id));
  const lengthM = walls.reduce((sum, wall) => sum + wallLengthM(wall), 0);
  return (
    <div>
      <h2>{single ? 'Wall' : `${walls.length} walls`}</h2>
      <p>
        {formatLength(lengthM, units)}
        {single ? '' : ' in all'}, {openings.length === 0 ? 'no openings' : `${openings.length} ${openings.length === 1 ? 'opening' : 'openings'}`}
      </p>
      <p>Walls are shared by all variants.</p>
      <SelectField
        label="material"
        value={materialId}
        options={materialOptions(all, null)}
        onCommit={(value) => every('Material', { materialId: value })}
      />
      {materialId !== null &&
        BANDS.map((band) => (
          <Value key={band} label={bandLabel(band)}>
            {lossDbOf(of(materialId), band).toFixed(1)} dB
          </Value>
        ))}
      <h3>Heights above the floor</h3>
      <LengthField
        label="base"
        valueM={common(walls, (w) => w.baseM)}
        units={units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(baseM) => height({ baseM })}
      />
      <LengthField
        label="top"
        valueM={common(walls, (w) => w.topM)}
        units={units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(topM) => height({ topM })}
      />
      {single && (
        <>
          <h3>Ends</h3>
          {end('A, x', 'a', 'x', first.axM)}
          {end('A, y', 'a', 'y', first.ayM)}
          {end('B, x', 'b', 'x', first.bxM)}
          {end('B, y', 'b', 'y', first.byM)}
        </>
      )}
      <h3>Change</h3>
      <Beside units={units} />
      <div className="row">
        {WALL_ACTIONS.map(actionOf)
          .filter(isEnabled)
          .map((action) => (
            <Button key={action.id} size="small" variant="outlined" color="secondary" title={action.key} onClick={action.run}>
              {action.title}
            </Button>
          ))}
      </div>
    </div>
  );
}

/** Draws walls beside the selected ones at a distance. */
function Beside({ units }: { units: Project['units'] }) {
  const [byM, setByM] = useState(0.5);
  return (
    <>
      <LengthField label="beside, at" valueM={byM} units={units} minM={-LIMITS.planSideM.max} maxM={LIMITS.planSideM.max} onCommit={setByM} />
      <div className="row">
        <Button size="small" variant="outlined" color="secondary" onClick={() => offsetSelected(byM)}>
          Draw walls beside
        </Button>
      </div>
    </>
  );
}
