import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { cottageBuilding } from '@demo/cottage';
import { airAnswerSchema, airRequestSchema, type AirRequest } from '@/contract/air';
import { accessPointsOf } from '@/core/design/design';
import { editRadios } from '@/core/design/commands';
import { openInMemory, type Database } from '../database';
import { airAnswer } from './air';
import { loadDemo, openProject } from './projects';
import { changeSite, getSite } from './sites';
import { postStep } from './steps';

const { design, sites } = cottageBuilding();
const [floorId, variantId] = [Object.keys(design.floors)[0]!, Object.keys(design.variants)[0]!];
const where = { floorId, variantId, xM: 5, yM: 5, apId: null };
const networks: AirRequest['asked'] = {
  what: 'networks',
  scan: { channels: Array.from({ length: 13 }, (_, i) => ({ band: '2.4', channel: i + 1 })), dwellMs: 110, intervalMs: 0 },
  fromMs: 3.6e7,
  toMs: 3.6e7 + 3000,
  most: 20,
};
let db: Database;
beforeAll(async () => {
  db = await openInMemory();
  await loadDemo(db, async () => [{ id: 'cottage', design, sites }]);
});
afterAll(() => db.close());
const code = (promise: Promise<unknown>) =>
  promise.then(
    () => 'no error',
    (error: { code?: string }) => error.code,
  );
/** As it comes to the page: through JSON and the schema. */
const asked = async (request: AirRequest) =>
  airAnswerSchema.parse(JSON.parse(JSON.stringify(await airAnswer(db, 'cottage', airRequestSchema.parse(request)))));
const heard = async () => {
  const answer = await asked({ where, asked: networks });
  return answer.what === 'networks'
    ? new Set(answer.rounds.flatMap(({ readings }) => readings.map(({ network }) => network.bssid)))
    : new Set<string>();
};

test('sweeps go over the wire as they were swept', async () => {
  const setting = { startMhz: 2400, stopMhz: 2500, bins: 400, rbwKhz: 300, sweepMs: 50, detector: 'peak' as const };
  const answer = await asked({ where, asked: { what: 'sweeps', setting, fromMs: 3.6e7, count: 2 } });
  expect(answer.what === 'sweeps' && answer.sweeps.map(({ tenthsDbm }) => tenthsDbm.length)).toEqual([400, 400]);
  const highest = answer.what === 'sweeps' ? Math.max(...answer.sweeps[0]!.tenthsDbm) : NaN;
  expect(highest).toBeGreaterThan(-1000);
  expect(highest).toBeLessThan(0);
  expect(await code(airAnswer(db, 'cottage', { where, asked: { what: 'sweeps', setting: { ...setting, rbwKhz: 10 }, fromMs: 0, count: 1 } }))).toBe(
    'SWEEP_REFUSED',
  );
});

test('what changes in the design or on the site is on the air at once', async () => {
  const before = await heard();
  expect(before.size).toBeGreaterThan(1);
  const { site } = await getSite(db, 'cottage', floorId);
  await changeSite(db, 'cottage', floorId, { ...site, neighbours: [] });
  const without = await heard();
  expect(without.size).toBeLessThan(before.size);
  const [ap] = accessPointsOf(design, floorId, variantId);
  const changes = editRadios(design, [ap!.id], '2.4', { on: false });
  const { revision } = await openProject(db, 'cottage');
  const step = { id: 'off', title: 'Switch off', kind: 'do' as const, ofStepId: null, author: null, versions: {}, changes };
  await postStep(db, 'cottage', { baseRevision: revision, step });
  expect((await heard()).size).toBeLessThan(without.size);
});

test('an access point or floor that is gone is said; a stretch of time backwards is refused', async () => {
  expect(await code(airAnswer(db, 'cottage', { where: { ...where, apId: 'gone' }, asked: networks }))).toBe('RECORD_UNKNOWN');
  expect(await code(airAnswer(db, 'cottage', { where: { ...where, floorId: 'gone' }, asked: networks }))).toBe('RECORD_UNKNOWN');
  expect(airRequestSchema.safeParse({ where, asked: { ...networks, toMs: networks.what === 'networks' ? networks.fromMs - 1 : 0 } }).success).toBe(
    false,
  );
  expect(airRequestSchema.safeParse({ where, asked: { what: 'load', channels: [], dwellMs: 200, fromMs: 0 } }).success).toBe(false);
  expect(airRequestSchema.safeParse({ where, asked: { what: 'identify', startMhz: 2400, stopMhz: 2600, fromMs: 0 } }).success).toBe(false);
});
