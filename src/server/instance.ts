import path from 'node:path';
import { openDatabase, type Database } from './database';
import { loadDemo } from './services/projects';

/** The one database of the process. Its promise is kept on globalThis: route bundles and reloads in development share it. */
const KEY = Symbol.for('upper-room.database');
const CLOSE = Symbol.for('upper-room.close');
const holder = globalThis as unknown as Record<symbol, unknown>;

async function open(): Promise<Database> {
  const db = await openDatabase({
    url: process.env.DATABASE_URL,
    folder: process.env.UPPER_ROOM_DATA ?? path.join(/* turbopackIgnore: true */ process.cwd(), 'data'),
  });
  if (!process.env.UPPER_ROOM_EMPTY) {
    const [{ museum }, { cottage }, { asFoundSurvey }] = await Promise.all([import('@demo/museum'), import('@demo/cottage'), import('@demo/survey')]);
    const design = museum();
    await loadDemo(db, [
      { id: 'cottage', design: cottage() },
      { id: 'quillhaven', design, survey: asFoundSurvey(design) },
    ]);
  }
  return db;
}

/**
 * The database, opened and with the demo loaded at the first call. A failure is forgotten, so that the next call tries again.
 * @throws UpperRoomError DATA_FOLDER_IN_USE
 */
export function database(): Promise<Database> {
  const known = holder[KEY] as Promise<Database> | undefined;
  if (known) return known;
  const opening = open();
  holder[KEY] = opening;
  opening.catch(() => delete holder[KEY]);
  holder[CLOSE] = async () => (await opening).close();
  return opening;
}
