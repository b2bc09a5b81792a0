import { describe, expect, jest, test } from '@jest/globals';
import { museum, museumBuilding } from '@demo/museum';
import { asFoundSurvey } from '@demo/survey';
import { DEFAULT_RULES } from '@/core/planning/problem';
import type { RetuneSheet, retune } from '@/core/planning/retune';
import { BANDS, WIDTHS_MHZ, bandIndex } from '@/core/radio/band';
import { heardAt, metByWidth } from '@/core/fields/heard';
import { shareMeeting } from '@/core/fields/statistics';
import { channelOf, occupied20 } from '@/core/radio/channel';
import { ruleFor } from '@/core/radio/regulation';
import type { Sample } from '@/core/survey/sample';
import { UpperRoomError } from '@/core/errors';
import { accessPointsOf, floorsOf, variantsOf, type AccessPoint, type Radio } from '@/core/design/design';
import { editRadios } from '@/core/design/commands';
import { applyChanges } from '@/core/design/step';
import { colourDistance, touchingOf } from '@/core/fields/tints';
import { FieldCache } from './fieldCache';
import { HANDLERS } from './handlers';
import { jobsOf } from './jobs';
import { audible, listenOnSite } from './listen';
import { EnginePool, type WorkerLike } from './pool';
import type { FromWorker, LensResult, Result, ToWorker } from './protocol';
import { emittersOf, floorScene, poseOf } from './scene';

/** A worker that does nothing by itself: the test answers for it. */
class Puppet implements WorkerLike {
  onmessage: WorkerLike['onmessage'] = null;
  onerror: WorkerLike['onerror'] = null;
  readonly received: ToWorker[] = [];
  terminated = false;
  postMessage(message: ToWorker): void {
    this.received.push(message);
  }
  answer(message: FromWorker): void {
    this.onmessage?.({ data: message });
  }
  terminate(): void {
    this.terminated = true;
  }
}

/** Runs a handler to its end. */
function finish<P, R>(run: R | Generator<P, R>): { result: R; progress: Array<NonNullable<P>> } {
  if (typeof (run as Generator<P, R>).next !== 'function') return { result: run as R, progress: [] };
  const steps = run as Generator<P, R>;
  const progress: Array<NonNullable<P>> = [];
  let step = steps.next();
  for (; !step.done; step = steps.next()) if (step.value !== undefined && step.value !== null) progress.push(step.value);
  return { result: step.value, progress };
}

const params = { grid: { originXM: 0, originYM: 0, cellM: 1, cols: 1, rows: 1 }, values: new Float32Array(1), levels: [] };
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

describe('the pool', () => {
  const withPuppets = (size: number) => {
    const puppets: Puppet[] = [];
    const pool = new EnginePool(size, () => {
      const puppet = new Puppet();
      puppets.push(puppet);
      return puppet;
    });
    return { pool, puppets };
  };
  const code = (promise: Promise<unknown>) =>
    promise.then(
      () => 'done',
      (error: unknown) => (error instanceof UpperRoomError ? error.code : error),
    );

  test('gives each worker one job and the next when it is done', async () => {
    const { pool, puppets } = withPuppets(2);
    const calls = [1, 2, 3].map(() => pool.call('contours', params));
    expect(puppets.map((p) => p.received.length)).toEqual([1, 1]);
    puppets[1]!.answer({ type: 'done', jobId: 2, result: ['second'] });
    expect(await calls[1]).toEqual(['second']);
    expect(puppets[1]!.received.at(-1)).toMatchObject({ type: 'start', jobId: 3 });
  });
  test('a cancelled job that waits never runs; one that runs is told; both reject at once', async () => {
    const { pool, puppets } = withPuppets(1);
    const [first, second] = [new AbortController(), new AbortController()];
    const running = code(pool.call('contours', params, { signal: first.signal }));
    const waiting = code(pool.call('contours', params, { signal: second.signal }));
    second.abort();
    first.abort();
    expect([await running, await waiting]).toEqual(['CANCELLED', 'CANCELLED']);
    expect(puppets[0]!.received).toEqual([expect.objectContaining({ type: 'start' }), { type: 'cancel', jobId: 1 }]);
    // The seat is free only when the worker says so: it has one job at a time.
    const third = pool.call('contours', params);
    expect(puppets[0]!.received).toHaveLength(2);
    puppets[0]!.answer({ type: 'failed', jobId: 1, code: 'CANCELLED', details: {} });
    puppets[0]!.answer({ type: 'done', jobId: 3, result: [] });
    expect(await third).toEqual([]);
    const aborted = new AbortController();
    aborted.abort();
    expect(await code(pool.call('contours', params, { signal: aborted.signal }))).toBe('CANCELLED');
  });
  test('errors cross with code and details; a broken worker is replaced and its job done by another', async () => {
    const { pool, puppets } = withPuppets(1);
    const failing = pool.call('contours', params);
    puppets[0]!.answer({ type: 'failed', jobId: 1, code: 'GRID_TOO_LARGE', details: { cols: 9 } });
    await expect(failing).rejects.toMatchObject({ code: 'GRID_TOO_LARGE', details: { cols: 9 } });
    const rescued = pool.call('contours', params);
    puppets[0]!.onerror?.({ message: 'out of memory' });
    expect(puppets[0]!.terminated).toBe(true);
    expect(puppets[1]!.received).toMatchObject([{ type: 'start', jobId: 2 }]);
    puppets[1]!.answer({ type: 'done', jobId: 2, result: ['after all'] });
    expect(await rescued).toEqual(['after all']);
  });
  test('a job that breaks one worker after the other is given up by name, and the others go on', async () => {
    const { pool, puppets } = withPuppets(1);
    const first = pool.call('contours', params);
    puppets[0]!.answer({ type: 'done', jobId: 1, result: [] });
    await first;
    for (let round = 0; round < 4; round++) {
      const broken = code(pool.call('contours', params));
      puppets.at(-1)!.onerror?.({ message: 'out of memory' });
      puppets.at(-1)!.onerror?.({ message: 'out of memory' });
      expect(await broken).toBe('WORKER_FAILED');
      const next = pool.call('contours', params);
      puppets.at(-1)!.answer({ type: 'done', jobId: 3 + round * 2, result: [] });
      expect(await next).toEqual([]);
    }
  });
  test('what is wanted at once goes before what may take long', async () => {
    const { pool, puppets } = withPuppets(1);
    void pool.call('contours', params);
    void pool.call('retune', {} as never, { priority: 'long' });
    void pool.call('contours', params);
    void pool.call('lens', {} as never, { priority: 'now' });
    for (let jobId = 1, i = 0; i < 3; i++) {
      const started = puppets[0]!.received.at(-1) as { jobId: number };
      jobId = started.jobId;
      puppets[0]!.answer({ type: 'done', jobId, result: [] });
    }
    expect(puppets[0]!.received.map((message) => (message as { call: string }).call)).toEqual(['contours', 'lens', 'contours', 'retune']);
  });
  test('workers that cannot be loaded are said, and not made for ever', async () => {
    const { pool, puppets } = withPuppets(2);
    const calls = [1, 2, 3].map(() => code(pool.call('contours', params)));
    for (let i = 0; i < puppets.length && i < 50; i++) puppets[i]!.onerror?.({ message: 'the script is gone' });
    expect(await Promise.all(calls)).toEqual(['WORKER_UNLOADABLE', 'WORKER_UNLOADABLE', 'WORKER_UNLOADABLE']);
    expect(puppets.length).toBeLessThan(12);
    expect(await code(pool.call('contours', params))).toBe('WORKER_UNLOADABLE');
  });
  test('a running job is asked to stop and gives what it has; one that waits is cancelled', async () => {
    const { pool, puppets } = withPuppets(1);
    const [first, second] = [new AbortController(), new AbortController()];
    const running = pool.call('contours', params, { stop: first.signal });
    const waiting = code(pool.call('contours', params, { stop: second.signal }));
    second.abort();
    first.abort();
    expect(await waiting).toBe('CANCELLED');
    expect(puppets[0]!.received.at(-1)).toEqual({ type: 'stop', jobId: 1 });
    puppets[0]!.answer({ type: 'done', jobId: 1, result: ['so far'] });
    expect(await running).toEqual(['so far']);
  });
  test('progress reaches the caller', async () => {
    const { pool, puppets } = withPuppets(1);
    const seen: unknown[] = [];
    void pool.call('retune', {} as never, { onProgress: (progress) => seen.push(progress) });
    puppets[0]!.answer({ type: 'progress', jobId: 1, progress: { bestCost: 2 } });
    await settle();
    expect(seen).toEqual([{ bestCost: 2 }]);
  });
});

const design = museum();
const floor = floorsOf(design)[0]!;
const aps = accessPointsOf(design, floor.id, variantsOf(design).at(-1)!.id);

/** A pool that computes at once, in this thread. */
const direct = {
  calls: 0,
  call: async (name: keyof typeof HANDLERS, given: never) => {
    direct.calls++;
    return (HANDLERS[name] as (p: never) => unknown)(given) as never;
  },
};

describe('scene and cache', () => {
  test('channel and power compute no rays; moving one access point computes that one', async () => {
    const cache = new FieldCache(direct as never);
    const scene = floorScene(design, floor);
    const all = (d: typeof design) =>
      Promise.all(accessPointsOf(d, floor.id, aps[0]!.variantId).map((ap) => cache.get(floorScene(d, floor), ap.modelId, poseOf(design, ap))));
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
    // Names and zones change no field; neither does an edit on another floor.
    const renamed = { ...floor, name: 'Quay' };
    expect(floorScene({ ...design, floors: { [floor.id]: renamed } }, renamed).key).toBe(floorScene(design, floor).key);
    expect(floorScene({ ...design, zones: {} }, floor).key).toBe(floorScene(design, floor).key);
    expect(floorScene({ ...design, zones: {} }, floor).maskKey).not.toBe(floorScene(design, floor).maskKey);
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
    await expect(cache.get(scene, 'heron-c4', poseOf(design, aps[0]!))).rejects.toMatchObject({ code: 'WORKER_FAILED' });
    fail = false;
    await expect(cache.get(scene, 'heron-c4', poseOf(design, aps[0]!))).resolves.toEqual([]);
  });
});

const PALETTE = ['B9CFC9', 'E6D3A8', 'C3B4D0', 'D9E3C2', 'A9BBD4', 'E3BFB0', '9DB59A', 'F0E6D2', 'B7A48C', 'CFDDE6', 'D4A9B4', '8FA3A8'];

describe('the lens call on the museum', () => {
  const scene = floorScene(design, floor);
  const radios = aps.map((ap) => {
    const radio = ap.radios.find((candidate) => candidate.band === '5')!;
    const { lossDb } = HANDLERS.lossField({ scene, modelId: ap.modelId, pose: poseOf(design, ap) }) as Result<'lossField'>;
    return {
      apId: ap.id,
      name: ap.name,
      modelId: ap.modelId,
      pose: poseOf(design, ap),
      channel: { band: '5' as const, primary: radio.channel, widthMhz: radio.widthMhz },
      txPowerDbm: radio.txPowerDbm,
      lossDb: lossDb[1]!,
    };
  });
  const ask = (fields: object) =>
    finish(
      HANDLERS.lens({
        scene,
        mask: scene.mask,
        lens: 'signal',
        rank: 0,
        widthMhz: 80,
        radios,
        ignoreBelowDbm: -90,
        measured: null,
        movingApId: null,
        threshold: -67,
        onlyKind: null,
        palette: PALETTE,
        keptTints: {},
        ...fields,
      }),
    ).result as LensResult;
  test('served areas, histogram and share belong together', () => {
    const result = ask({});
    const served = result.served.reduce((sum, one) => sum + one.areaM2, 0);
    expect(served).toBeCloseTo(result.statistics.heardM2, 3);
    expect(result.statistics.binM2.reduce((sum, m2) => sum + m2, 0)).toBeCloseTo(result.statistics.heardM2, 0);
    // The curve of Signal begins at −95 dBm: −67 is its 29th level.
    expect(result.curve[28]).toBeCloseTo(result.share, 9);
    expect(HANDLERS.share({ lens: 'signal', values: result.values, mask: scene.mask, threshold: -67 })).toBe(result.share);
    expect(HANDLERS.share({ lens: 'signal', values: result.values, mask: scene.mask, threshold: -40 })).toBeLessThan(result.share);
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
        return { ...radio, pose, lossDb: (HANDLERS.lossField({ scene, modelId: radio.modelId, pose }) as Result<'lossField'>).lossDb[1]! };
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

test('Overlap: the readout counts at each width what the map counts there', () => {
  const scene = floorScene(design, floor);
  const emitters = emittersOf(design, aps, ['5']);
  const radios = emitters.map(({ of, channel, txPowerDbm, pose }) => ({
    apId: of.id,
    name: of.name,
    modelId: of.modelId,
    pose,
    channel,
    txPowerDbm,
    lossDb: (HANDLERS.lossField({ scene, modelId: of.modelId, pose }) as Result<'lossField'>).lossDb[1]!,
  }));
  const { grid, medium, planeZM, receiver } = scene;
  const maps = WIDTHS_MHZ.map((widthMhz) => ({
    widthMhz,
    map: finish(
      HANDLERS.lens({
        scene,
        mask: scene.mask,
        lens: 'overlap',
        rank: 0,
        widthMhz,
        radios,
        ignoreBelowDbm: -90,
        measured: null,
        movingApId: null,
        threshold: 1,
        onlyKind: null,
        palette: PALETTE,
        keptTints: {},
      }),
    ).result as LensResult,
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
  const scene = floorScene(design, floor);
  const lens = {
    scene,
    mask: scene.mask,
    lens: 'contention',
    rank: 0,
    widthMhz: 80,
    radios: aps.flatMap((ap) => {
      const radio = ap.radios.find(({ band }) => band === '5')!;
      const { name, modelId, id: apId } = ap;
      return [{ apId, name, modelId, pose: poseOf(design, ap), channel: channelOf(radio), txPowerDbm: 12, lossDb: null }];
    }),
    ignoreBelowDbm: -90,
    measured: null,
    movingApId: null,
    threshold: 1,
    onlyKind: null,
    palette: PALETTE,
    keptTints: {},
  };
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
    const { lossDb } = HANDLERS.lossField({ scene, modelId: ap.modelId, pose: poseOf(design, ap) }) as Result<'lossField'>;
    return ap.radios.map(({ band, on, channel, widthMhz, txPowerDbm }) => ({
      apId: ap.id,
      name: ap.name,
      modelId: ap.modelId,
      pose: poseOf(design, ap),
      band,
      locked: ap.name === 'Q-01',
      forbidden: [],
      before: { on, channel, widthMhz, txPowerDbm },
      lossDb: lossDb[['2.4', '5', '6'].indexOf(band)]!,
    }));
  });
  const plan = (fields: object = {}) =>
    finish(HANDLERS.retune({ scene, mask: scene.mask, radios, rules: { ...DEFAULT_RULES, domain: 'UK' }, outside: [], seed: 1, ...fields }));

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
    const steps = HANDLERS.retune({ scene, mask: scene.mask, radios, rules: { ...DEFAULT_RULES, domain: 'UK' }, outside: [], seed: 1 }) as ReturnType<
      typeof retune
    >;
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

describe('one number on every screen: radios sharing airtime, for both variants and every band', () => {
  const scene = floorScene(design, floor);
  const cases = variantsOf(design).flatMap((variant) => BANDS.map((band) => ({ variant, band, name: `${variant.name}, ${band} GHz` })));
  test.each(cases)('$name', ({ variant, band }) => {
    const hung = accessPointsOf(design, floor.id, variant.id);
    const emitters = emittersOf(design, hung, [band]);
    const lane = bandIndex(band);
    const fieldOf = (ap: AccessPoint) =>
      (HANDLERS.lossField({ scene, modelId: ap.modelId, pose: poseOf(design, ap) }) as Result<'lossField'>).lossDb[lane]!;
    const lossDb = emitters.map(({ of }) => fieldOf(of));
    const askMap = (channelAndPower: (ap: AccessPoint) => Pick<Radio, 'channel' | 'widthMhz' | 'txPowerDbm' | 'on'>) => {
      const lit = emitters.map(({ of }, i) => ({ of, setting: channelAndPower(of), lossDb: lossDb[i]! })).filter(({ setting }) => setting.on);
      return finish(
        HANDLERS.lens({
          scene,
          mask: scene.mask,
          lens: 'contention',
          rank: 0,
          widthMhz: 80,
          radios: lit.map(({ of, setting, lossDb: field }) => ({
            apId: of.id,
            name: of.name,
            modelId: of.modelId,
            pose: poseOf(design, of),
            channel: channelOf({ band, ...setting }),
            txPowerDbm: setting.txPowerDbm,
            lossDb: field,
          })),
          ignoreBelowDbm: -90,
          measured: null,
          movingApId: null,
          threshold: 1,
          onlyKind: null,
          palette: PALETTE,
          keptTints: {},
        }),
      ).result as LensResult;
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
    const radios = emitters.map(({ of }, i) => {
      const { on, channel, widthMhz, txPowerDbm } = own(of);
      const { id: apId, name, modelId } = of;
      const before = { on, channel, widthMhz, txPowerDbm };
      return { apId, name, modelId, pose: poseOf(design, of), band, locked: false, forbidden: [], before, lossDb: lossDb[i]! };
    });
    const rules = { ...DEFAULT_RULES, domain: 'UK' as const };
    const { result: sheet } = finish(HANDLERS.retune({ scene, mask: scene.mask, radios, rules, outside: [], seed: 1 }));
    const [summary] = (sheet as RetuneSheet).bands;
    expect(summary!.contentionBefore).toBeCloseTo(map.mean, 6);
    const planned = new Map((sheet as RetuneSheet).rows.map((row) => [row.apId, row.after]));
    const after = askMap((ap) => planned.get(ap.id)!);
    expect(summary!.contentionAfter).toBeCloseTo(after.mean, 6);
    expect(summary!.contentionAfter).toBeLessThanOrEqual(summary!.contentionBefore);
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
      const at = emitters.filter(({ of }) => planned.get(of.id)!.on)[s]!;
      return planned.get(at.of.id)!.txPowerDbm - lossDb[emitters.indexOf(at)]![i]!;
    }
  });
});

describe('the receiver', () => {
  const building = museumBuilding();
  const { walk, samples } = asFoundSurvey(building);
  const ask = (fromMs: number, toMs: number, bands: readonly ('2.4' | '5' | '6')[] = ['2.4', '5', '6']) =>
    listenOnSite(building.design, building.sites[floor.id]!, { ...walk, bands, fromMs, toMs });
  const sorted = (list: readonly Sample[]) => [...list].sort((a, b) => a.tMs - b.tMs || a.bssid.localeCompare(b.bssid));

  test('a stretch asked in parts gives what it gives as a whole, and nothing twice', () => {
    const whole = ask(0, 30_000);
    expect(whole.channels).toBe(6);
    expect(whole.samples.length).toBeGreaterThan(50);
    const parts = [0, 7_013, 7_014, 19_999].flatMap((from, i, all) => ask(from, all[i + 1] ?? 30_000).samples);
    expect(sorted(parts)).toEqual(sorted(whole.samples));
    expect(sorted(whole.samples)).toEqual(sorted(samples.filter((sample) => sample.tMs < 30_000)));
  });
  test('what goes to the server’s thread is enough, and no more than the floor', () => {
    const part = audible(building.design, walk);
    const stretch = { ...walk, bands: ['2.4', '5', '6'] as const, fromMs: 0, toMs: 8_000 };
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
    const left = listenOnSite(quiet, building.sites[floor.id]!, { ...walk, bands: ['2.4', '5', '6'], fromMs: 0, toMs: 60_000 });
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
  const at = (xM: number) => cache.get(large, 'heron-c4', { ...poseOf(design, aps[0]!), xM });
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
