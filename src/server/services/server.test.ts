import { UNSAID } from '@/core/design/kinds/project';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { cottage, cottageBuilding } from '@demo/cottage';
import { museum, museumBuilding } from '@demo/museum';
import { asFoundSurvey } from '@demo/survey';
import { additionsOf, applyChanges, invert, newStep, type Change, type Step } from '@/core/design/step';
import { addDrawing } from '@/core/design/drawingCommands';
import { addModel } from '@/core/design/equipmentCommands';
import { TABLES, versionsOf } from '@/core/design/registry';
import { edit, editRadios, remove } from '@/core/design/commands';
import { designSchema } from '@/contract/steps';
import { postStepSchema, samplesSchema, openedProjectSchema, projectPageSchema, type ProjectEvent } from '@/contract/http';
import type { Sample } from '@/core/survey/sample';
import { NOTHING_HEARD } from '@/core/survey/heard';
import type { Swept } from '@/core/survey/swept';
import { migrate, type Database } from '../database';
import { backends } from '../databases.testing';
import type { Design } from '@/core/design/design';
import { loadDesign } from '../stores/records';
import { collectGoneWalks } from '../stores/samples';
import { createFrom, createProject, deleteProject, listSummaries, loadDemo, openProject, restoreProject } from './projects';
import { getStep, listLog, listSteps, postStep } from './steps';
import { newWalk } from '@/core/design/kinds/walk';
import { DEFAULT_SETTING } from '@/core/survey/setting';
import { addSamples, getHeard, listenAt, withdraw } from './walks';
import { addAsset, getAsset } from './assets';
import { createFromFile, projectFile, textOfProjectFile } from './projectFile';
import { closeEvents, subscribe } from './events';

const AP = 'cottage-ap-001';

describe.each(backends())('the services on $name', (backend) => {
  let db: Database;
  let projectId = '';
  let count = 0;
  beforeAll(async () => {
    await backend.begin();
    db = await backend.open();
  }, 60_000);
  afterAll(async () => {
    await closeEvents(db);
    await db.close();
    backend.end();
  });
  beforeEach(async () => {
    projectId = `p${++count}`;
    await createFrom(db, projectId, 'Begin', additionsOf(cottage()));
  });

  const step = (changes: Change[], fields: Partial<Step> = {}): Step => ({ ...newStep(`s${++count}`, 'Edit', 'me', changes), ...fields });
  const code = (promise: Promise<unknown>) =>
    promise.then(
      () => 'no error',
      (error: { code?: string }) => error.code,
    );
  async function until(holds: () => boolean): Promise<void> {
    for (let i = 0; i < 500 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 10));
    expect(holds()).toBe(true);
  }

  test('the demo is valid by its own contract and survives the way through the database', async () => {
    for (const design of [museum(), cottage()]) expect(designSchema.parse(design)).toEqual(design);
    expect(await loadDesign(db, projectId)).toEqual(cottage());
  });

  test('a picture is kept once by the hash of its bytes, goes along into a copy, and is refused when it is none', async () => {
    const png = new Uint8Array(33);
    png.set(Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'));
    png.set([0, 0, 2, 128, 0, 0, 1, 224], 16);
    const stored = await addAsset(db, projectId, png);
    expect(stored).toEqual({ id: createHash('sha256').update(png).digest('hex'), type: 'image/png', widthPx: 640, heightPx: 480 });
    expect(await addAsset(db, projectId, png)).toEqual(stored);
    const copy = await createProject(db, { copyOf: projectId, name: 'Copy' });
    for (const id of [projectId, copy]) {
      const answer = await getAsset(db, id, stored.id);
      expect(answer.headers.get('content-type')).toBe('image/png');
      expect(new Uint8Array(await answer.arrayBuffer())).toEqual(png);
    }
    expect(await code(getAsset(db, projectId, 'f'.repeat(64)))).toBe('ASSET_UNKNOWN');
    expect(await code(addAsset(db, projectId, Buffer.from('<html><script/></html>')))).toBe('DRAWING_UNKNOWN');
    png.set([0, 0, 128, 0], 16);
    expect(await code(addAsset(db, projectId, png))).toBe('DRAWING_TOO_LARGE');
    expect(await code(addAsset(db, 'nowhere', png.fill(1, 16, 24)))).toBe('DRAWING_TOO_LARGE');
  });

  test('the vectors of a drawing are kept as they came, and are never a page', async () => {
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
    const stored = await addAsset(db, projectId, svg);
    expect(stored).toMatchObject({ type: 'image/svg+xml', widthPx: null, heightPx: null });
    const answer = await getAsset(db, projectId, stored.id);
    expect(Buffer.from(await answer.arrayBuffer())).toEqual(svg);
    expect(answer.headers.get('content-security-policy')).toBe("default-src 'none'; sandbox");
    expect(answer.headers.get('content-disposition')).toBe('attachment');
  });

  test('a project goes into a file and comes back as another: records, drawings and samples alike; a broken file makes none', async () => {
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>');
    const png = new Uint8Array(33);
    png.set(Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'));
    png.set([0, 0, 0, 8, 0, 0, 0, 6], 16);
    const [picture, source] = [await addAsset(db, projectId, png), await addAsset(db, projectId, svg)];
    const design = await loadDesign(db, projectId);
    const floorId = Object.keys(design.floors)[0]!;
    const drawn = addDrawing(design, {
      id: 'sheet',
      floorId,
      name: 'Sheet',
      assetId: picture.id,
      source: { assetId: source.id, type: 'image/svg+xml', chosen: [] },
      widthPx: 8,
      heightPx: 6,
      scale: null,
    });
    await createFrom(db, 'filed', 'With a drawing', additionsOf(applyChanges(design, drawn)));
    for (const bytes of [png, svg]) await addAsset(db, 'filed', bytes);
    const file = new Uint8Array(await (await projectFile(db, 'filed')).arrayBuffer());
    expect([file[0], file[1]]).toEqual([0x1f, 0x8b]);
    const id = await createFromFile(db, file);
    expect(id).not.toBe('filed');
    expect(await loadDesign(db, id)).toEqual(await loadDesign(db, 'filed'));
    for (const asset of [picture, source]) expect((await getAsset(db, id, asset.id)).headers.get('content-type')).toBe(asset.type);
    const before = (await listSummaries(db, { limit: 500 })).total;
    expect(await code(createFromFile(db, file.slice(0, file.length - 40)))).toBe('PROJECT_FILE_UNREADABLE');
    const nul = (await textOfProjectFile(file)).replace('Netmakers', '\\u0000');
    expect(await code(createFromFile(db, Buffer.from(nul)))).toBe('PROJECT_FILE_UNREADABLE');
    expect(await code(createFromFile(db, Buffer.from('{}')))).toBe('PROJECT_FILE_UNREADABLE');
    expect((await listSummaries(db, { limit: 500 })).total).toBe(before);
  });

  test('an access point is of a model that the project has, and is held to it as it is stored', async () => {
    const design = cottage();
    const of = (modelId: string, txPowerDbm = 9) => {
      const ap = design.accessPoints[AP]!;
      const after = { ...ap, modelId, radios: ap.radios.map((radio) => (radio.band === '5' ? { ...radio, txPowerDbm } : radio)) };
      return [{ table: 'accessPoints' as const, id: AP, before: ap, after }];
    };
    expect(await code(postStep(db, projectId, { baseRevision: 1, step: step(of('phoenix')) }))).toBe('REFERENCE_BROKEN');
    const own = applyChanges(design, addModel(design, 'mine', design.accessPoints[AP]!.modelId));
    const radios = own.apModels.mine!.radios.map((radio) => (radio.band === '5' ? { ...radio, maxPowerDbm: 9 } : radio));
    const { revision } = await postStep(db, projectId, {
      baseRevision: 1,
      step: step([{ table: 'apModels', id: 'mine', before: null, after: { ...own.apModels.mine!, radios } }]),
    });
    expect(await code(postStep(db, projectId, { baseRevision: revision, step: step(of('mine', 10)) }))).toBe('NOT_LAWFUL');
    await postStep(db, projectId, { baseRevision: revision, step: step(of('mine')) });
    expect((await loadDesign(db, projectId)).accessPoints[AP]!.modelId).toBe('mine');
  });

  test('nothing against model or law is saved, but what stood so comes back by undo', async () => {
    const design = cottage();
    const power = (txPowerDbm: number) => editRadios(design, [AP], '5', { txPowerDbm });
    const loud = postStep(db, projectId, { baseRevision: 1, step: step(power(21)) });
    await expect(loud).rejects.toMatchObject({
      code: 'NOT_LAWFUL',
      details: { errors: [{ path: expect.stringContaining('5 GHz'), message: expect.stringContaining('lower the power') }] },
    });
    expect(await loadDesign(db, projectId)).toEqual(design);
    // A project of old: its radio is louder than the law allows. Moving it is well; its power is lowered, and undo brings it back.
    const old = applyChanges(design, power(21));
    const oldId = `p${++count}`;
    await createFrom(db, oldId, 'Begin', additionsOf(old));
    await postStep(db, oldId, { baseRevision: 1, step: step(edit(old, 'accessPoints', AP, { xM: 3 })) });
    const lowered = editRadios(old, [AP], '5', { txPowerDbm: 12 });
    const quiet = step(lowered);
    const louder = editRadios(applyChanges(old, lowered), [AP], '5', { txPowerDbm: 20.5 });
    const { revision } = await postStep(db, oldId, { baseRevision: 1, step: quiet });
    expect(await code(postStep(db, oldId, { baseRevision: revision, step: step(invert(lowered)) }))).toBe('NOT_LAWFUL');
    expect(await code(postStep(db, oldId, { baseRevision: revision, step: step(louder, { kind: 'undo', ofStepId: quiet.id }) }))).toBe('NOT_LAWFUL');
    await postStep(db, oldId, { baseRevision: revision, step: step(invert(lowered), { kind: 'undo', ofStepId: quiet.id }) });
    const powerNow = async () => (await loadDesign(db, oldId)).accessPoints[AP]!.radios.find(({ band }) => band === '5')!.txPowerDbm;
    expect(await powerNow()).toBe(21);
    // Going back to a step is a step of its own, which names it.
    const again = await postStep(db, oldId, { baseRevision: revision + 1, step: step(lowered) });
    await postStep(db, oldId, { baseRevision: again.revision, step: step(invert(lowered), { ofStepId: quiet.id }) });
    expect(await powerNow()).toBe(21);
  });

  test('the demo survey walks through every room, in order of time, and hears the old access points and the neighbours', async () => {
    const building = museumBuilding();
    const { design } = building;
    const survey = asFoundSurvey(building);
    const { walk, samples, scans } = survey;
    expect(designSchema.safeParse({ ...design, walks: { [walk.id]: walk } }).success).toBe(true);
    expect(walk.legs).toHaveLength(6);
    expect(samples.length).toBeGreaterThan(1500);
    expect(new Set(samples.filter((sample) => sample.apId !== null).map((sample) => sample.apId)).size).toBe(6);
    expect(samples.some((sample) => sample.ssid === 'boatyard')).toBe(true);
    await loadDemo(db, async () => [{ id: 'demo-survey', ...building, surveys: [survey] }]);
    expect((await getHeard(db, 'demo-survey', walk.id)).samples).toEqual([...samples].sort((a, b) => a.tMs - b.tMs));
    expect((await getHeard(db, 'demo-survey', walk.id)).scans).toEqual([...scans].sort((a, b) => a.fromMs - b.fromMs));
  });

  test('the demo is loaded once and stays deleted when it was deleted', async () => {
    const own = await backend.open();
    const demo = async () => [{ id: 'demo-x', design: cottage() }];
    await loadDemo(own, demo);
    expect((await listSummaries(own)).projects.map((p) => p.id)).toContain('demo-x');
    await deleteProject(own, 'demo-x');
    await loadDemo(own, demo);
    expect((await listSummaries(own)).projects.map((p) => p.id)).not.toContain('demo-x');
    await own.close();
  });

  test('migrations run once', async () => {
    await migrate(db);
    expect((await listSummaries(db)).projects.length).toBeGreaterThan(0);
  });

  describe('steps', () => {
    test('a step raises the revision, is stored, logged and told to other windows', async () => {
      const events: ProjectEvent[] = [];
      const stop = await subscribe(db, projectId, (event) => events.push(event));
      const { design, revision } = await openProject(db, projectId);
      const sent = step(edit(design, 'accessPoints', AP, { xM: 4.5 }));
      const answer = await postStep(db, projectId, { baseRevision: revision, step: sent });
      await until(() => events.length === 1);
      stop();
      expect(answer.revision).toBe(revision + 1);
      expect((await loadDesign(db, projectId)).accessPoints[AP]!.xM).toBe(4.5);
      expect(events).toEqual([{ type: 'step', revision: revision + 1, step: sent }]);
      expect((await listSteps(db, projectId, revision)).map((s) => s.step.id)).toEqual([sent.id]);
    });

    test('a step sent twice is answered as the first time and changes nothing more', async () => {
      const { design } = await openProject(db, projectId);
      const sent = { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { xM: 5 })) };
      const first = await postStep(db, projectId, sent);
      expect(await postStep(db, projectId, sent)).toEqual(first);
      expect((await openProject(db, projectId)).revision).toBe(2);
    });

    test('undoing by the inverse gives the design as it was', async () => {
      const { design } = await openProject(db, projectId);
      const done = await postStep(db, projectId, { baseRevision: 1, step: step(remove(design, 'walls', ['cottage-wall-005'])) });
      expect(Object.keys((await loadDesign(db, projectId)).openings).length).toBeLessThan(Object.keys(design.openings).length);
      const logged = await getStep(db, projectId, done.step.id);
      await postStep(db, projectId, { baseRevision: 2, step: step(invert(logged.step.changes), { kind: 'undo', ofStepId: done.step.id }) });
      expect(await loadDesign(db, projectId)).toEqual(design);
    });

    test('a stale step is merged field by field; the rest is refused with both values', async () => {
      const { design } = await openProject(db, projectId);
      await postStep(db, projectId, { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { xM: 6, name: 'Theirs' })) });
      const answer = await postStep(db, projectId, { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { yM: 3, name: 'Mine' })) });
      expect(answer.conflicts).toEqual([{ table: 'accessPoints', id: AP, field: 'name', yours: 'Mine', theirs: 'Theirs' }]);
      expect((await loadDesign(db, projectId)).accessPoints[AP]).toMatchObject({ xM: 6, yM: 3, name: 'Theirs' });
      expect(await code(postStep(db, projectId, { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { name: 'Third' })) }))).toBe(
        'STEP_CONFLICT',
      );
    });

    test.each<[string, (design: ReturnType<typeof cottage>) => Change[], string]>([
      ['an access point on a floor that is not there', (d) => edit(d, 'accessPoints', AP, { floorId: 'nowhere' }), 'REFERENCE_BROKEN'],
      [
        'deleting a wall but not its openings',
        (d) => [{ table: 'walls', id: 'cottage-wall-005', before: d.walls['cottage-wall-005']!, after: null }],
        'REFERENCE_BROKEN',
      ],
      [
        'deleting the floor under everything',
        (d) => [{ table: 'floors', id: 'cottage-floor-001', before: d.floors['cottage-floor-001']!, after: null }],
        'REFERENCE_BROKEN',
      ],
      ['deleting the project record', (d) => [{ table: 'project', id: 'project', before: d.project.project!, after: null }], 'REFERENCE_BROKEN'],
    ])('%s is refused and changes nothing', async (_name, changes, expected) => {
      const { design, revision } = await openProject(db, projectId);
      expect(await code(postStep(db, projectId, { baseRevision: revision, step: step(changes(design)) }))).toBe(expected);
      expect(await openProject(db, projectId)).toMatchObject({ revision, design });
    });

    test('unknown and deleted projects, and revisions to come, are told apart', async () => {
      const { design } = await openProject(db, projectId);
      const sent = step(edit(design, 'accessPoints', AP, { xM: 7 }));
      expect(await code(postStep(db, 'nobody', { baseRevision: 1, step: sent }))).toBe('PROJECT_UNKNOWN');
      expect(await code(postStep(db, projectId, { baseRevision: 99, step: sent }))).toBe('REVISION_AHEAD');
      await deleteProject(db, projectId);
      expect(await code(postStep(db, projectId, { baseRevision: 1, step: sent }))).toBe('PROJECT_DELETED');
      await restoreProject(db, projectId);
      expect((await postStep(db, projectId, { baseRevision: 1, step: sent })).revision).toBe(2);
    });
  });

  test('samples are stored once per batch, listed in order, and taken back from a time on', async () => {
    const { design } = await openProject(db, projectId);
    const walk = newWalk({
      id: 'walk-1',
      variantId: 'cottage-variant-001',
      floorId: 'cottage-floor-001',
      name: 'Walk',
      startedAt: '2026-11-23T08:00:00.000Z',
      finished: false,
    });
    await postStep(db, projectId, { baseRevision: 1, step: step([{ table: 'walks', id: walk.id, before: null, after: walk }]) });
    expect(design.walks).toEqual({});
    const sample = (tMs: number): Sample => ({
      leg: 0,
      tMs,
      xM: 1,
      yM: 2,
      bssid: '02:00:00:00:00:01',
      ssid: 'a',
      apId: AP,
      band: '2.4',
      channel: 1,
      widthMhz: 20,
      rssiDbm: -50,
    });
    const batch = { batchId: 'b1', samples: [sample(220), sample(110)] };
    expect(await addSamples(db, projectId, 'walk-1', batch)).toEqual({ stored: 2 });
    expect(await addSamples(db, projectId, 'walk-1', batch)).toEqual({ stored: 0 });
    expect((await getHeard(db, projectId, 'walk-1')).samples.map((s) => s.tMs)).toEqual([110, 220]);
    // What was listened to is one stretch as long as it goes on with the same list, and is taken back with the samples.
    const scan = { leg: 0, dwellMs: 110, channels: [{ band: '2.4' as const, channel: 1 }], ssid: '' };
    const scansOf = async () => (await getHeard(db, projectId, 'walk-1')).scans.map(({ fromMs, toMs, dwellMs }) => [fromMs, toMs, dwellMs]);
    await addSamples(db, projectId, 'walk-1', { batchId: 's1', samples: [], scans: [{ ...scan, fromMs: 0, toMs: 100 }] });
    await addSamples(db, projectId, 'walk-1', { batchId: 's2', samples: [], scans: [{ ...scan, fromMs: 100, toMs: 150 }] });
    await addSamples(db, projectId, 'walk-1', { batchId: 's2', samples: [], scans: [{ ...scan, fromMs: 100, toMs: 150 }] });
    const other = { ...scan, dwellMs: 60 };
    const next = [
      { ...other, fromMs: 150, toMs: 200 },
      { ...scan, fromMs: 200, toMs: 300 },
    ];
    await addSamples(db, projectId, 'walk-1', { batchId: 's3', samples: [], scans: next });
    expect(await scansOf()).toEqual([
      [0, 150, 110],
      [150, 200, 60],
      [200, 300, 110],
    ]);
    // Looks of a swept receiver come with the batch, once, and are taken back by their middle.
    const look = (tMs: number): Swept => ({
      leg: 0,
      tMs,
      band: '2.4',
      channels: [{ channel: 1, energyDbm: -61.5, noiseDbm: -90 }],
      signals: [{ kind: 'oven', levelDbm: -52.5, centreMhz: 2455, likelihood: 0.9 }],
    });
    for (const batchId of ['l1', 'l1']) await addSamples(db, projectId, 'walk-1', { batchId, samples: [], swept: [look(111), look(110)] });
    expect((await getHeard(db, projectId, 'walk-1')).swept).toEqual([look(110), look(111)]);
    expect(await withdraw(db, projectId, 'walk-1', { withdrawalId: 'w1', afterMs: 110 })).toEqual({ withdrawn: 1 });
    expect((await getHeard(db, projectId, 'walk-1')).swept).toEqual([look(110)]);
    expect(await scansOf()).toEqual([[0, 110, 110]]);
    expect((await getHeard(db, projectId, 'walk-1')).samples).toEqual([sample(110)]);
    // Taken back twice, with what was measured since in between: the second time changes nothing.
    await addSamples(db, projectId, 'walk-1', { batchId: 'b2', samples: [sample(150)] });
    expect(await withdraw(db, projectId, 'walk-1', { withdrawalId: 'w1', afterMs: 110 })).toEqual({ withdrawn: 0 });
    // What began to be listened to at that very time goes too.
    await addSamples(db, projectId, 'walk-1', { batchId: 's4', samples: [], scans: [{ ...other, fromMs: 110, toMs: 200 }] });
    expect(await withdraw(db, projectId, 'walk-1', { withdrawalId: 'w2', afterMs: 110 })).toEqual({ withdrawn: 1 });
    expect(await scansOf()).toEqual([[0, 110, 110]]);
    expect(await code(addSamples(db, projectId, 'walk-9', batch))).toBe('WALK_UNKNOWN');
    const copy = await createProject(db, { copyOf: projectId, name: 'Copy' });
    expect(await getHeard(db, copy, 'walk-1')).toEqual(await getHeard(db, projectId, 'walk-1'));
    expect((await loadDesign(db, copy)).project.project!.name).toBe('Copy');
  });

  test('a new project has a floor and a variant to begin with, and the receiver finds a site there', async () => {
    const id = await createProject(db, { name: 'Shed', units: 'us', domain: 'US', widthM: 20, heightM: 10 });
    const { design, revision } = await openProject(db, id);
    expect(revision).toBe(1);
    expect(designSchema.parse(design)).toEqual(design);
    const [floor] = Object.values(design.floors);
    const [variant] = Object.values(design.variants);
    const legs = [
      {
        turns: [
          { xM: 1, yM: 1, tMs: 0 },
          { xM: 9, yM: 1, tMs: 8000 },
        ],
      },
    ];
    const heard = await listenAt(db, id, {
      floorId: floor!.id,
      variantId: variant!.id,
      legs,
      receiver: { ...DEFAULT_SETTING, bands: ['5'] },
      fromMs: 0,
      toMs: 8000,
    });
    expect(heard).toMatchObject({ samples: [], channels: 0 });
    const elsewhere = {
      floorId: 'nowhere',
      variantId: variant!.id,
      legs,
      receiver: { ...DEFAULT_SETTING, bands: ['5' as const] },
      fromMs: 0,
      toMs: 8000,
    };
    expect(await code(listenAt(db, id, elsewhere))).toBe('RECORD_UNKNOWN');
  });

  test('the receiver hears the site as it is, again the same, also in a copy; the document holds nothing of it', async () => {
    const own = await backend.open();
    await loadDemo(own, async () => [{ id: 'demo-c', ...cottageBuilding() }]);
    const legs = [
      {
        turns: [
          { xM: 1, yM: 1, tMs: 0 },
          { xM: 5, yM: 1, tMs: 4000 },
        ],
      },
    ];
    const stretch = {
      floorId: 'cottage-floor-001',
      variantId: 'cottage-variant-001',
      legs,
      receiver: { ...DEFAULT_SETTING, bands: ['2.4' as const, '5' as const] },
      fromMs: 0,
      toMs: 4000,
    };
    const heard = await listenAt(own, 'demo-c', stretch);
    expect(heard.samples.some((sample) => sample.ssid === 'net-shed')).toBe(true);
    expect(await listenAt(own, 'demo-c', stretch)).toEqual(heard);
    const opened = await openProject(own, 'demo-c');
    expect(JSON.stringify([opened, await listSteps(own, 'demo-c', 0)])).not.toMatch(/net-shed|shadowSigmaDb/);
    const copy = await createProject(own, { copyOf: 'demo-c', name: "Netmakers' copy" });
    expect(await listenAt(own, copy, stretch)).toEqual(heard);
    // A moved access point is heard where it hangs now.
    await postStep(own, 'demo-c', { baseRevision: 1, step: step(edit(opened.design, 'accessPoints', AP, { xM: 13, yM: 8 })) });
    const levels = (all: typeof heard) => all.samples.filter((sample) => sample.apId === AP).map((sample) => sample.rssiDbm);
    expect(Math.max(...levels(await listenAt(own, 'demo-c', stretch)))).toBeLessThan(Math.max(...levels(heard)));
    await own.close();
  });

  test('a project’s file carries photos of marks, and when what was listened to and swept', async () => {
    const png = new Uint8Array(33);
    png.set(Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'));
    png.set([0, 0, 0, 9, 0, 0, 0, 7], 16);
    const { id: assetId } = await addAsset(db, projectId, png);
    const walk = newWalk({
      id: 'w',
      variantId: 'cottage-variant-001',
      floorId: 'cottage-floor-001',
      name: 'Walk',
      startedAt: '2026-11-23T08:00:00.000Z',
    });
    const mark = { id: 'm', floorId: 'cottage-floor-001', xM: 1, yM: 2, note: 'shelves', photos: [{ assetId, name: 'shelves.png' }] };
    const changes: Change[] = [
      { table: 'walks', id: walk.id, before: null, after: walk },
      { table: 'marks', id: mark.id, before: null, after: mark },
    ];
    await postStep(db, projectId, { baseRevision: 1, step: step(changes) });
    const scan = { leg: 0, fromMs: 0, toMs: 500, dwellMs: 110, channels: [{ band: '5' as const, channel: 36 }], ssid: '' };
    const look: Swept = { leg: 0, tMs: 500, band: '5', channels: [{ channel: 36, energyDbm: -70, noiseDbm: -93 }], signals: [] };
    await addSamples(db, projectId, walk.id, { batchId: 'f', samples: [], scans: [scan], swept: [look] });
    const bytes = new Uint8Array(await (await projectFile(db, projectId)).arrayBuffer());
    const copy = await createFromFile(db, bytes);
    expect((await loadDesign(db, copy)).marks).toEqual({ m: mark });
    expect(new Uint8Array(await (await getAsset(db, copy, assetId)).arrayBuffer())).toEqual(png);
    expect(await getHeard(db, copy, walk.id)).toEqual({ samples: [], scans: [scan], swept: [look] });
    // Files of before said nothing of scans, nor of what was swept.
    const json = JSON.parse(await textOfProjectFile(bytes)) as { walks: Array<{ walkId: string; samples: unknown[] }> };
    const before = JSON.stringify({ ...json, walks: json.walks.map(({ walkId, samples }) => ({ walkId, samples })) });
    expect(before).not.toContain('energyDbm');
    expect(await getHeard(db, await createFromFile(db, new TextEncoder().encode(before)), walk.id)).toEqual(NOTHING_HEARD);
  });

  test('samples of a deleted walk stay for undo, and are collected when their time is over', async () => {
    const walk = newWalk({
      id: 'walk-gone',
      variantId: 'cottage-variant-001',
      floorId: 'cottage-floor-001',
      name: 'Walk',
      startedAt: '2026-11-23T08:00:00.000Z',
      finished: true,
    });
    const added = await postStep(db, projectId, { baseRevision: 1, step: step([{ table: 'walks', id: walk.id, before: null, after: walk }]) });
    const sample: Sample = {
      leg: 0,
      tMs: 1,
      xM: 1,
      yM: 2,
      bssid: '02:00:00:00:00:01',
      ssid: 'a',
      apId: AP,
      band: '2.4',
      channel: 1,
      widthMhz: 20,
      rssiDbm: -50,
    };
    await addSamples(db, projectId, walk.id, { batchId: 'g1', samples: [sample] });
    const gone = await postStep(db, projectId, { baseRevision: 2, step: step(invert(added.step.changes)) });
    const back = { baseRevision: 3, step: step(invert(gone.step.changes)) };
    await collectGoneWalks(db, 3600_000);
    await postStep(db, projectId, back);
    expect((await getHeard(db, projectId, walk.id)).samples).toEqual([sample]);
    expect(await collectGoneWalks(db, 0)).toBe(0);
    await postStep(db, projectId, { baseRevision: 4, step: step(invert(back.step.changes)) });
    expect(await collectGoneWalks(db, 0)).toBeGreaterThanOrEqual(1);
    await postStep(db, projectId, { baseRevision: 5, step: { ...back.step, id: 'back-again' } });
    expect((await getHeard(db, projectId, walk.id)).samples).toEqual([]);
  });

  describe('the home page', () => {
    test('lists by pages, the latest change first, and finds by name', async () => {
      const own = await backend.open();
      for (let i = 0; i < 7; i++)
        await createFrom(
          own,
          `h${i}`,
          'Begin',
          additionsOf({ ...cottage(), project: { project: { ...cottage().project.project!, name: `House ${i}` } } }),
        );
      const first = await listSummaries(own, { limit: 3 });
      const second = await listSummaries(own, { limit: 3, after: first.next });
      const third = await listSummaries(own, { limit: 3, after: second.next });
      expect([first, second, third].map((page) => page.projects.map(({ id }) => id))).toEqual([['h6', 'h5', 'h4'], ['h3', 'h2', 'h1'], ['h0']]);
      expect([first.total, third.next]).toEqual([7, null]);
      expect((await listSummaries(own, { find: 'HOUSE 4' })).projects.map(({ name }) => name)).toEqual(['House 4']);
      expect(await listSummaries(own, { find: '%' })).toEqual({ projects: [], next: null, total: 0 });
      expect(projectPageSchema.parse(first).projects[0]).toMatchObject({ accessPoints: 3, floors: 1, name: 'House 6' });
      await own.close();
    });
    test('a summary follows an edit', async () => {
      await listSummaries(db);
      const { design } = await openProject(db, projectId);
      await postStep(db, projectId, {
        baseRevision: 1,
        step: step([...remove(design, 'accessPoints', [AP]), ...edit(design, 'project', 'project', { name: 'Renamed' })]),
      });
      expect((await listSummaries(db)).projects.find(({ id }) => id === projectId)).toMatchObject({ accessPoints: 2, name: 'Renamed' });
    });
    test('one bad record, or one of a newer program, takes nothing else down', async () => {
      const [bad, newer] = ['bad', 'newer'].map((name) => `${projectId}-${name}`) as [string, string];
      for (const id of [bad, newer]) await createFrom(db, id, 'Begin', additionsOf(cottage()));
      await db.query(`UPDATE design_record SET body = '{"id":"x"}' WHERE project_id = $1 AND kind = 'walls' AND id = 'cottage-wall-005'`, [bad]);
      await db.query(`UPDATE design_record SET version = 99 WHERE project_id = $1 AND kind = 'walls' AND id = 'cottage-wall-005'`, [newer]);
      const listed = new Map((await listSummaries(db)).projects.map((one) => [one.id, one]));
      expect(listed.get(projectId)).toMatchObject({ accessPoints: 3, problem: null });
      expect(listed.get(bad)).toMatchObject({ accessPoints: 3, problem: null });
      expect(listed.get(newer)).toMatchObject({ problem: 'PROJECT_NEWER', picture: null });
      const opened = openedProjectSchema.parse(JSON.parse(JSON.stringify(await openProject(db, bad))));
      expect(opened.unreadable).toEqual([expect.objectContaining({ table: 'walls', id: 'cottage-wall-005' })]);
      expect(Object.keys(opened.design.walls)).toHaveLength(Object.keys(cottage().walls).length - 1);
      expect(await code(openProject(db, newer))).toBe('PROJECT_NEWER');
    });
  });

  test('the log tells who did what when, by pages back from a revision', async () => {
    const { design } = await openProject(db, projectId);
    await postStep(db, projectId, { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { xM: 1 }), { author: 'anna', title: 'Move' }) });
    const log = await listLog(db, projectId, 2);
    expect(log.map(({ revision, author, title }) => [revision, author, title])).toEqual([
      [1, 'upper-room', 'Begin'],
      [2, 'anna', 'Move'],
    ]);
    expect(Math.abs(Date.now() - Date.parse(log[1]!.at))).toBeLessThan(60_000);
    expect((await listLog(db, projectId, 1)).map(({ revision }) => revision)).toEqual([1]);
  });

  test('records and steps stored by version 1 are read as of today', async () => {
    const ap = cottage().accessPoints[AP]!;
    const { locked: _locked, radios, ...rest } = ap;
    const old = { ...rest, pinned: true, radios: radios.map(({ locked: _lock, ...radio }) => ({ ...radio, pinned: false })) };
    await db.query(`UPDATE design_record SET version = 1, body = $2::text::jsonb WHERE project_id = $1 AND kind = 'accessPoints' AND id = $3`, [
      projectId,
      JSON.stringify(old),
      AP,
    ]);
    await db.query(`UPDATE step SET versions = '{}', author = NULL, changes = $2::text::jsonb WHERE project_id = $1`, [
      projectId,
      JSON.stringify([{ table: 'accessPoints', id: AP, before: null, after: old }]),
    ]);
    const today = { ...ap, locked: true };
    expect((await openProject(db, projectId)).design.accessPoints[AP]).toEqual(today);
    expect((await listSteps(db, projectId, 0))[0]!.step.changes).toEqual([{ table: 'accessPoints', id: AP, before: null, after: today }]);
    // A page of the old version may still send what it kept: it is fitted onto today's record.
    const parsed = postStepSchema.parse({
      baseRevision: 1,
      step: {
        id: 'old-step',
        title: 'Move',
        kind: 'do',
        ofStepId: null,
        changes: [{ table: 'accessPoints', id: AP, before: old, after: { ...old, xM: 5 } }],
      },
    });
    await postStep(db, projectId, parsed);
    expect((await loadDesign(db, projectId)).accessPoints[AP]).toEqual({ ...today, xM: 5 });
  });

  test('a step to a design with a wall it does not touch that nobody can read is applied all the same', async () => {
    await db.query(`UPDATE design_record SET body = '{"id":"x"}' WHERE project_id = $1 AND kind = 'walls' AND id = 'cottage-wall-005'`, [projectId]);
    const { design } = await openProject(db, projectId);
    expect((await postStep(db, projectId, { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { xM: 2 })) })).revision).toBe(2);
  });

  test('a project that the first version stored is opened with nothing lost, its site beside it and not in it', async () => {
    const own = await backend.open();
    const folder = path.join(process.cwd(), 'src/server/migrations');
    const { design: today, sites } = cottageBuilding();
    const [site] = Object.values(sites);
    // What later versions added was not there, and is empty when it comes.
    const later = [
      'forbidden',
      'hinge',
      'swing',
      'slabMaterialId',
      'registeredWorstM',
      'facility',
      'needs',
      'clientTypes',
      'serviceLevelId',
      'people',
    ];
    const design: Design = {
      ...today,
      serviceLevels: {},
      project: { project: { ...today.project.project!, facility: '', needs: '', clientTypes: [], network: UNSAID } },
      zones: Object.fromEntries(Object.values(today.zones).map((zone) => [zone.id, { ...zone, serviceLevelId: null, people: null }])),
    };
    const old = (record: object) =>
      JSON.parse(JSON.stringify(record).replaceAll('"locked"', '"pinned"'), (key, value: unknown) =>
        later.includes(key) ? undefined : value,
      ) as object;
    const stored = [
      ...additionsOf(design).map(({ table, id, after }) => ({ table, id, before: null, after: old(after!) })),
      { table: 'sites', id: 'site-1', before: null, after: { id: 'site-1', floorId: 'cottage-floor-001', ...site } },
    ];
    await own.transaction(async (q) => {
      await q.exec('DROP SCHEMA public CASCADE; CREATE SCHEMA public;');
      await q.exec('CREATE TABLE migration (name text PRIMARY KEY, applied_at timestamptz NOT NULL DEFAULT now())');
      for (const name of ['001-projects.sql', '002-assets.sql']) {
        await q.exec(await readFile(path.join(folder, name), 'utf8'));
        await q.query('INSERT INTO migration (name) VALUES ($1)', [name]);
      }
      await q.query("INSERT INTO project (id, revision) VALUES ('old', 1), ('bare', 1)");
      for (const { table, id, after } of stored)
        await q.query('INSERT INTO design_record (project_id, kind, id, body) VALUES ($1, $2, $3, $4::text::jsonb)', [
          'old',
          table,
          id,
          JSON.stringify(after),
        ]);
      await q.query(
        "INSERT INTO step (project_id, revision, id, title, kind, changes, conflicts) VALUES ('old', 1, 's-old', 'Demo project', 'do', $1::text::jsonb, '[]')",
        [JSON.stringify(stored)],
      );
    });
    await migrate(own);
    const opened = await openProject(own, 'old');
    expect(opened.design).toEqual(design);
    expect(opened.unreadable).toEqual([]);
    expect(opened.log).toMatchObject([{ id: 's-old', title: 'Demo project', author: null }]);
    const [first] = await listSteps(own, 'old', 0);
    expect(first!.step.changes.map(({ id }) => id).sort()).toEqual(
      additionsOf(design)
        .map(({ id }) => id)
        .sort(),
    );
    expect((await own.query('SELECT floor_id, body FROM site')).rows).toEqual([{ floor_id: 'cottage-floor-001', body: site }]);
    expect((await listSummaries(own)).projects.map(({ id, name }) => [id, name]).sort()).toEqual([
      ['bare', 'Unnamed'],
      ['old', "Netmakers' Cottage"],
    ]);
    // Who points at whom is known for what was there before, too.
    const floor = design.floors['cottage-floor-001']!;
    const bare = step([{ table: 'floors', id: floor.id, before: floor, after: null }]);
    expect(await code(postStep(own, 'old', { baseRevision: 1, step: bare }))).toBe('REFERENCE_BROKEN');
    expect((await postStep(own, 'old', { baseRevision: 1, step: step(edit(design, 'accessPoints', AP, { xM: 2 })) })).revision).toBe(2);
    await closeEvents(own);
    await own.close();
  }, 30_000);

  test('data that went through migrations of a newer version is refused', async () => {
    const own = await backend.open();
    await own.query(`INSERT INTO migration (name) VALUES ('999-of-tomorrow.sql')`);
    expect(await code(migrate(own))).toBe('SCHEMA_NEWER');
    await own.close();
  });

  test('two processes may begin on an empty database at once, and see what each other says', async () => {
    const folder = await mkdtemp(path.join(os.tmpdir(), 'upper-room-migrations-'));
    await writeFile(
      path.join(folder, '001-a.sql'),
      `CREATE TABLE once (n int); -- a semicolon; in a comment\nINSERT INTO once VALUES (1); SELECT ';';`,
    );
    const own = await backend.open();
    await own.query('DROP TABLE IF EXISTS once');
    await own.query(`DELETE FROM migration`);
    await Promise.all([migrate(own, folder), migrate(own, folder)].map((run) => (backend.name === 'PGlite' ? run.catch(() => undefined) : run)));
    expect((await own.query('SELECT n FROM once')).rows).toEqual([{ n: 1 }]);
    await own.close();
  });
});

describe('the contract refuses', () => {
  const d = cottage();
  const ap = d.accessPoints[AP]!;
  const wall = d.walls['cottage-wall-001']!;
  const change = (table: string, before: object | null, after: object | null, id = (after as { id: string } | null)?.id ?? 'x') => ({
    baseRevision: 1,
    step: { id: 's', title: 't', kind: 'do', ofStepId: null, author: 'me', versions: versionsOf(TABLES), changes: [{ table, id, before, after }] },
  });
  test('nothing of a change as it should be', () => {
    for (const good of [change('accessPoints', ap, { ...ap, xM: 2 }), change('walls', wall, { ...wall, bxM: wall.axM + 3 })])
      expect(postStepSchema.safeParse(good).error?.issues ?? []).toEqual([]);
  });
  test.each<[string, unknown]>([
    ['power of 300 dBm', change('accessPoints', ap, { ...ap, radios: [{ ...ap.radios[0], txPowerDbm: 300 }] })],
    ['NaN', change('accessPoints', ap, { ...ap, xM: NaN })],
    ['a wall of 1e9 m', change('walls', wall, { ...wall, bxM: 1e9 })],
    ['a wall without length', change('walls', wall, { ...wall, bxM: wall.axM, byM: wall.ayM })],
    ['a channel that does not exist', change('accessPoints', ap, { ...ap, radios: [{ ...ap.radios[1], channel: 37 }] })],
    ['a model that cannot be an id', change('accessPoints', ap, { ...ap, modelId: 'phœnix' })],
    ['an unknown table', change('ghosts', null, { id: 'x' })],
    ['a field nobody knows', change('accessPoints', ap, { ...ap, colour: 'red' })],
    ['a record under another id', change('accessPoints', ap, ap, 'other')],
    ['a change of nothing', change('accessPoints', null, null)],
    ['a step without changes', { baseRevision: 1, step: { id: 's', title: 't', kind: 'do', ofStepId: null, changes: [] } }],
    ['a step of a retired table only', change('sites', null, { id: 'x' })],
    ['the name constructor as an id', change('accessPoints', null, { ...ap, id: 'constructor' })],
    ['text for a number', { ...change('accessPoints', ap, ap), baseRevision: 'one' }],
  ])('%s', (_name, body) => {
    const parsed = postStepSchema.safeParse(body);
    expect(parsed.success).toBe(false);
    expect(parsed.error!.issues.length).toBeGreaterThan(0);
  });

  test('samples that no receiver gives', () => {
    const good: Sample = {
      leg: 0,
      tMs: 1,
      xM: 1,
      yM: 1,
      bssid: '02:00:00:00:00:01',
      ssid: 'a',
      apId: null,
      band: '5',
      channel: 36,
      widthMhz: 20,
      rssiDbm: -60,
    };
    expect(samplesSchema.safeParse({ batchId: 'b', samples: [good] }).success).toBe(true);
    for (const bad of [{ rssiDbm: 5 }, { rssiDbm: -60.5 }, { bssid: 'zz' }, { band: '7' }, { xM: Infinity }])
      expect(samplesSchema.safeParse({ batchId: 'b', samples: [{ ...good, ...bad }] }).success).toBe(false);
  });
});
