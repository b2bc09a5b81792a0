import { RECORD_SCHEMAS } from '@/contract/records';
import { EMPTY_DESIGN, TABLES, type AnyRecord, type Design, type Table } from '@/core/design/design';
import type { Change } from '@/core/design/step';
import type { Queryable } from '../database';

/** The whole design of a project. Bodies are JSON and therefore parsed on the way out. */
export async function loadDesign(db: Queryable, projectId: string): Promise<Design> {
  const { rows } = await db.query<{ kind: Table; id: string; body: unknown }>(
    'SELECT kind, id, body FROM design_record WHERE project_id = $1 ORDER BY kind, id',
    [projectId],
  );
  const design: Record<string, Record<string, AnyRecord>> = Object.fromEntries(TABLES.map((table) => [table, {}]));
  for (const { kind, id, body } of rows) design[kind]![id] = RECORD_SCHEMAS[kind].parse(body) as AnyRecord;
  return { ...EMPTY_DESIGN, ...(design as unknown as Design) };
}

/** Writes what the changes leave behind. */
export async function writeChanges(db: Queryable, projectId: string, changes: readonly Change[]): Promise<void> {
  const last = new Map(changes.map((change) => [`${change.table}/${change.id}`, change]));
  const kept = [...last.values()]
    .filter((change) => change.after !== null)
    .map((change) => ({ kind: change.table, id: change.id, body: change.after }));
  const gone = [...last.values()].filter((change) => change.after === null).map((change) => ({ kind: change.table, id: change.id }));
  if (gone.length > 0) {
    await db.query(
      `DELETE FROM design_record r USING jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text)
       WHERE r.project_id = $1 AND r.kind = x.kind AND r.id = x.id`,
      [projectId, JSON.stringify(gone)],
    );
  }
  if (kept.length > 0) {
    await db.query(
      `INSERT INTO design_record (project_id, kind, id, body)
       SELECT $1, x.kind, x.id, x.body FROM jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text, body jsonb)
       ON CONFLICT (project_id, kind, id) DO UPDATE SET body = EXCLUDED.body`,
      [projectId, JSON.stringify(kept)],
    );
  }
}
