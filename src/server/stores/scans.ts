import { z } from 'zod';
import { scanChannelSchema } from '@/contract/http';
import { joinScans, type Scan } from '@/core/survey/setting';
import type { Queryable } from '../database';

type ScanRow = { leg: number; from_ms: number; to_ms: number; dwell_ms: number; channels: unknown; ssid: string };
const channelsSchema = z.array(scanChannelSchema);

export async function insertScans(db: Queryable, projectId: string, walkId: string, scans: readonly Scan[]): Promise<void> {
  const rows = joinScans(scans).map((s) => ({
    leg: s.leg,
    from_ms: s.fromMs,
    to_ms: s.toMs,
    dwell_ms: s.dwellMs,
    channels: s.channels,
    ssid: s.ssid,
  }));
  // What goes on where the newest row ends, with the same list, is the same stretch: a walk is asked several times a second.
  const [first, ...others] = rows;
  if (first === undefined) return;
  const { rows: grown } = await db.query(
    `UPDATE scan SET to_ms = $4 WHERE seq = (SELECT max(seq) FROM scan WHERE project_id = $1 AND walk_id = $2)
       AND project_id = $1 AND walk_id = $2 AND to_ms = $3 AND leg = $5 AND dwell_ms = $6 AND channels = $7::text::jsonb AND ssid = $8 RETURNING seq`,
    [projectId, walkId, first.from_ms, first.to_ms, first.leg, first.dwell_ms, JSON.stringify(first.channels), first.ssid],
  );
  await db.query(
    `INSERT INTO scan (project_id, walk_id, leg, from_ms, to_ms, dwell_ms, channels, ssid)
     SELECT $1, $2, x.leg, x.from_ms, x.to_ms, x.dwell_ms, x.channels, x.ssid
     FROM jsonb_to_recordset($3::text::jsonb) AS x(leg int, from_ms double precision, to_ms double precision, dwell_ms double precision, channels jsonb, ssid text)`,
    [projectId, walkId, JSON.stringify(grown.length > 0 ? others : rows)],
  );
}

export async function listScans(db: Queryable, projectId: string, walkId: string): Promise<Scan[]> {
  const { rows } = await db.query<ScanRow>(
    'SELECT leg, from_ms, to_ms, dwell_ms, channels, ssid FROM scan WHERE project_id = $1 AND walk_id = $2 ORDER BY from_ms, seq',
    [projectId, walkId],
  );
  return rows.map((r) => ({
    leg: r.leg,
    fromMs: r.from_ms,
    toMs: r.to_ms,
    dwellMs: r.dwell_ms,
    channels: channelsSchema.parse(r.channels),
    ssid: r.ssid,
  }));
}

/** What was listened to after a time is taken back. */
export async function withdrawScans(db: Queryable, projectId: string, walkId: string, afterMs: number): Promise<void> {
  await db.query('DELETE FROM scan WHERE project_id = $1 AND walk_id = $2 AND from_ms >= $3', [projectId, walkId, afterMs]);
  await db.query('UPDATE scan SET to_ms = $3 WHERE project_id = $1 AND walk_id = $2 AND to_ms > $3', [projectId, walkId, afterMs]);
}

/** Copies all of a project's to another that has the same walks. */
export async function copyScans(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await db.query(
    `INSERT INTO scan (project_id, walk_id, leg, from_ms, to_ms, dwell_ms, channels, ssid)
     SELECT $2, walk_id, leg, from_ms, to_ms, dwell_ms, channels, ssid FROM scan WHERE project_id = $1 ORDER BY seq`,
    [fromProjectId, toProjectId],
  );
}
