import { UpperRoomError } from '@/core/errors';
import type { SampleBatch } from '@/contract/http';
import type { Sample } from '@/core/survey/receiver';
import type { Database, Queryable } from '../database';
import { loadDesign } from '../stores/records';
import * as samples from '../stores/samples';
import { publish } from './events';
import { requireProject } from './projects';

async function requireWalk(db: Queryable, projectId: string, walkId: string): Promise<void> {
  await requireProject(db, projectId);
  if (!((await loadDesign(db, projectId)).walks[walkId] !== undefined)) throw new UpperRoomError('WALK_UNKNOWN', { walkId });
}

/** Stores a batch of samples as it comes; a batch that came before is left alone. @throws UpperRoomError WALK_UNKNOWN */
export async function addSamples(db: Database, projectId: string, walkId: string, batch: SampleBatch): Promise<{ stored: number }> {
  const stored = await db.transaction(async (q) => {
    await requireWalk(q, projectId, walkId);
    if (!(await samples.noteBatch(q, projectId, walkId, batch.batchId))) return 0;
    await samples.insertSamples(q, projectId, walkId, batch.samples);
    return batch.samples.length;
  });
  if (stored > 0) publish(projectId, { type: 'samples', walkId });
  return { stored };
}

export async function getSamples(db: Database, projectId: string, walkId: string): Promise<Sample[]> {
  await requireWalk(db, projectId, walkId);
  return samples.listSamples(db, projectId, walkId);
}

/** Takes back what was measured after an undone turn. */
export async function withdraw(db: Database, projectId: string, walkId: string, afterMs: number): Promise<{ withdrawn: number }> {
  await requireWalk(db, projectId, walkId);
  const withdrawn = await samples.withdrawSamples(db, projectId, walkId, afterMs);
  publish(projectId, { type: 'samples', walkId });
  return { withdrawn };
}
