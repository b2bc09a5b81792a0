import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { openDatabase, openInMemory, type Database } from './database';

/** PostgreSQL's programs, where Debian or the path has them; null where they are not installed. */
function postgresBin(): string | null {
  const debian = '/usr/lib/postgresql';
  const versions = existsSync(debian) ? readdirSync(debian).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [...versions.map((version) => path.join(debian, version, 'bin')), ...(process.env.PATH ?? '').split(':')];
  return folders.find((folder) => existsSync(path.join(folder, 'initdb')) && existsSync(path.join(folder, 'postgres'))) ?? null;
}

const asPostgres = (command: string, args: readonly string[]): [string, string[]] =>
  process.getuid?.() === 0 ? ['runuser', ['-u', 'postgres', '--', command, ...args]] : [command, [...args]];

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export type Cluster = Readonly<{ url(name: string): string; stop(): void; kill(): Promise<void>; start(): Promise<void> }>;

/** Why PostgreSQL is left out here; null when it can be tested. */
export function postgresMissing(): string | null {
  if (postgresBin() === null) return 'PostgreSQL is not installed';
  if (process.getuid?.() !== 0) return null;
  try {
    execFileSync('id', ['postgres'], { stdio: 'ignore' });
    return null;
  } catch {
    return 'there is no user postgres to run it as';
  }
}

/** A PostgreSQL of the tests' own, on a free port and a folder in the temporary one. */
export async function startCluster(): Promise<Cluster> {
  const bin = postgresBin()!;
  const folder = mkdtempSync(path.join(os.tmpdir(), 'upper-room-pg-'));
  if (process.getuid?.() === 0) execFileSync('chown', ['postgres', folder]);
  const data = path.join(folder, 'data');
  execFileSync(...asPostgres(path.join(bin, 'initdb'), ['-D', data, '-U', 'upper', '-A', 'trust', '-E', 'UTF8', '--no-sync']), { stdio: 'ignore' });
  const port = await freePort();
  let child: ChildProcess | null = null;
  const start = async () => {
    child = spawn(...asPostgres(path.join(bin, 'postgres'), ['-D', data, '-p', String(port), '-k', folder, '-h', '127.0.0.1', '-c', 'fsync=off']), {
      stdio: 'ignore',
    });
    for (let i = 0; ; i++) {
      try {
        execFileSync(path.join(bin, 'psql'), ['-h', '127.0.0.1', '-p', String(port), '-U', 'upper', '-d', 'postgres', '-c', 'SELECT 1'], {
          stdio: 'ignore',
        });
        return;
      } catch (error) {
        if (i > 100) throw error;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    }
  };
  const pgCtl = (mode: string) => execFileSync(...asPostgres(path.join(bin, 'pg_ctl'), ['-D', data, 'stop', '-m', mode, '-w']), { stdio: 'ignore' });
  await start();
  return {
    url(name) {
      execFileSync(path.join(bin, 'createdb'), ['-h', '127.0.0.1', '-p', String(port), '-U', 'upper', name], { stdio: 'ignore' });
      return `postgres://upper@127.0.0.1:${port}/${name}`;
    },
    start,
    async kill() {
      const ended = new Promise((resolve) => child?.once('exit', resolve));
      pgCtl('immediate');
      await ended;
    },
    stop() {
      try {
        pgCtl('immediate');
      } catch {
        // It was stopped by the test.
      }
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** A kind of database to run tests on: `open` gives an empty one each time. */
export type Backend = Readonly<{ name: string; begin(): Promise<void>; open(): Promise<Database>; end(): void }>;

/** Every database there is here; what is left out is said. */
export function backends(): Backend[] {
  const pglite: Backend = { name: 'PGlite', begin: async () => {}, open: openInMemory, end: () => {} };
  const missing = postgresMissing();
  if (missing !== null) {
    console.warn(`The server's tests run on PGlite only: ${missing}.`);
    return [pglite];
  }
  let cluster: Cluster | null = null;
  let count = 0;
  return [
    pglite,
    {
      name: 'PostgreSQL',
      begin: async () => void (cluster = await startCluster()),
      open: () => openDatabase({ url: cluster!.url(`db${++count}`), folder: '' }),
      end: () => cluster?.stop(),
    },
  ];
}
