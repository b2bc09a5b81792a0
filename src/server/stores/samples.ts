import type { Band } from '@/core/radio/band';
import type { Sample } from '@/core/survey/sample';
import type { Queryable } from '../database';

type SampleRow = {
  leg: number;
  t_ms: number;
  x_m: number;
  y_m: number;
  bssid: string;
  ssid: string;
  ap_id: string | null;
  band: Band;
  channel: number;
  width_mhz: number;
  rssi_dbm: number;
};

/** Notes a batch; false when it was stored before. */
export async function noteBatch(db: Queryable, projectId: string, walkId: string, batchId: string): Promise<boolean> {
  const { rows } = await db.query(
    'INSERT INTO sample_batch (project_id, walk_id, batch_id) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING RETURNING batch_id',
    [projectId, walkId, batchId],
  );
  return rows.length > 0;
}

export async function insertSamples(db: Queryable, projectId: string, walkId: string, samples: readonly Sample[]): Promise<void> {
  const rows = samples.map((s) => ({
    leg: s.leg,
    t_ms: s.tMs,
    x_m: s.xM,
    y_m: s.yM,
    bssid: s.bssid,
    ssid: s.ssid,
    ap_id: s.apId,
    band: s.band,
    channel: s.channel,
    width_mhz: s.widthMhz,
    rssi_dbm: s.rssiDbm,
  }));
  await db.query(
    `INSERT INTO sample (project_id, walk_id, leg, t_ms, x_m, y_m, bssid, ssid, ap_id, band, channel, width_mhz, rssi_dbm)
     SELECT $1, $2, x.leg, x.t_ms, x.x_m, x.y_m, x.bssid, x.ssid, x.ap_id, x.band, x.channel, x.width_mhz, x.rssi_dbm
     FROM jsonb_to_recordset($3::text::jsonb) AS x(leg int, t_ms double precision, x_m double precision, y_m double precision, bssid text, ssid text, ap_id text, band text, channel int, width_mhz int, rssi_dbm int)`,
    [projectId, walkId, JSON.stringify(rows)],
  );
}

export async function listSamples(db: Queryable, projectId: string, walkId: string): Promise<Sample[]> {
  const { rows } = await db.query<SampleRow>(
    'SELECT leg, t_ms, x_m, y_m, bssid, ssid, ap_id, band, channel, width_mhz, rssi_dbm FROM sample WHERE project_id = $1 AND walk_id = $2 ORDER BY t_ms, seq',
    [projectId, walkId],
  );
  return rows.map((r) => ({
    leg: r.leg,
    tMs: r.t_ms,
    xM: r.x_m,
    yM: r.y_m,
    bssid: r.bssid,
    ssid: r.ssid,
    apId: r.ap_id,
    band: r.band,
    channel: r.channel,
    widthMhz: r.width_mhz,
    rssiDbm: r.rssi_dbm,
  }));
}

/** Notes a withdrawal; false when it was made before. */
export async function noteWithdrawal(db: Queryable, projectId: string, walkId: string, withdrawalId: string): Promise<boolean> {
  const { rows } = await db.query(
    'INSERT INTO withdrawal (project_id, walk_id, withdrawal_id) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING RETURNING withdrawal_id',
    [projectId, walkId, withdrawalId],
  );
  return rows.length > 0;
}

/** Takes back the samples after a time; returns how many. */
export async function withdrawSamples(db: Queryable, projectId: string, walkId: string, afterMs: number): Promise<number> {
  return (await db.query('DELETE FROM sample WHERE project_id = $1 AND walk_id = $2 AND t_ms > $3 RETURNING seq', [projectId, walkId, afterMs])).rows
    .length;
}

/** Collects the samples of walks that were deleted longer ago than undo may bring them back; returns how many walks. */
export async function collectGoneWalks(db: Queryable, keptMs: number): Promise<number> {
  const exists = `EXISTS (SELECT 1 FROM design_record r WHERE r.project_id = g.project_id AND r.kind = 'walks' AND r.id = g.walk_id)`;
  await db.query(`DELETE FROM walk_gone g WHERE ${exists}`);
  await db.query(
    `INSERT INTO walk_gone (project_id, walk_id) SELECT DISTINCT g.project_id, g.walk_id FROM sample_batch g WHERE NOT ${exists} ON CONFLICT DO NOTHING`,
  );
  const { rows } = await db.query<{ project_id: string; walk_id: string }>(
    `DELETE FROM walk_gone WHERE since <= now() - ($1::double precision * interval '1 millisecond') RETURNING project_id, walk_id`,
    [keptMs],
  );
  for (const { project_id, walk_id } of rows)
    for (const table of ['sample', 'scan', 'swept', 'sample_batch', 'withdrawal'])
      await db.query(`DELETE FROM ${table} WHERE project_id = $1 AND walk_id = $2`, [project_id, walk_id]);
  return rows.length;
}

/** Copies all samples of a project to another that has the same walks. */
export async function copySamples(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await db.query(
    `INSERT INTO sample (project_id, walk_id, leg, t_ms, x_m, y_m, bssid, ssid, ap_id, band, channel, width_mhz, rssi_dbm)
     SELECT $2, walk_id, leg, t_ms, x_m, y_m, bssid, ssid, ap_id, band, channel, width_mhz, rssi_dbm FROM sample WHERE project_id = $1 ORDER BY seq`,
    [fromProjectId, toProjectId],
  );
  // The batches too: they say which walks have samples, and keep a batch on its way from being stored twice.
  await db.query('INSERT INTO sample_batch (project_id, walk_id, batch_id) SELECT $2, walk_id, batch_id FROM sample_batch WHERE project_id = $1', [
    fromProjectId,
    toProjectId,
  ]);
}
