import { By, Key, Origin, type WebDriver } from 'selenium-webdriver';
import type { OpenedProject } from '@/contract/http';
import { newStep, type Change } from '@/core/design/step';
import { byRole, openBrowser } from '../e2e/browser';
import { twoHundred } from '../e2e/large';
import { openProject, saved, toBand, toLens, toPx, chooseIn, clickPlan } from '../e2e/moves';
import { startServer } from '../e2e/server';

/** Median and 95 % of the frames while something is done, and the longest that the page's main thread did nothing else (W3C, Long Tasks: of 50 ms and more). */
export async function framesOf(driver: WebDriver, what: string, act: () => Promise<void>): Promise<string> {
  await driver.executeScript(
    'window.__t ??= new PerformanceObserver((list) => list.getEntries().forEach(({ duration }) => window.__long.push(duration))).observe({ type: "longtask" }) ?? true; window.__long = []; window.__f = []; let last = performance.now(); window.__on = true; (function tick() { const now = performance.now(); window.__f.push(now - last); last = now; if (window.__on) requestAnimationFrame(tick); })();',
  );
  await act();
  const { all, long } = await driver.executeScript<{ all: number[]; long: number[] }>(
    'window.__on = false; return { all: window.__f, long: window.__long };',
  );
  const sorted = all.slice(2).sort((a, b) => a - b);
  return `${what}: median ${sorted[Math.floor(sorted.length / 2)]!.toFixed(0)} ms, 95 % ${sorted[Math.floor(sorted.length * 0.95)]!.toFixed(0)} ms, ${long.length} long tasks${long.length === 0 ? '' : `, the longest ${Math.max(...long).toFixed(0)} ms`}`;
}

/** Building with 3 000 walls, all of them in view: the plan panned, and an end dragged alone (with Alt). */
async function building(driver: WebDriver, url: string): Promise<string[]> {
  const post = (path: string, body: unknown) => fetch(url + path, { method: 'POST', body: JSON.stringify(body) });
  const created = await post('/api/projects', { name: 'Three thousand', units: 'metric', domain: 'EU', widthM: 120, heightM: 80 });
  const { id } = (await created.json()) as { id: string };
  const { design, revision } = (await (await fetch(`${url}/api/projects/${id}`)).json()) as OpenedProject;
  const floorId = Object.keys(design.floors)[0]!;
  const walls = Array.from({ length: 3000 }, (_, i) => {
    const [x, y, along] = [(Math.floor(i / 2) % 50) * 2.4, Math.floor(i / 100) * 2.6, i % 2 === 0];
    const [bxM, byM] = along ? [x + 2.4, y] : [x, y + 2.6];
    return { id: `w${i}`, floorId, axM: x, ayM: y, bxM, byM, baseM: 0, topM: 3, materialId: ['plasterboard', 'brick', 'glass'][i % 3]! };
  });
  const changes = walls.map((after) => ({ table: 'walls', id: after.id, before: null, after })) as Change[];
  await post(`/api/projects/${id}/steps`, { baseRevision: revision, step: newStep('walls', 'Walls', 'trial', changes) });
  await openProject(driver, url, id);
  await (await byRole(driver, 'tab', 'Building')).click();
  await driver.sleep(1500);
  const at = (x: number, y: number) => toPx(driver, x, y);
  const dragging = async (what: string, from: readonly [number, number], stepM: number) => {
    await driver
      .actions()
      .keyDown(Key.ALT)
      .move({ ...(await at(...from)), origin: Origin.VIEWPORT })
      .press()
      .perform();
    const start = await at(...from);
    const far = await at(from[0] + 40 * stepM, from[1]);
    const line = await framesOf(driver, `3000 walls, ${what}`, async () => {
      for (let i = 1; i <= 40; i++)
        await driver
          .actions()
          .move({ x: Math.round(start.x + ((far.x - start.x) * i) / 40), y: start.y + (i % 3), origin: Origin.VIEWPORT, duration: 20 })
          .perform();
    });
    await driver.actions().release().keyUp(Key.ALT).perform();
    await saved(driver);
    const { design: now } = (await (await fetch(`${url}/api/projects/${id}`)).json()) as OpenedProject;
    return `${line}, ${walls.filter((wall) => now.walls[wall.id]!.axM !== wall.axM || now.walls[wall.id]!.bxM !== wall.bxM).length} walls moved`;
  };
  return [await dragging('pan', [61.3, 40.3], 0.4), await dragging('drag an end', [62.4, 39], 0.05)];
}

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
      const measure = (what: string, act: () => Promise<void>) => framesOf(driver, `${name}, ${what}`, act).then((line) => lines.push(line));
      const at = (x: number, y: number) => toPx(driver, x, y);
      await measure('hover', async () => {
        for (let i = 0; i < 40; i++)
          await driver
            .actions()
            .move({ ...(await at(20 + i * 0.7, 20)), origin: Origin.VIEWPORT, duration: 20 })
            .perform();
      });
      await measure('lenses and bands', async () => {
        for (const lens of ['SNR', 'Contention', 'SINR', 'Rate', 'Resilience', 'Channel', 'Signal']) {
          await toLens(driver, lens);
          await driver.sleep(700);
        }
        for (const band of ['2.4', '6', '5']) {
          await toBand(driver, band);
          await driver.sleep(700);
        }
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
      if (project !== 'quillhaven') continue;
      // A walk at the pace at which samples come quickest, the measured map following.
      await (await byRole(driver, 'tab', 'Survey')).click();
      await (await byRole(driver, 'button', 'Connect receiver')).click();
      await (await byRole(driver, 'button', 'Start walk', 20_000)).click();
      await chooseIn(driver, 'pace', /^20 times/);
      for (const [x, y] of [
        [28, 36],
        [44, 36],
        [44, 20],
        [28, 20],
      ] as const)
        await clickPlan(driver, x, y);
      await measure('walking at 20 m/s', async () => {
        await clickPlan(driver, 44, 15);
        for (let i = 0; i < 40; i++)
          await driver
            .actions()
            .move({ ...(await at(20 + i * 0.7, 20)), origin: Origin.VIEWPORT, duration: 20 })
            .perform();
      });
      await chooseIn(driver, 'shows', /^measured$/);
      await measure('walking, measured map', async () => {
        for (const [x, y] of [
          [24, 15],
          [24, 11],
          [47, 11],
        ] as const)
          await clickPlan(driver, x, y);
        await driver.sleep(6000);
      });
      await (await byRole(driver, 'button', 'Finish')).click();
      await saved(driver);
    }
    lines.push(...(await building(driver, server.url)));
    return lines.join('; ');
  } finally {
    await driver.quit();
    await server.stop();
  }
}
