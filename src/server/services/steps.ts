import { UpperRoomError } from '@/core/errors';
import type { LogLine, LoggedStep, PostStep, StepAnswer } from '@/contract/http';
import { mergeChanges } from '@/core/design/merge';
import { brokenReferences, questionsOf } from '@/core/design/references';
import { PROJECT_ID, domainOf, modelsOf } from '@/core/design/design';
import { MODEL_CATALOGUE } from '@/core/design/kinds/kind';
import { breachesOf, notLawful, type Breach } from '@/core/design/lawful';
import type { Change, Step } from '@/core/design/step';
import type { Database, Queryable } from '../database';
import { setRevision } from '../stores/projects';
import { loadFacts, loadOnly, writeChanges } from '../stores/records';
import { appendStep, findStep, logUpTo, stepsAfter, stoodBefore } from '../stores/steps';
import { publish } from './events';
import { nameIn, requireProject } from './projects';

/**
 * Applies a step in one transaction: checks it, fits it onto the present design, writes records and log, raises the revision. It reads the
 * records it touches and those they point at, never the whole design. A step sent twice is answered as the first time. What somebody else
 * changed meanwhile is merged field by field; when nothing of the step can stand, it is refused with both values.
 * @throws UpperRoomError PROJECT_UNKNOWN, PROJECT_DELETED, REVISION_AHEAD, REFERENCE_BROKEN, NOT_LAWFUL, STEP_CONFLICT
 */
export async function postStep(db: Database, projectId: string, { baseRevision, step }: PostStep): Promise<StepAnswer> {
  return db.transaction(async (q) => {
    const project = await requireProject(q, projectId, true);
    const known = await findStep(q, projectId, step.id);
    if (known !== null) return known;
    if (baseRevision > project.revision) throw new UpperRoomError('REVISION_AHEAD', { baseRevision, revision: project.revision });
    const { changes, conflicts } = mergeChanges(await loadOnly(q, projectId, step.changes), step.changes);
    if (changes.length === 0 && conflicts.length > 0) throw new UpperRoomError('STEP_CONFLICT', { conflicts });
    const broken = brokenReferences(changes, await loadFacts(q, projectId, questionsOf(changes)));
    if (broken.length > 0) throw new UpperRoomError('REFERENCE_BROKEN', { broken: broken.slice(0, 20) });
    await refuseBreaches(q, projectId, step, changes);
    const revision = project.revision + 1;
    const applied = { ...step, changes };
    await writeChanges(q, projectId, changes);
    await appendStep(q, projectId, revision, applied, conflicts);
    await setRevision(q, projectId, revision, nameIn(changes));
    await publish(q, { projectId, type: 'step', revision });
    return { revision, step: applied, conflicts };
  });
}

/**
 * Nothing is saved that model or law forbid, but for what has stood before and comes back by undo, redo or going back: data older than a rule,
 * or of another domain, can always be had again.
 */
async function refuseBreaches(q: Queryable, projectId: string, step: Step, changes: readonly Change[]): Promise<void> {
  if (!changes.some(({ table }) => table === 'accessPoints')) return;
  const own = changes.flatMap((change) =>
    change.table === 'accessPoints' && change.after !== null && !MODEL_CATALOGUE.ids.has(change.after.modelId) ? [change.after.modelId] : [],
  );
  const { project, ...rest } = await loadOnly(q, projectId, [
    { table: 'project', id: PROJECT_ID },
    ...[...new Set(own)].map((id) => ({ table: 'apModels' as const, id })),
  ]);
  const breaches: Breach[] = [];
  for (const breach of breachesOf(domainOf(project[PROJECT_ID]!), changes, modelsOf(rest)))
    if (step.ofStepId === null || !(await stoodBefore(q, projectId, breach.apId, breach.radio))) breaches.push(breach);
  if (breaches.length > 0) throw notLawful(breaches);
}

const PAGE = 500;

/** The steps after a revision, oldest first: how a window that missed some catches up. */
export async function listSteps(db: Database, projectId: string, after: number): Promise<LoggedStep[]> {
  await requireProject(db, projectId);
  return stepsAfter(db, projectId, after, PAGE);
}

/** Who did what when, up to a revision: a page of the log without changes, oldest first. */
export async function listLog(db: Database, projectId: string, upTo: number): Promise<LogLine[]> {
  await requireProject(db, projectId);
  return logUpTo(db, projectId, upTo, PAGE);
}

/** One step with its changes: what undo needs. @throws UpperRoomError RECORD_UNKNOWN */
export async function getStep(db: Database, projectId: string, stepId: string): Promise<LoggedStep> {
  await requireProject(db, projectId);
  const found = await findStep(db, projectId, stepId);
  if (found === null) throw new UpperRoomError('RECORD_UNKNOWN', { what: 'step', table: 'step', id: stepId });
  return { revision: found.revision, step: found.step };
}
