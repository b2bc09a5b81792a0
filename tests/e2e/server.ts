import { spawn, type ChildProcess } from 'node:child_process';
import { cp, mkdtemp } from 'node:fs/promises';
import { createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';

export type RunningServer = {
  url: string;
  folder: string;
  port: number;
  process: ChildProcess;
  output: () => string;
  stop(signal?: NodeJS.Signals): Promise<number | null>;
};

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export const newFolder = (): Promise<string> => mkdtemp(path.join(os.tmpdir(), 'upper-room-e2e-'));

/** Whatever a test forgot or failed to stop ends with the tests. */
const children = new Set<ChildProcess>();
process.once('exit', () => children.forEach((child) => child.kill('SIGKILL')));

/** The variable that names a data folder after its first start, of which others are copies. */
export const FIRST_FOLDER = 'UPPER_ROOM_FIRST_FOLDER';

/** Copies a data folder that nobody has open: all but the socket that was its lock. */
export const copyFolder = (from: string, to: string): Promise<void> =>
  cp(from, to, { recursive: true, filter: (file) => !path.basename(file).startsWith('lock') });

async function folderFor(fresh: boolean): Promise<string> {
  const folder = path.join(await newFolder(), 'data');
  const first = process.env[FIRST_FOLDER];
  if (!fresh && first !== undefined) await copyFolder(first, folder);
  return folder;
}

/**
 * Starts the built application as `npm start` does, on a free port and its own data folder: that of a first start, or with `fresh` none yet.
 */
export async function startServer(
  options: { folder?: string; port?: number; fresh?: boolean; args?: string[]; env?: Record<string, string> } = {},
): Promise<RunningServer> {
  const folder = options.folder ?? (await folderFor(options.fresh === true || options.args !== undefined));
  const port = options.port ?? (await freePort());
  const child = spawn(process.execPath, ['scripts/serve.mjs', ...(options.args ?? [])], {
    env: { ...process.env, PORT: String(port), UPPER_ROOM_DATA: folder, NODE_ENV: 'production', ...options.env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  children.add(child);
  child.once('exit', () => children.delete(child));
  let output = '';
  const ended = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
  await new Promise<void>((resolve, reject) => {
    const timer = setTimeout(() => reject(new Error(`server did not start:\n${output}`)), 90_000);
    const take = (chunk: Buffer) => {
      output += chunk.toString();
      if (output.includes('Upper Room is ready')) {
        clearTimeout(timer);
        resolve();
      }
    };
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    void ended.then((code) => {
      clearTimeout(timer);
      reject(new Error(`server ended with ${code}:\n${output}`));
    });
  });
  return {
    url: `http://127.0.0.1:${port}`,
    folder,
    port,
    process: child,
    output: () => output,
    stop(signal = 'SIGTERM') {
      child.kill(signal);
      return ended;
    },
  };
}
