import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { cottage } from '@demo/cottage';
import type { ProjectEvent } from '@/contract/http';
import { edit } from '@/core/design/commands';
import { additionsOf, newStep } from '@/core/design/step';
import { openDatabase, type Database } from './database';
import { postgresMissing, startCluster, type Cluster } from './databases.testing';
import { closeEvents, subscribe } from './services/events';
import { createFrom, loadDemo, openProject } from './services/projects';
import { postStep } from './services/steps';

const missing = postgresMissing();
if (missing !== null) console.warn(`Several processes on one PostgreSQL are not tested here: ${missing}.`);

(missing === null ? describe : describe.skip)('several processes on one PostgreSQL', () => {
  let cluster: Cluster;
  let url = '';
  const opened: Database[] = [];
  const open = async (): Promise<Database> => {
    const db = await openDatabase({ url, folder: '' });
    opened.push(db);
    return db;
  };
  const until = async (holds: () => boolean): Promise<void> => {
    for (let i = 0; i < 1500 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 10));
    expect(holds()).toBe(true);
  };
  const move = (db: Database, id: string, xM: number) =>
    openProject(db, 'shared').then(({ design, revision }) =>
      postStep(db, 'shared', { baseRevision: revision, step: newStep(id, 'Move', 'me', edit(design, 'accessPoints', 'cottage-ap-001', { xM })) }),
    );

  beforeAll(async () => {
    cluster = await startCluster();
    url = cluster.url('shared');
  }, 60_000);
  afterAll(async () => {
    for (const db of opened) {
      await closeEvents(db).catch(() => undefined);
      await db.close().catch(() => undefined);
    }
    cluster?.stop();
  });

  test('two may begin on an empty database at once: one migrates and loads the demo, both go on', async () => {
    const both = await Promise.all([open(), open()]);
    let built = 0;
    await Promise.all(
      both.map((db) =>
        loadDemo(db, async () => {
          built++;
          return [{ id: 'demo', design: cottage() }];
        }),
      ),
    );
    expect(built).toBe(1);
    for (const db of both) expect((await openProject(db, 'demo')).revision).toBe(1);
  }, 30_000);

  test('windows on different processes see each other, in order, and a lost connection is made up for', async () => {
    const [one, two] = [opened[0]!, opened[1]!];
    await createFrom(one, 'shared', 'Begin', additionsOf(cottage()));
    const heard: ProjectEvent[] = [];
    const stop = await subscribe(two, 'shared', (event) => heard.push(event));
    for (let i = 1; i <= 5; i++) await move(one, `s${i}`, i + 0.5);
    await until(() => heard.length === 5);
    expect(heard.map((event) => event.type === 'step' && event.revision)).toEqual([2, 3, 4, 5, 6]);
    // The server goes away and comes back: writers are told so, and listeners where the project stands.
    await cluster.kill();
    await expect(move(one, 'lost', 9)).rejects.toMatchObject({ code: 'DATABASE_LOST' });
    await cluster.start();
    await until(() => heard.at(-1)?.type === 'hello');
    expect(heard.at(-1)).toEqual({ type: 'hello', revision: 6 });
    await move(one, 's7', 7.5);
    await until(() => heard.at(-1)?.type === 'step');
    stop();
  }, 60_000);

  test("one project's long write does not make another project's wait", async () => {
    const [one, two] = [opened[0]!, opened[1]!];
    await createFrom(one, 'slow', 'Begin', additionsOf(cottage()));
    let release: () => void = () => {};
    const held = one.transaction(async (q) => {
      await q.query('SELECT id FROM project WHERE id = $1 FOR UPDATE', ['slow']);
      await new Promise<void>((resolve) => (release = resolve));
    });
    await move(two, 's8', 8.5);
    // Opening takes no lock that a writer holds.
    expect((await openProject(two, 'slow')).revision).toBe(1);
    release();
    await held;
  }, 30_000);
});
