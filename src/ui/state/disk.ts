import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** A store on the browser's disk (IndexedDB), shared by all its tabs: opened when it is first asked for, and again after it was let go. */
export function diskStore<S extends DBSchema>(
  name: string,
  version: number,
  upgrade: (db: IDBPDatabase<S>, oldVersion: number) => void,
): () => Promise<IDBPDatabase<S>> {
  let opened: Promise<IDBPDatabase<S>> | null = null;
  return () => {
    opened ??= openDB<S>(name, version, {
      upgrade: (db, oldVersion) => upgrade(db, oldVersion),
      // A tab of a newer version wants to change the store: this one lets go and opens it again when it needs it.
      blocking() {
        void opened?.then((db) => db.close());
        opened = null;
      },
      terminated: () => (opened = null),
    });
    opened.catch(() => (opened = null));
    return opened;
  };
}
