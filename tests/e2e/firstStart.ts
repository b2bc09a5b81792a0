import path from 'node:path';
import { FIRST_FOLDER, copyFolder, newFolder, startServer } from './server';

/**
 * Starts the application once on a new folder, as on a fresh machine, and keeps what it made of it: the other tests begin with copies, for making a
 * database and drawing the demo takes longer than most of them.
 */
export default async function firstStart(): Promise<void> {
  const server = await startServer({ fresh: true });
  await server.stop();
  const kept = path.join(await newFolder(), 'data');
  await copyFolder(server.folder, kept);
  process.env[FIRST_FOLDER] = kept;
}
