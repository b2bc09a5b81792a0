import { z } from 'zod';
import { sweptSchema } from '@/contract/http';
import type { Swept } from '@/core/survey/swept';
import type { Queryable } from '../database';

type SweptRow = { leg: number; t_ms: number; band: string; channels: unknown; signals: unknown };
const looksSchema = z.array(sweptSchema);

export async function insertSwept(db: Queryable, projectId: string, walkId: string, looks: readonly Swept[]): Promise<void> {
  if (looks.length === 0) return;
  const rows = looks.map(({ tMs, ...rest }) => ({ ...rest, t_ms: tMs }));
  await db.query(
    `INSERT INTO swept (project_id, walk_id, leg, t_ms, band, channels, signals)
     SELECT $1, $2, x.leg, x.t_ms, x.band, x.channels, x.signals
     FROM jsonb_to_recordset($3::text::jsonb) AS x(leg int, t_ms double precision, band text, channels jsonb, signals jsonb)`,
    [projectId, walkId, JSON.stringify(rows)],
  );
}

export async function listSwept(db: Queryable, projectId: string, walkId: string): Promise<Swept[]> {
  const { rows } = await db.query<SweptRow>(
    'SELECT leg, t_ms, band, channels, signals FROM swept WHERE project_id = $1 AND walk_id = $2 ORDER BY t_ms, seq',
    [projectId, walkId],
  );
  return looksSchema.parse(rows.map(({ t_ms, ...rest }) => ({ ...rest, tMs: t_ms })));
}

/** Looks whose middle is after a time are taken back. */
export async function withdrawSwept(db: Queryable, projectId: string, walkId: string, afterMs: number): Promise<void> {
  await db.query('DELETE FROM swept WHERE project_id = $1 AND walk_id = $2 AND t_ms > $3', [projectId, walkId, afterMs]);
}

/** Copies all of a project's to another that has the same walks. */
export async function copySwept(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await db.query(
    `INSERT INTO swept (project_id, walk_id, leg, t_ms, band, channels, signals)
     SELECT $2, walk_id, leg, t_ms, band, channels, signals FROM swept WHERE project_id = $1 ORDER BY seq`,
    [fromProjectId, toProjectId],
  );
}
