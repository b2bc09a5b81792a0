import pg from 'pg';
import type { Database, Transaction } from './connection';
import { faultOf } from './faults';
import { log } from './log';

/** Any fixed number: processes that start at once take turns under it. */
const ADVISORY_LOCK = 7_310_551;
const RELISTEN_MS = 1000;
const SNAPSHOT_BEGIN = 'BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY';

const queryableOf = (client: pg.PoolClient): Transaction => ({
  query: (sql, parameters) => client.query(sql, [...(parameters ?? [])]) as never,
  exec: async (script) => void (await client.query(script)),
});

/** PostgreSQL behind our interface, over a pool of connections. */
export function openPostgres(url: string): Database {
  const pool = new pg.Pool({ connectionString: url, max: 8, connectionTimeoutMillis: 5000 });
  // An idle connection that the server closes is not a reason to end: the next query opens another.
  const onLost = (error: Error) => log.warn({ error: error.message }, 'a connection to the database was lost');
  pool.on('error', onLost);

  async function within<T>(begin: string, work: (q: Transaction) => Promise<T>): Promise<T> {
    const client = await connect();
    let broken = false;
    try {
      await client.query(begin);
      const result = await work(queryableOf(client));
      await client.query('COMMIT');
      return result;
    } catch (error) {
      // A lost connection cannot roll back and need not: the server has.
      await client.query('ROLLBACK').catch(() => (broken = true));
      throw faultOf(error) ?? error;
    } finally {
      giveBack(client, broken);
    }
  }

  /** A connection of our own for a while. The pool listens to idle ones only: without a listener a loss would end the process. */
  async function connect(): Promise<pg.PoolClient> {
    try {
      const client = await pool.connect();
      client.on('error', onLost);
      return client;
    } catch (error) {
      throw faultOf(error) ?? error;
    }
  }

  function giveBack(client: pg.PoolClient, broken = false): void {
    client.off('error', onLost);
    client.release(broken);
  }

  return {
    async query(sql, parameters) {
      try {
        return (await pool.query(sql, [...(parameters ?? [])])) as never;
      } catch (error) {
        throw faultOf(error) ?? error;
      }
    },
    transaction: (work) => within('BEGIN', work),
    snapshot: (work) => within(SNAPSHOT_BEGIN, work),
    async exclusively(work) {
      const client = await connect();
      try {
        await client.query('SELECT pg_advisory_lock($1)', [ADVISORY_LOCK]);
        return await work();
      } finally {
        await client.query('SELECT pg_advisory_unlock($1)', [ADVISORY_LOCK]).catch(() => undefined);
        giveBack(client);
      }
    },
    async listen(channel, onNote, onGap) {
      let ended = false;
      let current: pg.Client | null = null;
      let timer: NodeJS.Timeout | undefined;
      const again = () => {
        current = null;
        if (ended) return;
        timer = setTimeout(() => void begin().then(onGap, again), RELISTEN_MS);
      };
      const begin = async () => {
        const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 });
        client.on('notification', ({ payload }) => onNote(payload ?? ''));
        let lost = false;
        const onLost = () => {
          if (lost) return;
          lost = true;
          client.end().catch(() => undefined);
          if (current === client) again();
        };
        client.on('error', onLost);
        client.on('end', onLost);
        await client.connect();
        await client.query(`LISTEN ${pg.escapeIdentifier(channel)}`);
        current = client;
      };
      await begin();
      return async () => {
        ended = true;
        clearTimeout(timer);
        await current?.end();
      };
    },
    dump: null,
    close: () => pool.end(),
  };
}
