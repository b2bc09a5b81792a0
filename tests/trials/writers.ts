import { By, Key } from 'selenium-webdriver';
import { v7 as uuid } from 'uuid';
import type { LogLine, OpenedProject } from '@/contract/http';
import { edit } from '@/core/design/commands';
import { newStep } from '@/core/design/step';
import { eventually, openBrowser, setOffline, textOf } from '../e2e/browser';
import { openProject, saved } from '../e2e/moves';
import { startServer } from '../e2e/server';

const RUNS = Number(process.env.RUNS ?? 10);
const OFFLINE_MS = Number(process.env.OFFLINE_MS ?? 60_000);
const AP = 'cottage-ap-001';

/** Two windows of two browsers and a third writer over HTTP, one window without network for a while: in the end all are equal, and every
 * edit is either in the log or in a list of refused ones. */
export async function writers(): Promise<string> {
  let equal = 0;
  let edits = 0;
  let accounted = 0;
  let refusedAll = 0;
  for (let run = 0; run < RUNS; run++) {
    const server = await startServer();
    const [one, two] = [await openBrowser(), await openBrowser()];
    for (const driver of [one, two]) await openProject(driver, server.url, 'cottage');
    const stored = async () => (await (await fetch(`${server.url}/api/projects/cottage`)).json()) as OpenedProject;
    const rename = async (driver: typeof one, name: string) => {
      await driver.findElement(By.css(`[data-ap="${AP}"]`)).sendKeys(Key.ENTER);
      const field = await driver.findElement(By.css('.inspector input'));
      await field.sendKeys(Key.chord(Key.CONTROL, 'a'), name, Key.ENTER);
      edits++;
    };
    await setOffline(two, true);
    const until = Date.now() + OFFLINE_MS;
    for (let n = 0; Date.now() < until; n++) {
      await rename(two, `two ${run}-${n}`);
      await rename(one, `one ${run}-${n}`);
      const { design, revision } = await stored();
      const step = newStep(uuid(), 'Third', 'browser-third-0003', edit(design, 'accessPoints', 'cottage-ap-002', { xM: 9 + (n % 20) / 10 }));
      await fetch(`${server.url}/api/projects/cottage/steps`, { method: 'POST', body: JSON.stringify({ baseRevision: revision, step }) });
      await new Promise((resolve) => setTimeout(resolve, Math.min(3000, OFFLINE_MS / 10)));
    }
    await setOffline(two, false);
    for (const driver of [one, two]) await saved(driver);
    const log = (await (await fetch(`${server.url}/api/projects/cottage/log?upTo=2000000000`)).json()) as LogLine[];
    const kept = log.filter(({ title }) => title === 'Rename of C-01' || title.startsWith('Rename')).length;
    const refusedIn = async (driver: typeof one) => {
      const found = await driver.findElements(By.xpath('//button[contains(@class, "save-note")]'));
      return found[0] === undefined ? 0 : Number.parseInt(await found[0].getText(), 10);
    };
    const refused = (await refusedIn(one)) + (await refusedIn(two));
    refusedAll += refused;
    accounted += kept + refused;
    const { design } = await stored();
    const title = (driver: typeof one) => driver.findElement(By.css(`[data-ap="${AP}"]`)).getAccessibleName();
    const names = await Promise.all(
      [one, two].map((driver) =>
        eventually(
          driver,
          () => title(driver),
          (name) => name!.includes(design.accessPoints[AP]!.name),
          'the name that stands',
        ),
      ),
    );
    if (names[0] === names[1] && (await textOf(one, 'save-state')) === 'saved') equal++;
    await Promise.all([one.quit(), two.quit()]);
    await server.stop();
  }
  return `${RUNS} runs: all equal in ${equal}; ${edits} edits of one field, ${accounted} in the log or in a list of refused ones (${refusedAll} refused)`;
}
