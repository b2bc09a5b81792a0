import path from 'node:path';
import type { Design } from '@/core/design/design';
import { openDatabase, type Database } from './database';
import { loadDemo } from './services/projects';

/** The one database of the process. Its promise is kept on globalThis: route bundles and reloads in development share it. */
const KEY = Symbol.for('upper-room.database');
const CLOSE = Symbol.for('upper-room.close');
const holder = globalThis as unknown as Record<symbol, unknown>;

/** Opens the database and loads the demo, once. A failure is forgotten, so that the next call tries again. */
export function openInstance(demo: () => ReadonlyArray<{ id: string; design: Design }>): Promise<Database> {
  const known = holder[KEY] as Promise<Database> | undefined;
  if (known) return known;
  const opening = (async () => {
    const db = await openDatabase({ url: process.env.DATABASE_URL, folder: process.env.UPPER_ROOM_DATA ?? path.join(/* turbopackIgnore: true */ process.cwd(), 'data') });
    if (!process.env.UPPER_ROOM_EMPTY) await loadDemo(db, demo());
    return db;
  })();
  holder[KEY] = opening;
  opening.catch(() => delete holder[KEY]);
  holder[CLOSE] = async () => (await opening).close();
  return opening;
}

/** The database that start-up opened. */
export function database(): Promise<Database> {
  const known = holder[KEY] as Promise<Database> | undefined;
  return known ?? openInstance(() => []);
}
