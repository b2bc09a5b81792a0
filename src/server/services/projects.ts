import { v7 as uuid } from 'uuid';
import { UpperRoomError } from '@/core/errors';
import type { NewProject, OpenedProject, PlanPicture, ProjectSummary } from '@/contract/http';
import { accessPointsOf, floorsOf, onFloor, projectOf, variantsOf, type Design, type Walk } from '@/core/design/design';
import type { Sample } from '@/core/survey/receiver';
import { newProject } from '@/core/design/commands';
import { additionsOf, type Change } from '@/core/design/step';
import type { Database } from '../database';
import * as projects from '../stores/projects';
import { copySamples, insertSamples } from '../stores/samples';
import { loadDesign, writeChanges } from '../stores/records';
import { appendStep, recentLog } from '../stores/steps';
import { publish } from './events';

/** How long a deleted project can be taken back. The page offers 10 s; the rest is for a slow click. */
export const UNDO_DELETE_MS = 15_000;
const LOG_LENGTH = 200;

/** @throws UpperRoomError PROJECT_UNKNOWN, PROJECT_DELETED */
export async function requireProject(db: Parameters<typeof projects.findProject>[0], id: string, lock = false): Promise<projects.ProjectRow> {
  const row = await projects.findProject(db, id, lock);
  if (row === null) throw new UpperRoomError('PROJECT_UNKNOWN', { projectId: id });
  if (row.deleted_at !== null) throw new UpperRoomError('PROJECT_DELETED', { projectId: id });
  return row;
}

/** Stores a design as a new project: its first step adds every record. */
export async function createFrom(db: Database, id: string, title: string, changes: readonly Change[], copyOf?: string): Promise<void> {
  await db.transaction(async (q) => {
    await projects.insertProject(q, id);
    await writeChanges(q, id, changes);
    await appendStep(q, id, 1, { id: uuid(), title, kind: 'do', ofStepId: null, changes }, []);
    await projects.setRevision(q, id, 1);
    if (copyOf !== undefined) await copySamples(q, copyOf, id);
  });
}

/** A new project on a bare grid, or a copy of another. Returns its id. */
export async function createProject(db: Database, request: NewProject): Promise<string> {
  const id = uuid();
  if ('copyOf' in request) {
    await requireProject(db, request.copyOf);
    const design = await loadDesign(db, request.copyOf);
    const renamed: Design = {
      ...design,
      project: Object.fromEntries(Object.values(design.project).map((project) => [project.id, { ...project, name: request.name }])),
    };
    await createFrom(db, id, 'Duplicate project', additionsOf(renamed), request.copyOf);
    return id;
  }
  const changes = newProject({ ...request, floorId: uuid(), variantId: uuid(), siteId: uuid(), seed: Math.floor(Math.random() * 2 ** 31) });
  await createFrom(db, id, 'New project', changes);
  return id;
}

export async function openProject(db: Database, id: string): Promise<OpenedProject> {
  // One snapshot: revision, design and log must belong together.
  return db.transaction(async (q) => {
    const { revision } = await requireProject(q, id, true);
    return { id, revision, design: await loadDesign(q, id), log: await recentLog(q, id, LOG_LENGTH) };
  });
}

function pictureOf(design: Design): PlanPicture | null {
  const floor = floorsOf(design)[0];
  const variant = variantsOf(design).at(-1);
  if (floor === undefined) return null;
  return {
    outline: floor.outline,
    walls: onFloor(design, 'walls', floor.id).map((wall) => [wall.axM, wall.ayM, wall.bxM, wall.byM] as const),
    accessPoints: variant === undefined ? [] : accessPointsOf(design, floor.id, variant.id).map((ap) => [ap.xM, ap.yM] as const),
  };
}

export async function listSummaries(db: Database): Promise<ProjectSummary[]> {
  await projects.purgeDeleted(db, UNDO_DELETE_MS);
  const summaries: ProjectSummary[] = [];
  for (const row of await projects.listProjects(db)) {
    const design = await loadDesign(db, row.id);
    summaries.push({
      id: row.id,
      name: projectOf(design)?.name ?? 'Unnamed',
      revision: row.revision,
      changedAt: new Date(row.changed_at).toISOString(),
      accessPoints: Object.keys(design.accessPoints).length,
      floors: Object.keys(design.floors).length,
      picture: pictureOf(design),
    });
  }
  return summaries;
}

export async function deleteProject(db: Database, id: string): Promise<void> {
  await requireProject(db, id);
  await projects.setDeleted(db, id, true);
  publish(id, { type: 'deleted' });
}

/** Takes a deletion back, as long as the project is still there. @throws UpperRoomError PROJECT_UNKNOWN */
export async function restoreProject(db: Database, id: string): Promise<void> {
  if ((await projects.findProject(db, id)) === null) throw new UpperRoomError('PROJECT_UNKNOWN', { projectId: id });
  await projects.setDeleted(db, id, false);
  publish(id, { type: 'restored' });
}

/** Loads the demo once in the life of a data folder: a demo project that was deleted stays deleted. */
export async function loadDemo(
  db: Database,
  demo: ReadonlyArray<{ id: string; design: Design; survey?: { walk: Walk; samples: readonly Sample[] } }>,
): Promise<void> {
  if (await projects.demoWasLoaded(db)) return;
  for (const { id, design, survey } of demo) {
    if ((await projects.findProject(db, id)) !== null) continue;
    const walks = survey === undefined ? design.walks : { ...design.walks, [survey.walk.id]: survey.walk };
    await createFrom(db, id, 'Demo project', additionsOf({ ...design, walks }));
    if (survey !== undefined) await insertSamples(db, id, survey.walk.id, survey.samples);
  }
  await projects.noteDemoLoaded(db);
}
