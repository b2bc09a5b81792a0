import { UpperRoomError } from '@/core/errors';
import type { LoggedStep, PostStep, StepAnswer } from '@/contract/http';
import { PROJECT_ID } from '@/core/design/design';
import { mergeChanges } from '@/core/design/merge';
import { brokenReferences } from '@/core/design/references';
import { applyChanges } from '@/core/design/step';
import type { Database } from '../database';
import { setRevision } from '../stores/projects';
import { loadDesign, writeChanges } from '../stores/records';
import { appendStep, findStep, stepsAfter } from '../stores/steps';
import { publish } from './events';
import { requireProject } from './projects';

/**
 * Applies a step in one transaction: checks it, fits it onto the present design, writes records and log, raises the revision.
 * A step sent twice is answered as the first time. What somebody else changed meanwhile is merged field by field; when nothing
 * of the step can stand, it is refused with both values.
 * @throws UpperRoomError PROJECT_UNKNOWN, PROJECT_DELETED, REVISION_AHEAD, REFERENCE_BROKEN, STEP_CONFLICT
 */
export async function postStep(db: Database, projectId: string, { baseRevision, step }: PostStep): Promise<StepAnswer> {
  const { answer, fresh } = await db.transaction(async (q) => {
    const project = await requireProject(q, projectId, true);
    const known = await findStep(q, projectId, step.id);
    if (known !== null) return { answer: known, fresh: false };
    if (baseRevision > project.revision) throw new UpperRoomError('REVISION_AHEAD', { baseRevision, revision: project.revision });
    const design = await loadDesign(q, projectId);
    const { changes, conflicts } = mergeChanges(design, step.changes);
    if (changes.length === 0 && conflicts.length > 0) throw new UpperRoomError('STEP_CONFLICT', { conflicts });
    const after = applyChanges(design, changes);
    const broken = brokenReferences(after, changes);
    if (broken.length > 0) throw new UpperRoomError('REFERENCE_BROKEN', { broken: broken.slice(0, 20) });
    if (after.project[PROJECT_ID] === undefined)
      throw new UpperRoomError('REFERENCE_BROKEN', { broken: [{ table: 'project', id: PROJECT_ID, field: 'id', missingId: PROJECT_ID }] });
    const revision = project.revision + 1;
    const applied = { ...step, changes };
    await writeChanges(q, projectId, changes);
    await appendStep(q, projectId, revision, applied, conflicts);
    await setRevision(q, projectId, revision);
    return { answer: { revision, step: applied, conflicts }, fresh: true };
  });
  if (fresh) publish(projectId, { type: 'step', revision: answer.revision, step: answer.step });
  return answer;
}

const PAGE = 500;

/** The steps after a revision, oldest first: how a window that missed some catches up. */
export async function listSteps(db: Database, projectId: string, after: number): Promise<LoggedStep[]> {
  await requireProject(db, projectId);
  return stepsAfter(db, projectId, after, PAGE);
}

/** One step with its changes: what undo needs. @throws UpperRoomError RECORD_UNKNOWN */
export async function getStep(db: Database, projectId: string, stepId: string): Promise<LoggedStep> {
  await requireProject(db, projectId);
  const step = await findStep(db, projectId, stepId);
  if (step === null) throw new UpperRoomError('RECORD_UNKNOWN', { table: 'step', id: stepId });
  return step;
}
