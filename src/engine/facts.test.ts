import { beforeAll, expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { SECOND_FROM_DBM, type Facts } from '@/core/checks/facts';
import { findingsOf } from '@/core/checks/finding';
import { RULES } from '@/core/checks/rules';
import { acceptFinding, acceptedOf, applyRemedy, checkRuleOf, setCheckRule } from '@/core/design/checkCommands';
import { accessPointsAround, floorsOf, serviceLevelOf, variantsOf, type Design } from '@/core/design/design';
import { applyChanges } from '@/core/design/step';
import { LENSES } from '@/core/fields/lenses';
import { BANDS } from '@/core/radio/band';
import { factsOf } from './facts';
import { enginePoolHere, fieldsHere } from './here';
import type { LensResult, SceneRadio } from './protocol';
import { litRadios } from './litRadios';
import { floorScene, sceneOf } from './scene';

const design = museum();
const [asFound, proposed] = variantsOf(design);
const fields = fieldsHere();
const factsIn = (of: Design, variantId: string) => factsOf(of, variantId, enginePoolHere, fields);
const findingsIn = (of: Design, facts: Facts) => findingsOf(RULES, facts, (ruleId) => checkRuleOf(of, ruleId));
let facts: Facts;
beforeAll(async () => {
  facts = await factsIn(design, asFound!.id);
});

/** What the map of a floor shows. */
async function lensOn(
  lens: 'contention' | 'service' | 'signal',
  floorAt: number,
  bandAt: number,
  rank: 0 | 1 = 0,
  threshold?: number,
): Promise<{ result: LensResult; radios: SceneRadio[] }> {
  const floor = floorsOf(design)[floorAt]!;
  const band = BANDS[bandAt]!;
  const scene = floorScene(design, floor);
  const lit = await litRadios(design, scene, accessPointsAround(design, floor.id, asFound!.id), band, fields);
  const radios = lit.map(({ ap: _ap, ...radio }): SceneRadio => radio);
  const result = await enginePoolHere.call('lens', {
    scene: sceneOf(scene),
    lens,
    onlyKind: null,
    rank,
    widthMhz: 80,
    direction: 'down',
    zones: scene.zones.map(({ zone, mask }) => ({ id: zone.id, mask, level: serviceLevelOf(design, zone) })),
    radios,
    bandRule: null,
    ignoreBelowDbm: -90,
    emitters: [],
    mask: scene.mask,
    palette: ['#000000'],
    keptTints: {},
    movingApId: null,
    measured: null,
    threshold: threshold ?? LENSES.find(({ id }) => id === lens)!.threshold?.start ?? 0,
  });
  return { result, radios };
}

test('who shares with whom, and how much, is what the lens Contention says; what is served too', async () => {
  let compared = 0;
  for (const [floorAt, bandAt] of [
    [0, 0],
    [0, 1],
    [1, 0],
    [1, 1],
  ] as const) {
    const { result, radios } = await lensOn('contention', floorAt, bandAt);
    const floor = floorsOf(design)[floorAt]!;
    radios.forEach(({ apId, channel: { band } }, r) => {
      const own = facts.radios.find((one) => one.apId === apId && one.band === band)!;
      if (own.place.floorId !== floor.id) return;
      compared++;
      expect(own.sharers).toBeCloseTo(result.sharers![r]!.mean, 6);
      expect(own.servedM2).toBeCloseTo(result.served[r]!.areaM2, 6);
      expect(own.who.map(({ name, share }) => [name, share.toFixed(6)])).toEqual(
        result.sharers![r]!.who.map(({ radio, share }) => [radios[radio]!.name, share.toFixed(6)]),
      );
    });
  }
  expect(compared).toBe(12);
});

test('a second one is heard in the share that the lens Signal gives the second strongest', async () => {
  for (const [floorAt, bandAt] of [
    [0, 1],
    [1, 1],
    [2, 0],
  ] as const) {
    const { result } = await lensOn('signal', floorAt, bandAt, 1, SECOND_FROM_DBM);
    const heard = facts.heard.find(({ floorId, band }) => floorId === floorsOf(design)[floorAt]!.id && band === BANDS[bandAt])!;
    expect(heard.secondShare).toBeCloseTo(result.share, 9);
  }
});

test('how much of a zone’s level is met is what the lens Service level says', async () => {
  const { result } = await lensOn('service', 0, 1);
  const zones = result.zones.filter(({ owed }) => owed !== null);
  expect(zones.length).toBeGreaterThan(0);
  for (const { zoneId, owed } of zones)
    expect(facts.zones.find((zone) => zone.zoneId === zoneId)!.bands.find(({ band }) => band === '5')!.shares).toEqual(owed);
});

test('the museum as found: what an experienced engineer would list, the gravest first', () => {
  const found = findingsIn(design, facts);
  expect(found.map(({ key }) => key)).toEqual(
    expect.arrayContaining([
      'law:2.4',
      'law:5',
      'beacons:2.4',
      'beacons:5',
      'uplink:2.4',
      'uplink:5',
      'sharing:2.4',
      'sharing:5',
      'basic-rate:2.4',
      'idle-channels:5',
      'steering:site',
    ]),
  );
  expect(found.filter(({ ruleId }) => ruleId === 'level').map(({ severity }) => severity)).toEqual(['stop', 'stop', 'stop', 'stop']);
  // The old one on 40 MHz, and the one behind the metal cabinet.
  expect(found.find(({ ruleId }) => ruleId === 'width-24')!.title).toBe('Old-5, 2.4 GHz: 40 MHz wide');
  expect(found.find(({ ruleId }) => ruleId === 'metal')!.title).toMatch(/^Old-4 hangs 0\.\d m from metal/);
  const order = found.map(({ severity }) => severity);
  expect(order).toEqual([...order].sort((p, q) => ['stop', 'mend', 'note'].indexOf(p) - ['stop', 'mend', 'note'].indexOf(q)));
});

test('a remedy mends what it is for; in the proposed variant the loud one is brought within the law', async () => {
  const before = findingsIn(design, await factsIn(design, proposed!.id));
  const law = before.filter(({ ruleId }) => ruleId === 'law');
  expect(law.map(({ title }) => title)).toEqual(['Q-03, 2.4 GHz: not allowed', 'Q-03, 5 GHz: not allowed']);
  const mended = applyChanges(
    design,
    applyRemedy(
      design,
      law.flatMap(({ remedy }) => remedy!.radios),
    ),
  );
  expect(findingsIn(mended, await factsIn(mended, proposed!.id)).filter(({ ruleId }) => ruleId === 'law')).toEqual([]);
  const width = findingsIn(design, facts).find(({ ruleId }) => ruleId === 'width-24')!;
  const narrow = applyChanges(design, applyRemedy(design, width.remedy!.radios));
  const old5 = Object.values(narrow.accessPoints).find(({ name }) => name === 'Old-5')!;
  expect(old5.radios.find(({ band }) => band === '2.4')).toMatchObject({ widthMhz: 20, channel: 6 });
});

test('a rule that is off finds nothing, one by another number finds by that; a finding is accepted in its own variant, and once', () => {
  const off = applyChanges(design, setCheckRule(design, 'uplink', { on: false, note: 'the guides go next month' }));
  expect(findingsIn(off, facts).some(({ ruleId }) => ruleId === 'uplink')).toBe(false);
  const lax = applyChanges(off, setCheckRule(off, 'uplink', { on: true, threshold: 8 }));
  expect(lax.checkRules.uplink).toEqual({ id: 'uplink', on: true, note: 'the guides go next month', threshold: 8 });
  expect(findingsIn(lax, facts).some(({ ruleId }) => ruleId === 'uplink')).toBe(false);
  const accept = (of: Design, id: string, reason: string) =>
    applyChanges(of, acceptFinding(of, { id, variantId: asFound!.id, finding: 'steering:site', reason }));
  const once = accept(design, 'x', 'no scanner is left');
  const twice = accept(once, 'y', 'none was ever there');
  expect(Object.keys(twice.acceptedFindings)).toEqual(['x']);
  expect(acceptedOf(twice, asFound!.id, 'steering:site')!.reason).toBe('none was ever there');
  expect(acceptedOf(twice, proposed!.id, 'steering:site')).toBeNull();
});

test('people are spread evenly over their zones: four a square metre everywhere are four for each square metre that a radio serves', async () => {
  const quay = floorsOf(design)[0]!;
  const { zones: owed, grid } = floorScene(design, quay);
  const perM2 = 4;
  const people = owed.map(({ zone, mask }) => [
    zone.id,
    { ...zone, people: perM2 * mask.reduce((sum, inside) => sum + inside, 0) * grid.cellM ** 2 },
  ]);
  const crowded = await factsIn({ ...design, zones: { ...design.zones, ...Object.fromEntries(people) } }, asFound!.id);
  expect(crowded.radios.length).toBeGreaterThan(10);
  for (const radio of crowded.radios) expect(radio.people).toBeCloseTo(perM2 * radio.servedM2, 6);
  for (const ap of crowded.aps) {
    const radios = crowded.radios.filter(({ apId }) => apId === ap.apId);
    expect(ap.people).toBe(Math.max(...radios.map((radio) => radio.people)));
    expect(ap.radiosOn).toBe(radios.length);
  }
  expect(findingsIn(design, crowded).filter(({ ruleId }) => ruleId === 'people').length).toBeGreaterThan(0);
});

test('how far electronics are: from the nearest side of the nearest zone, nothing inside, none on another floor', async () => {
  const [quay, gallery] = floorsOf(design);
  const ap = accessPointsAround(design, quay!.id, asFound!.id)[0]!;
  const awayIn = async (floorId: string, boxes: ReadonlyArray<readonly [number, number, number, number]>) => {
    const zones = boxes.map(([westM, northM, eastM, southM], k) => ({
      ...Object.values(design.zones)[0]!,
      id: `machines-${k}`,
      name: `Machines ${k}`,
      floorId,
      kind: 'electronics' as const,
      holes: [],
      polygon: [
        { xM: ap.xM + westM, yM: ap.yM + northM },
        { xM: ap.xM + eastM, yM: ap.yM + northM },
        { xM: ap.xM + eastM, yM: ap.yM + southM },
        { xM: ap.xM + westM, yM: ap.yM + southM },
      ],
    }));
    // Only these: the demo's own are taken out.
    const others = Object.values(design.zones).filter(({ kind }) => kind !== 'electronics');
    const all = Object.fromEntries([...others, ...zones].map((zone) => [zone.id, zone]));
    return (await factsIn({ ...design, zones: all }, asFound!.id)).aps.find(({ apId }) => apId === ap.id)!.nearestElectronics;
  };
  expect(
    await awayIn(quay!.id, [
      [3, -1, 5, 1],
      [-1, 1.5, 1, 2],
    ]),
  ).toEqual({ name: 'Machines 1', awayM: expect.closeTo(1.5, 9) });
  expect(await awayIn(quay!.id, [[3, 4, 5, 6]])).toEqual({ name: 'Machines 0', awayM: expect.closeTo(5, 9) });
  expect(await awayIn(quay!.id, [[-1, -1, 1, 1]])).toEqual({ name: 'Machines 0', awayM: 0 });
  expect(await awayIn(gallery!.id, [[-1, -1, 1, 1]])).toBeNull();
}, 120_000);
