import { siteSchema } from '@/contract/site';
import type { SiteParameters } from '@/core/survey/site';
import type { Queryable } from '../database';

/** What a floor is really like; null where nobody has said yet. */
export async function findSite(db: Queryable, projectId: string, floorId: string): Promise<SiteParameters | null> {
  const { rows } = await db.query<{ body: unknown }>('SELECT body FROM site WHERE project_id = $1 AND floor_id = $2', [projectId, floorId]);
  return rows[0] === undefined ? null : siteSchema.parse(rows[0].body);
}

/** Keeps a floor's site; the first one said stands. */
export async function insertSite(db: Queryable, projectId: string, floorId: string, site: SiteParameters): Promise<void> {
  await db.query('INSERT INTO site (project_id, floor_id, body) VALUES ($1, $2, $3::text::jsonb) ON CONFLICT DO NOTHING', [
    projectId,
    floorId,
    JSON.stringify(siteSchema.parse(site)),
  ]);
}

/** Describes a floor's site anew. */
export async function putSite(db: Queryable, projectId: string, floorId: string, site: SiteParameters): Promise<void> {
  await db.query(
    'INSERT INTO site (project_id, floor_id, body) VALUES ($1, $2, $3::text::jsonb) ON CONFLICT (project_id, floor_id) DO UPDATE SET body = excluded.body',
    [projectId, floorId, JSON.stringify(siteSchema.parse(site))],
  );
}

export async function copySites(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await db.query('INSERT INTO site (project_id, floor_id, body) SELECT $2, floor_id, body FROM site WHERE project_id = $1', [
    fromProjectId,
    toProjectId,
  ]);
}
