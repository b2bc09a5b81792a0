import type { Database } from './database';
import { backedUpState, backUp } from './backup';
import { log } from './log';
import { purgeDeleted, stateMark } from './stores/projects';
import { collectGoneWalks } from './stores/samples';
import { UNDO_DELETE_MS } from './services/projects';

/** Samples of a deleted walk are kept this long for undo. */
const GONE_WALK_MS = 30 * 24 * 3600_000;
const TIDY_MS = 60_000;
/** Minutes between backups while something changes. */
const BACKUP_MINUTES = 10;

function backupMs(): number {
  const minutes = Number(process.env.UPPER_ROOM_BACKUP_MINUTES ?? BACKUP_MINUTES);
  return (Number.isFinite(minutes) && minutes > 0 ? minutes : BACKUP_MINUTES) * 60_000;
}

/** What goes on by itself while the server runs: what is gone for good is collected, and backups are made when something changed. */
export function startHousekeeping(db: Database, backupFolder: string): { stop(): Promise<void> } {
  let running: Promise<void> = Promise.resolve();
  const guarded = (what: string, work: () => Promise<unknown>) =>
    (running = running.then(work).then(
      () => undefined,
      (error: unknown) => log.error({ error: String(error) }, what),
    ));

  const tidy = () =>
    guarded('tidying up failed', async () => {
      await purgeDeleted(db, UNDO_DELETE_MS);
      await collectGoneWalks(db, GONE_WALK_MS);
    });
  const backup = () =>
    guarded('the backup failed', async () => {
      const mark = await stateMark(db);
      if (db.dump === null || mark === (await backedUpState(backupFolder))) return;
      const file = await backUp(db.dump, backupFolder, new Date(), mark);
      log.info({ file }, 'backed up');
    });

  const timers = [setInterval(() => void tidy(), TIDY_MS), setInterval(() => void backup(), backupMs())];
  for (const timer of timers) timer.unref();
  return {
    async stop() {
      for (const timer of timers) clearInterval(timer);
      await running;
    },
  };
}
