import type { DBSchema } from 'idb';
import { z } from 'zod';
import { conflictSchema, outgoingSchema, type Outgoing } from '@/contract/http';
import type { ErrorCode } from '@/core/errors';
import type { Conflict } from '@/core/design/merge';
import { diskStore } from './disk';

export type Kept = Outgoing & { key: number };

/** An edit that the server did not take, or took in part: kept until somebody settles it. `id` is that of the step or batch. */
export type Refusal = Readonly<{
  id: string;
  projectId: string;
  at: string;
  title: string;
  code: ErrorCode;
  conflicts: readonly Conflict[];
  item: Outgoing;
}>;
const refusalSchema = z.object({
  id: z.string(),
  projectId: z.string(),
  at: z.string(),
  title: z.string(),
  code: z.string(),
  conflicts: z.array(conflictSchema),
  item: outgoingSchema,
}) as unknown as z.ZodType<Refusal>;

/** What a page needs of a disk. Every call may fail; the caller then works without. */
export type Outbox = {
  keep(item: Outgoing): Promise<number>;
  release(key: number): Promise<void>;
  /** Everything of a project that has not been acknowledged, oldest first; what this version cannot read is counted and left where it is. */
  waiting(projectId: string): Promise<{ items: Kept[]; unreadable: number }>;
  refuse(refusal: Refusal): Promise<void>;
  settle(refusal: Refusal): Promise<void>;
  refusals(projectId: string): Promise<Refusal[]>;
};

interface OutboxSchema extends DBSchema {
  outgoing: { key: number; value: Outgoing; indexes: { byProject: string } };
  refused: { key: [string, string]; value: Refusal; indexes: { byProject: string } };
}

const store = diskStore<OutboxSchema>('upper-room', 2, (db, oldVersion) => {
  if (oldVersion < 1) db.createObjectStore('outgoing', { autoIncrement: true }).createIndex('byProject', 'projectId');
  if (oldVersion < 2) db.createObjectStore('refused', { keyPath: ['projectId', 'id'] }).createIndex('byProject', 'projectId');
});

/** The browser's disk (IndexedDB), shared by all its tabs. */
export const diskOutbox: Outbox = {
  keep: async (item) => (await store()).add('outgoing', item),
  release: async (key) => (await store()).delete('outgoing', key),
  async waiting(projectId) {
    const transaction = (await store()).transaction('outgoing');
    const items: Kept[] = [];
    let unreadable = 0;
    for (let cursor = await transaction.store.index('byProject').openCursor(projectId); cursor; cursor = await cursor.continue()) {
      const item = readable(outgoingSchema, cursor.value);
      if (item === null) unreadable++;
      else items.push({ ...item, key: cursor.primaryKey });
    }
    return { items: items.sort((a, b) => a.key - b.key), unreadable };
  },
  refuse: async (refusal) => void (await (await store()).put('refused', refusal)),
  settle: async ({ projectId, id }) => (await store()).delete('refused', [projectId, id]),
  async refusals(projectId) {
    const found = await (await store()).getAllFromIndex('refused', 'byProject', projectId);
    return found.flatMap((one) => readable(refusalSchema, one) ?? []).sort((a, b) => (a.at < b.at ? -1 : 1));
  },
};

/** What a stored value is; null when this version cannot read it, be it broken or newer. */
function readable<T>(schema: z.ZodType<T>, value: unknown): T | null {
  try {
    const parsed = schema.safeParse(value);
    return parsed.success ? parsed.data : null;
  } catch {
    // A step of a newer program says so by throwing; it stays where it is for that program.
    return null;
  }
}
