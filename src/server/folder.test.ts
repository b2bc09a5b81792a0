import { beforeAll, describe, expect, test } from '@jest/globals';
import { mkdir, mkdtemp, readdir, rename, symlink, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { additionsOf } from '@/core/design/step';
import { cottage } from '@demo/cottage';
import { backUp, listBackups, nameAt, outdated, timeOf } from './backup';
import { openDatabase } from './database';
import { faultOf } from './faults';
import { lockFolder, type FolderLock } from './folderLock';
import { backupsOf, restoreBackup } from './restore';
import { createFrom, listSummaries } from './services/projects';

const newFolder = () => mkdtemp(path.join(os.tmpdir(), 'upper-room-folder-'));
const code = (promise: Promise<unknown>) =>
  promise.then(
    () => 'no error',
    (error: { code?: string }) => error.code,
  );

describe('the lock of a data folder', () => {
  test('one of several that begin at once owns it, after a dead owner too, by whatever path: 100 of 100', async () => {
    const folder = await newFolder();
    const link = `${folder}-link`;
    await symlink(folder, link);
    for (let trial = 0; trial < 100; trial++) {
      const tries = await Promise.allSettled([folder, link, `${folder}/.`, path.join(link, '..', path.basename(link))].map(lockFolder));
      const owners = tries.flatMap((one) => (one.status === 'fulfilled' ? [one.value] : []));
      expect(owners).toHaveLength(1);
      for (const one of tries) if (one.status === 'rejected') expect(one.reason).toMatchObject({ code: 'DATA_FOLDER_IN_USE' });
      expect(await code(lockFolder(link))).toBe('DATA_FOLDER_IN_USE');
      await owners[0]!.release();
    }
    // It leaves one file behind, whatever was tried.
    expect((await readdir(folder)).filter((file) => file.startsWith('lock'))).toHaveLength(1);
  }, 60_000);
  test('a newcomer that was held up between looking and taking does not take it a second time', async () => {
    const folder = await newFolder();
    await (await lockFolder(folder)).release();
    const owner = await lockFolder(folder);
    // What a slow process would link: a number that is long past.
    await writeFile(path.join(folder, 'lock.1'), '');
    expect(await code(lockFolder(folder))).toBe('DATA_FOLDER_IN_USE');
    await owner.release();
    await (await lockFolder(folder)).release();
  });
  test('a folder with a long name can be locked, one that cannot be written is named', async () => {
    const deep = path.join(await newFolder(), ...Array.from({ length: 6 }, () => 'a-rather-long-name-of-a-folder'));
    const lock: FolderLock = await lockFolder(deep);
    expect(await code(lockFolder(deep))).toBe('DATA_FOLDER_IN_USE');
    await lock.release();
    const file = path.join(await newFolder(), 'a-file');
    await writeFile(file, '');
    expect(await code(lockFolder(path.join(file, 'data')))).toBe('DISK_READ_ONLY');
  });
});

test.each([
  [{ code: 'ENOSPC' }, 'DISK_FULL'],
  [{ code: '53100' }, 'DISK_FULL'],
  [{ message: 'could not extend file "base/5/1": No space left on device' }, 'DISK_FULL'],
  [{ code: 'EROFS' }, 'DISK_READ_ONLY'],
  [{ code: '08006' }, 'DATABASE_LOST'],
  [{ code: '57P01' }, 'DATABASE_LOST'],
  [{ message: 'Connection terminated unexpectedly' }, 'DATABASE_LOST'],
  [{ code: '23505' }, null],
])('%j is named %s', (fields, expected) => expect(faultOf(Object.assign(new Error('fault'), fields))?.code ?? null).toBe(expected));

describe('which backups are kept', () => {
  const now = new Date('2026-11-23T12:00:00Z');
  const ago = (minutes: number) => new Date(now.getTime() - minutes * 60_000);
  test('names are times and back', () => {
    expect(nameAt(now)).toBe('2026-11-23T12-00-00Z.tar.gz');
    expect(timeOf(nameAt(now))).toEqual(now);
    expect([timeOf('pg'), timeOf('2026-11-23T12-00-00Z.tar.gz.unchecked')]).toEqual([null, null]);
  });
  test('all of the last two hours, then one an hour, one a day, one a month', () => {
    const every10 = Array.from({ length: 6 * 24 * 400 }, (_, i) => ago(i * 10 + 1));
    const gone = new Set(outdated(every10, now).map((time) => time.getTime()));
    const kept = every10.filter((time) => !gone.has(time.getTime()));
    const ages = kept.map((time) => (now.getTime() - time.getTime()) / 3600_000);
    expect(ages.filter((hours) => hours <= 2)).toHaveLength(12);
    const inHours = ages.filter((hours) => hours > 2 && hours <= 48);
    expect(inHours.length).toBeGreaterThanOrEqual(46);
    expect(inHours.length).toBeLessThanOrEqual(47);
    const inDays = ages.filter((hours) => hours > 48 && hours <= 31 * 24);
    expect(inDays.length).toBeGreaterThanOrEqual(29);
    expect(inDays.length).toBeLessThanOrEqual(30);
    expect(ages.filter((hours) => hours > 31 * 24).length).toBeLessThanOrEqual(14);
    expect(outdated([ago(60 * 24 * 900)], now)).toEqual([]);
    // A clock that was put back: what seems to be of the future stays, and so does what is made now.
    expect(outdated([ago(-600), ago(-500), ago(0)], now)).toEqual([]);
  });
});

describe('backups', () => {
  let folder = '';
  beforeAll(async () => {
    folder = path.join(await newFolder(), 'data');
  });
  test('a checked backup is made, listed with what it holds, and restored; what was there is set aside', async () => {
    const db = await openDatabase({ folder });
    await createFrom(db, 'first', 'Begin', additionsOf(cottage()));
    await backUp(db.dump!, path.join(folder, 'backups'), new Date('2026-11-23T10:00:00Z'));
    await createFrom(db, 'second', 'Begin', additionsOf(cottage()));
    expect(await code(restoreBackup(folder, nameAt(new Date('2026-11-23T10:00:00Z')), new Date()))).toBe('DATA_FOLDER_IN_USE');
    await db.close();
    await writeFile(path.join(folder, 'backups', nameAt(new Date('2026-11-23T11:00:00Z'))), 'not a backup');
    const [broken, good] = await backupsOf(folder);
    expect(broken).toMatchObject({ contents: { code: 'BACKUP_UNREADABLE' } });
    expect(good).toMatchObject({ name: '2026-11-23T10-00-00Z.tar.gz', contents: { projects: 1, steps: 1 } });
    expect(await code(restoreBackup(folder, broken!.name, new Date()))).toBe('BACKUP_UNREADABLE');
    const { setAside } = await restoreBackup(folder, good!.name, new Date('2026-11-23T12:00:00Z'));
    const restored = await openDatabase({ folder });
    expect((await listSummaries(restored)).projects.map(({ id }) => id)).toEqual(['first']);
    await restored.close();
    const other = path.join(await newFolder(), 'data');
    await mkdir(other, { recursive: true });
    await rename(setAside, path.join(other, 'pg'));
    const former = await openDatabase({ folder: other });
    expect((await listSummaries(former)).projects.map(({ id }) => id).sort()).toEqual(['first', 'second']);
    await former.close();
  }, 120_000);
  test('a backup that cannot be opened is not kept', async () => {
    const place = await newFolder();
    expect(await code(backUp(async () => new Blob(['nothing']), place, new Date()))).toBe('BACKUP_UNREADABLE');
    expect(await listBackups(place)).toEqual([]);
    expect(await readdir(place)).toEqual([]);
  }, 60_000);
});
