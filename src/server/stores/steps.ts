import type { LoggedStep, StepAnswer } from '@/contract/http';
import type { Change, Step, StepKind } from '@/core/design/step';
import type { Conflict } from '@/core/design/merge';
import type { Queryable } from '../database';

type StepRow = { revision: number; id: string; title: string; kind: StepKind; of_step_id: string | null; changes: Change[]; conflicts: Conflict[] };

const COLUMNS = 'revision, id, title, kind, of_step_id, changes, conflicts';
const fromRow = (row: StepRow): StepAnswer => ({
  revision: row.revision,
  step: { id: row.id, title: row.title, kind: row.kind, ofStepId: row.of_step_id, changes: row.changes },
  conflicts: row.conflicts,
});

export async function appendStep(db: Queryable, projectId: string, revision: number, step: Step, conflicts: readonly Conflict[]): Promise<void> {
  await db.query(
    `INSERT INTO step (project_id, revision, id, title, kind, of_step_id, changes, conflicts)
     VALUES ($1, $2, $3, $4, $5, $6, $7::text::jsonb, $8::text::jsonb)`,
    [projectId, revision, step.id, step.title, step.kind, step.ofStepId, JSON.stringify(step.changes), JSON.stringify(conflicts)],
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
  return rows.map(fromRow);
}

/** The latest steps without their changes, oldest first: enough to know what undo and redo would take. */
export async function recentLog(db: Queryable, projectId: string, limit: number): Promise<Array<Pick<Step, 'id' | 'title' | 'kind' | 'ofStepId'>>> {
  const { rows } = await db.query<Omit<StepRow, 'changes' | 'conflicts'>>(
    `SELECT revision, id, title, kind, of_step_id FROM step WHERE project_id = $1 ORDER BY revision DESC LIMIT $2`,
    [projectId, limit],
  );
  return rows.reverse().map((row) => ({ id: row.id, title: row.title, kind: row.kind, ofStepId: row.of_step_id }));
}
