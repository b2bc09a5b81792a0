'use client';
import Button from '@mui/material/Button';
import { lossDbOf } from '@/core/building/material';
import { OPENING_KINDS, wallLengthM } from '@/core/building/wall';
import type { Opening, Project } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { editOpenings, OPENING_DEFAULTS } from '@/core/design/openingCommands';
import { BANDS } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { actionOf } from '../commands/actions';
import { useDocument } from '../state/documentStore';
import { bandLabel } from '../state/selectors';
import { materialOptions, useMaterials } from '../state/useMaterials';
import { common, LengthField, SelectField, Value } from './fields';

export const OPENING_LABEL = { door: 'Door', window: 'Window', passage: 'Passage', shutter: 'Shutter' } as const;

/** One opening, or several at once. */
export function OpeningForm({ openings, project }: { openings: readonly Opening[]; project: Project }) {
  const { run, setNotice } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const { all, of } = useMaterials();
  const { units } = project;
  const first = openings[0]!;
  const single = openings.length === 1;
  const ids = openings.map((opening) => opening.id);
  const kind = common(openings, (opening) => opening.kind);
  const what = single ? first.kind : `${openings.length} openings`;
  const wall = design.walls[first.wallId];
  const set = (title: string, fields: Parameters<typeof editOpenings>[2]) => run(`${title} of ${what}`, (d) => editOpenings(d, ids, fields));
  const height = (fields: Pick<Partial<Opening>, 'sillM' | 'headM'>) => {
    if (openings.some((opening) => (fields.headM ?? opening.headM) <= (fields.sillM ?? opening.sillM)))
      return setNotice({ words: 'The head of an opening must be above its sill; it stays as it was.' });
    set('Height', fields);
  };
  const materialId = common(openings, (opening) => opening.materialId);
  return (
    <div>
      <h2>{single ? OPENING_LABEL[first.kind] : `${openings.length} openings`}</h2>
      {single && wall !== undefined && <p>In a wall of {formatLength(wallLengthM(wall), units)}. Drag it along the wall.</p>}
      <SelectField
        label="kind"
        value={kind}
        options={OPENING_KINDS.map((value) => ({ value, label: OPENING_LABEL[value] }))}
        // A passage has no leaf and a shutter is of metal: the leaf follows the kind.
        onCommit={(value) => set('Kind', { kind: value, materialId: OPENING_DEFAULTS[value].materialId })}
      />
      <SelectField
        label="material"
        value={materialId}
        options={materialOptions(all, 'Open (no leaf)')}
        onCommit={(value) => set('Material', { materialId: value })}
      />
      {materialId !== null &&
        BANDS.map((band) => (
          <Value key={band} label={bandLabel(band)}>
            {lossDbOf(of(materialId), band).toFixed(1)} dB
          </Value>
        ))}
      <LengthField
        label="width"
        valueM={common(openings, (opening) => opening.widthM)}
        units={units}
        minM={LIMITS.openingWidthM.min}
        maxM={LIMITS.openingWidthM.max}
        onCommit={(widthM) => set('Width', { widthM })}
      />
      <LengthField
        label="sill"
        valueM={common(openings, (o) => o.sillM)}
        units={units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(sillM) => height({ sillM })}
      />
      <LengthField
        label="head"
        valueM={common(openings, (o) => o.headM)}
        units={units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(headM) => height({ headM })}
      />
      {single && (
        <LengthField
          label="from end A"
          valueM={first.atM}
          units={units}
          minM={0}
          maxM={LIMITS.coordinateM.max}
          onCommit={(atM) => set('Place', { atM })}
        />
      )}
      <div className="row">
        {kind === 'door' && (
          <>
            <Button size="small" variant="outlined" color="secondary" onClick={() => set('Hinge', { hinge: first.hinge === 'a' ? 'b' : 'a' })}>
              Hang at the other side
            </Button>
            <Button
              size="small"
              variant="outlined"
              color="secondary"
              onClick={() => set('Swing', { swing: first.swing === 'left' ? 'right' : 'left' })}
            >
              Open to the other side
            </Button>
          </>
        )}
        <Button size="small" variant="outlined" color="secondary" onClick={actionOf('delete').run}>
          Delete
        </Button>
      </div>
    </div>
  );
}
