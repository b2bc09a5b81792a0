import { afterAll, beforeAll } from '@jest/globals';
import type { WebDriver } from 'selenium-webdriver';
import type { OpenedProject } from '@/contract/http';
import { openBrowser } from './browser';
import { startServer, type RunningServer } from './server';

/** A server and a browser for the tests of one file, begun before the first and ended after the last. Each file has its own. */
export let server: RunningServer;
export let driver: WebDriver;

beforeAll(async () => {
  server = await startServer();
  driver = await openBrowser();
});
/** What is looked at before browser and server end. */
const last: Array<() => Promise<void>> = [];
export const beforeTheEnd = (look: () => Promise<void>): void => void last.push(look);

afterAll(async () => {
  try {
    for (const look of last) await look();
  } finally {
    await driver.quit();
    await server.stop();
  }
});

/** Starts the server anew, on the same folder and port where these are given. */
export async function restart(options: Parameters<typeof startServer>[0]): Promise<void> {
  server = await startServer(options);
}

/** A project as the server has it. */
export const stored = async (id: string): Promise<OpenedProject> =>
  (await fetch(`${server.url}/api/projects/${id}`)).json() as Promise<OpenedProject>;
