import path from 'node:path';
import { startHousekeeping } from './housekeeping';
import { openDatabase, type Database } from './database';
import { closeEvents } from './services/events';
import { loadDemo } from './services/projects';

/** The one database of the process. Its promise is kept on globalThis: route bundles and reloads in development share it. */
const KEY = Symbol.for('upper-room.database');
const CLOSE = Symbol.for('upper-room.close');
const holder = globalThis as unknown as Record<symbol, unknown>;

type Opened = { db: Database; stop: () => Promise<void> };

async function open(): Promise<Opened> {
  const folder = process.env.UPPER_ROOM_DATA ?? path.join(/* turbopackIgnore: true */ process.cwd(), 'data');
  const db = await openDatabase({ url: process.env.DATABASE_URL, folder });
  try {
    if (!process.env.UPPER_ROOM_EMPTY)
      await loadDemo(db, async () => {
        const [{ museumBuilding }, { cottageBuilding }, { asFoundSurveys, withTransferTests }, { withPlans }] = await Promise.all([
          import('@demo/museum'),
          import('@demo/cottage'),
          import('@demo/survey'),
          import('@demo/plans'),
        ]);
        const museum = museumBuilding();
        return [
          { id: 'cottage', ...cottageBuilding() },
          { id: 'quillhaven', ...withPlans(withTransferTests(museum)), surveys: asFoundSurveys(museum) },
        ];
      });
  } catch (error) {
    await db.close();
    throw error;
  }
  const housekeeping = startHousekeeping(db, path.join(folder, 'backups'));
  return {
    db,
    async stop() {
      await housekeeping.stop();
      await closeEvents(db);
      await db.close();
    },
  };
}

/**
 * The database, opened and with the demo loaded at the first call. A failure is forgotten, so that the next call tries again.
 * @throws UpperRoomError DATA_FOLDER_IN_USE, SCHEMA_NEWER, DISK_FULL, DISK_READ_ONLY, DATABASE_LOST
 */
export async function database(): Promise<Database> {
  const known = holder[KEY] as Promise<Opened> | undefined;
  if (known) return (await known).db;
  const opening = open();
  holder[KEY] = opening;
  opening.catch(() => delete holder[KEY]);
  holder[CLOSE] = async () => (await opening).stop();
  return (await opening).db;
}
