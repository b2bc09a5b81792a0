import { expect, test } from '@jest/globals';
import { cottageBuilding } from '@demo/cottage';
import { newWalk } from '@/core/design/kinds/walk';
import { accessPointsOf } from '@/core/design/design';
import { scoreSchema } from '@/contract/site';
import { transferAnswerSchema } from '@/contract/http';
import { DEFAULT_SETTING } from '@/core/survey/setting';
import type { SiteParameters } from '@/core/survey/site';
import { addTurn, endMs, type Leg } from '@/core/survey/walk';
import { listenOnSite } from '@/engine/listen';
import { openInMemory } from '../database';
import { loadDemo } from './projects';
import { changeSite, getSite, scoreOf } from './sites';
import { getHeard, listenAt, transferAt } from './walks';

const code = (promise: Promise<unknown>) =>
  promise.then(
    () => 'no error',
    (error: { code?: string }) => error.code,
  );

/** The cottage walked up and down, with one access point that sends far too little, on another channel, and one that is not plugged in. */
function walkedCottage() {
  const building = cottageBuilding();
  const { design } = building;
  const [floorId, variantId] = [Object.keys(design.floors)[0]!, Object.keys(design.variants)[0]!];
  const [weak, out] = accessPointsOf(design, floorId, variantId).map(({ id }) => id) as [string, string];
  const site: SiteParameters = {
    ...building.sites![floorId]!,
    faults: [
      { kind: 'level', apId: weak, offDb: -20 },
      { kind: 'unplugged', apId: out },
      { kind: 'channel', apId: weak, band: '5', channel: 149, widthMhz: 20 },
      { kind: 'channel', apId: weak, band: '2.4', channel: 13, widthMhz: 20 },
    ],
  };
  let legs: Leg[] = [];
  for (let y = 1; y < 9; y += 1) for (const xM of y % 2 === 0 ? [13, 1] : [1, 13]) legs = addTurn(legs, { xM, yM: y }, false);
  const walk = newWalk({
    id: 'w',
    floorId,
    variantId,
    name: 'Walk',
    startedAt: '2026-11-30T10:00:00.000Z',
    legs,
    receiver: DEFAULT_SETTING,
    finished: true,
  });
  const { channels: _channels, ...heard } = listenOnSite(design, site, { ...walk, receiver: DEFAULT_SETTING, fromMs: 0, toMs: endMs(legs) });
  return { building: { ...building, sites: { [floorId]: site }, surveys: [{ walk, ...heard }] }, floorId, variantId, weak, out, site, walk };
}

test('what is hidden is described on the training ground, heard by the receiver, and told to who asks for the score', async () => {
  const db = await openInMemory();
  const { building, floorId, variantId, weak, out, site, walk } = walkedCottage();
  await loadDemo(db, async () => [{ id: 'demo-t', ...building }]);
  expect(await getSite(db, 'demo-t', floorId)).toEqual({ site });
  const asked = { floorId, variantId, walkIds: [walk.id], band: '5' as const, reachM: 5 };
  const score = await scoreOf(db, 'demo-t', asked);
  expect(scoreSchema.parse(score)).toEqual(score);
  expect(score.hidden.map(({ fault: { kind }, found }) => [kind, found])).toEqual([
    ['level', true],
    ['unplugged', true],
    ['channel', true],
    // Of a band that the comparison is not of.
    ['channel', true],
  ]);
  expect(score.falseAlarms).toBe(0);
  expect(score.map.compared).toBeGreaterThan(20);
  expect(score.map.measuredDb!).toBeLessThan(0.5 * score.map.predictedDb!);
  expect(score.map.held!).toBeGreaterThan(0.7);
  // Of the one that is not plugged in there is no place.
  expect(score.positions.map(({ apId }) => apId)).not.toContain(out);
  for (const { designedAwayM, foundAwayM } of score.positions) {
    expect(designedAwayM).toBe(0);
    expect(foundAwayM!).toBeLessThan(4);
  }
  // Put in order on site it is heard again; what was measured stays as it was measured.
  const before = await getHeard(db, 'demo-t', walk.id);
  expect(before.samples.some(({ apId }) => apId === out)).toBe(false);
  await changeSite(db, 'demo-t', floorId, { ...site, faults: [] });
  const stretch = {
    floorId,
    variantId,
    legs: walk.legs.map(({ turns }) => ({ turns: [...turns] })),
    receiver: { ...DEFAULT_SETTING, bands: [...DEFAULT_SETTING.bands], channels: [] },
    fromMs: 0,
    toMs: 20_000,
  };
  expect((await listenAt(db, 'demo-t', stretch)).samples.some(({ apId }) => apId === out)).toBe(true);
  expect(await getHeard(db, 'demo-t', walk.id)).toEqual(before);
  const levelOf = (all: typeof before) =>
    Math.max(...all.samples.filter(({ apId, band, tMs }) => apId === weak && band === '5' && tMs < 20_000).map(({ rssiDbm }) => rssiDbm));
  expect(levelOf(await listenAt(db, 'demo-t', stretch))).toBeGreaterThan(levelOf(before) + 15);

  const at = { floorId, variantId, xM: 4, yM: 4, runs: 4, receiver: stretch.receiver, clientId: 'common', at: '2026-11-30T10:00:00.000Z' };
  const transfer = await transferAt(db, 'demo-t', at);
  expect(transferAnswerSchema.parse(transfer)).toEqual(transfer);
  expect(transfer!.runs).toHaveLength(4);
  // The same question at the same time has the same answer, at another it scatters.
  expect(await transferAt(db, 'demo-t', at)).toEqual(transfer);
  expect((await transferAt(db, 'demo-t', { ...at, at: '2026-11-30T11:00:00.000Z' }))!.runs).not.toEqual(transfer!.runs);
  expect(await code(getSite(db, 'demo-t', 'nowhere'))).toBe('RECORD_UNKNOWN');
  expect(await code(scoreOf(db, 'demo-t', { ...asked, walkIds: ['nothing'] }))).toBe('WALK_UNKNOWN');
  await db.close();
}, 120_000);
