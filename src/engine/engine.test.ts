import { modelOf } from '@/core/radio/catalogue';
import { describe, expect, jest, test } from '@jest/globals';
import { museumBuilding } from '@demo/museum';
import { asFoundSurvey } from '@demo/survey';
import { DEFAULT_RULES } from '@/core/planning/problem';
import type { retune } from '@/core/planning/retune';
import { channelOf, occupied20 } from '@/core/radio/channel';
import { clientTypesOf } from '@/core/design/design';
import { ruleFor } from '@/core/radio/regulation';
import { countedOf } from '@/core/survey/heard';
import { DEFAULT_SETTING, joinScans } from '@/core/survey/setting';
import type { Sample } from '@/core/survey/sample';
import { UpperRoomError } from '@/core/errors';
import { accessPointsOf, serviceLevelOf } from '@/core/design/design';
import { editRadios } from '@/core/design/commands';
import { applyChanges } from '@/core/design/step';
import { colourDistance, touchingOf } from '@/core/fields/tints';
import { maskOf } from '@/core/geometry/grid';
import { FieldCache } from './fieldCache';
import { antennasOf } from './derived';
import { HANDLERS } from './handlers';
import { jobsOf } from './jobs';
import { PALETTE, aps, design, finish, floor, lensCall, lensResult } from './museum.testing';
import { audible, listenOnSite } from './listen';
import type { FromWorker, Params, Result } from './protocol';
import { floorScene, poseOf } from './scene';

/** A pool that computes at once, in this thread. */
const direct = {
  calls: 0,
  call: async (name: keyof typeof HANDLERS, given: never) => {
    direct.calls++;
    return (HANDLERS[name] as (p: never) => unknown)(given) as never;
  },
};

test('a model that is edited has other fields under the same id; one that is a copy has the same antennas, also after a message', () => {
  const scene = floorScene(design, floor);
  const { modelId, ...ap } = aps[0]!;
  const model = modelOf(modelId);
  const louder = { ...model, radios: model.radios.map((radio) => ({ ...radio, antenna: { ...radio.antenna, peakDbi: radio.antenna.peakDbi + 3 } })) };
  const field = (of: typeof model) =>
    (HANDLERS.lossField({ scene, model: of, pose: poseOf(design, { ...ap, modelId }), channels: [] }) as Result<'lossField'>).lossDb[1]!;
  const [usual, strong] = [field(model), field(louder)];
  for (let i = 0; i < usual.length; i += 501) expect(usual[i]! - strong[i]!).toBeCloseTo(3, 3);
  expect(antennasOf(structuredClone(model))).toBe(antennasOf(model));
  expect(antennasOf(louder)).not.toBe(antennasOf(model));
});

describe('scene and cache', () => {
  test('channel and power compute no rays; moving one access point computes that one', async () => {
    const cache = new FieldCache(direct as never);
    const scene = floorScene(design, floor);
    const all = (d: typeof design) =>
      Promise.all(
        accessPointsOf(d, floor.id, aps[0]!.variantId).map((ap) => cache.get(floorScene(d, floor), modelOf(ap.modelId), poseOf(design, ap))),
      );
    direct.calls = 0;
    await all(design);
    expect(direct.calls).toBe(aps.length);
    const retuned = applyChanges(
      design,
      editRadios(
        design,
        aps.map((ap) => ap.id),
        '5',
        { channel: 100, txPowerDbm: 5 },
      ),
    );
    expect(floorScene(retuned, floor)).toBe(scene);
    await all(retuned);
    expect(direct.calls).toBe(aps.length);
    const moved = { ...design, accessPoints: { ...design.accessPoints, [aps[0]!.id]: { ...aps[0]!, xM: 12 } } };
    await all(moved);
    expect(direct.calls).toBe(aps.length + 1);
    const wall = Object.values(design.walls)[0]!;
    await all({ ...design, walls: { ...design.walls, [wall.id]: { ...wall, materialId: 'glass' } } });
    expect(direct.calls).toBe(2 * aps.length + 1);
    // Names and zones change no field; neither does a wall of a floor that is not in the building.
    const renamed = { ...floor, name: 'Quay' };
    expect(floorScene({ ...design, floors: { ...design.floors, [floor.id]: renamed } }, renamed).key).toBe(floorScene(design, floor).key);
    // Zones of service make another mask, zones of clutter another scene.
    const only = (kind: string) => ({ ...design, zones: Object.fromEntries(Object.entries(design.zones).filter(([, zone]) => zone.kind === kind)) });
    expect(floorScene(only('clutter'), floor).key).toBe(floorScene(design, floor).key);
    expect(floorScene(only('clutter'), floor).maskKey).not.toBe(floorScene(design, floor).maskKey);
    expect(floorScene(only('service'), floor).key).not.toBe(floorScene(design, floor).key);
    expect(floorScene(design, floor).medium.clutter).toMatchObject([{ baseZM: 8.7, topZM: 11 }]);
    const above = { ...wall, id: 'above', floorId: 'loft' };
    expect(floorScene({ ...design, walls: { ...design.walls, above } }, floor)).toBe(floorScene(design, floor));
  });
  test('a field that failed is forgotten, so that the next call tries again', async () => {
    let fail = true;
    const cache = new FieldCache({
      call: async () => {
        if (fail) throw new UpperRoomError('WORKER_FAILED');
        return { lossDb: [] };
      },
    } as never);
    const scene = floorScene(design, floor);
    await expect(cache.get(scene, modelOf('heron-c4'), poseOf(design, aps[0]!))).rejects.toMatchObject({ code: 'WORKER_FAILED' });
    fail = false;
    await expect(cache.get(scene, modelOf('heron-c4'), poseOf(design, aps[0]!))).resolves.toEqual([]);
  });
});

describe('the lens call on the museum', () => {
  const scene = floorScene(design, floor);
  const radios = aps.map((ap) => {
    const radio = ap.radios.find((candidate) => candidate.band === '5')!;
    const channels = [channelOf(radio)];
    const { lossDb } = HANDLERS.lossField({ scene, model: modelOf(ap.modelId), pose: poseOf(design, ap), channels }) as Result<'lossField'>;
    return {
      apId: ap.id,
      name: ap.name,
      model: modelOf(ap.modelId),
      pose: poseOf(design, ap),
      channel: { band: '5' as const, primary: radio.channel, widthMhz: radio.widthMhz },
      txPowerDbm: radio.txPowerDbm,
      lossDb: lossDb[1]!,
    };
  });
  const ask = (fields: Partial<Params<'lens'>>) => lensResult({ radios, ...fields });
  test.each(['signal', 'serving', 'contention', 'sinr', 'rate', 'service'] as const)(
    'finer cells show what the floor’s own show where their centres meet: %s',
    (lens) => {
      const zones = lens !== 'service' ? [] : scene.zones.map(({ zone, mask }) => ({ id: zone.id, mask, level: serviceLevelOf(design, zone) }));
      const coarse = ask({ lens, zones }).values;
      const { grid } = scene;
      // Of the third part of a cell the middle one has its centre.
      const cellM = grid.cellM / 3;
      const part = { fromCol: 40, fromRow: 30, cols: 20, rows: 12 };
      const fine = {
        cellM,
        originXM: grid.originXM + part.fromCol * grid.cellM - cellM,
        originYM: grid.originYM + part.fromRow * grid.cellM - cellM,
        cols: part.cols * 3,
        rows: part.rows * 3,
      };
      const asked = { ...lensCall({ radios, lens }), scene: { ...scene, key: `${scene.key} fine`, grid: fine }, levels: [-50] };
      const owed = zones.map((zone, i) => ({ ...zone, mask: maskOf(fine, [scene.zones[i]!.zone]) }));
      const without = radios.map((radio) => ({ ...radio, lossDb: null }));
      const found = finish(HANDLERS.detail({ ...asked, zones: owed, radios: without })).result as Result<'detail'>;
      const [same, apart] = [[] as number[], [] as number[]];
      for (let row = 0; row < part.rows; row++)
        for (let col = 0; col < part.cols; col++) {
          same.push(found.values[(row * 3 + 1) * fine.cols + col * 3 + 1]!);
          apart.push(coarse[(part.fromRow + row) * grid.cols + part.fromCol + col]!);
        }
      expect(same.length).toBe(240);
      const far = same.filter((value, i) => Math.abs(value - apart[i]!) > 0.01 || Number.isNaN(value) !== Number.isNaN(apart[i]!));
      expect(far).toEqual([]);
      expect(found.contours.map(({ level }) => level)).toEqual([-50]);
    },
  );
  test('another client: its gain lowers every level, its streams and layer the rate; fields of the first stay', () => {
    const handset = floorScene(design, floor, clientTypesOf(design)('handset'));
    const own = radios.map((radio) => ({ ...radio, lossDb: null }));
    const at = (of: typeof scene, lens: 'signal' | 'rate' | 'balance') => lensResult({ radios: own, lens, scene: of, ignoreBelowDbm: -120 }).values;
    const [common, held] = [at(scene, 'signal'), at(handset, 'signal')];
    const off = common.map((value, i) => value - held[i]!).filter((value) => !Number.isNaN(value));
    expect(off.length).toBeGreaterThan(10_000);
    // Head and hand take 4 dB.
    expect(Math.min(...off)).toBeCloseTo(4, 3);
    expect(Math.max(...off)).toBeCloseTo(4, 3);
    // One stream of VHT at 40 MHz: at most MCS 9, 200 Mb/s, where two of HE reach more.
    expect(Math.max(...at(handset, 'rate').filter((value) => !Number.isNaN(value)))).toBe(200);
    expect(Math.max(...at(scene, 'rate').filter((value) => !Number.isNaN(value)))).toBeGreaterThan(500);
    // 14 dBm against the radios' own powers.
    expect(new Set(at(handset, 'balance').filter((value) => !Number.isNaN(value)))).toEqual(new Set(radios.map(({ txPowerDbm }) => 14 - txPowerDbm)));
    expect(floorScene(design, floor)).toBe(scene);
  });
  test('served areas, histogram and share belong together', () => {
    const result = ask({});
    const served = result.served.reduce((sum, one) => sum + one.areaM2, 0);
    expect(served).toBeCloseTo(result.statistics.heardM2, 3);
    expect(result.statistics.binM2.reduce((sum, m2) => sum + m2, 0)).toBeCloseTo(result.statistics.heardM2, 0);
    // The curve of Signal begins at −90 dBm.
    expect(result.curve[-67 + 90]).toBeCloseTo(result.share, 9);
    const half = scene.mask.map((inside, i) => (i % 2 === 0 ? inside : 0));
    const shares = (threshold: number) =>
      HANDLERS.share({ lens: 'signal', values: result.values, mask: scene.mask, zones: [scene.mask, half], threshold }) as Result<'share'>;
    expect(shares(-67)).toMatchObject({ all: result.share, zones: [result.share, expect.closeTo(result.share, 1)] });
    expect(shares(-40).all).toBeLessThan(result.share);
    expect(shares(-40).zones[0]).toBe(shares(-40).all);
    expect(scene.serviceM2).toBeCloseTo(72 * 38 + 50 * 8, 0);
  });
  test('contention falls when the channels part', () => {
    const shared = ask({ lens: 'contention', threshold: 1 });
    const apart = ask({
      lens: 'contention',
      threshold: 1,
      radios: radios.map((radio, i) => ({
        ...radio,
        channel: { band: '5', primary: [36, 44, 52, 60, 100, 108, 116, 124, 132, 149][i]!, widthMhz: 20 },
      })),
    });
    expect(shared.mean).toBeGreaterThan(1);
    // Nobody shares with itself or where its primary is free; the means of all radios, weighed by their areas, are the map's mean.
    shared.sharers!.forEach(({ who }, s) =>
      who.forEach(({ radio: j, share }) => {
        expect(share > 0 && share <= 1).toBe(true);
        expect(j !== s && occupied20(radios[j]!.channel).includes(radios[s]!.channel.primary)).toBe(true);
      }),
    );
    const weighed = shared.sharers!.reduce((sum, { mean }, s) => sum + (shared.served[s]!.areaM2 > 0 ? mean * shared.served[s]!.areaM2 : 0), 0);
    expect(weighed / shared.statistics.heardM2).toBeCloseTo(shared.mean, 6);
    expect(ask({}).sharers).toBeNull();
    // Its curve counts what is as good or better: at or below.
    [0, 1, 2, 6].forEach((most) => expect(shared.curve[most]).toBeCloseTo(ask({ lens: 'contention', threshold: most }).share, 9));
    expect(shared.curve[6]).toBeGreaterThan(shared.curve[0]!);
    expect(apart.mean).toBe(0);
  });
  test('dragging gives what computing everything afresh gives, frame after frame, also after another edit', () => {
    const at = (xM: number, txPowerDbm = 12) =>
      radios.map((radio, i) => {
        if (i !== 3) return i === 5 ? { ...radio, txPowerDbm } : radio;
        const pose = { ...radio.pose, xM };
        const channels = [radio.channel];
        return { ...radio, pose, lossDb: (HANDLERS.lossField({ scene, model: radio.model, pose, channels }) as Result<'lossField'>).lossDb[1]! };
      });
    for (const moved of [at(30), at(31), at(32, 5), at(33, 5)]) {
      for (const lens of ['signal', 'contention', 'serving'] as const) {
        const asDragged = moved.map((radio, i) => (i === 3 ? { ...radio, lossDb: null } : radio));
        expect(ask({ lens, radios: asDragged, movingApId: radios[3]!.apId }).values).toEqual(ask({ lens, radios: moved }).values);
      }
    }
  });
  test('Channel tints areas by channel, apart where they touch; one channel alone leaves the rest bare; a drag keeps the tints', () => {
    const all = ask({ lens: 'channel' });
    expect(all.kinds.map(({ id }) => id).sort()).toEqual([...new Set(radios.map(({ channel }) => `${channel.primary}/${channel.widthMhz}`))].sort());
    expect(all.kinds.reduce((sum, { areaM2 }) => sum + areaM2, 0)).toBeCloseTo(all.statistics.heardM2, 3);
    const touching = touchingOf(all.values, scene.grid.cols, all.kinds.length);
    all.kinds.forEach((a, i) =>
      all.kinds.forEach(
        (b, j) => touching[i * all.kinds.length + j]! > 0 && expect(colourDistance(PALETTE[a.tint]!, PALETTE[b.tint]!)).toBeGreaterThan(60),
      ),
    );
    const only = ask({ lens: 'channel', onlyKind: all.kinds[0]!.id });
    expect(only.statistics.heardM2).toBeCloseTo(all.kinds[0]!.areaM2, 3);
    const kept = ask({ lens: 'channel', keptTints: Object.fromEntries(all.kinds.map(({ id }, i) => [id, i])) });
    expect(kept.kinds.map(({ tint }) => tint)).toEqual(all.kinds.map((_, i) => i));
  });
  test('a floor without radios has no value and no error', () => {
    const empty = ask({ radios: [] });
    expect(empty.share).toBe(0);
    expect(empty.statistics.heardM2).toBe(0);
    expect(empty.values.every(Number.isNaN)).toBe(true);
  });
});

describe('the worker’s side', () => {
  /** Its messages, until the job of that number has ended. */
  const serve = () => {
    const said: FromWorker[] = [];
    let ended: () => void = () => undefined;
    const receive = jobsOf((message) => {
      said.push(message);
      if (message.type !== 'progress') ended();
    });
    return { said, receive, ended: () => new Promise<void>((resolve) => (ended = resolve)) };
  };
  const lens = lensCall({
    lens: 'contention',
    radios: aps.map((ap) => {
      const { name, modelId, id: apId } = ap;
      const channel = channelOf(ap.radios.find(({ band }) => band === '5')!);
      return { apId, name, model: modelOf(modelId), pose: poseOf(design, ap), channel, txPowerDbm: 12, lossDb: null };
    }),
  });
  test('a lens that was overtaken is given up between its stages, and the next one is computed', async () => {
    const { said, receive, ended } = serve();
    // The clock says that every stage took too long to go on unasked.
    let clock = 0;
    const watch = jest.spyOn(performance, 'now').mockImplementation(() => (clock += 1000));
    const first = ended();
    receive({ type: 'start', jobId: 1, call: 'lens', params: lens });
    receive({ type: 'cancel', jobId: 1 });
    await first;
    expect(said).toEqual([{ type: 'failed', jobId: 1, code: 'CANCELLED', details: {} }]);
    const second = ended();
    receive({ type: 'start', jobId: 2, call: 'lens', params: lens });
    await second;
    expect(said[1]).toMatchObject({ type: 'done', jobId: 2 });
    watch.mockRestore();
  });
  test('what breaks in a handler is said with its code', async () => {
    const { said, receive, ended } = serve();
    const end = ended();
    receive({ type: 'start', jobId: 7, call: 'listen', params: { design, site: {}, stretch: { floorId: 'gone', legs: [] } } });
    await end;
    expect(said).toMatchObject([{ type: 'failed', jobId: 7, code: 'RECORD_UNKNOWN' }]);
  });
});

describe('long calls on the museum', () => {
  const scene = floorScene(design, floor);
  const radios = aps.flatMap((ap) => {
    const { lossDb } = HANDLERS.lossField({ scene, model: modelOf(ap.modelId), pose: poseOf(design, ap), channels: [] }) as Result<'lossField'>;
    return ap.radios.map(({ band, on, channel, widthMhz, txPowerDbm }) => ({
      apId: ap.id,
      name: ap.name,
      model: modelOf(ap.modelId),
      pose: poseOf(design, ap),
      band,
      locked: ap.name === 'Q-01',
      forbidden: [],
      before: { on, channel, widthMhz, txPowerDbm },
      home: 0,
      lossDb: [lossDb[['2.4', '5', '6'].indexOf(band)]!],
    }));
  });
  const question = {
    floors: [{ name: floor.name, scene, mask: scene.mask, people: [] }],
    radios,
    rules: { ...DEFAULT_RULES, domain: 'UK' as const },
    countPeople: false,
    outside: [],
    outsideFloor: 0,
    seed: 1,
  };
  const plan = (fields: object = {}) => finish(HANDLERS.retune({ ...question, ...fields }));

  test('a retune of three bands: each falls to no less than its bound, what is locked stays, progress is told', () => {
    const { result, progress } = plan();
    expect(result.rows).toHaveLength(radios.length);
    expect(result.bands.map((band) => band.band)).toEqual(['2.4', '5', '6']);
    for (const band of result.bands) {
      expect(band.costAfter).toBeLessThan(band.costBefore / 2);
      expect(band.bound).toBeLessThanOrEqual(band.costAfter + 1e-9);
      expect(band.coverageAfter).toBeGreaterThanOrEqual(band.requiredShare - 1e-9);
    }
    for (const row of result.rows.filter((one) => one.name === 'Q-01')) expect(row.after).toEqual(row.before);
    expect(new Set(progress.map((one) => one.band)).size).toBe(3);
    // The terrace's outdoor unit keeps off indoor-only channels.
    const terrace = result.rows.find((row) => row.name === 'Q-09' && row.band === '5')!;
    expect(terrace.after.channel).toBeGreaterThanOrEqual(100);
    expect(terrace.after.channel).toBeLessThanOrEqual(140);
  });
  test('told to stop it ends soon, with the best it has: a lawful plan that is no worse than today', () => {
    const whole = plan();
    const steps = HANDLERS.retune(question) as ReturnType<typeof retune>;
    let count = 1;
    let step = steps.next();
    for (; !step.done; step = steps.next(count >= 3)) count++;
    expect(count).toBeLessThan(whole.progress.length / 4);
    const sheet = step.value as Result<'retune'>;
    expect([whole.result.stopped, sheet.stopped]).toEqual([false, true]);
    expect(sheet.bands).toHaveLength(1);
    expect(sheet.bands[0]!.costAfter).toBeLessThanOrEqual(sheet.bands[0]!.costBefore + 1e-9);
    for (const { band, after } of sheet.rows) expect(ruleFor('UK', { band, primary: after.channel, widthMhz: after.widthMhz })).not.toBeNull();
  });
  test('the same call gives the same sheet', () => expect(plan().result).toEqual(plan().result));
});

describe('the receiver', () => {
  const building = museumBuilding();
  const { walk, samples, scans } = asFoundSurvey(building);
  const ask = (fromMs: number, toMs: number, bands: readonly ('2.4' | '5' | '6')[] = ['2.4', '5', '6']) =>
    listenOnSite(building.design, building.sites[floor.id]!, { ...walk, receiver: { ...DEFAULT_SETTING, bands }, fromMs, toMs });
  const sorted = (list: readonly Sample[]) => [...list].sort((a, b) => a.tMs - b.tMs || a.bssid.localeCompare(b.bssid));

  test('a stretch asked in parts gives what it gives as a whole, and nothing twice', () => {
    const whole = ask(0, 30_000);
    expect(whole.channels).toBe(6);
    expect(whole.samples.length).toBeGreaterThan(50);
    const parts = [0, 7_013, 7_014, 19_999].flatMap((from, i, all) => ask(from, all[i + 1] ?? 30_000).samples);
    expect(sorted(parts)).toEqual(sorted(whole.samples));
    expect(sorted(whole.samples)).toEqual(sorted(samples.filter((sample) => sample.tMs < 30_000)));
  });
  test('it says when it listened to what: all of the way, and nothing of what its adapter was gone', () => {
    const whole = ask(0, 30_000);
    expect(joinScans([0, 7_013, 7_014, 19_999].flatMap((from, i, all) => ask(from, all[i + 1] ?? 30_000).scans))).toEqual(joinScans(whole.scans));
    expect(joinScans(whole.scans)).toEqual(
      joinScans(scans)
        .slice(0, 1)
        .map((scan) => ({ ...scan, toMs: 30_000 })),
    );
    // Every beacon came in a visit of its own channel.
    const { visits } = countedOf(walk, whole);
    for (const { tMs, band, channel } of whole.samples)
      expect(visits.some((visit) => visit.tMs === tMs && visit.band === band && visit.channel === channel)).toBe(true);
    const site = { ...building.sites[floor.id]!, dropOutsPerHour: 240 };
    const patchy = listenOnSite(building.design, site, { ...walk, receiver: DEFAULT_SETTING, fromMs: 0, toMs: 30_000 });
    const listened = patchy.scans.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0);
    expect(listened).toBeLessThan(27_000);
    expect(listened).toBeGreaterThan(10_000);
    const within = (tMs: number) => patchy.scans.some(({ fromMs, toMs }) => tMs >= fromMs && tMs < toMs);
    expect(patchy.samples).toEqual(whole.samples.filter(({ tMs }) => within(tMs)));
  });
  test('another adapter, fewer channels, a longer dwell and one network alone', () => {
    const set = (receiver: Partial<typeof DEFAULT_SETTING>) =>
      listenOnSite(building.design, building.sites[floor.id]!, { ...walk, receiver: { ...DEFAULT_SETTING, ...receiver }, fromMs: 0, toMs: 60_000 });
    const strong = (heard: ReturnType<typeof set>) => heard.samples.filter(({ rssiDbm }) => rssiDbm > -70);
    const meanOf = (all: readonly Sample[]) => all.reduce((sum, { rssiDbm }) => sum + rssiDbm, 0) / all.length;
    const reference = set({});
    const same = strong(reference).map(({ tMs, bssid }) => `${tMs}/${bssid}`);
    const phone = set({ adapter: 'phone' }).samples.filter(({ tMs, bssid }) => same.includes(`${tMs}/${bssid}`));
    expect(phone).toHaveLength(same.length);
    expect(meanOf(phone) - meanOf(strong(reference))).toBeCloseTo(-5, 6);
    const one = set({ channels: [reference.samples.find(({ band }) => band === '2.4')!.channel], bands: ['2.4'] });
    expect(one.channels).toBe(1);
    expect(one.scans[0]!.channels).toHaveLength(1);
    expect(set({ dwellMs: 220 }).samples.length).toBeLessThan(0.6 * reference.samples.length);
    const theirs = set({ ssid: 'boatyard' });
    expect(theirs.samples.length).toBeGreaterThan(0);
    expect(theirs.samples).toEqual(reference.samples.filter(({ ssid }) => ssid === 'boatyard'));
    expect(theirs.scans[0]!.ssid).toBe('boatyard');
  });
  test('what goes to the server’s thread is enough, and holds only the access points that are heard', () => {
    const part = audible(building.design, walk);
    const stretch = { ...walk, receiver: DEFAULT_SETTING, fromMs: 0, toMs: 8_000 };
    const site = building.sites[floor.id]!;
    expect(listenOnSite(part, site, stretch)).toEqual(listenOnSite(building.design, site, stretch));
    expect(Object.keys(part.accessPoints)).toHaveLength(accessPointsOf(building.design, floor.id, walk.variantId).length);
    expect(Object.keys(part.walks)).toEqual([]);
  });
  test('fewer bands are heard more often', () => {
    const only = ask(0, 30_000, ['5']);
    expect(only.channels).toBeLessThan(6);
    expect(only.samples.every((sample) => sample.band === '5')).toBe(true);
    expect(only.samples.length).toBeGreaterThan(ask(0, 30_000).samples.filter((sample) => sample.band === '5').length);
  });
  test('access points that are off, or of another variant, are not heard', () => {
    const ours = new Set(ask(0, 60_000).samples.map((sample) => sample.apId));
    const asFound = accessPointsOf(building.design, floor.id, walk.variantId).map((ap) => ap.id);
    for (const apId of ours) if (apId !== null) expect(asFound).toContain(apId);
    const quiet = {
      ...building.design,
      accessPoints: Object.fromEntries(
        Object.values(building.design.accessPoints).map((ap) => [ap.id, { ...ap, radios: ap.radios.map((radio) => ({ ...radio, on: false })) }]),
      ),
    };
    const left = listenOnSite(quiet, building.sites[floor.id]!, { ...walk, receiver: DEFAULT_SETTING, fromMs: 0, toMs: 60_000 });
    expect(left.samples.every((sample) => sample.apId === null)).toBe(true);
  });
});

test('the cache lets the least recently used fields go when it is full, and counts what it holds', async () => {
  let calls = 0;
  const cache = new FieldCache({
    call: async () => {
      calls++;
      return { lossDb: [] };
    },
  } as never);
  // 12 bytes a cell and 150 MB a field: two fit into 400 MB, three do not.
  const large = { ...floorScene(design, floor), grid: { originXM: 0, originYM: 0, cellM: 0.5, cols: 12_500, rows: 1000 } };
  const at = (xM: number) => cache.get(large, modelOf('heron-c4'), { ...poseOf(design, aps[0]!), xM });
  await at(1);
  await at(2);
  await at(1);
  expect(calls).toBe(2);
  await at(3);
  await at(1);
  expect(calls).toBe(3);
  await at(2);
  expect(calls).toBe(4);
});
