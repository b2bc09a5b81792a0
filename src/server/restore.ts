import { mkdir, readFile, rename } from 'node:fs/promises';
import path from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { UpperRoomError } from '@/core/errors';
import { checkBackup, listBackups, nameAt, type BackupContents } from './backup';
import { PGLITE_OPTIONS } from './database';
import { lockFolder } from './folderLock';

export type ListedBackup = Readonly<{ name: string; at: Date; contents: BackupContents | UpperRoomError }>;

/** The backups of a data folder, newest first, each opened and counted. */
export async function backupsOf(folder: string): Promise<ListedBackup[]> {
  const listed: ListedBackup[] = [];
  for (const { name, at } of (await listBackups(path.join(folder, 'backups'))).reverse()) {
    const contents = await checkBackup(path.join(folder, 'backups', name)).catch((error: UpperRoomError) => error);
    listed.push({ name, at, contents });
  }
  return listed;
}

/**
 * Puts a backup in the place of a data folder's data, which is set aside and not deleted. The server must be stopped.
 * Returns where the former data lies.
 * @throws UpperRoomError DATA_FOLDER_IN_USE, BACKUP_UNREADABLE
 */
export async function restoreBackup(folder: string, name: string, now: Date): Promise<{ contents: BackupContents; setAside: string }> {
  const file = path.join(folder, 'backups', path.basename(name));
  const contents = await checkBackup(file);
  const lock = await lockFolder(folder);
  try {
    const place = path.join(lock.folder, 'pg');
    const setAside = path.join(lock.folder, `before-restore-${nameAt(now).replace('.tar.gz', '')}`);
    const fresh = path.join(lock.folder, 'pg.restoring');
    await mkdir(fresh, { recursive: true });
    const db = await PGlite.create({ dataDir: fresh, loadDataDir: new Blob([await readFile(file)]), ...PGLITE_OPTIONS });
    await db.query('SELECT 1');
    await db.close();
    // Only now the place changes: a restore that breaks off before leaves everything as it was.
    await rename(place, setAside).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error;
    });
    await rename(fresh, place);
    return { contents, setAside };
  } finally {
    await lock.release();
  }
}
