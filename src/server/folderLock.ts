import { link, mkdir, open, readdir, realpath, rm } from 'node:fs/promises';
import { connect, createServer, type Server } from 'node:net';
import path from 'node:path';
import { UpperRoomError } from '@/core/errors';
import { faultOf } from './faults';

/** `folder` is the real path of what is held. */
export type FolderLock = Readonly<{ folder: string; release(): Promise<void> }>;

const NAME = /^lock\.(\d+)$/;

/** The highest lock file there is, and all numbers. */
async function locksIn(folder: string): Promise<{ highest: number; all: number[] }> {
  const all = (await readdir(folder)).flatMap((file) => NAME.exec(file)?.[1] ?? []).map(Number);
  return { highest: Math.max(0, ...all), all };
}

const listen = (file: string): Promise<Server> =>
  new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.end());
    server.once('error', reject);
    server.listen(file, () => resolve(server.unref()));
  });

const close = (server: Server): Promise<void> => new Promise((resolve) => server.close(() => resolve()));

const answers = (file: string): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(file);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    // A full queue of callers means that somebody listens.
    socket.once('error', (error: NodeJS.ErrnoException) => resolve(error.code === 'EAGAIN'));
  });

let count = 0;

/**
 * Takes the folder for this process: PGlite has no lock of its own, and two processes on one folder corrupt it silently.
 *
 * The lock is a listening socket inside the folder, which the kernel closes however the process ends. Sockets are numbered, `lock.1`,
 * `lock.2` ...; who listens on the highest owns the folder. A dead one is never replaced in place, for between looking and replacing another
 * process may have taken it: a newcomer links its own, already listening, under the next number, which only one can do, and looks again for a
 * higher one before it believes itself. The highest file always stays, so numbers never go back. By real path, so that a link to the
 * folder is the folder.
 * @throws UpperRoomError DATA_FOLDER_IN_USE, DISK_READ_ONLY, DISK_FULL
 */
export async function lockFolder(named: string): Promise<FolderLock> {
  try {
    await mkdir(named, { recursive: true });
    const folder = await realpath(named);
    // A socket's path may have 107 bytes at most; through the open folder it is short whatever the folder is called.
    const handle = await open(folder, 'r');
    const at = (file: string) => (process.platform === 'linux' ? `/proc/self/fd/${handle.fd}/${file}` : path.join(folder, file));
    const own = `lock-${process.pid}-${++count}.new`;
    let server: Server | null = null;
    const giveUp = async () => {
      if (server !== null) await close(server);
      await handle.close();
    };
    try {
      for (let attempt = 0; attempt < 20; attempt++) {
        const { highest } = await locksIn(folder);
        if (highest > 0 && (await answers(at(`lock.${highest}`)))) throw new UpperRoomError('DATA_FOLDER_IN_USE', { folder });
        server ??= await listen(at(own));
        try {
          await link(path.join(folder, own), path.join(folder, `lock.${highest + 1}`));
        } catch (error) {
          if ((error as NodeJS.ErrnoException).code === 'EEXIST') continue;
          throw error;
        }
        const now = await locksIn(folder);
        if (now.highest !== highest + 1) {
          // Others were further than this one knew: its number is an old one.
          await rm(path.join(folder, `lock.${highest + 1}`), { force: true });
          continue;
        }
        for (const number of now.all) if (number < now.highest) await rm(path.join(folder, `lock.${number}`), { force: true });
        return { folder, release: giveUp };
      }
      throw new UpperRoomError('DATA_FOLDER_IN_USE', { folder });
    } catch (error) {
      await giveUp();
      throw error;
    }
  } catch (error) {
    throw faultOf(error) ?? error;
  }
}
