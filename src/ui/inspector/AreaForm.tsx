'use client';
import Button from '@mui/material/Button';
import { addCorner, fillHole, moveArea, removeCorner, setZoneKind, type AreaTable } from '@/core/design/areaCommands';
import { edit } from '@/core/design/commands';
import { isToScale, levelsOf, ZONE_KINDS, type Project, type SlabOpening, type Zone } from '@/core/design/design';
import { KEPT_OUT } from '@/core/design/kinds/zone';
import { LIMITS } from '@/core/design/limits';
import { areaM2, regionAreaM2 } from '@/core/geometry/polygon';
import { BANDS } from '@/core/radio/band';
import { formatArea, type UnitSystem } from '@/core/units/length';
import { actionOf } from '../commands/actions';
import { bandLabel } from '../state/selectors';
import { useDocument } from '../state/documentStore';
import { LengthField, NumberField, SelectField, TextField, Value } from './fields';

const KIND_LABEL = { room: 'room', service: 'service is owed here', 'keep-out': 'keep out', clutter: 'clutter', electronics: 'electronics' } as const;

const KEPT_OUT_LABEL = { 'access points': 'access points', service: 'service: none is owed', both: 'both' } as const;

/** A zone, or an opening in the slab: its name, its kind, its corners. */
export function AreaForm({ table, area, project }: { table: AreaTable; area: Zone | SlabOpening; project: Project }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const { units } = project;
  const at = { table, id: area.id };
  const corner = (i: number, axis: 'x' | 'y', present: number) => (
    <LengthField
      label={`${i + 1}, ${axis}`}
      valueM={present}
      units={units}
      minM={LIMITS.coordinateM.min}
      maxM={LIMITS.coordinateM.max}
      onCommit={(value) =>
        run(`Move a corner of ${area.name}`, (d) => moveArea(d, at, i, axis === 'x' ? value - present : 0, axis === 'y' ? value - present : 0))
      }
    />
  );
  return (
    <div>
      <h2>{area.name}</h2>
      <p>
        {table === 'slabOpenings'
          ? 'An opening in the slab under this floor: nothing is lost through it.'
          : 'A zone of the building, shared by all variants.'}
      </p>
      <TextField
        label="name"
        value={area.name}
        maxLength={LIMITS.nameLength}
        onCommit={(name) =>
          run(`Rename ${area.name}`, (d) => (table === 'zones' ? edit(d, 'zones', area.id, { name }) : edit(d, 'slabOpenings', area.id, { name })))
        }
      />
      {'kind' in area && (
        <SelectField
          label="kind"
          value={area.kind}
          options={ZONE_KINDS.map((value) => ({ value, label: KIND_LABEL[value] }))}
          onCommit={(kind) => run(`Kind of ${area.name}`, (d) => setZoneKind(d, area.id, kind))}
        />
      )}
      {'kind' in area && area.kind === 'service' && (
        <>
          <SelectField
            label="service level"
            value={area.serviceLevelId ?? 'none'}
            options={[{ value: 'none', label: 'none yet' }, ...levelsOf(design).map(({ id, name }) => ({ value: id, label: name }))]}
            onCommit={(id) => run(`Service level of ${area.name}`, (d) => edit(d, 'zones', area.id, { serviceLevelId: id === 'none' ? null : id }))}
          />
          <NumberField
            label="expected"
            value={area.people}
            placeholder="not said"
            unit="people"
            min={LIMITS.people.min}
            max={LIMITS.people.max}
            digits={0}
            onCommit={(people) => run(`People in ${area.name}`, (d) => edit(d, 'zones', area.id, { people: Math.round(people) }))}
          />
        </>
      )}
      {'kind' in area && area.kind === 'keep-out' && (
        <SelectField
          label="keeps out"
          value={area.keepsOut}
          options={KEPT_OUT.map((value) => ({ value, label: KEPT_OUT_LABEL[value] }))}
          onCommit={(keepsOut) => run(`What ${area.name} keeps out`, (d) => edit(d, 'zones', area.id, { keepsOut }))}
        />
      )}
      {'kind' in area && area.kind === 'clutter' && area.clutter !== null && <ClutterFields zone={area} clutter={area.clutter} units={units} />}
      <Value label="area">{isToScale(design, area.floorId) ? formatArea(regionAreaM2(area), units) : 'not to scale'}</Value>
      {area.holes.length > 0 && (
        <>
          <h3>Holes</h3>
          {area.holes.map((hole, i) => (
            <Value key={i} label={`hole ${i + 1}`}>
              {isToScale(design, area.floorId) && formatArea(areaM2(hole), units)}{' '}
              <Button size="small" color="secondary" onClick={() => run(`Fill a hole of ${area.name}`, (d) => fillHole(d, at, i))}>
                {`Fill hole ${i + 1}`}
              </Button>
            </Value>
          ))}
        </>
      )}
      <h3>Corners</h3>
      {area.polygon.slice(0, MOST_CORNERS).map((spot, i) => (
        <div key={i}>
          {corner(i, 'x', spot.xM)}
          {corner(i, 'y', spot.yM)}
          {area.polygon.length > 3 && (
            <div className="row">
              <Button size="small" color="secondary" onClick={() => run(`Take a corner of ${area.name} away`, (d) => removeCorner(d, at, i))}>
                {`Take corner ${i + 1} away`}
              </Button>
            </div>
          )}
        </div>
      ))}
      {area.polygon.length > MOST_CORNERS && <p>{`and ${area.polygon.length - MOST_CORNERS} more; drag them on the plan.`}</p>}
      <div className="row">
        <Button size="small" variant="outlined" color="secondary" onClick={() => run(`Add a corner to ${area.name}`, (d) => addCorner(d, at))}>
          Add a corner
        </Button>
        <Button size="small" variant="outlined" color="secondary" onClick={actionOf('delete').run}>
          Delete
        </Button>
      </div>
    </div>
  );
}

/** More corners than this are a shape to drag and not a list to read. */
const MOST_CORNERS = 12;

/** How high clutter stands, and what a metre of way through it loses in each band. */
function ClutterFields({ zone, clutter, units }: { zone: Zone; clutter: NonNullable<Zone['clutter']>; units: UnitSystem }) {
  const set = (title: string, fields: Partial<NonNullable<Zone['clutter']>>) =>
    useDocument.getState().run(`${title} of ${zone.name}`, (d) => edit(d, 'zones', zone.id, { clutter: { ...clutter, ...fields } }));
  return (
    <>
      <LengthField
        label="height"
        valueM={clutter.topM}
        units={units}
        minM={LIMITS.clutterTopM.min}
        maxM={LIMITS.clutterTopM.max}
        onCommit={(topM) => set('Height', { topM })}
      />
      <h3>Loss on the way through</h3>
      {BANDS.map((band) => (
        <NumberField
          key={band}
          label={bandLabel(band)}
          value={clutter.dbPerM[band]}
          unit="dB/m"
          {...LIMITS.clutterDbPerM}
          digits={2}
          onCommit={(dbPerM) => set(`Loss at ${band} GHz`, { dbPerM: { ...clutter.dbPerM, [band]: dbPerM } })}
        />
      ))}
      <p>Rays that pass over it are not charged. The starting values are an estimate: put in what you measured.</p>
    </>
  );
}
