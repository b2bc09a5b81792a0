import { v7 as uuid } from 'uuid';
import { UpperRoomError } from '@/core/errors';
import type { LogLine, NewProject, OpenedProject, PlanPicture, ProjectPage, ProjectSummary } from '@/contract/http';
import { accessPointsOf, floorsOf, onFloor, variantsOf, type Design, type Walk } from '@/core/design/design';
import { newProject } from '@/core/design/commands';
import { TABLES, versionsOf } from '@/core/design/registry';
import { additionsOf, newStep, type Change } from '@/core/design/step';
import { pictureFacts } from '@/core/formats/picture';
import type { Heard } from '@/core/survey/heard';
import type { SiteParameters } from '@/core/survey/site';
import type { Database, Queryable } from '../database';
import { copyAssets, hashOf, insertAsset } from '../stores/assets';
import * as projects from '../stores/projects';
import { copyHeard, insertHeard } from '../stores/heard';
import { noteBatch } from '../stores/samples';
import { copySites, insertSite } from '../stores/sites';
import { designFrom, loadDesign, loadRecords, writeChanges } from '../stores/records';
import { appendStep, logUpTo } from '../stores/steps';
import { publish } from './events';

/** How long a deleted project can be taken back. The page offers 10 s; the rest is for a slow click. */
export const UNDO_DELETE_MS = 15_000;
const LOG_LENGTH = 200;
const PAGE = 24;
/** Whose steps begin a project: nobody takes them back. */
const SYSTEM = 'upper-room';

/** @throws UpperRoomError PROJECT_UNKNOWN, PROJECT_DELETED */
export async function requireProject(db: Queryable, id: string, lock = false): Promise<projects.ProjectRow> {
  const row = await projects.findProject(db, id, lock);
  if (row === null) throw new UpperRoomError('PROJECT_UNKNOWN', { projectId: id });
  if (row.deleted_at !== null) throw new UpperRoomError('PROJECT_DELETED', { projectId: id });
  return row;
}

/** The project's name, when the changes set it. */
export const nameIn = (changes: readonly Change[]): string | null =>
  changes.flatMap((change) => (change.table === 'project' && change.after !== null ? [change.after.name] : [])).at(-1) ?? null;

/** Stores a design as a new project inside a transaction: its first step adds every record. */
export async function begin(q: Queryable, id: string, title: string, changes: readonly Change[]): Promise<void> {
  await projects.insertProject(q, id, nameIn(changes) ?? 'Unnamed');
  await writeChanges(q, id, changes);
  await appendStep(q, id, 1, newStep(uuid(), title, SYSTEM, changes), []);
  await projects.setRevision(q, id, 1, null);
}

/** Stores a design as a new project. */
export const createFrom = (db: Database, id: string, title: string, changes: readonly Change[]): Promise<void> =>
  db.transaction((q) => begin(q, id, title, changes));

/** A new project on a bare grid, or a copy of another with its walks, samples and site. Returns its id. */
export async function createProject(db: Database, request: NewProject): Promise<string> {
  const id = uuid();
  if (!('copyOf' in request)) {
    await createFrom(db, id, 'New project', newProject({ ...request, floorId: uuid(), variantId: uuid() }));
    return id;
  }
  const { copyOf, name } = request;
  await db.transaction(async (q) => {
    await requireProject(q, copyOf, true);
    const design = await loadDesign(q, copyOf);
    const renamed: Design = {
      ...design,
      project: Object.fromEntries(Object.values(design.project).map((project) => [project.id, { ...project, name }])),
    };
    await begin(q, id, 'Duplicate project', additionsOf(renamed));
    await copyHeard(q, copyOf, id);
    await copySites(q, copyOf, id);
    await copyAssets(q, copyOf, id);
  });
  return id;
}

/** Revision, design and log as they belong together. @throws UpperRoomError PROJECT_UNKNOWN, PROJECT_DELETED, PROJECT_NEWER */
export async function openProject(db: Database, id: string): Promise<OpenedProject> {
  const { revision, rows, log } = await db.snapshot(async (q) => {
    const project = await requireProject(q, id);
    return {
      revision: project.revision,
      rows: await loadRecords(q, id),
      log: await logUpTo(q, id, project.revision, LOG_LENGTH),
    } satisfies { revision: number; rows: unknown[]; log: LogLine[] };
  });
  return { id, revision, ...designFrom(rows), versions: versionsOf(TABLES) as Record<string, number>, log };
}

function pictureOf(design: Design): PlanPicture | null {
  const floor = floorsOf(design)[0];
  const variant = variantsOf(design).at(-1);
  if (floor === undefined) return null;
  return {
    outline: [...floor.outline],
    walls: onFloor(design, 'walls', floor.id).map((wall) => [wall.axM, wall.ayM, wall.bxM, wall.byM]),
    accessPoints: variant === undefined ? [] : accessPointsOf(design, floor.id, variant.id).map((ap) => [ap.xM, ap.yM]),
  };
}

/** What the home page shows of a project; one that cannot be read says so and takes nobody else along. */
async function summarise(db: Database, id: string): Promise<projects.StoredSummary> {
  try {
    const { design } = designFrom(await loadRecords(db, id));
    return {
      accessPoints: Object.keys(design.accessPoints).length,
      floors: Object.keys(design.floors).length,
      picture: pictureOf(design),
      problem: null,
    };
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    return { accessPoints: 0, floors: 0, picture: null, problem: error.code };
  }
}

/** One page of projects, the latest change first. Summaries are stored; only those that are out of date are made anew. */
export async function listSummaries(
  db: Database,
  { after = null, find = '', limit = PAGE }: { after?: string | null; find?: string; limit?: number } = {},
): Promise<ProjectPage> {
  const rows = await projects.listProjects(db, { after, find, limit: limit + 1 });
  const page = rows.slice(0, limit);
  const listed: ProjectSummary[] = [];
  for (const row of page) {
    const stored = row.summary_revision === row.revision ? projects.storedSummarySchema.safeParse(row.summary) : null;
    let summary = stored?.success ? stored.data : null;
    if (summary === null) {
      summary = await summarise(db, row.id);
      // One that cannot be read today is looked at again tomorrow: it is not kept.
      if (summary.problem === null) await projects.setSummary(db, row.id, row.revision, summary);
    }
    listed.push({ id: row.id, name: row.name, revision: row.revision, changedAt: new Date(row.changed_at).toISOString(), ...summary });
  }
  return {
    projects: listed,
    next: rows.length > limit ? page.at(-1)!.cursor : null,
    total: await projects.countProjects(db, find),
  };
}

export async function deleteProject(db: Database, id: string): Promise<void> {
  await db.transaction(async (q) => {
    await requireProject(q, id, true);
    await projects.setDeleted(q, id, true);
    await publish(q, { projectId: id, type: 'deleted' });
  });
}

/** Takes a deletion back, as long as the project is still there. @throws UpperRoomError PROJECT_UNKNOWN */
export async function restoreProject(db: Database, id: string): Promise<void> {
  await db.transaction(async (q) => {
    if ((await projects.findProject(q, id, true)) === null) throw new UpperRoomError('PROJECT_UNKNOWN', { projectId: id });
    await projects.setDeleted(q, id, false);
    await publish(q, { projectId: id, type: 'restored' });
  });
}

/** A demo project: its design, its hidden site by floor, and finished surveys. */
export type DemoProject = Readonly<{
  id: string;
  design: Design;
  sites?: Readonly<Record<string, SiteParameters>>;
  surveys?: ReadonlyArray<Readonly<{ walk: Walk }> & Heard>;
  /** Pictures that its drawings show. */
  assets?: readonly Uint8Array[];
}>;

/** Loads the demo once in the life of a data folder, all or nothing: a demo project that was deleted stays deleted. */
export async function loadDemo(db: Database, demo: () => Promise<readonly DemoProject[]>): Promise<void> {
  await db.exclusively(async () => {
    if (await projects.demoWasLoaded(db)) return;
    const built = await demo();
    await db.transaction(async (q) => {
      for (const { id, design, sites, surveys = [], assets } of built) {
        if ((await projects.findProject(q, id)) !== null) continue;
        const walks = { ...design.walks, ...Object.fromEntries(surveys.map(({ walk }) => [walk.id, walk])) };
        await begin(q, id, 'Demo project', additionsOf({ ...design, walks }));
        for (const [floorId, site] of Object.entries(sites ?? {})) await insertSite(q, id, floorId, site);
        for (const bytes of assets ?? []) await insertAsset(q, id, hashOf(bytes), bytes, pictureFacts(bytes));
        for (const { walk, ...heard } of surveys) {
          await noteBatch(q, id, walk.id, 'demo');
          await insertHeard(q, id, walk.id, heard);
        }
      }
      await projects.noteDemoLoaded(q);
    });
  });
}
