import type { Heard } from '@/core/survey/heard';
import type { Queryable } from '../database';
import { copySamples, insertSamples, listSamples, withdrawSamples } from './samples';
import { copyScans, insertScans, listScans, withdrawScans } from './scans';
import { copySwept, insertSwept, listSwept, withdrawSwept } from './swept';

/** Stores what a walk brought, to what it has. */
export async function insertHeard(db: Queryable, projectId: string, walkId: string, { samples, scans, swept }: Heard): Promise<void> {
  await insertSamples(db, projectId, walkId, samples);
  await insertScans(db, projectId, walkId, scans);
  await insertSwept(db, projectId, walkId, swept);
}

export const listHeard = async (db: Queryable, projectId: string, walkId: string): Promise<Heard> => ({
  samples: await listSamples(db, projectId, walkId),
  scans: await listScans(db, projectId, walkId),
  swept: await listSwept(db, projectId, walkId),
});

/** Takes back what came after a time; returns how many samples. */
export async function withdrawHeard(db: Queryable, projectId: string, walkId: string, afterMs: number): Promise<number> {
  await withdrawScans(db, projectId, walkId, afterMs);
  await withdrawSwept(db, projectId, walkId, afterMs);
  return withdrawSamples(db, projectId, walkId, afterMs);
}

/** Copies what all walks of a project brought to another that has the same walks. */
export async function copyHeard(db: Queryable, fromProjectId: string, toProjectId: string): Promise<void> {
  await copySamples(db, fromProjectId, toProjectId);
  await copyScans(db, fromProjectId, toProjectId);
  await copySwept(db, fromProjectId, toProjectId);
}
