import { createHash } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { connect, createServer, type Server } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { UpperRoomError } from '@/core/errors';

export type FolderLock = { release(): Promise<void> };

/** A unix socket's path may have 107 bytes at most. */
const MAX_SOCKET_PATH = 100;

/** The socket beside the folder, or, where that path is too long, in the temporary folder under the folder's hash. */
function socketPath(folder: string): string {
  const beside = `${path.resolve(folder)}.lock`;
  if (Buffer.byteLength(beside) <= MAX_SOCKET_PATH) return beside;
  return path.join(os.tmpdir(), `upper-room-${createHash('sha256').update(path.resolve(folder)).digest('hex').slice(0, 24)}.lock`);
}

const listen = (file: string): Promise<Server> =>
  new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.end());
    server.once('error', reject);
    server.listen(file, () => resolve(server.unref()));
  });

const answers = (file: string): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(file);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });

/**
 * Takes the folder for this process: PGlite has no lock of its own, and two processes on one folder corrupt it silently.
 * A listening socket is the lock: the kernel closes it however the process ends, kill -9 included.
 * @throws UpperRoomError DATA_FOLDER_IN_USE
 */
export async function lockFolder(folder: string): Promise<FolderLock> {
  const file = socketPath(folder);
  for (let attempt = 0; attempt < 3; attempt++) {
    try {
      const server = await listen(file);
      return { release: () => new Promise((resolve) => server.close(() => resolve())) };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
      if (await answers(file)) throw new UpperRoomError('DATA_FOLDER_IN_USE', { folder: path.resolve(folder) });
      await rm(file, { force: true }); // left behind by a process that was killed
    }
  }
  throw new UpperRoomError('DATA_FOLDER_IN_USE', { folder: path.resolve(folder) });
}
