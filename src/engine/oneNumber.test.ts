import { describe, expect, test } from '@jest/globals';
import { accessPointsOf, variantsOf, type AccessPoint, type Radio } from '@/core/design/design';
import { heardAt, levelAtAp, metByWidth } from '@/core/fields/heard';
import { LENSES, lensOf } from '@/core/fields/lenses';
import { lensAt, standAt, type SpotRadio } from '@/core/fields/spot';
import { shareMeeting } from '@/core/fields/statistics';
import { DEFAULT_RULES } from '@/core/planning/problem';
import type { RetuneSheet } from '@/core/planning/retune';
import { BANDS, WIDTHS_MHZ, bandIndex } from '@/core/radio/band';
import { modelOf, radioModelOf } from '@/core/radio/catalogue';
import { channelOf, middlePowerDbm, type Channel } from '@/core/radio/channel';
import { HANDLERS } from './handlers';
import { aps, design, finish, floor, lensResult, sceneRadios } from './museum.testing';
import { disturbersAt } from './disturbers';
import type { LensResult, Result, SceneEmitter } from './protocol';
import { emittersOf, floorScene, poseOf } from './scene';

describe('one number on every screen: radios sharing airtime, for both variants and every band', () => {
  const scene = floorScene(design, floor);
  const cases = variantsOf(design).flatMap((variant) => BANDS.map((band) => ({ variant, band, name: `${variant.name}, ${band} GHz` })));
  test.each(cases)('$name', ({ variant, band }) => {
    const hung = accessPointsOf(design, floor.id, variant.id);
    const emitters = emittersOf(design, hung, [band]);
    const lane = bandIndex(band);
    const fieldOf = (ap: AccessPoint, channels: readonly Channel[]) =>
      (HANDLERS.lossField({ scene, model: modelOf(ap.modelId), pose: poseOf(design, ap), channels }) as Result<'lossField'>).lossDb[lane]!;
    const askMap = (channelAndPower: (ap: AccessPoint) => Pick<Radio, 'channel' | 'widthMhz' | 'txPowerDbm' | 'on'>) => {
      const lit = emitters.map(({ of }) => ({ of, setting: channelAndPower(of) })).filter(({ setting }) => setting.on);
      return lensResult({
        lens: 'contention',
        radios: lit.map(({ of, setting }) => {
          const channel = channelOf({ band, ...setting });
          const place = { apId: of.id, name: of.name, model: modelOf(of.modelId), pose: poseOf(design, of) };
          return { ...place, channel, txPowerDbm: setting.txPowerDbm, lossDb: fieldOf(of, [channel]) };
        }),
      });
    };
    if (emitters.length === 0) return expect(askMap(() => ({ on: false, channel: 1, widthMhz: 20, txPowerDbm: 0 })).mean).toBeNaN();
    const own = (ap: AccessPoint) => ap.radios.find((radio) => radio.band === band)!;
    const map = askMap(own);
    // The table: each radio's mean, weighed by what it serves.
    const weighed = map.sharers!.reduce((sum, { mean }, s) => sum + (map.served[s]!.areaM2 > 0 ? mean * map.served[s]!.areaM2 : 0), 0);
    expect(weighed / map.statistics.heardM2).toBeCloseTo(map.mean, 6);
    // The readout: at every 37th cell it lists as many as the map counts there.
    const { grid, medium, planeZM, receiver } = scene;
    for (let cell = 0; cell < map.values.length; cell += 37) {
      const at = { xM: grid.originXM + (cell % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM, zM: planeZM };
      const lines = heardAt(medium, emitters, at, receiver, -90);
      const listed = lines.some(({ takes }) => takes === null) ? lines.filter(({ takes }) => takes?.kind === 'airtime').length : NaN;
      if (lines[0] === undefined || lines[0].rssiDbm < -90) expect(map.values[cell]).toBeNaN();
      else expect(listed).toBe(map.values[cell]);
    }
    // The sheet, before and after.
    const radios = emitters.map(({ of }) => {
      const { on, channel, widthMhz, txPowerDbm } = own(of);
      const { id: apId, name, modelId } = of;
      const before = { on, channel, widthMhz, txPowerDbm };
      return {
        apId,
        name,
        model: modelOf(modelId),
        pose: poseOf(design, of),
        band,
        locked: false,
        forbidden: [],
        before,
        home: 0,
        lossDb: [fieldOf(of, [])],
      };
    });
    const rules = { ...DEFAULT_RULES, domain: 'UK' as const };
    const { result: sheet } = finish(
      HANDLERS.retune({
        floors: [{ name: '', scene, mask: scene.mask, people: [] }],
        radios,
        rules,
        countPeople: false,
        outside: [],
        outsideFloor: 0,
        seed: 1,
      }),
    );
    const [summary] = (sheet as RetuneSheet).bands;
    expect(summary!.contentionBefore).toBeCloseTo(map.mean, 6);
    const planned = new Map((sheet as RetuneSheet).rows.map((row) => [row.apId, row.after]));
    const after = askMap((ap) => planned.get(ap.id)!);
    expect(summary!.contentionAfter).toBeCloseTo(after.mean, 6);
    expect(summary!.contentionAfter).toBeLessThanOrEqual(summary!.contentionBefore);
    const on = emitters
      .filter(({ of }) => planned.get(of.id)!.on)
      .map(({ of }) => {
        const { txPowerDbm, ...setting } = planned.get(of.id)!;
        const channel = channelOf({ band, ...setting });
        return { powerDbm: middlePowerDbm({ txPowerDbm, channel }), field: fieldOf(of, [channel]) };
      });
    expect(summary!.coverageAfter).toBeCloseTo(
      shareMeeting(
        after.values.map((_, i) => levelOf(after, i)),
        scene.mask,
        -67,
        'least',
      ),
      6,
    );
    function levelOf(result: LensResult, i: number): number {
      const s = result.serving[i]!;
      if (s < 0) return NaN;
      return on[s]!.powerDbm - on[s]!.field[i]!;
    }
  });
});

test('what is kept between two radios, and of a radio, is forgotten where medium, floor or model is another', () => {
  const scene = floorScene(design, floor);
  const emitters = emittersOf(design, aps, ['5']);
  expect(emittersOf(design, aps, ['5'])[0]).toBe(emitters[0]);
  // One medium after the other, there and back: each time what a fresh radio says.
  const open = { ...scene.medium, propagation: { ...scene.medium.propagation, exponent: 3.5 } };
  const [one, two] = emitters;
  const levels = [scene.medium, open, scene.medium].map((medium) => levelAtAp(medium, one!, two!));
  expect(levels).toEqual([scene.medium, open, scene.medium].map((medium) => levelAtAp(medium, { ...one! }, { ...two! })));
  expect(levels[1]).not.toBe(levels[0]);
  // Its floor is raised: it hangs higher. Its model has another antenna: it has that.
  const raised = { ...design, floors: { ...design.floors, [floor.id]: { ...floor, elevationM: floor.elevationM + 1 } } };
  expect(emittersOf(raised, aps, ['5'])[0]!.pose.zM).toBe(one!.pose.zM + 1);
  const own = { ...modelOf(aps[0]!.modelId), id: 'own' };
  const hung = [{ ...aps[0]!, modelId: 'own' }];
  const withModel = (peakDbi: number) => ({
    ...design,
    apModels: { own: { ...own, radios: own.radios.map((radio) => ({ ...radio, antenna: { ...radio.antenna, peakDbi } })) } },
  });
  expect([4, 9].map((peakDbi) => emittersOf(withModel(peakDbi), hung, ['5'])[0]!.antenna.peakDbi)).toEqual([4, 9]);
});

test('Overlap: the readout counts at each width what the map counts there', () => {
  const scene = floorScene(design, floor);
  const emitters = emittersOf(design, aps, ['5']);
  const radios = sceneRadios(emitters, scene);
  const { grid, medium, planeZM, receiver } = scene;
  const maps = WIDTHS_MHZ.map((widthMhz) => ({
    widthMhz,
    map: lensResult({ lens: 'overlap', widthMhz, radios }),
  }));
  let different = 0;
  for (let cell = 0; cell < grid.cols * grid.rows; cell += 211) {
    const at = { xM: grid.originXM + (cell % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM, zM: planeZM };
    const met = metByWidth(medium, emitters, at, receiver, -90);
    maps.forEach(({ widthMhz, map }) => {
      const shown = met.find((one) => one.widthMhz === widthMhz)?.count ?? NaN;
      if (!Object.is(shown, map.values[cell]!)) different++;
    });
  }
  expect(different).toBe(0);
  // A wider channel never meets fewer, and here it meets more.
  for (let k = 1; k < 4; k++) expect(maps[k]!.map.mean).toBeGreaterThanOrEqual(maps[k - 1]!.map.mean);
  expect(maps[3]!.map.mean).toBeGreaterThan(maps[0]!.map.mean + 1);
  expect(maps[4]!.map.values.every(Number.isNaN)).toBe(true);
});

describe('the readout says what the map shows, for every lens', () => {
  const scene = floorScene(design, floor);
  const { grid, medium, planeZM, receiver } = scene;
  const emitters = emittersOf(design, aps, ['5']);
  const radios = sceneRadios(emitters, scene);
  const spotRadios = emitters.map(({ of, ...emitter }): SpotRadio => {
    const streams = radioModelOf(modelOf(of.modelId), '5')!.streams;
    return { ...emitter, key: of.id, name: of.name, streams, generation: modelOf(of.modelId).generation };
  });
  const zones = scene.zones.map(({ zone, mask }) => ({ id: zone.id, mask, level: design.serviceLevels[zone.serviceLevelId ?? ''] ?? null }));
  // An oven in the kitchen and a video sender on the terrace, which count in the lenses that say so.
  const kitchen = { xM: 70.3, yM: 13.2, zM: 1.2, azimuthDeg: 0, tiltDeg: 0 };
  const found: SceneEmitter[] = [
    { pose: kitchen, signal: 'digital-video', centreMhz: 5200, eirpDbm: 15 },
    { pose: { ...kitchen, xM: 20 }, signal: 'noise', centreMhz: 5500, eirpDbm: 20 },
    { pose: kitchen, signal: 'oven', centreMhz: 2450, eirpDbm: 30 },
  ];
  test.each(LENSES.filter(({ disturbed }) => disturbed).map(({ id }) => id))('%s with what was found', (id) => {
    const lens = lensOf(id);
    const asked = { ignoreBelowDbm: -90, rank: 0 as const, widthMhz: 80 as const, direction: 'both' as const };
    const map = lensResult({ lens: id, radios, ...asked, emitters: found });
    const without = lensResult({ lens: id, radios, ...asked });
    let [worst, most] = [0, 0];
    for (let cell = 0; cell < map.values.length; cell += 53) {
      if (Number.isNaN(map.values[cell]!)) continue;
      const at = { xM: grid.originXM + (cell % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM, zM: planeZM };
      const stand = standAt(medium, spotRadios, at, receiver);
      const here = lensAt(lens, stand, [], { ...asked, receiver }, disturbersAt(medium, found, stand.lit, at, receiver));
      worst = Math.max(worst, Math.abs(here - map.values[cell]!));
      most = Math.max(most, Math.abs(without.values[cell]! - map.values[cell]!));
      // Noise never falls by what is on the air besides.
      expect(lens.id === 'noise' ? map.values[cell]! - without.values[cell]! : without.values[cell]! - map.values[cell]!).toBeGreaterThan(-1e-4);
    }
    expect(worst).toBeLessThan(0.3);
    expect(most).toBeGreaterThan(10);
  });
  test.each(LENSES.map(({ id }) => id))('%s', (id) => {
    const lens = lensOf(id);
    const asked = { ignoreBelowDbm: -90, rank: 0 as const, widthMhz: 80 as const, direction: 'both' as const };
    const map = lensResult({ lens: id, radios, zones, ...asked, threshold: lens.threshold?.start ?? 0 });
    let [looked, apart] = [0, 0];
    for (let cell = 0; cell < map.values.length; cell += 53) {
      const at = { xM: grid.originXM + (cell % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM, zM: planeZM };
      const owed = zones.flatMap(({ mask, level }) => (mask[cell] === 1 && level !== null ? [level] : []));
      const here = lensAt(lens, standAt(medium, spotRadios, at, receiver), owed, { ...asked, receiver });
      const there = map.values[cell]!;
      looked++;
      // Levels come from a table that is within 0.15 dB; where a step or a border lies so near, a cell may fall on its other side.
      if (!(Object.is(here, there) || Math.abs(here - there) <= 0.15)) apart++;
    }
    expect(looked).toBeGreaterThan(200);
    expect(apart / looked).toBeLessThan(lens.show === 'wash' && lens.asks === null ? 0.002 : 0.01);
  });
  test.each(LENSES.filter(({ curve }) => curve !== null).map(({ id }) => id))('%s: its curve is the share at each of its levels', (id) => {
    const { curve, threshold: rule } = lensOf(id);
    const { values, curve: shares } = lensResult({ lens: id, radios, zones });
    for (let k = 0; k < shares.length; k += 3)
      expect(shares[k]).toBeCloseTo(shareMeeting(values, scene.mask, curve!.from + k * curve!.step, rule!.sense), 9);
    expect(shares.length).toBe(Math.round((curve!.to - curve!.from) / curve!.step) + 1);
  });
  test('each zone is told its share, and through Service level what of its level is met', () => {
    const map = lensResult({ lens: 'service', radios, zones });
    const { values } = map;
    for (const [i, { mask, level }] of zones.entries()) {
      const { owed, share } = map.zones[i]!;
      expect(share).toBeNull();
      if (level === null) return expect(owed).toBeNull();
      // Counted from the map, where this zone is the first that covers a cell.
      let [cells, met] = [0, 0];
      mask.forEach((inside, cell) => {
        if (inside === 0 || zones.slice(0, i).some((before) => before.level !== null && before.mask[cell] === 1)) return;
        cells++;
        if (values[cell] === 0) met++;
      });
      if (!zones.slice(0, i).some((before) => before.mask.some((one, cell) => one === 1 && mask[cell] === 1)))
        expect(owed!.all).toBeCloseTo(met / cells, 9);
    }
    const signal = lensResult({ lens: 'signal', radios, zones, threshold: -67 });
    const first = zones[0]!;
    let [cells, met] = [0, 0];
    first.mask.forEach((inside, cell) => {
      cells += inside;
      if (inside === 1 && signal.values[cell]! >= -67) met++;
    });
    expect(signal.zones[0]).toEqual({ zoneId: first.id, share: met / cells, owed: null });
  });
});
