'use client';
import Button from '@mui/material/Button';
import { v7 as uuid } from 'uuid';
import { edit } from '@/core/design/commands';
import { PROJECT_ID, levelsOf, type Project } from '@/core/design/design';
import { addLevel, addUsualLevels } from '@/core/design/levelCommands';
import { LIMITS } from '@/core/design/limits';
import { CLIENT_TYPES } from '@/core/radio/clientTypes';
import { DOMAINS } from '@/core/radio/regulation';
import { CheckField, LengthField, SelectField, TextField } from '../../inspector/fields';
import { bandLabel } from '../../state/selectors';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';

/** What the customer needs: the building and the needs in words, by which rules and units, with which clients, and what is owed. */
export function BriefPanel({ project }: { project: Project }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const levels = levelsOf(design);
  const set = (title: string, fields: Partial<Project>) => run(title, (d) => edit(d, 'project', PROJECT_ID, fields));
  const open = (id: string) => useSession.getState().set({ selection: { table: 'serviceLevels', ids: [id] } });
  return (
    <div>
      <h2>Brief</h2>
      <TextField label="name" value={project.name} maxLength={LIMITS.nameLength} onCommit={(name) => set('Rename project', { name })} />
      <TextField
        label="facility"
        value={project.facility}
        placeholder="what the building is, and what it is used for"
        maxLength={LIMITS.textLength}
        mayBeEmpty
        lines={3}
        onCommit={(facility) => set('Describe the facility', { facility })}
      />
      <TextField
        label="needs"
        value={project.needs}
        placeholder="who does what with the network, and where"
        maxLength={LIMITS.textLength}
        mayBeEmpty
        lines={3}
        onCommit={(needs) => set('Describe the needs', { needs })}
      />
      <SelectField
        label="regulatory domain"
        value={project.domain}
        options={DOMAINS.map((value) => ({ value, label: value }))}
        onCommit={(domain) => set('Regulatory domain', { domain })}
      />
      <SelectField
        label="units"
        value={project.units}
        options={[
          { value: 'metric', label: 'metres' },
          { value: 'us', label: 'feet' },
        ]}
        onCommit={(units) => set('Units', { units })}
      />
      <LengthField
        label="client height"
        valueM={project.clientHeightM}
        units={project.units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(clientHeightM) => set('Client height', { clientHeightM })}
      />
      <h3>Service levels</h3>
      <ul className="papers">
        {levels.map(({ id, name }) => (
          <li key={id}>
            <button type="button" className="quiet-button" onClick={() => open(id)}>
              {name}
            </button>
          </li>
        ))}
        {levels.length === 0 && <li>None yet.</li>}
      </ul>
      <div className="row">
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          onClick={() => {
            const id = uuid();
            if (run('Add a service level', (d) => addLevel(d, id))) open(id);
          }}
        >
          Add a level
        </Button>
        {levels.length === 0 && (
          <Button size="small" variant="outlined" color="secondary" onClick={() => run('Add the usual service levels', addUsualLevels)}>
            Add the usual ones
          </Button>
        )}
      </div>
      <p>Click a service zone on the plan to say what is owed there. Zones are drawn in Building.</p>
      <h3>Clients expected</h3>
      {CLIENT_TYPES.map(({ id, name, bands }) => (
        <CheckField
          key={id}
          label={`${name} (${bands.map((band) => bandLabel(band)).join(', ')})`}
          checked={project.clientTypes.includes(id)}
          onCommit={(on) =>
            set(on ? `Expect: ${name}` : `Do not expect: ${name}`, {
              // In the order of the list, whatever the order of clicks.
              clientTypes: CLIENT_TYPES.map((type) => type.id).filter((other) => (other === id ? on : project.clientTypes.includes(other))),
            })
          }
        />
      ))}
      <p>Noted for whoever reads the plan: the map itself is for a client of two streams in any band.</p>
    </div>
  );
}
