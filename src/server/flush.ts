import { open, readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { log } from './log';

/** Writes wait this long for each other before they are flushed together. */
const WAIT_MS = 1000;

/**
 * Flushes the files of a folder to the disk soon after they were written: PGlite leaves that to the system's own time, so that a power
 * failure could take the last half minute. Only files that changed since the last time are flushed.
 */
export function flusherOf(folder: string): { written(): void; finish(): Promise<void> } {
  const flushed = new Map<string, number>();
  let timer: NodeJS.Timeout | undefined;
  let running: Promise<void> = Promise.resolve();

  async function flush(): Promise<void> {
    for (const entry of await readdir(folder, { recursive: true, withFileTypes: true })) {
      if (!entry.isFile()) continue;
      const file = path.join(entry.parentPath, entry.name);
      try {
        const { mtimeMs } = await stat(file);
        if (flushed.get(file) === mtimeMs) continue;
        const handle = await open(file, 'r');
        await handle.sync().finally(() => handle.close());
        flushed.set(file, mtimeMs);
      } catch (error) {
        // PostgreSQL removes files as it goes on; what is gone needs no flushing.
        if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
        flushed.delete(file);
      }
    }
  }
  const run = () =>
    (running = running.then(flush).catch((error: unknown) => log.error({ error: String(error) }, 'the data could not be flushed to the disk')));

  return {
    written() {
      timer ??= setTimeout(() => {
        timer = undefined;
        void run();
      }, WAIT_MS).unref();
    },
    async finish() {
      clearTimeout(timer);
      await run();
    },
  };
}
