import { symlink } from 'node:fs/promises';
import { newFolder, startServer } from '../e2e/server';
import { lockFolder } from '@/server/folderLock';
import path from 'node:path';
import { fork } from 'node:child_process';
import { writeFile } from 'node:fs/promises';

const TRIALS = 200;

/** Two processes on one folder, one of them through a link: exactly one may have it, whatever died there before. */
export async function locks(): Promise<string> {
  const folder = path.join(await newFolder(), 'data');
  const link = `${folder}-link`;
  await (await lockFolder(folder)).release();
  await symlink(folder, link);
  const child = path.resolve('.setup/lock-child.mjs');
  const { buildSync } = await import('esbuild');
  const entry = path.resolve('.setup/lock-child.ts');
  await writeFile(
    entry,
    `import { lockFolder } from '@/server/folderLock';
     process.on('message', (folder) => lockFolder(String(folder)).then(() => process.send!('mine'), (error) => process.send!(String(error.code))));
     process.send!('ready');`,
  );
  buildSync({
    entryPoints: [entry],
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    outfile: child,
    alias: { '@': path.resolve('src') },
  });
  let owned = 0;
  let refused = 0;
  let both = 0;
  for (let trial = 0; trial < TRIALS; trial++) {
    const pair = [fork(child), fork(child)];
    const said = (one: (typeof pair)[number]) => new Promise<string>((resolve) => one.once('message', (text) => resolve(String(text))));
    await Promise.all(pair.map(said));
    const answers = Promise.all(pair.map(said));
    pair[0]!.send(folder);
    pair[1]!.send(link);
    const got = await answers;
    const mine = got.filter((text) => text === 'mine').length;
    if (mine === 1) owned++;
    if (mine === 2) both++;
    refused += got.filter((text) => text === 'DATA_FOLDER_IN_USE').length;
    // The owner is killed, so that each trial begins with a lock left behind by the dead.
    await Promise.all(pair.map((one) => new Promise((resolve) => (one.once('exit', resolve), one.kill('SIGKILL')))));
  }
  const server = await startServer({ folder });
  const second = await startServer({ folder: link }).then(
    () => 'started',
    () => 'refused',
  );
  await server.stop();
  return `${TRIALS} trials of two processes: one owner in ${owned}, two owners in ${both}, refused ${refused}; a second server by the link: ${second}`;
}
