import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtemp } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { cottage } from '@demo/cottage';
import { museum } from '@demo/museum';
import { asFoundSurvey } from '@demo/survey';
import { additionsOf, invert, type Change, type Step } from '@/core/design/step';
import { edit, remove } from '@/core/design/commands';
import { postStepSchema, samplesSchema } from '@/contract/http';
import { designSchema } from '@/contract/records';
import type { Sample } from '@/core/survey/receiver';
import { openInMemory, migrate, type Database } from '../database';
import { lockFolder } from '../folderLock';
import { loadDesign } from '../stores/records';
import { createFrom, createProject, deleteProject, listSummaries, loadDemo, openProject, restoreProject } from './projects';
import { getStep, listSteps, postStep } from './steps';
import { addSamples, getSamples, withdraw } from './walks';
import { subscribe } from './events';

let db: Database;
let projectId = '';
let count = 0;
beforeAll(async () => {
  db = await openInMemory();
});
afterAll(() => db.close());
beforeEach(async () => {
  projectId = `p${++count}`;
  await createFrom(db, projectId, 'Begin', additionsOf(cottage()));
});

const step = (changes: Change[], fields: Partial<Step> = {}): Step => ({
  id: `s${++count}`,
  title: 'Edit',
  kind: 'do',
  ofStepId: null,
  changes,
  ...fields,
});
const code = (promise: Promise<unknown>) =>
  promise.then(
    () => 'no error',
    (error: { code?: string }) => error.code,
  );
const AP = 'cottage-ap-001';

test('the demo is valid by its own contract and survives the way through the database', async () => {
  for (const design of [museum(), cottage()]) expect(designSchema.parse(design)).toEqual(design);
  expect(await loadDesign(db, projectId)).toEqual(cottage());
});

test('the demo survey walks through every room, in order of time, and hears the old access points and the neighbours', async () => {
  const design = museum();
  const { walk, samples } = asFoundSurvey(design);
  expect(designSchema.safeParse({ ...design, walks: { [walk.id]: walk } }).success).toBe(true);
  expect(walk.legs).toHaveLength(6);
  expect(samples.length).toBeGreaterThan(1500);
  expect(new Set(samples.filter((sample) => sample.apId !== null).map((sample) => sample.apId)).size).toBe(6);
  expect(samples.some((sample) => sample.ssid === 'boatyard')).toBe(true);
  await loadDemo(db, [{ id: 'demo-survey', design, survey: { walk, samples } }]);
  expect(await getSamples(db, 'demo-survey', walk.id)).toEqual([...samples].sort((a, b) => a.tMs - b.tMs));
});

test('the demo is loaded once and stays deleted when it was deleted', async () => {
  const own = await openInMemory();
  const demo = [{ id: 'demo-x', design: cottage() }];
  await loadDemo(own, demo);
  expect((await listSummaries(own)).map((p) => p.id)).toContain('demo-x');
  await deleteProject(own, 'demo-x');
  await loadDemo(own, demo);
  expect((await listSummaries(own)).map((p) => p.id)).not.toContain('demo-x');
  await own.close();
});

test('migrations run once', async () => {
  await migrate(db);
  expect((await listSummaries(db)).length).toBeGreaterThan(0);
});

describe('steps', () => {
  test('a step raises the revision, is stored, logged and told to other windows', async () => {
    const events: unknown[] = [];
    const stop = subscribe(projectId, (event) => events.push(event));
    const { design, revision } = await openProject(db, projectId);
    const sent = step(edit(design, 'accessPoints', AP, { xM: 4.5 }));
    const answer = await postStep(db, projectId, { baseRevision: revision, step: sent });
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

describe('the contract refuses', () => {
  const d = cottage();
  const ap = d.accessPoints[AP]!;
  const wall = d.walls['cottage-wall-001']!;
  const change = (table: string, before: object | null, after: object | null, id = (after as { id: string } | null)?.id ?? 'x') => ({
    baseRevision: 1,
    step: { id: 's', title: 't', kind: 'do', ofStepId: null, changes: [{ table, id, before, after }] },
  });
  test.each<[string, unknown]>([
    ['power of 300 dBm', change('accessPoints', ap, { ...ap, radios: [{ ...ap.radios[0], txPowerDbm: 300 }] })],
    ['NaN', change('accessPoints', ap, { ...ap, xM: NaN })],
    ['a wall of 1e9 m', change('walls', wall, { ...wall, bxM: 1e9 })],
    ['a wall without length', change('walls', wall, { ...wall, bxM: wall.axM, byM: wall.ayM })],
    ['a channel that does not exist', change('accessPoints', ap, { ...ap, radios: [{ ...ap.radios[1], channel: 37 }] })],
    ['an unknown model', change('accessPoints', ap, { ...ap, modelId: 'phoenix' })],
    ['an unknown table', change('ghosts', null, { id: 'x' })],
    ['a field nobody knows', change('accessPoints', ap, { ...ap, colour: 'red' })],
    ['a record under another id', change('accessPoints', ap, ap, 'other')],
    ['a change of nothing', change('accessPoints', null, null)],
    ['a step without changes', { baseRevision: 1, step: { id: 's', title: 't', kind: 'do', ofStepId: null, changes: [] } }],
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

test('samples are stored once per batch, listed in order, and taken back from a time on', async () => {
  const { design } = await openProject(db, projectId);
  const walk = {
    id: 'walk-1',
    variantId: 'cottage-variant-001',
    floorId: 'cottage-floor-001',
    name: 'Walk',
    startedAt: '2026-11-23T08:00:00.000Z',
    finished: false,
    legs: [],
  };
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
  expect((await getSamples(db, projectId, 'walk-1')).map((s) => s.tMs)).toEqual([110, 220]);
  expect(await withdraw(db, projectId, 'walk-1', 110)).toEqual({ withdrawn: 1 });
  expect(await getSamples(db, projectId, 'walk-1')).toEqual([sample(110)]);
  expect(await code(addSamples(db, projectId, 'walk-9', batch))).toBe('WALK_UNKNOWN');
  const copy = await createProject(db, { copyOf: projectId, name: 'Copy' });
  expect(await getSamples(db, copy, 'walk-1')).toEqual([sample(110)]);
  expect((await loadDesign(db, copy)).project.project!.name).toBe('Copy');
});

test('a new project has a floor, a variant and a site to begin with', async () => {
  const id = await createProject(db, { name: 'Shed', units: 'us', domain: 'US', widthM: 20, heightM: 10 });
  const { design, revision } = await openProject(db, id);
  expect(revision).toBe(1);
  expect(designSchema.parse(design)).toEqual(design);
  expect(Object.values(design.floors)).toHaveLength(1);
});

test('one process owns a data folder', async () => {
  const folder = await mkdtemp(path.join(os.tmpdir(), 'upper-room-lock-'));
  const lock = await lockFolder(folder);
  expect(await code(lockFolder(folder))).toBe('DATA_FOLDER_IN_USE');
  await lock.release();
  await (await lockFolder(folder)).release();
});
