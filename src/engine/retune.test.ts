import { describe, expect, test } from '@jest/globals';
import { accessPointsAround, floorsOf, onFloor, variantsOf } from '@/core/design/design';
import { DEFAULT_RULES, type Setting } from '@/core/planning/problem';
import type { RetuneSheet } from '@/core/planning/retune';
import { COMMON_TYPE } from '@/core/radio/clientTypes';
import { enginePoolHere, fieldsHere } from './here';
import { litRadios } from './litRadios';
import { design as museum, lensResult } from './museum.testing';
import { isPlanned, retuneQuestion, type RetuneScope } from './retuneQuestion';
import { floorScene } from './scene';

const floors = floorsOf(museum);
const variantId = variantsOf(museum).at(-1)!.id;
/** The museum with all its 5 GHz radios on two channels: there is something to mend on every floor. */
const design = {
  ...museum,
  accessPoints: Object.fromEntries(
    Object.values(museum.accessPoints).map((ap, i) => [
      ap.id,
      { ...ap, radios: ap.radios.map((radio) => (radio.band === '5' ? { ...radio, channel: i % 2 === 0 ? 36 : 44, widthMhz: 20 as const } : radio)) },
    ]),
  ),
};
const fields = fieldsHere();
const building: RetuneScope = { floors, variantId, only: null };
const rules = { ...DEFAULT_RULES, domain: 'UK' as const };
const rest = { rules, countPeople: false, outside: [], outsideFloor: 0, seed: 1 };
const keyOf = ({ apId, band }: { apId: string; band: string }) => `${apId}/${band}`;
const ask = async (scope: RetuneScope, fieldsOf: object = {}, kept = new Map<string, Setting>()): Promise<RetuneSheet> =>
  enginePoolHere.call('retune', {
    ...(await retuneQuestion(design, scope, ['5'], kept, keyOf, fields, COMMON_TYPE)),
    ...rest,
    ...fieldsOf,
  });

/** What the map of a floor says of the whole building's radios: the mean that share, and the share covered. */
async function onMap(floorIndex: number, changed: ReadonlyMap<string, Setting>) {
  const floor = floors[floorIndex]!;
  const scene = floorScene(design, floor);
  const aps = accessPointsAround(design, floor.id, variantId).map((ap) => ({
    ...ap,
    radios: ap.radios.map((radio) => ({ ...radio, ...changed.get(`${ap.id}/${radio.band}`) })),
  }));
  const radios = await litRadios(design, scene, aps, '5', fields);
  const { mean } = lensResult({ scene, mask: scene.mask, lens: 'contention', radios, threshold: 1 });
  return { mean, covered: lensResult({ scene, mask: scene.mask, lens: 'signal', radios, threshold: -67 }).share };
}

describe('all floors together', () => {
  test('the sheet says of each floor what its map says, before and after; each keeps its coverage, and the building shares less', async () => {
    const sheet = await ask(building);
    expect(new Set(sheet.rows.map(({ apId }) => design.accessPoints[apId]!.floorId)).size).toBe(3);
    const [band] = sheet.bands;
    expect(band!.floors.map(({ name }) => name)).toEqual(floors.map(({ name }) => name));
    const after = new Map(sheet.rows.map((row) => [keyOf(row), row.after]));
    for (const [f, told] of band!.floors.entries()) {
      const [was, is] = [await onMap(f, new Map()), await onMap(f, after)];
      expect(told.contentionBefore).toBeCloseTo(was.mean, 6);
      expect(told.contentionAfter).toBeCloseTo(is.mean, 6);
      expect(told.coverageBefore).toBeCloseTo(was.covered, 6);
      expect(told.coverageAfter).toBeCloseTo(is.covered, 6);
      expect(told.coverageAfter).toBeGreaterThanOrEqual(told.requiredShare - 0.0005);
    }
    expect(band!.contentionAfter).toBeLessThan(band!.contentionBefore / 2);
  }, 120_000);
  test('of one floor, or of some access points of it, the others stay, and are counted', async () => {
    const [quay] = floors;
    const some = new Set(
      onFloor(design, 'accessPoints', quay!.id)
        .filter((ap) => ap.variantId === variantId)
        .slice(0, 3)
        .map(({ id }) => id),
    );
    const scope = { floors: [quay!], variantId, only: some };
    const sheet = await ask(scope);
    for (const { apId, before, after, locked } of sheet.rows) {
      const planned = isPlanned(scope, design.accessPoints[apId]!);
      expect(planned).toBe(some.has(apId));
      expect(locked).toBe(!planned);
      if (!planned) expect(after).toEqual(before);
    }
    expect(sheet.rows.length).toBe(
      accessPointsAround(design, quay!.id, variantId).filter((ap) => ap.radios.some(({ band, on }) => on && band === '5')).length,
    );
    expect(sheet.bands[0]!.floors[0]!.contentionBefore).toBeCloseTo((await onMap(0, new Map())).mean, 6);
  }, 120_000);
});

test('by people: where many are expected the search looks more closely; what is told stays of the area', async () => {
  const [quay] = floors;
  const question = await retuneQuestion(design, { floors: [quay!], variantId, only: null }, ['5'], new Map(), keyOf, fields, COMMON_TYPE);
  const crowd = question.floors[0]!.people;
  expect(crowd.reduce((sum, { count }) => sum + count, 0)).toBe(380);
  // All people in one corner: three radios there are parted before any others.
  const { scene, mask } = question.floors[0]!;
  const corner = mask.map((inside, i) => (inside === 1 && i % scene.grid.cols < 40 && i < scene.grid.cols * 40 ? 1 : 0));
  const one = { ...question, floors: [{ ...question.floors[0]!, people: [{ mask: corner, count: 500 }] }] };
  const narrow = {
    ...rules,
    channels: { ...rules.channels, '5': [36, 40] },
    widthsMhz: { ...rules.widthsMhz, '5': [20 as const] },
    planPower: false,
  };
  const sheets = await Promise.all(
    [false, true].map((countPeople) => enginePoolHere.call('retune', { ...one, ...rest, rules: narrow, countPeople })),
  );
  const [byArea, byPeople] = sheets.map(({ bands }) => bands[0]!);
  expect(byPeople!.coverageBefore).toBeCloseTo(byArea!.coverageBefore, 9);
  expect(byPeople!.contentionBefore).toBeCloseTo(byArea!.contentionBefore, 9);
  // What the search weighs is another thing: the corner, nearly alone.
  expect(Math.abs(byPeople!.costBefore - byArea!.costBefore)).toBeGreaterThan(0.05);
  expect(byArea!.contentionAfter).toBeLessThanOrEqual(byPeople!.contentionAfter + 1e-9);
}, 120_000);
