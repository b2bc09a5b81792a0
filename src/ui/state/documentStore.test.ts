import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import { UpperRoomError } from '@/core/errors';
import { edit } from '@/core/design/commands';
import type { Design } from '@/core/design/registry';
import { additionsOf } from '@/core/design/step';
import { postStepSchema, samplesSchema, withdrawSchema, type Outgoing, type ProjectEvent } from '@/contract/http';
import { wordsOf } from './notices';
import { openInMemory, type Database } from '@/server/database';
import { subscribe } from '@/server/services/events';
import { createFrom, deleteProject, openProject, restoreProject } from '@/server/services/projects';
import { getStep, listSteps, postStep } from '@/server/services/steps';
import { newWalk } from '@/core/design/kinds/walk';
import { addSamples, getHeard, withdraw } from '@/server/services/walks';
import { closeEvents } from '@/server/services/events';
import { createDocumentStore } from './documentStore';
import type { Outbox, Refusal } from './outbox';
import type { Surroundings } from './surroundings';

type Window = ReturnType<typeof createDocumentStore>;

/**
 * The document store against the real services on a real database; only the wire, the event stream and the browser's disk are
 * played. `online` is the wire: off, every request fails as it does when no server answers.
 */
let db: Database;
let online = true;
let projectId = '';
let count = 0;

const asJson = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
const wire = async <T>(work: () => Promise<T>): Promise<T> => {
  if (!online) throw new UpperRoomError('NETWORK_FAILED');
  return asJson((await work()) ?? null) as T;
};

/** A browser: its tabs share a disk, the locks, and an author. */
class Browser {
  readonly disk = new Map<number, Outgoing>();
  readonly refused = new Map<string, Refusal>();
  diskFails = false;
  slowMs = 0;
  private readonly locks = new Map<string, Promise<void>>();
  private readonly ears = new Set<{ projectId: string; onNews: () => void }>();
  readonly surroundings: Surroundings;
  constructor(author: string) {
    this.surroundings = this.world(author);
  }

  private readonly touch = async <T>(work: () => T): Promise<T> => {
    if (this.diskFails) throw new DOMException('The disk is full.', 'QuotaExceededError');
    await Promise.resolve();
    return work();
  };
  readonly outbox: Outbox = {
    keep: (item) =>
      this.touch(() => {
        this.disk.set(++count, asJson(item));
        return count;
      }),
    release: (key) => this.touch(() => void this.disk.delete(key)),
    waiting: (id) =>
      this.touch(() => ({
        items: [...this.disk].filter(([, item]) => item.projectId === id).map(([key, item]) => ({ ...item, key })),
        unreadable: 0,
      })),
    refuse: (refusal) => this.touch(() => void this.refused.set(refusal.id, asJson(refusal))),
    settle: ({ id }) => this.touch(() => void this.refused.delete(id)),
    refusals: (id) => this.touch(() => [...this.refused.values()].filter((one) => one.projectId === id)),
  };
  /** How often each call was made; `answers` may replace what a call gives. */
  readonly calls: string[] = [];
  answers: Partial<Record<keyof Surroundings['api'], (give: () => Promise<unknown>, id: string) => Promise<unknown>>> = {};
  private ask<T>(name: keyof Surroundings['api'], id: string, work: () => Promise<T>): Promise<T> {
    this.calls.push(name);
    const give = () => wire(work);
    return (this.answers[name]?.(give, id) ?? give()) as Promise<T>;
  }
  private readonly world = (author: string): Surroundings => ({
    author,
    outbox: this.outbox,
    api: {
      openProject: (id) => this.ask('openProject', id, () => openProject(db, id)),
      postStep: (id, request) => this.ask('postStep', id, () => postStep(db, id, postStepSchema.parse(asJson(request)))),
      stepsAfter: (id, revision) => this.ask('stepsAfter', id, () => listSteps(db, id, revision)),
      getStep: (id, stepId) => this.ask('getStep', id, () => getStep(db, id, stepId)),
      postSamples: (id, walkId, batch) => this.ask('postSamples', id, () => addSamples(db, id, walkId, samplesSchema.parse(batch))),
      withdrawSamples: (id, walkId, withdrawal) => this.ask('withdrawSamples', id, () => withdraw(db, id, walkId, withdrawSchema.parse(withdrawal))),
    },
    follow(id, onEvent) {
      let stop: (() => void) | null = null;
      let ended = false;
      void subscribe(db, id, (event: ProjectEvent) => !ended && onEvent(asJson(event))).then(async (unsubscribe) => {
        stop = unsubscribe;
        if (ended) return unsubscribe();
        const row = await openProject(db, id).catch(() => null);
        if (row !== null && !ended) onEvent({ type: 'hello', revision: row.revision });
      });
      return () => {
        ended = true;
        stop?.();
      };
    },
    exclusively: async (name, work) => {
      const before = this.locks.get(name) ?? Promise.resolve();
      const own = before.then(work);
      this.locks.set(name, own.catch(() => undefined) as Promise<void>);
      return own;
    },
    retryMs: [50, 100, 200, 500],
    tell: (id) => this.ears.forEach((ear) => ear.projectId === id && ear.onNews()),
    hear: (id, onNews) => {
      const ear = { projectId: id, onNews };
      this.ears.add(ear);
      return () => void this.ears.delete(ear);
    },
  });
}
let browser: Browser;

const windows: Array<Window> = [];
async function openWindow(at: Browser = browser, id = projectId): Promise<Window> {
  const window = createDocumentStore(() => at.surroundings);
  windows.push(window);
  await window.getState().open(id);
  return window;
}

const AP = 'cottage-ap-001';
const walk = newWalk({
  id: 'w',
  variantId: 'cottage-variant-001',
  floorId: 'cottage-floor-001',
  name: 'Walk',
  startedAt: '2026-11-23T08:00:00.000Z',
});
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
const apIn = (window: Window) => window.getState().design.accessPoints[AP];
const change = (_window: Window, fields: object) => (design: Design) => edit(design, 'accessPoints', AP, fields);
async function until(holds: () => boolean, withinMs = 10_000): Promise<void> {
  for (let ms = 0; ms < withinMs && !holds(); ms += 10) await new Promise((resolve) => setTimeout(resolve, 10));
  expect(holds()).toBe(true);
}
const saved = (window: Window) => until(() => window.getState().saveState === 'saved' && window.getState().pending.length === 0);

beforeAll(async () => {
  db = await openInMemory();
});
afterAll(async () => {
  await closeEvents(db);
  await db.close();
});
beforeEach(async () => {
  online = true;
  browser = new Browser('anna');
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
    expect(browser.disk.size).toBe(0);
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
    expect(browser.disk.size).toBe(2);
    window.getState().close();
    online = true;
    const again = await openWindow();
    await saved(again);
    expect((await openProject(db, projectId)).design.accessPoints[AP]).toMatchObject({ xM: 6, yM: 2 });
    expect(browser.disk.size).toBe(0);
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
    expect(wordsOf(again.getState().notice!)).toContain('cannot be reached');
    expect(apIn(again)!.xM).toBe(5);
  });

  test('a project that is not there is an error of its own', async () => {
    const window = await openWindow(browser, 'atlantis');
    expect(window.getState().loadError!.code).toBe('PROJECT_UNKNOWN');
  });

  test('samples and withdrawals keep their order among the steps', async () => {
    const window = await openWindow();
    window.getState().run('Start walk', () => [{ table: 'walks', id: 'w', before: null, after: walk }]);
    void window
      .getState()
      .dispatch({ kind: 'samples', projectId, walkId: 'w', batch: { batchId: 'b1', samples: [sample(100), sample(900)], scans: [], swept: [] } });
    void window.getState().dispatch({ kind: 'withdraw', projectId, walkId: 'w', withdrawalId: 'w1', afterMs: 500 });
    void window
      .getState()
      .dispatch({ kind: 'samples', projectId, walkId: 'w', batch: { batchId: 'b2', samples: [sample(700)], scans: [], swept: [] } });
    await saved(window);
    await until(() => browser.disk.size === 0);
    expect((await getHeard(db, projectId, 'w')).samples.map((one) => one.tMs)).toEqual([100, 700]);
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
    const [one, two] = [await openWindow(), await openWindow(new Browser('ben'))];
    online = false;
    two.getState().run('Rename', change(two, { name: 'Two' }));
    await until(() => two.getState().saveState === 'unsaved');
    online = true;
    one.getState().run('Rename', change(one, { name: 'One' }));
    await saved(one);
    await saved(two);
    expect(apIn(two)!.name).toBe('One');
    expect(two.getState().refused.map(({ conflicts }) => conflicts)).toEqual([
      [{ table: 'accessPoints', id: AP, field: 'name', yours: 'Two', theirs: 'One' }],
    ]);
  });

  test('a deletion elsewhere stops editing; a restore lets it go on', async () => {
    const window = await openWindow();
    await deleteProject(db, projectId);
    await until(() => window.getState().saveState === 'deleted');
    window.getState().run('Move', change(window, { xM: 1 }));
    expect(apIn(window)!.xM).toBe(3);
    expect(wordsOf(window.getState().notice!)).toContain('deleted');
    await restoreProject(db, projectId);
    await saved(window);
    window.getState().run('Move', change(window, { xM: 1 }));
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(1);
  });
});

describe('nothing refused is dropped', () => {
  test('thirteen refusals are thirteen lines, after a reload too; each is settled by itself', async () => {
    const [one, two] = [await openWindow(), await openWindow(new Browser('ben'))];
    online = false;
    for (let i = 0; i < 13; i++) two.getState().run(`Rename ${i}`, change(two, { name: `Two ${i}` }));
    await until(() => two.getState().saveState === 'unsaved');
    online = true;
    one.getState().run('Rename', change(one, { name: 'One' }));
    await saved(one);
    await saved(two);
    expect(apIn(two)!.name).toBe('One');
    expect(two.getState().refused.map(({ title }) => title)).toEqual(Array.from({ length: 13 }, (_, i) => `Rename ${i}`));
    const last = two.getState().refused.at(-1)!;
    await two.getState().applyMine(last);
    await saved(two);
    await until(() => apIn(one)!.name === 'Two 12');
    await two.getState().discard(two.getState().refused[0]!);
    expect(two.getState().refused.map(({ title }) => title)).toEqual(Array.from({ length: 11 }, (_, i) => `Rename ${i + 1}`));
  });

  test('the list outlives the window and is the same in every tab', async () => {
    const other = await openWindow(new Browser('ben'));
    const [one, tab] = [await openWindow(), await openWindow()];
    online = false;
    one.getState().run('Rename', change(one, { name: 'Mine', xM: 2 }));
    await until(() => one.getState().saveState === 'unsaved');
    online = true;
    other.getState().run('Rename', change(other, { name: 'Theirs' }));
    await saved(other);
    await saved(one);
    // Taken in part: the place stands, the name is listed.
    expect(apIn(one)).toMatchObject({ name: 'Theirs', xM: 2 });
    await until(() => tab.getState().refused.length === 1);
    one.getState().close();
    const again = await openWindow();
    expect(again.getState().refused).toEqual(tab.getState().refused);
    await again.getState().applyMine(again.getState().refused[0]!);
    await saved(again);
    expect((await openProject(db, projectId)).design.accessPoints[AP]).toMatchObject({ name: 'Mine', xM: 2 });
    await until(() => tab.getState().refused.length === 0);
  });

  test('an edit ahead of a server that went back to a backup is kept, and the window shows what stands', async () => {
    const window = await openWindow();
    window.getState().run('Move', change(window, { xM: 5 }));
    await saved(window);
    // The server goes back by one revision, as a restored backup does.
    await db.query('DELETE FROM step WHERE project_id = $1 AND revision = 2', [projectId]);
    await db.query('UPDATE project SET revision = 1 WHERE id = $1', [projectId]);
    await db.query(`UPDATE design_record SET body = jsonb_set(body, '{xM}', '3') WHERE project_id = $1 AND id = $2`, [projectId, AP]);
    window.getState().run('Raise', change(window, { heightM: 2 }));
    await until(() => window.getState().refused.length === 1);
    await saved(window);
    expect(window.getState().revision).toBe(1);
    expect(apIn(window)).toMatchObject({ xM: 3, heightM: 2.4 });
    await window.getState().applyMine(window.getState().refused[0]!);
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]).toMatchObject({ xM: 3, heightM: 2 });
  });
});

describe('faults', () => {
  test('opening another project while the first is slow ends on the other, and no answer strays', async () => {
    const other = `${projectId}-b`;
    await createFrom(db, other, 'Begin', additionsOf(cottage()));
    let release: () => void = () => {};
    browser.answers.openProject = async (give, id) => {
      if (id === projectId) await new Promise<void>((resolve) => (release = resolve));
      return give();
    };
    const window = createDocumentStore(() => browser.surroundings);
    windows.push(window);
    const slow = window.getState().open(projectId);
    await window.getState().open(other);
    release();
    await slow;
    expect(window.getState().projectId).toBe(other);
    // An answer for the first project that comes after the second was opened.
    let answer: (value: unknown) => void = () => {};
    browser.answers = { postStep: (give, id) => (id === other ? new Promise((resolve) => (answer = () => resolve(give()))) : give()) };
    window.getState().run('Move', change(window, { xM: 7 }));
    await until(() => browser.calls.at(-1) === 'postStep');
    const third = `${projectId}-c`;
    await createFrom(db, third, 'Begin', additionsOf(cottage()));
    await window.getState().open(third);
    answer(null);
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(window.getState()).toMatchObject({ projectId: third, revision: 1 });
    expect(apIn(window)!.xM).toBe(3);
    expect((await openProject(db, third)).revision).toBe(1);
  });

  test('two quick undos after a reload take back two steps', async () => {
    const first = await openWindow();
    for (const xM of [4, 5, 6]) first.getState().run(`Move ${xM}`, change(first, { xM }));
    await saved(first);
    first.getState().close();
    browser.answers.getStep = async (give) => {
      await new Promise((resolve) => setTimeout(resolve, 30));
      return give();
    };
    const again = await openWindow();
    await Promise.all([again.getState().undo(), again.getState().undo()]);
    await saved(again);
    expect(apIn(again)!.xM).toBe(4);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(4);
  });

  test.each<[string, (give: () => Promise<unknown>) => Promise<unknown>]>([
    ['cut off after the server took it', async (give) => give().then(() => Promise.reject(new UpperRoomError('NETWORK_FAILED')))],
    ['a fault of the server', async () => Promise.reject(new UpperRoomError('SERVER_FAULT'))],
    ['a full disk of the server', async () => Promise.reject(new UpperRoomError('DISK_FULL'))],
  ])('%s: it is sent again, and stands once', async (_what, fault) => {
    const window = await openWindow();
    let times = 0;
    browser.answers.postStep = (give) => (++times <= 2 ? fault(give) : give());
    window.getState().run('Move', change(window, { xM: 6 }));
    await until(() => times >= 1 && window.getState().saveState === 'unsaved');
    await saved(window);
    expect(apIn(window)!.xM).toBe(6);
    expect((await openProject(db, projectId)).revision).toBe(2);
    expect(browser.disk.size).toBe(0);
  });

  test('an item on which the server fails again and again is set aside, and the others go on', async () => {
    const window = await openWindow();
    browser.answers.postSamples = () => Promise.reject(new UpperRoomError('SERVER_FAULT'));
    const samples = [
      {
        leg: 0,
        tMs: 1,
        xM: 1,
        yM: 1,
        bssid: '02:00:00:00:00:01',
        ssid: 'a',
        apId: null,
        band: '5' as const,
        channel: 36,
        widthMhz: 20,
        rssiDbm: -60,
      },
    ];
    void window.getState().dispatch({ kind: 'samples', projectId, walkId: 'w', batch: { batchId: 'b1', samples, scans: [], swept: [] } });
    window.getState().run('Move', change(window, { xM: 6 }));
    await until(() => window.getState().refused.length === 1);
    await saved(window);
    expect(window.getState().refused[0]).toMatchObject({ id: 'b1', code: 'SERVER_FAULT' });
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(6);
  }, 90_000);

  test('a disk that refuses, and one that is cleared: edits are still sent, and it is said', async () => {
    const window = await openWindow();
    browser.diskFails = true;
    window.getState().run('Move', change(window, { xM: 6 }));
    await until(() => window.getState().kept === 'window');
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(6);
    browser.diskFails = false;
    online = false;
    window.getState().run('Move', change(window, { xM: 8 }));
    await until(() => window.getState().saveState === 'unsaved');
    expect(window.getState().kept).toBe('disk');
    browser.disk.clear();
    online = true;
    await saved(window);
    expect((await openProject(db, projectId)).design.accessPoints[AP]!.xM).toBe(8);
  });

  test('a refusal on a disk that refuses lasts as long as the window', async () => {
    const [one, two] = [await openWindow(new Browser('ben')), await openWindow()];
    browser.diskFails = true;
    online = false;
    two.getState().run('Rename', change(two, { name: 'Two' }));
    await until(() => two.getState().saveState === 'unsaved');
    online = true;
    one.getState().run('Rename', change(one, { name: 'One' }));
    await saved(one);
    await saved(two);
    expect(two.getState().refused).toHaveLength(1);
    browser.diskFails = false;
    browser.surroundings.tell(projectId);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(two.getState().refused).toHaveLength(1);
  });

  test('a project of a newer program is refused in words', async () => {
    browser.answers.openProject = async (give) => ({ ...((await give()) as object), versions: { walls: 7 } });
    const window = await openWindow();
    expect(window.getState().loadError!.code).toBe('PROJECT_NEWER');
  });
});

describe('many tabs', () => {
  test('what a closed tab left is sent once by another, and acknowledged samples are never taken back', async () => {
    const [one, two] = [await openWindow(), await openWindow()];
    one.getState().run('Start walk', () => [{ table: 'walks', id: 'w', before: null, after: walk }]);
    await saved(one);
    for (let i = 0; i < 10; i++) {
      void one.getState().dispatch({
        kind: 'samples',
        projectId,
        walkId: 'w',
        batch: { batchId: `b${i}`, samples: [sample(i * 100), sample(i * 100 + 50)], scans: [], swept: [] },
      });
      void one.getState().dispatch({ kind: 'withdraw', projectId, walkId: 'w', withdrawalId: `w${i}`, afterMs: i * 100 + 20 });
      // The other tab sends whatever it finds, again and again.
      two.getState().run(`Move ${i}`, change(two, { xM: i }));
    }
    await Promise.all([saved(one), saved(two)]);
    await until(() => browser.disk.size === 0);
    expect((await getHeard(db, projectId, 'w')).samples.map(({ tMs }) => tMs)).toEqual([0, 100, 200, 300, 400, 500, 600, 700, 800, 900]);
    online = false;
    one.getState().run('Rename', change(one, { name: 'Left behind' }));
    await until(() => browser.disk.size === 1);
    one.getState().close();
    online = true;
    two.getState().run('Move', change(two, { yM: 1 }));
    await saved(two);
    expect((await openProject(db, projectId)).design.accessPoints[AP]).toMatchObject({ name: 'Left behind', yM: 1 });
  });

  test('twelve tabs of one project all save, and agree', async () => {
    const tabs = await Promise.all(Array.from({ length: 12 }, () => openWindow()));
    tabs.forEach((tab, i) =>
      tab
        .getState()
        .run(`Move ${i}`, (design) => edit(design, 'accessPoints', `cottage-ap-00${(i % 3) + 1}`, i < 3 ? { xM: i + 1 } : { heightM: 2 + i / 100 })),
    );
    await Promise.all(tabs.map(saved));
    const { revision, design } = await openProject(db, projectId);
    for (const tab of tabs) await until(() => tab.getState().revision === revision);
    for (const tab of tabs) expect(tab.getState().design).toEqual(design);
  }, 30_000);
});

describe('authors', () => {
  test("undo takes back one's own step, not the other browser's; going back takes both, as one step", async () => {
    const [anna, ben] = [await openWindow(), await openWindow(new Browser('ben'))];
    anna.getState().run('Move C-01', change(anna, { xM: 8 }));
    await until(() => apIn(ben)!.xM === 8);
    ben.getState().run('Lower C-01', change(ben, { heightM: 1.5 }));
    await until(() => apIn(anna)!.heightM === 1.5);
    await anna.getState().undo();
    await until(() => apIn(ben)!.xM === 3 && apIn(ben)!.heightM === 1.5);
    await saved(anna);
    expect(anna.getState().history.undo).toEqual([]);
    expect(ben.getState().log.map(({ author, title }) => [author, title])).toEqual([
      ['upper-room', 'Begin'],
      ['anna', 'Move C-01'],
      ['ben', 'Lower C-01'],
      ['anna', 'Undo: Move C-01'],
    ]);
    // What stood then is looked at without going back.
    const { design, revision } = ben.getState();
    const looked = await ben.getState().designAt(ben.getState().log[1]!);
    expect(Object.values(looked!.accessPoints).find(({ name }) => name === 'C-01')).toMatchObject({ xM: 8, heightM: 2.4 });
    expect([ben.getState().design, ben.getState().revision]).toEqual([design, revision]);
    await ben.getState().goBackTo(ben.getState().log[1]!);
    await until(() => apIn(anna)!.xM === 8 && apIn(anna)!.heightM === 2.4);
    expect(ben.getState().log.at(-1)!.title).toBe('Go back to “Move C-01”');
    await ben.getState().undo();
    await until(() => apIn(anna)!.xM === 3 && apIn(anna)!.heightM === 1.5);
  });
});
