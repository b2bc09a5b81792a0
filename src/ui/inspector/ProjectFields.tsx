'use client';
import { edit } from '@/core/design/commands';
import { PROJECT_ID, domainOf, type Project } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { DOMAINS, domainName, rulesOf } from '@/core/radio/regulation';
import { useDocument } from '../state/documentStore';
import { LengthField, SelectField, TextField } from './fields';

/** Sets fields of the project as one step. */
export const setProject = (title: string, fields: Partial<Project>): boolean =>
  useDocument.getState().run(title, (design) => edit(design, 'project', PROJECT_ID, fields));

export const ProjectName = ({ project }: { project: Project }) => (
  <TextField label="name" value={project.name} maxLength={LIMITS.nameLength} onCommit={(name) => setProject('Rename project', { name })} />
);

/** By which rules, and how high clients are held. */
export function ProjectRules({ project }: { project: Project }) {
  return (
    <>
      <SelectField
        label="regulatory domain"
        value={project.domain}
        options={[...DOMAINS.map((value) => ({ value, label: value })), { value: 'own' as const, label: project.ownDomain?.name ?? 'our own' }]}
        onCommit={(domain) =>
          setProject('Regulatory domain', {
            domain,
            // A law of one's own begins as the one that was chosen.
            ...(domain === 'own' && project.ownDomain === null
              ? { ownDomain: { name: `Like ${domainName(domainOf(project))}`, rules: [...rulesOf(domainOf(project))] } }
              : {}),
          })
        }
      />
      <LengthField
        label="client height"
        valueM={project.clientHeightM}
        units={project.units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(clientHeightM) => setProject('Client height', { clientHeightM })}
      />
    </>
  );
}
