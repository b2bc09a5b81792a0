import { UpperRoomError } from '@/core/errors';
import { linkedAddresses } from '@/core/design/surveyCommands';
import type { SiteParameters } from '@/core/survey/site';
import { countedOf, joined } from '@/core/survey/heard';
import type { Score, ScoreRequest } from '@/contract/site';
import { audible } from '@/engine/listen';
import type { Database } from '../database';
import { engine } from '../engine';
import { putSite } from '../stores/sites';
import { getHeard, siteOf } from './walks';

/** What a floor is really like: for the training ground alone. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export async function getSite(db: Database, projectId: string, floorId: string): Promise<{ site: SiteParameters }> {
  const { site } = await siteOf(db, projectId, floorId);
  return { site };
}

/** Makes a floor's site another; what was measured stays as it was measured. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export async function changeSite(db: Database, projectId: string, floorId: string, site: SiteParameters): Promise<{ site: SiteParameters }> {
  await siteOf(db, projectId, floorId);
  await putSite(db, projectId, floorId, site);
  return { site };
}

/** How a survey compares with the truth. @throws UpperRoomError RECORD_UNKNOWN, WALK_UNKNOWN, TOO_FEW_READINGS */
export async function scoreOf(db: Database, projectId: string, asked: ScoreRequest): Promise<Score> {
  const { design, site } = await siteOf(db, projectId, asked.floorId);
  const counted = await Promise.all(
    asked.walkIds.map(async (walkId) => {
      const walk = Object.hasOwn(design.walks, walkId) ? design.walks[walkId] : undefined;
      if (walk === undefined) throw new UpperRoomError('WALK_UNKNOWN', { walkId });
      return countedOf(walk, await getHeard(db, projectId, walkId), linkedAddresses(design));
    }),
  );
  return engine().call('score', { design: audible(design, asked), site, asked, heard: joined(counted) });
}
