import { readFile, readdir, mkdir } from 'node:fs/promises';
import path from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import pg from 'pg';
import { lockFolder, type FolderLock } from './folderLock';

/** What a store needs: one statement at a time with $1 parameters. */
export interface Queryable {
  query<Row>(sql: string, parameters?: readonly unknown[]): Promise<{ rows: Row[] }>;
}

/** A database with transactions. PGlite and PostgreSQL behave the same behind it. */
export interface Database extends Queryable {
  transaction<T>(work: (q: Queryable) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** bigint (int8) as a number: every count here stays far below 2^53. */
const INT8 = 20;

function fromPglite(db: PGlite, lock: FolderLock | null): Database {
  return {
    query: (sql, parameters) => db.query(sql, [...(parameters ?? [])]) as never,
    transaction: (work) => db.transaction((tx) => work({ query: (sql, parameters) => tx.query(sql, [...(parameters ?? [])]) as never })) as never,
    async close() {
      await db.close();
      await lock?.release();
    },
  };
}

function fromPool(pool: pg.Pool): Database {
  return {
    query: (sql, parameters) => pool.query(sql, [...(parameters ?? [])]) as never,
    async transaction(work) {
      const client = await pool.connect();
      try {
        await client.query('BEGIN');
        const result = await work({ query: (sql, parameters) => client.query(sql, [...(parameters ?? [])]) as never });
        await client.query('COMMIT');
        return result;
      } catch (error) {
        await client.query('ROLLBACK');
        throw error;
      } finally {
        client.release();
      }
    },
    close: () => pool.end(),
  };
}

const migrationsFolder = () => path.join(/* turbopackIgnore: true */ process.env.UPPER_ROOM_ROOT ?? process.cwd(), 'src/server/migrations');

/** Runs the numbered .sql files that have not run yet, in order, each in one transaction with its note that it has. */
export async function migrate(db: Database, folder = migrationsFolder()): Promise<void> {
  await db.query('CREATE TABLE IF NOT EXISTS migration (name text PRIMARY KEY, applied_at timestamptz NOT NULL DEFAULT now())');
  const done = new Set((await db.query<{ name: string }>('SELECT name FROM migration')).rows.map((row) => row.name));
  for (const name of (await readdir(folder)).filter((file) => /^\d{3}-.*\.sql$/.test(file)).sort()) {
    if (done.has(name)) continue;
    const sql = await readFile(path.join(folder, name), 'utf8');
    await db.transaction(async (q) => {
      // Neither driver takes several statements with parameters, so each is sent by itself; no statement here holds a semicolon inside.
      for (const statement of sql.replace(/^--.*$/gm, '').split(';')) if (statement.trim() !== '') await q.query(statement);
      await q.query('INSERT INTO migration (name) VALUES ($1)', [name]);
    });
  }
}

/** An empty database in memory, for tests. */
export async function openInMemory(): Promise<Database> {
  const db = fromPglite(await PGlite.create({ parsers: { [INT8]: Number } }), null);
  await migrate(db);
  return db;
}

/**
 * Opens the database: PostgreSQL when a URL is given, else PGlite in the folder, which this process then owns.
 * @throws UpperRoomError DATA_FOLDER_IN_USE
 */
export async function openDatabase({ url, folder }: { url?: string | undefined; folder: string }): Promise<Database> {
  let db: Database;
  if (url) {
    pg.types.setTypeParser(INT8, Number);
    db = fromPool(new pg.Pool({ connectionString: url, max: 8 }));
  } else {
    await mkdir(folder, { recursive: true });
    const lock = await lockFolder(folder);
    try {
      db = fromPglite(await PGlite.create({ dataDir: path.join(folder, 'pg'), parsers: { [INT8]: Number } }), lock);
    } catch (error) {
      await lock.release();
      throw error;
    }
  }
  await migrate(db);
  return db;
}
