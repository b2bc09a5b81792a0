'use client';
import Button from '@mui/material/Button';
import { allClientTypes, levelsOf, type Project } from '@/core/design/design';
import { addUsualLevels } from '@/core/design/levelCommands';
import { LIMITS } from '@/core/design/limits';
import { CheckField, SelectField, TextField } from '../../inspector/fields';
import { ProjectName, ProjectRules, setProject } from '../../inspector/ProjectFields';
import { bandLabel } from '../../state/selectors';
import { useDocument } from '../../state/documentStore';
import { newLevel, openLevel } from './levels';
import { NetworkFields } from './NetworkFields';
import { OwnDomainFields } from './OwnDomainFields';

const TEXTS = [
  { field: 'facility', title: 'Describe the facility', placeholder: 'what the building is, and what it is used for' },
  { field: 'needs', title: 'Describe the needs', placeholder: 'who does what with the network, and where' },
] as const;

/** What the customer needs: the building and the needs in words, by which rules and units, with which clients, and what is owed. */
export function BriefPanel({ project }: { project: Project }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const levels = levelsOf(design);
  const clients = allClientTypes(design);
  return (
    <div>
      <h2>Brief</h2>
      <ProjectName project={project} />
      {TEXTS.map(({ field, title, placeholder }) => (
        <TextField
          key={field}
          label={field}
          value={project[field]}
          placeholder={placeholder}
          maxLength={LIMITS.textLength}
          mayBeEmpty
          lines={3}
          onCommit={(text) => setProject(title, { [field]: text })}
        />
      ))}
      <ProjectRules project={project} />
      {project.domain === 'own' && project.ownDomain !== null && <OwnDomainFields domain={project.ownDomain} />}
      <SelectField
        label="units"
        value={project.units}
        options={[
          { value: 'metric', label: 'metres' },
          { value: 'us', label: 'feet' },
        ]}
        onCommit={(units) => setProject('Units', { units })}
      />
      <NetworkFields project={project} />
      <h3>Service levels</h3>
      <ul className="papers">
        {levels.map(({ id, name }) => (
          <li key={id}>
            <button type="button" className="quiet-button" onClick={() => openLevel(id)}>
              {name}
            </button>
          </li>
        ))}
        {levels.length === 0 && <li>None yet.</li>}
      </ul>
      <div className="row">
        <Button size="small" variant="outlined" color="secondary" onClick={() => newLevel('Add a service level')}>
          Add a level
        </Button>
        {levels.length === 0 && (
          <Button size="small" variant="outlined" color="secondary" onClick={() => run('Add the usual service levels', addUsualLevels)}>
            Add the usual ones
          </Button>
        )}
      </div>
      <p>
        Click a service zone on the plan to say what is owed there; Design’s lens Service level shows where it is met. Zones are drawn in Building.
      </p>
      <h3>Clients expected</h3>
      {clients.map(({ id, name, bands }) => (
        <CheckField
          key={id}
          label={`${name} (${bands.map((band) => bandLabel(band)).join(', ')})`}
          checked={project.clientTypes.includes(id)}
          onCommit={(on) =>
            setProject(on ? `Expect: ${name}` : `Do not expect: ${name}`, {
              // In the order of the list, whatever the order of clicks.
              clientTypes: clients.map((type) => type.id).filter((other) => (other === id ? on : project.clientTypes.includes(other))),
            })
          }
        />
      ))}
      <p>Design shows the map for each of them: choose one beside “for” above the plan.</p>
    </div>
  );
}
