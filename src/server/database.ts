import { readFile, readdir } from 'node:fs/promises';
import path from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import pg from 'pg';
import { UpperRoomError } from '@/core/errors';
import type { Database } from './connection';
import { faultOf } from './faults';
import { flusherOf } from './flush';
import { lockFolder, type FolderLock } from './folderLock';
import { openPostgres } from './postgres';

export type { Database, Queryable, Transaction } from './connection';

/** bigint (int8) as a number: every count here stays far below 2^53. */
const INT8 = 20;
export const PGLITE_OPTIONS = { parsers: { [INT8]: Number } };
export const SNAPSHOT = 'SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY';

/** `folder` is null in memory. */
function fromPglite(db: PGlite, lock: FolderLock | null, folder: string | null): Database {
  const flusher = folder === null ? null : flusherOf(folder);
  const named = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } catch (error) {
      throw faultOf(error) ?? error;
    }
  };
  const transaction: Database['transaction'] = async (work) => {
    const result = await named(
      db.transaction((tx) =>
        work({
          query: (sql, parameters) => tx.query(sql, [...(parameters ?? [])]) as never,
          exec: async (script) => void (await tx.exec(script)),
        }),
      ) as Promise<never>,
    );
    flusher?.written();
    return result;
  };
  return {
    async query(sql, parameters) {
      const result = await named(db.query(sql, [...(parameters ?? [])]));
      if (!/^\s*SELECT/i.test(sql)) flusher?.written();
      return result as never;
    },
    transaction,
    snapshot: (work) =>
      named(
        db.transaction(async (tx) => {
          await tx.query(SNAPSHOT);
          return work({ query: (sql, parameters) => tx.query(sql, [...(parameters ?? [])]) as never });
        }) as Promise<never>,
      ),
    exclusively: (work) => work(),
    listen: async (channel, onNote) => db.listen(channel, onNote),
    dump: folder === null ? null : () => named(db.dumpDataDir('gzip')),
    async close() {
      await db.close();
      await flusher?.finish();
      await lock?.release();
    },
  };
}

const migrationsFolder = () => path.join(/* turbopackIgnore: true */ process.env.UPPER_ROOM_ROOT ?? process.cwd(), 'src/server/migrations');

/**
 * Runs the numbered .sql files that have not run yet, in order, each in one transaction with its note that it has.
 * @throws UpperRoomError SCHEMA_NEWER when the data has been through migrations that this version does not have
 */
export async function migrate(db: Database, folder = migrationsFolder()): Promise<void> {
  const files = (await readdir(folder)).filter((file) => NUMBERED.test(file)).sort();
  await db.exclusively(async () => {
    await db.query('CREATE TABLE IF NOT EXISTS migration (name text PRIMARY KEY, applied_at timestamptz NOT NULL DEFAULT now())');
    const done = new Set((await db.query<{ name: string }>('SELECT name FROM migration')).rows.map((row) => row.name));
    const unknown = [...done].filter((name) => NUMBERED.test(name) && !files.includes(name));
    if (unknown.length > 0) throw new UpperRoomError('SCHEMA_NEWER', { unknown: unknown.sort().at(-1)!, known: files.at(-1)! });
    for (const name of files) {
      if (done.has(name)) continue;
      const script = await readFile(path.join(folder, name), 'utf8');
      await db.transaction(async (q) => {
        await q.exec(script);
        await q.query('INSERT INTO migration (name) VALUES ($1)', [name]);
      });
    }
  });
}
const NUMBERED = /^\d{3}-.*\.sql$/;

/** An empty database in memory, for tests. */
export async function openInMemory(): Promise<Database> {
  const db = fromPglite(await PGlite.create(PGLITE_OPTIONS), null, null);
  await migrate(db);
  return db;
}

/**
 * Opens the database: PostgreSQL when a URL is given, else PGlite in the folder, which this process then owns.
 * @throws UpperRoomError DATA_FOLDER_IN_USE, SCHEMA_NEWER, DISK_FULL, DISK_READ_ONLY, DATABASE_LOST
 */
export async function openDatabase({ url, folder }: { url?: string | undefined; folder: string }): Promise<Database> {
  if (url) {
    pg.types.setTypeParser(INT8, Number);
    const db = openPostgres(url);
    try {
      await migrate(db);
    } catch (error) {
      await db.close();
      throw faultOf(error) ?? error;
    }
    return db;
  }
  const lock = await lockFolder(folder);
  let db: Database | null = null;
  try {
    const place = path.join(lock.folder, 'pg');
    db = fromPglite(await PGlite.create({ dataDir: place, ...PGLITE_OPTIONS }), lock, place);
    await migrate(db);
    return db;
  } catch (error) {
    if (db === null) await lock.release();
    else await db.close();
    throw faultOf(error) ?? error;
  }
}
