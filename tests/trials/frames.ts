import { By, Key, Origin } from 'selenium-webdriver';
import type { OpenedProject } from '@/contract/http';
import { newStep } from '@/core/design/step';
import { openBrowser } from '../e2e/browser';
import { twoHundred } from '../e2e/large';
import { openProject, saved, toPx } from '../e2e/moves';
import { startServer } from '../e2e/server';

/** Frame times of the page with 200 access points: hovering, moving the threshold, dragging. Software rendering, so an upper bound. */
export async function frames(): Promise<string> {
  const server = await startServer();
  const driver = await openBrowser();
  try {
    const post = (path: string, body: unknown) => fetch(server.url + path, { method: 'POST', body: JSON.stringify(body) });
    const created = await post('/api/projects', { name: 'Two hundred', units: 'metric', domain: 'EU', widthM: 120, heightM: 80 });
    const { id } = (await created.json()) as { id: string };
    const { design, revision } = (await (await fetch(`${server.url}/api/projects/${id}`)).json()) as OpenedProject;
    const [floorId, variantId] = [Object.keys(design.floors)[0]!, Object.keys(design.variants)[0]!];
    await post(`/api/projects/${id}/steps`, { baseRevision: revision, step: newStep('big', 'Big', 'trial', twoHundred(floorId, variantId)) });
    const lines: string[] = [];
    for (const [name, project, from] of [
      ['museum', 'quillhaven', [36, 28]],
      ['200 APs', id, [57, 44]],
    ] as const) {
      await openProject(driver, server.url, project);
      await driver.sleep(2500);
      const measure = async (what: string, act: () => Promise<void>) => {
        await driver.executeScript(
          'window.__f = []; let last = performance.now(); window.__on = true; (function tick() { const now = performance.now(); window.__f.push(now - last); last = now; if (window.__on) requestAnimationFrame(tick); })();',
        );
        await act();
        const all = await driver.executeScript<number[]>('window.__on = false; return window.__f;');
        const sorted = all.slice(2).sort((a, b) => a - b);
        lines.push(
          `${name}, ${what}: median ${sorted[Math.floor(sorted.length / 2)]!.toFixed(0)} ms, 95 % ${sorted[Math.floor(sorted.length * 0.95)]!.toFixed(0)} ms`,
        );
      };
      const at = (x: number, y: number) => toPx(driver, x, y);
      await measure('hover', async () => {
        for (let i = 0; i < 40; i++)
          await driver
            .actions()
            .move({ ...(await at(20 + i * 0.7, 20)), origin: Origin.VIEWPORT, duration: 20 })
            .perform();
      });
      const flag = await driver.findElement(By.css('[role=slider]'));
      await measure('threshold', async () => {
        for (let i = 0; i < 40; i++) await flag.sendKeys(i % 2 === 0 ? Key.ARROW_UP : Key.ARROW_DOWN);
      });
      await driver
        .actions()
        .move({ ...(await at(from[0], from[1])), origin: Origin.VIEWPORT })
        .press()
        .perform();
      await measure('drag', async () => {
        for (let i = 0; i < 40; i++)
          await driver
            .actions()
            .move({ ...(await at(from[0] + i * 0.1, from[1] + 1)), origin: Origin.VIEWPORT, duration: 20 })
            .perform();
      });
      await driver.actions().release().perform();
      await saved(driver);
    }
    return lines.join('; ');
  } finally {
    await driver.quit();
    await server.stop();
  }
}
