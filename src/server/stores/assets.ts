import { createHash } from 'node:crypto';
import type { StoredAsset } from '@/contract/http';
import type { Queryable } from '../database';

export type AssetFacts = Omit<StoredAsset, 'id'>;

/** What a file is found by. */
export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Keeps a file; one that is there already is left alone. */
export async function insertAsset(db: Queryable, projectId: string, id: string, bytes: Uint8Array, facts: AssetFacts): Promise<void> {
  await db.query(
    'INSERT INTO asset (project_id, id, media_type, bytes, width_px, height_px) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING',
    [projectId, id, facts.type, bytes, facts.widthPx, facts.heightPx],
  );
}

/** A file's bytes; null where the project has none of this id. */
export async function findAsset(db: Queryable, projectId: string, id: string): Promise<{ type: AssetFacts['type']; bytes: Uint8Array } | null> {
  const { rows } = await db.query<{ media_type: AssetFacts['type']; bytes: Uint8Array }>(
    'SELECT media_type, bytes FROM asset WHERE project_id = $1 AND id = $2',
    [projectId, id],
  );
  return rows[0] === undefined ? null : { type: rows[0].media_type, bytes: rows[0].bytes };
}

export async function copyAssets(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await db.query(
    'INSERT INTO asset (project_id, id, media_type, bytes, width_px, height_px) SELECT $2, id, media_type, bytes, width_px, height_px FROM asset WHERE project_id = $1',
    [fromProjectId, toProjectId],
  );
}
