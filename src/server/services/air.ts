import type { AirAnswer, AirRequest, AirWhere } from '@/contract/air';
import type { AirSpot } from '@/core/air/radio';
import { audible } from '@/engine/listen';
import type { Database } from '../database';
import { engine } from '../engine';
import { siteOf } from './walks';

/** Spots as the instruments last needed them: they ask many times a second. */
const KEPT_SPOTS = 8;
type Kept = Readonly<{ design: unknown; site: string; where: string; spot: Promise<AirSpot> }>;
const spotsOf = new WeakMap<Database, Kept[]>();

/** What arrives at a spot: kept while neither the design nor the site changes. */
async function spotAt(db: Database, projectId: string, where: AirWhere): Promise<AirSpot> {
  const { design, site } = await siteOf(db, projectId, where.floorId);
  const asked = { design, site: JSON.stringify(site), where: JSON.stringify(where) };
  const kept = spotsOf.get(db) ?? [];
  const known = kept.find((one) => one.design === asked.design && one.site === asked.site && one.where === asked.where);
  const one = known ?? { ...asked, spot: engine().call('airAt', { design: audible(design, where), site, where }, { priority: 'now' }) };
  // One that failed is asked for again.
  one.spot.catch(() =>
    spotsOf.set(
      db,
      (spotsOf.get(db) ?? []).filter((other) => other !== one),
    ),
  );
  spotsOf.set(db, [one, ...kept.filter((other) => other !== one)].slice(0, KEPT_SPOTS));
  return one.spot;
}

/** The instruments' port: the one way to the air of the simulated site. @throws UpperRoomError RECORD_UNKNOWN, SWEEP_REFUSED */
export async function airAnswer(db: Database, projectId: string, { where, asked }: AirRequest): Promise<unknown> {
  const answer: AirAnswer = await engine().call('air', { spot: await spotAt(db, projectId, where), asked }, { priority: 'now' });
  if (answer.what !== 'sweeps') return answer;
  return {
    what: 'sweeps',
    sweeps: answer.sweeps.map(({ atMs, tenthsDbm }) => ({
      atMs,
      tenthsDbm: Buffer.from(tenthsDbm.buffer, tenthsDbm.byteOffset, tenthsDbm.byteLength).toString('base64'),
    })),
  };
}
