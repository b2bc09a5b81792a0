import type { Queryable } from '../database';

/** Sends a note to whoever listens on a channel, in whatever process, when the transaction commits. */
export async function notify(db: Queryable, channel: string, payload: string): Promise<void> {
  await db.query('SELECT pg_notify($1, $2)', [channel, payload]);
}
