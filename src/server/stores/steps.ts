import type { LogLine, LoggedStep, StepAnswer } from '@/contract/http';
import type { Radio } from '@/core/design/design';
import type { Conflict } from '@/core/design/merge';
import { versionOf, type Versions } from '@/core/design/registry';
import { migrateChanges, type RawChange, type Step, type StepKind } from '@/core/design/step';
import type { Queryable } from '../database';

type HeadRow = { revision: number; id: string; title: string; kind: StepKind; of_step_id: string | null; author: string | null; created_at: Date };
type StepRow = HeadRow & { versions: Versions; changes: RawChange[]; conflicts: Conflict[] };

const HEAD = 'revision, id, title, kind, of_step_id, author, created_at';
const COLUMNS = `${HEAD}, versions, changes, conflicts`;

/** Steps come out as steps of today's versions. */
function fromRow(row: StepRow): StepAnswer {
  const changes = migrateChanges(row.changes, row.versions);
  const step: Step = {
    id: row.id,
    title: row.title,
    kind: row.kind,
    ofStepId: row.of_step_id,
    author: row.author,
    versions: Object.fromEntries(changes.map(({ table }) => [table, versionOf(table)])),
    changes,
  };
  return { revision: row.revision, step, conflicts: row.conflicts };
}

export async function appendStep(db: Queryable, projectId: string, revision: number, step: Step, conflicts: readonly Conflict[]): Promise<void> {
  await db.query(
    `INSERT INTO step (project_id, revision, id, title, kind, of_step_id, author, versions, changes, conflicts)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8::text::jsonb, $9::text::jsonb, $10::text::jsonb)`,
    [
      projectId,
      revision,
      step.id,
      step.title,
      step.kind,
      step.ofStepId,
      step.author,
      JSON.stringify(step.versions),
      JSON.stringify(step.changes),
      JSON.stringify(conflicts),
    ],
  );
}

export async function findStep(db: Queryable, projectId: string, stepId: string): Promise<StepAnswer | null> {
  const { rows } = await db.query<StepRow>(`SELECT ${COLUMNS} FROM step WHERE project_id = $1 AND id = $2`, [projectId, stepId]);
  return rows[0] ? fromRow(rows[0]) : null;
}

export async function stepsAfter(db: Queryable, projectId: string, revision: number, limit: number): Promise<LoggedStep[]> {
  const { rows } = await db.query<StepRow>(`SELECT ${COLUMNS} FROM step WHERE project_id = $1 AND revision > $2 ORDER BY revision LIMIT $3`, [
    projectId,
    revision,
    limit,
  ]);
  return rows.map(fromRow).map(({ revision: at, step }) => ({ revision: at, step }));
}

/** The steps up to a revision without their changes, the latest of them, oldest first: what undo and the history panel read. */
export async function logUpTo(db: Queryable, projectId: string, revision: number, limit: number): Promise<LogLine[]> {
  const { rows } = await db.query<HeadRow>(`SELECT ${HEAD} FROM step WHERE project_id = $1 AND revision <= $2 ORDER BY revision DESC LIMIT $3`, [
    projectId,
    revision,
    limit,
  ]);
  return rows.reverse().map((row) => ({
    revision: row.revision,
    id: row.id,
    title: row.title,
    kind: row.kind,
    ofStepId: row.of_step_id,
    author: row.author,
    at: new Date(row.created_at).toISOString(),
  }));
}

/** Whether an access point's radio was set so before some step of the log. */
export async function stoodBefore(
  db: Queryable,
  projectId: string,
  apId: string,
  { band, on, channel, widthMhz, txPowerDbm }: Radio,
): Promise<boolean> {
  const { rows } = await db.query(
    `SELECT 1 FROM step, jsonb_array_elements(changes) AS change
     WHERE project_id = $1 AND change->>'id' = $2 AND change->'before'->'radios' @> $3::text::jsonb LIMIT 1`,
    [projectId, apId, JSON.stringify([{ band, on, channel, widthMhz, txPowerDbm }])],
  );
  return rows.length > 0;
}
