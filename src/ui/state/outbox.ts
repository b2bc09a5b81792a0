import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { SampleBatch } from '@/contract/http';
import type { Step } from '@/core/design/step';

/** What waits to be sent: steps, sample batches and withdrawals of one project, in the order they were made. */
export type Outgoing =
  | { kind: 'step'; projectId: string; step: Step }
  | { kind: 'samples'; projectId: string; walkId: string; batch: SampleBatch }
  | { kind: 'withdraw'; projectId: string; walkId: string; afterMs: number };

export type Kept = Outgoing & { key: number };

interface OutboxSchema extends DBSchema {
  outgoing: { key: number; value: Outgoing; indexes: { byProject: string } };
}

let opened: Promise<IDBPDatabase<OutboxSchema>> | null = null;

function store(): Promise<IDBPDatabase<OutboxSchema>> {
  opened ??= openDB<OutboxSchema>('upper-room', 1, {
    upgrade(db) {
      db.createObjectStore('outgoing', { autoIncrement: true }).createIndex('byProject', 'projectId');
    },
  });
  return opened;
}

/** Keeps an item across reloads and crashes of the page; resolves when it is on disk. */
export async function keep(item: Outgoing): Promise<number> {
  return (await store()).add('outgoing', item);
}

export async function release(key: number): Promise<void> {
  await (await store()).delete('outgoing', key);
}

/** Everything of a project that has not been acknowledged, oldest first. */
export async function waiting(projectId: string): Promise<Kept[]> {
  const transaction = (await store()).transaction('outgoing');
  const kept: Kept[] = [];
  for (let cursor = await transaction.store.index('byProject').openCursor(projectId); cursor; cursor = await cursor.continue()) kept.push({ ...cursor.value, key: cursor.primaryKey });
  return kept.sort((a, b) => a.key - b.key);
}
