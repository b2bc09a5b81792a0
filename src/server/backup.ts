import { spawn } from 'node:child_process';
import { mkdir, open, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { UpperRoomError } from '@/core/errors';

/** A backup's name is its time, in UTC, without what file systems dislike. */
const NAME = /^(\d{4}-\d{2}-\d{2})T(\d{2})-(\d{2})-(\d{2})Z\.tar\.gz$/;

export const nameAt = (at: Date): string => `${at.toISOString().slice(0, 19).replaceAll(':', '-')}Z.tar.gz`;

export function timeOf(name: string): Date | null {
  const parts = NAME.exec(name);
  return parts === null ? null : new Date(`${parts[1]}T${parts[2]}:${parts[3]}:${parts[4]}Z`);
}

/** What the newest backup holds, as `stateMark` says it: nothing is backed up twice, not after a restart either. */
const STATE = 'state';
export const backedUpState = (folder: string): Promise<string | null> => readFile(path.join(folder, STATE), 'utf8').catch(() => null); // not there, or not readable: one backup more

/** The backups of a folder, oldest first. */
export async function listBackups(folder: string): Promise<Array<{ name: string; at: Date }>> {
  const names = await readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return [];
    throw error;
  });
  return names
    .flatMap((name) => {
      const at = timeOf(name);
      return at === null ? [] : [{ name, at }];
    })
    .sort((a, b) => a.at.getTime() - b.at.getTime());
}

const HOUR_MS = 3600_000;
/** Up to an age, one backup is kept of each stretch of time; the newest always. */
const KEPT: ReadonlyArray<readonly [ageMs: number, everyMs: number]> = [
  [2 * HOUR_MS, 0],
  [48 * HOUR_MS, HOUR_MS],
  [31 * 24 * HOUR_MS, 24 * HOUR_MS],
  [Infinity, 30 * 24 * HOUR_MS],
];

/** Which of some backups have served their time: dense for the last hours, one an hour for two days, one a day for a month, then one a month. */
export function outdated(times: readonly Date[], now: Date): Date[] {
  const newestFirst = [...times].sort((a, b) => b.getTime() - a.getTime());
  const seen = new Set<string>();
  return newestFirst.filter((time, i) => {
    const everyMs = KEPT.find(([ageMs]) => now.getTime() - time.getTime() <= ageMs)![1];
    if (i === 0 || everyMs === 0) return false;
    // The oldest of a stretch would serve as well; the newest is what people ask for.
    const stretch = `${everyMs}/${Math.floor(time.getTime() / everyMs)}`;
    if (seen.has(stretch)) return true;
    seen.add(stretch);
    return false;
  });
}

/** What a backup holds, as the check found it by opening it. */
export type BackupContents = Readonly<{ projects: number; steps: number; samples: number; lastMigration: string }>;

/**
 * Opens a backup in a process of its own and counts what is in it: a backup that nobody has opened is a hope.
 * @throws UpperRoomError BACKUP_UNREADABLE
 */
export function checkBackup(file: string): Promise<BackupContents> {
  const script = path.join(/* turbopackIgnore: true */ process.env.UPPER_ROOM_ROOT ?? process.cwd(), 'scripts/check-backup.mjs');
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [script, file], { stdio: ['ignore', 'pipe', 'pipe'] });
    let out = '';
    let problem = '';
    child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (problem += chunk.toString()));
    child.once('error', (error) => reject(new UpperRoomError('BACKUP_UNREADABLE', { file, problem: error.message })));
    child.once('exit', (code) => {
      if (code === 0) resolve(JSON.parse(out) as BackupContents);
      else reject(new UpperRoomError('BACKUP_UNREADABLE', { file, problem: problem.trim().split('\n').at(-1)?.slice(0, 300) ?? '' }));
    });
  });
}

/** Makes a backup, checks it, and lets older ones go by age. Returns its path. @throws UpperRoomError BACKUP_UNREADABLE */
export async function backUp(dump: () => Promise<Blob>, folder: string, now: Date, mark = ''): Promise<string> {
  await mkdir(folder, { recursive: true });
  const file = path.join(folder, nameAt(now));
  const unchecked = `${file}.unchecked`;
  try {
    const handle = await open(unchecked, 'w');
    await handle
      .writeFile(Buffer.from(await (await dump()).arrayBuffer()))
      .then(() => handle.sync())
      .finally(() => handle.close());
    await checkBackup(unchecked);
    await rename(unchecked, file);
    await writeFile(path.join(folder, STATE), mark);
  } catch (error) {
    await rm(unchecked, { force: true });
    throw error;
  }
  const times = (await listBackups(folder)).map(({ at }) => at);
  for (const time of outdated(times, now)) await rm(path.join(folder, nameAt(time)), { force: true });
  return file;
}
