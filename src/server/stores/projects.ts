import { planPictureSchema } from '@/contract/http';
import { ERROR_CODES } from '@/core/errors';
import { z } from 'zod';
import type { Queryable } from '../database';

/** What the home page shows of a project beside its name; `problem` says why it cannot be opened. */
export const storedSummarySchema = z.object({
  accessPoints: z.number().int(),
  floors: z.number().int(),
  picture: planPictureSchema.nullable(),
  problem: z.enum(ERROR_CODES).nullable(),
});
export type StoredSummary = z.infer<typeof storedSummarySchema>;

export type ProjectRow = { id: string; revision: number; changed_at: Date; deleted_at: Date | null };
export type ListedRow = { id: string; name: string; revision: number; changed_at: Date; cursor: string; summary: unknown; summary_revision: number };

export async function insertProject(db: Queryable, id: string, name: string): Promise<void> {
  await db.query('INSERT INTO project (id, name) VALUES ($1, $2)', [id, name]);
}

/** One page of the projects, the latest change first, whose name holds a text; after a cursor of an earlier page. */
export async function listProjects(
  db: Queryable,
  { after, find, limit }: { after: string | null; find: string; limit: number },
): Promise<ListedRow[]> {
  const [changedAt, id] = after?.split('~') ?? [null, null];
  const { rows } = await db.query<ListedRow>(
    `SELECT id, name, revision, changed_at, changed_at::text || '~' || id AS cursor, summary, summary_revision FROM project
     WHERE deleted_at IS NULL AND strpos(lower(name), lower($1)) > 0 AND ($2::text IS NULL OR (changed_at, id) < ($2::text::timestamptz, $3::text))
     ORDER BY changed_at DESC, id DESC LIMIT $4`,
    [find, changedAt, id, limit],
  );
  return rows;
}

export async function countProjects(db: Queryable, find: string): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    'SELECT count(*) AS count FROM project WHERE deleted_at IS NULL AND strpos(lower(name), lower($1)) > 0',
    [find],
  );
  return Number(rows[0]!.count);
}

/** The project's row, deleted or not; locked against other writers inside a transaction when asked. */
export async function findProject(db: Queryable, id: string, lock = false): Promise<ProjectRow | null> {
  const { rows } = await db.query<ProjectRow>(`SELECT id, revision, changed_at, deleted_at FROM project WHERE id = $1 ${lock ? 'FOR UPDATE' : ''}`, [
    id,
  ]);
  return rows[0] ?? null;
}

/** Raises the revision; the name follows when it was changed. */
export async function setRevision(db: Queryable, id: string, revision: number, name: string | null): Promise<void> {
  await db.query('UPDATE project SET revision = $2, changed_at = now(), name = coalesce($3::text, name) WHERE id = $1', [id, revision, name]);
}

/** Keeps a summary, unless a later one is kept already. */
export async function setSummary(db: Queryable, id: string, revision: number, summary: StoredSummary): Promise<void> {
  await db.query('UPDATE project SET summary = $3::text::jsonb, summary_revision = $2 WHERE id = $1 AND summary_revision < $2', [
    id,
    revision,
    JSON.stringify(summary),
  ]);
}

export async function setDeleted(db: Queryable, id: string, deleted: boolean): Promise<void> {
  await db.query(`UPDATE project SET deleted_at = ${deleted ? 'now()' : 'NULL'} WHERE id = $1`, [id]);
}

/** Removes for good what was deleted longer ago than the time to take it back. */
export async function purgeDeleted(db: Queryable, olderThanMs: number): Promise<void> {
  await db.query(`DELETE FROM project WHERE deleted_at < now() - ($1::double precision * interval '1 millisecond')`, [olderThanMs]);
}

/** A note that survives deleting the projects: whether the demo was ever loaded. */
export async function demoWasLoaded(db: Queryable): Promise<boolean> {
  return (await db.query<{ name: string }>(`SELECT name FROM migration WHERE name = 'demo'`)).rows.length > 0;
}

export async function noteDemoLoaded(db: Queryable): Promise<void> {
  await db.query(`INSERT INTO migration (name) VALUES ('demo') ON CONFLICT (name) DO NOTHING`);
}

/** A text that changes with every change of anything: what a backup is compared by. */
export async function stateMark(db: Queryable): Promise<string> {
  const { rows } = await db.query<{ mark: string }>(
    `SELECT (SELECT concat(count(*), '/', sum(revision), '/', max(changed_at), '/', max(deleted_at)) FROM project)
       || (SELECT concat('/', count(*), '/', max(seq)) FROM sample) || (SELECT concat('/', count(*)) FROM withdrawal) AS mark`,
  );
  return rows[0]!.mark;
}
