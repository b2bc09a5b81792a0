import { UpperRoomError } from '@/core/errors';
import type { HeardOnSite, Listen, SampleBatch, TransferAnswer, TransferRequest, Withdrawal } from '@/contract/http';
import type { Design } from '@/core/design/design';
import { hashText } from '@/core/random';
import { NOTHING_HEARD, type Heard } from '@/core/survey/heard';
import { plainSite, type SiteParameters } from '@/core/survey/site';
import { audible } from '@/engine/listen';
import type { Database, Queryable } from '../database';
import { engine } from '../engine';
import { loadDesign, loadOnly } from '../stores/records';
import { noteBatch, noteWithdrawal } from '../stores/samples';
import { insertHeard, listHeard, withdrawHeard } from '../stores/heard';
import { findSite, insertSite } from '../stores/sites';
import { publish } from './events';
import { requireProject } from './projects';

async function requireWalk(db: Queryable, projectId: string, walkId: string): Promise<void> {
  await requireProject(db, projectId);
  const { walks } = await loadOnly(db, projectId, [{ table: 'walks', id: walkId }]);
  if (!Object.hasOwn(walks, walkId)) throw new UpperRoomError('WALK_UNKNOWN', { walkId });
}

/** Stores a batch of samples as it comes; a batch that came before is left alone. @throws UpperRoomError WALK_UNKNOWN */
export async function addSamples(db: Database, projectId: string, walkId: string, batch: SampleBatch): Promise<{ stored: number }> {
  return db.transaction(async (q) => {
    await requireWalk(q, projectId, walkId);
    if (!(await noteBatch(q, projectId, walkId, batch.batchId))) return { stored: 0 };
    await insertHeard(q, projectId, walkId, { ...NOTHING_HEARD, ...batch });
    await publish(q, { projectId, type: 'samples', walkId });
    return { stored: batch.samples.length };
  });
}

/** All that a walk brought. @throws UpperRoomError WALK_UNKNOWN */
export async function getHeard(db: Database, projectId: string, walkId: string): Promise<Heard> {
  return db.snapshot(async (q) => {
    await requireWalk(q, projectId, walkId);
    return listHeard(q, projectId, walkId);
  });
}

/** Takes back what was measured after an undone turn; doing it again with the same id changes nothing. @throws UpperRoomError WALK_UNKNOWN */
export async function withdraw(
  db: Database,
  projectId: string,
  walkId: string,
  { withdrawalId, afterMs }: Withdrawal,
): Promise<{ withdrawn: number }> {
  return db.transaction(async (q) => {
    await requireWalk(q, projectId, walkId);
    if (!(await noteWithdrawal(q, projectId, walkId, withdrawalId))) return { withdrawn: 0 };
    const withdrawn = await withdrawHeard(q, projectId, walkId, afterMs);
    await publish(q, { projectId, type: 'samples', walkId });
    return { withdrawn };
  });
}

/** Designs as the receiver last needed them, for it asks twice a second while a walk goes on. */
const KEPT_DESIGNS = 4;
const designsOf = new WeakMap<Database, Map<string, { revision: number; design: Design }>>();

async function designAt(db: Database, projectId: string, revision: number): Promise<Design> {
  const designs = designsOf.get(db) ?? new Map<string, { revision: number; design: Design }>();
  designsOf.set(db, designs);
  const kept = designs.get(projectId);
  designs.delete(projectId);
  const design = kept?.revision === revision ? kept.design : await loadDesign(db, projectId);
  designs.set(projectId, { revision, design });
  for (const oldest of designs.keys()) if (designs.size > KEPT_DESIGNS) designs.delete(oldest);
  return design;
}

/** The receiver's port: the one way to the simulated site. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export async function listenAt(db: Database, projectId: string, stretch: Listen): Promise<HeardOnSite> {
  const { design, site } = await siteOf(db, projectId, stretch.floorId);
  const { samples, scans, swept, channels } = await engine().call('listen', { design: audible(design, stretch), site, stretch }, { priority: 'now' });
  return { samples: [...samples], scans: [...scans], swept: [...swept], channels };
}

/** A throughput test on the simulated site. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export async function transferAt(db: Database, projectId: string, asked: TransferRequest): Promise<TransferAnswer> {
  const { design, site } = await siteOf(db, projectId, asked.floorId);
  return engine().call('transfer', { design: audible(design, asked), site, asked }, { priority: 'now' });
}

/** The design as it is now, and what a floor is really like: whoever asks first makes a plain site of it. */
export async function siteOf(db: Database, projectId: string, floorId: string): Promise<{ design: Design; site: SiteParameters }> {
  const { revision } = await requireProject(db, projectId);
  const design = await designAt(db, projectId, revision);
  let site = await findSite(db, projectId, floorId);
  if (site === null && Object.hasOwn(design.floors, floorId)) {
    site = plainSite(hashText(`${projectId}/${floorId}`));
    await insertSite(db, projectId, floorId, site);
  }
  if (site === null) throw new UpperRoomError('RECORD_UNKNOWN', { what: 'floor', table: 'floors', id: floorId });
  return { design, site };
}
