import { z } from 'zod';
import { bandSchema, height, idSchema, metres, widthSchema, within } from '@/core/design/kinds/kind';
import { LIMITS } from '@/core/design/limits';
import type { SiteParameters } from '@/core/survey/site';
import type { Queryable } from '../database';

const neighbourSchema = z.strictObject({
  bssid: z.string().max(17),
  ssid: z.string().max(32),
  xM: metres,
  yM: metres,
  heightM: height,
  band: bandSchema,
  channel: z.number().int().min(1).max(233),
  widthMhz: widthSchema,
  txPowerDbm: within(LIMITS.txPowerDbm),
});
const faultSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('level'), apId: idSchema, offDb: z.number().min(-60).max(60) }),
  z.strictObject({ kind: z.literal('elsewhere'), apId: idSchema, xM: metres, yM: metres }),
  z.strictObject({ kind: z.literal('swapped'), apIds: z.tuple([idSchema, idSchema]) }),
  z.strictObject({ kind: z.literal('obstacle'), axM: metres, ayM: metres, bxM: metres, byM: metres, materialId: idSchema }),
  z.strictObject({ kind: z.literal('no-wall'), wallId: idSchema }),
]);
const siteSchema: z.ZodType<SiteParameters> = z.strictObject({
  seed: z.number().int(),
  exponentOffset: z.number().min(-1).max(2),
  wallSigmaDb: z.number().min(0).max(10),
  shadowSigmaDb: z.number().min(0).max(12),
  correlationM: z.number().min(0.5).max(50),
  receiverOffsetDb: z.number().min(-20).max(20),
  neighbours: z.array(neighbourSchema).max(LIMITS.neighbours),
  dropOutsPerHour: z.number().min(0).max(240).optional(),
  faults: z.array(faultSchema).max(50).optional(),
});

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

export async function copySites(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await db.query('INSERT INTO site (project_id, floor_id, body) SELECT $2, floor_id, body FROM site WHERE project_id = $1', [
    fromProjectId,
    toProjectId,
  ]);
}
