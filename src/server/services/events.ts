import { EventEmitter } from 'node:events';
import { z } from 'zod';
import { idSchema } from '@/core/design/kinds/kind';
import type { ProjectEvent } from '@/contract/http';
import type { Database, Queryable } from '../database';
import { log } from '../log';
import { findProject } from '../stores/projects';
import { notify } from '../stores/notes';
import { stepsAfter } from '../stores/steps';

/** What processes tell each other: small, for a note may have 8000 bytes; who has listeners reads the rest. */
const noteSchema = z.discriminatedUnion('type', [
  z.object({ projectId: idSchema, type: z.literal('step'), revision: z.number().int() }),
  z.object({ projectId: idSchema, type: z.literal('samples'), walkId: idSchema }),
  z.object({ projectId: idSchema, type: z.literal('deleted') }),
  z.object({ projectId: idSchema, type: z.literal('restored') }),
]);
export type Note = z.infer<typeof noteSchema>;

const CHANNEL = 'upper_room';

/** Says something to every window of every process, when the transaction it is said in is committed. */
export const publish = (q: Queryable, note: Note): Promise<void> => notify(q, CHANNEL, JSON.stringify(note));

type Hub = Readonly<{ emitter: EventEmitter; stop: () => Promise<void> }>;

/** The hub of each database. On globalThis: route bundles share it. */
const KEY = Symbol.for('upper-room.hubs');
const holder = globalThis as unknown as Record<symbol, WeakMap<Database, Promise<Hub>> | undefined>;

async function open(db: Database): Promise<Hub> {
  const emitter = new EventEmitter().setMaxListeners(0);
  const say = (projectId: string, event: ProjectEvent) => emitter.emit(projectId, event);

  async function pass(note: Note): Promise<void> {
    if (emitter.listenerCount(note.projectId) === 0) return;
    if (note.type === 'samples') return void say(note.projectId, { type: 'samples', walkId: note.walkId });
    if (note.type !== 'step') return void say(note.projectId, { type: note.type });
    const [logged] = await stepsAfter(db, note.projectId, note.revision - 1, 1);
    if (logged !== undefined && logged.revision === note.revision) say(note.projectId, { type: 'step', ...logged });
  }
  /** Something may have been missed: every window is told where its project stands, and fetches what it lacks. */
  async function recheck(): Promise<void> {
    for (const projectId of emitter.eventNames()) {
      const row = await findProject(db, String(projectId));
      if (row !== null) say(String(projectId), row.deleted_at === null ? { type: 'hello', revision: row.revision } : { type: 'deleted' });
    }
  }
  // One after the other, so that steps arrive in their order.
  let last: Promise<void> = Promise.resolve();
  const queue = (work: () => Promise<void>) =>
    (last = last.then(work).catch((error: unknown) => log.error({ error: String(error) }, 'an event could not be passed on')));
  const stop = await db.listen(
    CHANNEL,
    (payload) => void queue(() => pass(noteSchema.parse(JSON.parse(payload)))),
    () => void queue(recheck),
  );
  return { emitter, stop };
}

function hubOf(db: Database): Promise<Hub> {
  const hubs = (holder[KEY] ??= new WeakMap());
  let hub = hubs.get(db);
  if (hub === undefined) {
    hub = open(db);
    hubs.set(db, hub);
    hub.catch(() => hubs.delete(db));
  }
  return hub;
}

/** Listens to a project; returns the way to stop. */
export async function subscribe(db: Database, projectId: string, listener: (event: ProjectEvent) => void): Promise<() => void> {
  const { emitter } = await hubOf(db);
  emitter.on(projectId, listener);
  return () => void emitter.off(projectId, listener);
}

/** Ends what a database's events hold open. */
export async function closeEvents(db: Database): Promise<void> {
  const hub = holder[KEY]?.get(db);
  if (hub !== undefined) await (await hub).stop();
}
