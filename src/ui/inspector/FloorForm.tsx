'use client';
import Button from '@mui/material/Button';
import { LIMITS } from '@/core/design/limits';
import { edit } from '@/core/design/commands';
import { exponentOf, isToScale, variantsOf } from '@/core/design/design';
import { areaM2, boundsOf } from '@/core/geometry/polygon';
import { ENVIRONMENTS, EXPONENT } from '@/core/propagation/pathLoss';
import { formatArea, formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { TAGS, useSession } from '../state/sessionStore';
import { RAMPS } from '../theme/tokens';
import { actionOf, isEnabled } from '../commands/actions';
import { Papers } from '../stages/building/Papers';
import { materialOptions, useMaterials } from '../state/useMaterials';
import { CheckField, LengthField, NumberField, SelectField, TextField, Value } from './fields';
import { ProjectName, ProjectRules, setProject } from './ProjectFields';

const TAG_LABEL = { zoom: 'by zoom', full: 'name and radios', name: 'name only', mark: 'mark only' } as const;
const ENVIRONMENT_LABEL = {
  hall: 'open hall',
  rooms: 'rooms',
  dense: 'dense fittings',
  'undrawn-hall': 'walls not drawn: shops and halls',
  'undrawn-dwelling': 'walls not drawn: dwellings',
  'undrawn-office': 'walls not drawn: offices',
} as const;

/** Buttons for actions, those that can be done now. */
const Actions = ({ ids }: { ids: readonly string[] }) => (
  <div className="row">
    {ids
      .map(actionOf)
      .filter(isEnabled)
      .map((action) => (
        <Button key={action.id} size="small" variant="outlined" color="secondary" onClick={action.run}>
          {action.title}
        </Button>
      ))}
  </div>
);

/** What the inspector shows when nothing is selected: the floor and the project. */
export function FloorForm({ place, building }: { place: Place; building: boolean }) {
  const { design, run } = useDocument();
  const { project, floor, variant } = place;
  const comparing = useSession((s) => s.against !== null);
  const { all } = useMaterials();
  const ramp = useSession((s) => s.ramp);
  const tags = useSession((s) => s.tags);
  const box = boundsOf(floor.outline);
  const floorSet = (title: string, fields: Parameters<typeof edit<'floors'>>[3]) => run(title, (d) => edit(d, 'floors', floor.id, fields));
  return (
    <div>
      <h2>{floor.name}</h2>
      <p>
        {box === null
          ? 'no outline'
          : `${formatLength(box.eastM - box.westM, project.units, 1)} × ${formatLength(box.southM - box.northM, project.units, 1)}`}
        {isToScale(design, floor.id) ? `, ${formatArea(areaM2(floor.outline), project.units)}` : ', not to scale'}
      </p>
      {building ? (
        <>
          <TextField label="name" value={floor.name} maxLength={LIMITS.nameLength} onCommit={(name) => floorSet('Rename floor', { name })} />
          <LengthField
            label="ceiling"
            valueM={floor.ceilingM}
            units={project.units}
            minM={LIMITS.ceilingM.min}
            maxM={LIMITS.ceilingM.max}
            onCommit={(ceilingM) => floorSet('Ceiling height', { ceilingM })}
          />
          <LengthField
            label="level"
            valueM={floor.elevationM}
            units={project.units}
            minM={LIMITS.elevationM.min}
            maxM={LIMITS.elevationM.max}
            onCommit={(elevationM) => floorSet('Level of the floor', { elevationM })}
          />
          <SelectField
            label="slab below"
            value={floor.slabMaterialId}
            options={materialOptions(all, 'none')}
            onCommit={(slabMaterialId) => floorSet('Slab under the floor', { slabMaterialId })}
          />
          <SelectField
            label="character"
            value={floor.environment}
            options={ENVIRONMENTS.map((value) => ({ value, label: `${ENVIRONMENT_LABEL[value]}, path-loss exponent ${EXPONENT[value]}` }))}
            onCommit={(environment) => floorSet('Character of the floor', { environment, exponent: null })}
          />
          <NumberField
            label="exponent"
            value={exponentOf(floor)}
            unit=""
            {...LIMITS.exponent}
            digits={2}
            onCommit={(exponent) => floorSet('Path loss exponent', { exponent })}
          />
          {floor.exponent !== null && (
            <div className="row">
              <Button size="small" color="secondary" onClick={() => floorSet('Exponent of the character', { exponent: null })}>
                {`As the character has it: ${EXPONENT[floor.environment]}`}
              </Button>
            </div>
          )}
          <CheckField
            label="count slant of walls"
            checked={floor.slant}
            onCommit={(slant) => floorSet(slant ? 'Count the slant' : 'Do not count the slant', { slant })}
          />
          <Papers place={place} />
          <p>Choose “Wall” or “Room” and click on the plan to draw; click a wall or an opening to change it.</p>
          <h3>Floors</h3>
          <Actions
            ids={[
              'floor-add',
              'floor-duplicate',
              'floor-duplicate-aps',
              'floor-up',
              'floor-down',
              'tool-register',
              'outline-walls',
              'floor-geojson',
              'floor-dxf',
              'floor-delete',
            ]}
          />
          <p>{`The building is shared by all variants: ${variantsOf(design)
            .map(({ name }) => name)
            .join(', ')}.`}</p>
        </>
      ) : (
        <>
          <Value label="APs">{place.aps.length}</Value>
          <Value label="radios on">{place.aps.reduce((sum, ap) => sum + ap.radios.filter((radio) => radio.on).length, 0)}</Value>
          <p>Click an access point to change it, or the plan to pin the readout.</p>
          <SelectField
            label="map colours"
            value={ramp}
            options={RAMPS.map((value) => ({ value, label: value[0]!.toUpperCase() + value.slice(1) }))}
            onCommit={(value) => useSession.getState().set({ ramp: value })}
          />
          <SelectField
            label="tags"
            value={tags}
            options={TAGS.map((value) => ({ value, label: TAG_LABEL[value] }))}
            onCommit={(value) => useSession.getState().set({ tags: value })}
          />
          <div className="row">
            <Button variant="contained" onClick={() => useSession.getState().set({ retuneOpen: true })}>
              Retune…
            </Button>
            <Button variant="outlined" color="secondary" onClick={actionOf('propose').run}>
              Propose positions…
            </Button>
            <Button variant="outlined" color="secondary" onClick={actionOf('compare').run}>
              {comparing ? 'End the comparison' : 'Compare…'}
            </Button>
          </div>
          <Actions ids={['map-png', 'map-svg']} />
          <h3>Variant</h3>
          <TextField
            label="name"
            value={variant.name}
            maxLength={LIMITS.nameLength}
            onCommit={(name) => run('Rename variant', (d) => edit(d, 'variants', variant.id, { name }))}
          />
          <Actions ids={['variant-duplicate', 'variant-delete']} />
        </>
      )}
      <h3>Project</h3>
      <ProjectName project={project} />
      <ProjectRules project={project} />
      <LengthField
        label="grid"
        valueM={project.cellM}
        units={project.units}
        minM={LIMITS.cellM.min}
        maxM={LIMITS.cellM.max}
        onCommit={(cellM) => setProject('Grid', { cellM })}
      />
    </div>
  );
}
