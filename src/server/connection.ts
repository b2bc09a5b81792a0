/** What a store needs: one statement at a time with $1 parameters. */
export interface Queryable {
  query<Row>(sql: string, parameters?: readonly unknown[]): Promise<{ rows: Row[] }>;
}

/** Inside a transaction whole scripts may run too: migrations do. */
export interface Transaction extends Queryable {
  exec(script: string): Promise<void>;
}

/** A database with transactions. PGlite and PostgreSQL behave the same behind it. */
export interface Database extends Queryable {
  transaction<T>(work: (q: Transaction) => Promise<T>): Promise<T>;
  /** One consistent state, read without a lock that a writer would wait for. */
  snapshot<T>(work: (q: Queryable) => Promise<T>): Promise<T>;
  /** Work that only one process does at a time: migrations, loading the demo. */
  exclusively<T>(work: () => Promise<T>): Promise<T>;
  /** Hears what any process says with pg_notify on a channel. `onGap` is called when something may have been missed. */
  listen(channel: string, onNote: (payload: string) => void, onGap: () => void): Promise<() => Promise<void>>;
  /** A copy of everything as one file's bytes; null where backups are the business of the database server. */
  dump: (() => Promise<Blob>) | null;
  close(): Promise<void>;
}
