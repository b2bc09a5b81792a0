import type { Queryable } from '../database';

export type ProjectRow = { id: string; revision: number; changed_at: Date; deleted_at: Date | null };

export async function insertProject(db: Queryable, id: string): Promise<void> {
  await db.query('INSERT INTO project (id) VALUES ($1)', [id]);
}

export async function listProjects(db: Queryable): Promise<ProjectRow[]> {
  return (
    await db.query<ProjectRow>('SELECT id, revision, changed_at, deleted_at FROM project WHERE deleted_at IS NULL ORDER BY changed_at DESC, id')
  ).rows;
}

/** The project's row, deleted or not; locked against other writers inside a transaction when asked. */
export async function findProject(db: Queryable, id: string, lock = false): Promise<ProjectRow | null> {
  const { rows } = await db.query<ProjectRow>(`SELECT id, revision, changed_at, deleted_at FROM project WHERE id = $1 ${lock ? 'FOR UPDATE' : ''}`, [
    id,
  ]);
  return rows[0] ?? null;
}

export async function setRevision(db: Queryable, id: string, revision: number): Promise<void> {
  await db.query('UPDATE project SET revision = $2, changed_at = now() WHERE id = $1', [id, revision]);
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
