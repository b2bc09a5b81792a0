import { Origin, type WebDriver } from 'selenium-webdriver';
import { Select } from 'selenium-webdriver/lib/select.js';
import { byRole, byTestId, eventually, textOf } from './browser';

/** What a user does on the plan, in metres: the moves that tests and pictures share. */

/** Opens a project and waits for its map. */
export async function openProject(driver: WebDriver, url: string, id: string): Promise<void> {
  await driver.get(`${url}/projects/${id}`);
  await textOf(driver, 'share');
}

/** Where a spot of the plan lies on the screen, from the position of a named access point and the plan's scale. */
export async function toPx(driver: WebDriver, xM: number, yM: number): Promise<{ x: number; y: number }> {
  return driver.executeScript(
    `const svg = document.querySelector('[data-testid=plan]'); const g = svg.querySelector('g[transform^=scale]'); const p = svg.createSVGPoint(); p.x = arguments[0]; p.y = arguments[1];
     const at = p.matrixTransform(g.getScreenCTM()); return { x: Math.round(at.x), y: Math.round(at.y) };`,
    xM,
    yM,
  );
}

export async function movePlan(driver: WebDriver, xM: number, yM: number): Promise<void> {
  await driver
    .actions()
    .move({ ...(await toPx(driver, xM, yM)), origin: Origin.VIEWPORT })
    .perform();
  await driver.sleep(60);
}

export async function clickPlan(driver: WebDriver, xM: number, yM: number): Promise<void> {
  await driver
    .actions()
    .move({ ...(await toPx(driver, xM, yM)), origin: Origin.VIEWPORT })
    .press()
    .release()
    .perform();
  await driver.sleep(60);
}

/** Drags from one spot to another in several moves, as a hand does. `during` is called before the release. */
export async function dragPlan(
  driver: WebDriver,
  from: readonly [number, number],
  to: readonly [number, number],
  during?: () => Promise<void>,
): Promise<void> {
  await driver
    .actions()
    .move({ ...(await toPx(driver, ...from)), origin: Origin.VIEWPORT })
    .press()
    .perform();
  for (let i = 1; i <= 5; i++) {
    const px = await toPx(driver, from[0] + ((to[0] - from[0]) * i) / 5, from[1] + ((to[1] - from[1]) * i) / 5);
    await driver
      .actions()
      .move({ ...px, origin: Origin.VIEWPORT, duration: 40 })
      .perform();
  }
  await during?.();
  await driver.actions().release().perform();
  await driver.sleep(80);
}

export async function chooseIn(driver: WebDriver, label: string, text: RegExp): Promise<void> {
  const select = new Select(await byRole(driver, 'combobox', label));
  for (const option of await select.getOptions()) {
    const shown = await option.getText();
    if (text.test(shown)) return select.selectByVisibleText(shown);
  }
  throw new Error(`${label} has no option like ${text}`);
}

export const toLens = (driver: WebDriver, name: string) => chooseIn(driver, 'lens', new RegExp(`^${name}$`));
export const toBand = (driver: WebDriver, band: string) => chooseIn(driver, 'band', new RegExp(`${band} GHz`));

/** Waits until the page says that everything is saved. */
export const saved = (driver: WebDriver) =>
  eventually(
    driver,
    () => textOf(driver, 'save-state'),
    (text) => text === 'saved',
    'save state',
  );

/** The strongest radio's level in the readout, in dBm. */
export async function strongestDbm(driver: WebDriver): Promise<number> {
  return Number((await (await byTestId(driver, 'strongest-dbm')).getText()).replace('−', '-'));
}

/** What the card beside the scale says of a measured map: the share in percent, the area it is of, and that of the whole, in m². */
export async function measuredCard(driver: WebDriver): Promise<{ share: number; of: number; part: number; whole: number }> {
  const text = await (await byRole(driver, 'status', 'Share of area that passes')).getText();
  const [, share, of, part, whole] =
    text.replace(/[\u00a0\u2009\u202f]/g, '').match(/([\d.]+) %\s+of the ([\d ]+) ?m² measured[^]*?([\d ]+) ?m² of ([\d ]+) ?m² measured/) ?? [];
  const number = (figure = '') => Number(figure.replace(/\D/g, '') || NaN);
  return { share: Number(share), of: number(of), part: number(part), whole: number(whole) };
}

/** Waits until whoever walks is at a spot of the plan, in m. */
export async function walkedTo(driver: WebDriver, xM: number, yM: number): Promise<void> {
  await eventually(
    driver,
    async () => {
      const to = await toPx(driver, xM, yM);
      return driver.executeScript<number>(
        `const at = document.querySelector('[data-testid=walker]')?.getScreenCTM(); return at ? Math.hypot(at.e - arguments[0], at.f - arguments[1]) : Infinity;`,
        to.x,
        to.y,
      );
    },
    (offPx) => offPx < 3,
    `the walk at ${xM} m, ${yM} m`,
  );
}

/** Puts the receiver of Air at a spot of the floor, in m. */
export async function stand(driver: WebDriver, xM: number, yM: number): Promise<void> {
  const at: { x: number; y: number } = await driver.executeScript(
    `const svg = document.querySelector('.air-side svg');
     const point = new DOMPoint(arguments[0], arguments[1]).matrixTransform(svg.getScreenCTM());
     return { x: Math.round(point.x), y: Math.round(point.y) };`,
    xM,
    yM,
  );
  await driver.actions().move(at).click().perform();
}
