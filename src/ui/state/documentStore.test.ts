import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { UpperRoomError } from '@/core/errors';
import { edit } from '@/core/design/commands';
import { additionsOf, type Change } from '@/core/design/step';
import type { Outgoing, PostStep, ProjectEvent, SampleBatch } from '@/contract/http';
import { openInMemory, type Database } from '@/server/database';
import { subscribe } from '@/server/services/events';
import { createFrom, deleteProject, openProject, restoreProject } from '@/server/services/projects';
import { getStep, listSteps, postStep } from '@/server/services/steps';
import { addSamples, getSamples, withdraw } from '@/server/services/walks';
import { createDocumentStore, type Surroundings } from './documentStore';

type Window = ReturnType<typeof createDocumentStore>;

/**
 * The document store against the real services on a real database; only the wire, the event stream and the browser's disk are
 * played. `online` is the wire: off, every request fails as it does when no server answers.
 */
let db: Database;
let online = true;
let projectId = '';
let count = 0;
const disk = new Map<number, Outgoing>();

const wire = <T>(work: () => Promise<T>): Promise<T> => (online ? work() : Promise.reject(new UpperRoomError('NETWORK_FAILED')));

const surroundings: Surroundings = {
  api: {
    openProject: (id: string) => wire(() => openProject(db, id)),
    postStep: (id: string, request: PostStep) => wire(() => postStep(db, id, JSON.parse(JSON.stringify(request)) as PostStep)),
    stepsAfter: (id: string, revision: number) => wire(() => listSteps(db, id, revision)),
    getStep: (id: string, stepId: string) => wire(() => getStep(db, id, stepId)),
    postSamples: (id: string, walkId: string, batch: SampleBatch) => wire(() => addSamples(db, id, walkId, batch)),
    withdrawSamples: (id: string, walkId: string, afterMs: number) => wire(() => withdraw(db, id, walkId, afterMs)),
    eventsUrl: (id: string) => id,
  },
  outbox: {
    keep: async (item: Outgoing) => {
      disk.set(++count, item);
      return count;
    },
    release: async (key: number) => void disk.delete(key),
    waiting: async (id: string) => ({
      items: [...disk].filter(([, item]) => item.projectId === id).map(([key, item]) => ({ ...item, key })),
      unreadable: 0,
    }),
  },
};

class PlayedEventSource {
  onmessage: ((event: { data: string }) => void) | null = null;
  private readonly stop: () => void;
  constructor(id: string) {
    this.stop = subscribe(id, (event: ProjectEvent) => this.onmessage?.({ data: JSON.stringify(event) }));
  }
  addEventListener(): void {}
  close(): void {
    this.stop();
  }
}

const windows: Array<Window> = [];
async function openWindow(): Promise<Window> {
  const window = createDocumentStore(surroundings);
  windows.push(window);
  await window.getState().open(projectId);
  return window;
}

const AP = 'cottage-ap-001';
const apIn = (window: Window) => window.getState().design.accessPoints[AP];
const change = (window: Window, fields: object): Change[] => edit(window.getState().design, 'accessPoints', AP, fields);
async function until(holds: () => boolean): Promise<void> {
  for (let i = 0; i < 400 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 10));
  expect(holds()).toBe(true);
}
const saved = (window: Window) => until(() => window.getState().saveState === 'saved' && window.getState().pending.length === 0);

beforeAll(async () => {
  db = await openInMemory();
  (globalThis as unknown as { EventSource: unknown }).EventSource = PlayedEventSource;
});
afterAll(() => db.close());
beforeEach(async () => {
  online = true;
  disk.clear();
  projectId = `doc-${++count}`;
  await createFrom(db, projectId, 'Begin', additionsOf(cottage()));
});
afterEach(() => {
  for (const window of windows.splice(0)) window.getState().close();
});

describe('one window', () => {
  test('an edit shows at once, is saved, and leaves nothing on the disk', async () => {
    const window = await openWindow();
    window.getState().run('Move', change(window, { xM: 4 }));
    expect(apIn(window)!.xM).toBe(4);
    expect(window.getState().saveState).toBe('saving');
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(4);
    expect(disk.size).toBe(0);
  });

  test('edits are sent in the order they were made, each once', async () => {
    const window = await openWindow();
    for (let i = 1; i <= 8; i++) window.getState().run(`Move ${i}`, change(window, { xM: i }));
    await saved(window);
    const log = await listSteps(db, projectId, 1);
    expect(log.map(({ step }) => step.title)).toEqual([1, 2, 3, 4, 5, 6, 7, 8].map((i) => `Move ${i}`));
    expect(window.getState().revision).toBe(9);
  });

  test('nothing to change sends nothing', async () => {
    const window = await openWindow();
    window.getState().run('Nothing', change(window, { xM: apIn(window)!.xM }));
    expect(window.getState().pending).toEqual([]);
    expect((await openProject(db, projectId)).revision).toBe(1);
  });

  test('undo and redo come from the log: they work after a reload, with the titles', async () => {
    const first = await openWindow();
    const before = apIn(first)!.xM;
    first.getState().run('Move C-01', change(first, { xM: 5 }));
    first.getState().run('Rename C-01', change(first, { name: 'Net loft' }));
    await saved(first);
    first.getState().close();
    const again = await openWindow();
    const { history, titles } = again.getState();
    expect(titles[history.undo.at(-1)!]).toBe('Rename C-01');
    await again.getState().undo();
    await again.getState().undo();
    expect(apIn(again)).toMatchObject({ xM: before, name: 'C-01' });
    await again.getState().redo();
    expect(apIn(again)).toMatchObject({ xM: 5, name: 'C-01' });
    await saved(again);
    again.getState().close();
    const third = await openWindow();
    expect(apIn(third)).toMatchObject({ xM: 5, name: 'C-01' });
    await third.getState().redo();
    expect(apIn(third)!.name).toBe('Net loft');
    await saved(third);
  });

  test("without server the work is kept and said to be unsaved; a reload and the server's return send it", async () => {
    const window = await openWindow();
    online = false;
    window.getState().run('Move', change(window, { xM: 6 }));
    window.getState().run('Move', change(window, { yM: 2 }));
    await until(() => window.getState().saveState === 'unsaved');
    expect(apIn(window)).toMatchObject({ xM: 6, yM: 2 });
    expect(disk.size).toBe(2);
    window.getState().close();
    online = true;
    const again = await openWindow();
    await saved(again);
    expect((await openProject(db, projectId)).design.accessPoints[AP]).toMatchObject({ xM: 6, yM: 2 });
    expect(disk.size).toBe(0);
  });

  test('without server it tries again by itself', async () => {
    const window = await openWindow();
    online = false;
    window.getState().run('Move', change(window, { xM: 7 }));
    await until(() => window.getState().saveState === 'unsaved');
    online = true;
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(7);
  });

  test('undoing an older step without server says so and changes nothing', async () => {
    const first = await openWindow();
    first.getState().run('Move', change(first, { xM: 5 }));
    await saved(first);
    first.getState().close();
    const again = await openWindow();
    online = false;
    await again.getState().undo();
    expect(again.getState().notice!.text).toContain('cannot be reached');
    expect(apIn(again)!.xM).toBe(5);
  });

  test('a project that is not there is an error of its own', async () => {
    const window = createDocumentStore(surroundings);
    windows.push(window);
    await window.getState().open('atlantis');
    expect(window.getState().loadError!.code).toBe('PROJECT_UNKNOWN');
  });

  test('samples and withdrawals keep their order among the steps', async () => {
    const window = await openWindow();
    const walk = {
      id: 'w',
      variantId: 'cottage-variant-001',
      floorId: 'cottage-floor-001',
      name: 'Walk',
      startedAt: '2026-11-23T08:00:00.000Z',
      finished: false,
      legs: [],
    };
    const sample = (tMs: number) => ({
      leg: 0,
      tMs,
      xM: 1,
      yM: 1,
      bssid: '02:00:00:00:00:01',
      ssid: 'a',
      apId: null,
      band: '5' as const,
      channel: 36,
      widthMhz: 20,
      rssiDbm: -60,
    });
    window.getState().run('Start walk', [{ table: 'walks', id: 'w', before: null, after: walk }]);
    void window.getState().dispatch({ kind: 'samples', projectId, walkId: 'w', batch: { batchId: 'b1', samples: [sample(100), sample(900)] } });
    void window.getState().dispatch({ kind: 'withdraw', projectId, walkId: 'w', afterMs: 500 });
    void window.getState().dispatch({ kind: 'samples', projectId, walkId: 'w', batch: { batchId: 'b2', samples: [sample(700)] } });
    await saved(window);
    await until(() => disk.size === 0);
    expect((await getSamples(db, projectId, 'w')).map((one) => one.tMs)).toEqual([100, 700]);
    expect(window.getState().samplesVersion.w).toBeGreaterThanOrEqual(2);
  });
});

describe('two windows', () => {
  test("each sees the other's edits, and either can undo them", async () => {
    const [one, two] = [await openWindow(), await openWindow()];
    one.getState().run('Move', change(one, { xM: 8 }));
    await until(() => apIn(two)!.xM === 8);
    await two.getState().undo();
    await until(() => apIn(one)!.xM === cottage().accessPoints[AP]!.xM);
    await Promise.all([saved(one), saved(two)]);
    expect(one.getState().revision).toBe(two.getState().revision);
  });

  test('edits of different fields at the same time both stand', async () => {
    const [one, two] = [await openWindow(), await openWindow()];
    one.getState().run('Move', change(one, { xM: 9 }));
    two.getState().run('Rename', change(two, { name: 'Two' }));
    await Promise.all([saved(one), saved(two)]);
    for (const window of [one, two]) await until(() => apIn(window)!.xM === 9 && apIn(window)!.name === 'Two');
  });

  test('of two edits of one field the later is refused with both values, and the page shows what stands', async () => {
    const [one, two] = [await openWindow(), await openWindow()];
    online = false;
    two.getState().run('Rename', change(two, { name: 'Two' }));
    await until(() => two.getState().saveState === 'unsaved');
    online = true;
    one.getState().run('Rename', change(one, { name: 'One' }));
    await saved(one);
    await saved(two);
    expect(apIn(two)!.name).toBe('One');
    expect(two.getState().notice!.conflicts).toEqual([{ table: 'accessPoints', id: AP, field: 'name', yours: 'Two', theirs: 'One' }]);
  });

  test('a deletion elsewhere stops editing; a restore lets it go on', async () => {
    const window = await openWindow();
    await deleteProject(db, projectId);
    expect(window.getState().saveState).toBe('deleted');
    window.getState().run('Move', change(window, { xM: 1 }));
    expect(apIn(window)!.xM).toBe(3);
    expect(window.getState().notice!.text).toContain('deleted');
    await restoreProject(db, projectId);
    await saved(window);
    window.getState().run('Move', change(window, { xM: 1 }));
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(1);
  });
});
