import { EMPTY_DESIGN, TABLES, isTable, parentsOf, readRecord, versionOf, type AnyRecord, type Design, type Table } from '@/core/design/registry';
import { keyOf, type Facts, type Pointer, type Questions } from '@/core/design/references';
import type { RawRecord } from '@/core/design/kinds/kind';
import { sameValue, type Change } from '@/core/design/step';
import { UpperRoomError } from '@/core/errors';
import type { Queryable } from '../database';

export type StoredRecord = { kind: string; id: string; version: number; body: RawRecord };
/** A stored record that this version cannot read, and why. */
export type UnreadableRecord = { table: string; id: string; problem: string };

/** All rows of a project as they stand; `designFrom` makes the design of them, outside any transaction. */
export async function loadRecords(db: Queryable, projectId: string): Promise<StoredRecord[]> {
  return (await db.query<StoredRecord>('SELECT kind, id, version, body FROM design_record WHERE project_id = $1 ORDER BY kind, id', [projectId]))
    .rows;
}

/** The rows as a design of today's version. What cannot be read is set aside and named. @throws UpperRoomError PROJECT_NEWER */
export function designFrom(rows: readonly StoredRecord[]): { design: Design; unreadable: UnreadableRecord[] } {
  const design: Record<string, Record<string, AnyRecord>> = Object.fromEntries(TABLES.map((table) => [table, {}]));
  const unreadable: UnreadableRecord[] = [];
  for (const { kind, id, version, body } of rows) {
    if (!isTable(kind)) throw new UpperRoomError('PROJECT_NEWER', { table: kind });
    try {
      design[kind]![id] = readRecord(kind, version, body);
    } catch (error) {
      if (!(error instanceof UpperRoomError) || error.code !== 'RECORD_UNREADABLE') throw error;
      unreadable.push({ table: kind, id, problem: String(error.details.problem) });
    }
  }
  return { design: { ...EMPTY_DESIGN, ...(design as unknown as Design) }, unreadable };
}

/** The whole design of a project. */
export async function loadDesign(db: Queryable, projectId: string): Promise<Design> {
  return designFrom(await loadRecords(db, projectId)).design;
}

const asJson = (pointers: readonly Pointer[]): string => JSON.stringify(pointers.map(({ table, id }) => ({ kind: table, id })));

/** A design that holds only the named records, as far as they exist. */
export async function loadOnly(db: Queryable, projectId: string, pointers: readonly Pointer[]): Promise<Design> {
  const { rows } = await db.query<StoredRecord>(
    `SELECT r.kind, r.id, r.version, r.body FROM design_record r
     JOIN jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text) ON r.kind = x.kind AND r.id = x.id
     WHERE r.project_id = $1`,
    [projectId, asJson(pointers)],
  );
  return designFrom(rows).design;
}

/** Answers what a step's check has to know of the rest of the project, without reading the rest. */
export async function loadFacts(db: Queryable, projectId: string, { parents, removed, counted }: Questions): Promise<Facts> {
  const asked = [...parents, ...removed];
  const existing = new Set<string>();
  if (asked.length > 0) {
    const { rows } = await db.query<{ kind: Table; id: string }>(
      `SELECT r.kind, r.id FROM design_record r JOIN jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text) ON r.kind = x.kind AND r.id = x.id
       WHERE r.project_id = $1`,
      [projectId, asJson(asked)],
    );
    for (const { kind, id } of rows) existing.add(keyOf({ table: kind, id }));
  }
  const children: Array<Facts['children'][number]> = [];
  if (removed.length > 0) {
    const { rows } = await db.query<{ kind: Table; id: string; field: string; parent_kind: Table; parent_id: string }>(
      `SELECT p.kind, p.id, p.field, p.parent_kind, p.parent_id FROM design_pointer p
       JOIN jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text) ON p.parent_kind = x.kind AND p.parent_id = x.id
       WHERE p.project_id = $1`,
      [projectId, asJson(removed)],
    );
    for (const row of rows) children.push({ table: row.kind, id: row.id, field: row.field, parent: { table: row.parent_kind, id: row.parent_id } });
  }
  const counts = new Map<Table, number>();
  for (const table of counted) counts.set(table, await countRecords(db, projectId, table));
  return { existing, children, counts };
}

/** How many records of a table a project has. */
async function countRecords(db: Queryable, projectId: string, table: Table): Promise<number> {
  const { rows } = await db.query<{ count: number }>('SELECT count(*) AS count FROM design_record WHERE project_id = $1 AND kind = $2', [
    projectId,
    table,
  ]);
  return Number(rows[0]!.count);
}

const pointersOf = ({ table, id }: Change, record: AnyRecord | null) =>
  record === null
    ? []
    : parentsOf(table, record).map((parent) => ({ kind: table, id, field: parent.field, parent_kind: parent.table, parent_id: parent.id }));

/** Writes what the changes leave behind: records, and who points at whom. */
export async function writeChanges(db: Queryable, projectId: string, changes: readonly Change[]): Promise<void> {
  const first = new Map<string, Change>();
  for (const change of changes) if (!first.has(keyOf(change))) first.set(keyOf(change), change);
  const last = [...new Map(changes.map((change) => [keyOf(change), change])).values()];
  const kept = last.flatMap(({ table, id, after }) => (after === null ? [] : [{ kind: table, id, version: versionOf(table), body: after }]));
  const gone = last.filter((change) => change.after === null);
  const turned = last.filter((change) => !sameValue(pointersOf(change, first.get(keyOf(change))!.before), pointersOf(change, change.after)));
  if (gone.length > 0) {
    await db.query(
      `DELETE FROM design_record r USING jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text)
       WHERE r.project_id = $1 AND r.kind = x.kind AND r.id = x.id`,
      [projectId, asJson(gone)],
    );
  }
  if (kept.length > 0) {
    await db.query(
      `INSERT INTO design_record (project_id, kind, id, version, body)
       SELECT $1, x.kind, x.id, x.version, x.body FROM jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text, version integer, body jsonb)
       ON CONFLICT (project_id, kind, id) DO UPDATE SET version = EXCLUDED.version, body = EXCLUDED.body`,
      [projectId, JSON.stringify(kept)],
    );
  }
  if (turned.length > 0) {
    await db.query(
      `DELETE FROM design_pointer p USING jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text)
       WHERE p.project_id = $1 AND p.kind = x.kind AND p.id = x.id`,
      [projectId, asJson(turned)],
    );
    await db.query(
      `INSERT INTO design_pointer (project_id, kind, id, field, parent_kind, parent_id)
       SELECT $1, x.kind, x.id, x.field, x.parent_kind, x.parent_id
       FROM jsonb_to_recordset($2::text::jsonb) AS x(kind text, id text, field text, parent_kind text, parent_id text)`,
      [projectId, JSON.stringify(turned.flatMap((change) => pointersOf(change, change.after)))],
    );
  }
}
