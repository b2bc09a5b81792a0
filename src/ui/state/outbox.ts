import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { outgoingSchema, type Outgoing } from '@/contract/http';

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

/** Everything of a project that has not been acknowledged, oldest first; what this version cannot read is counted and left where it is. */
export async function waiting(projectId: string): Promise<{ items: Kept[]; unreadable: number }> {
  const transaction = (await store()).transaction('outgoing');
  const items: Kept[] = [];
  let unreadable = 0;
  for (let cursor = await transaction.store.index('byProject').openCursor(projectId); cursor; cursor = await cursor.continue()) {
    const parsed = outgoingSchema.safeParse(cursor.value);
    if (parsed.success) items.push({ ...parsed.data, key: cursor.primaryKey });
    else unreadable++;
  }
  return { items: items.sort((a, b) => a.key - b.key), unreadable };
}
