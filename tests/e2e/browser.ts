import { Builder, By, type WebDriver, type WebElement, until } from 'selenium-webdriver';
import { Options, ServiceBuilder, type Driver } from 'selenium-webdriver/chrome.js';

const FLAGS = [
  '--headless=new',
  '--no-sandbox',
  '--disable-dev-shm-usage',
  '--window-size=1280,800',
  '--hide-scrollbars',
  '--force-device-scale-factor=1',
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
];

/** A headless Chromium of exactly 1280 x 800. */
export async function openBrowser(): Promise<WebDriver> {
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...FLAGS);
  options.set('goog:loggingPrefs', { browser: 'ALL' });
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  await exactViewport(driver);
  return driver;
}

/** Sets the viewport of the window in front. */
export const viewport = (driver: WebDriver, width: number, height: number): Promise<void> =>
  (driver as unknown as Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  }) as Promise<void>;

/** The size that everything is made for; each new window needs it again. */
export const exactViewport = (driver: WebDriver): Promise<void> => viewport(driver, 1280, 800);

/** Takes the network from the window in front, or gives it back. */
export async function setOffline(driver: WebDriver, offline: boolean): Promise<void> {
  const tools = driver as unknown as Driver;
  await tools.sendDevToolsCommand('Network.enable', {});
  await tools.sendDevToolsCommand('Network.emulateNetworkConditions', { offline, latency: 0, downloadThroughput: -1, uploadThroughput: -1 });
}

/**
 * Elements that are on the screen, each with what it is probably called. To ask the browser for every name takes a call each, some hundred for a search; this is one call, and only what it points at is
 * asked for its name.
 */
const ON_SCREEN = `
  const words = (e) => e.innerText ?? e.textContent ?? '';
  const by = (ids) => ids.split(/\\s+/).map((id) => document.getElementById(id)?.textContent ?? '').join(' ');
  const name = (e) =>
    e.ariaLabel || (e.getAttribute('aria-labelledby') && by(e.getAttribute('aria-labelledby'))) || [...(e.labels ?? [])].map((one) => one.textContent).join(' ') ||
    e.caption?.textContent || (e.matches('input, textarea, select') ? '' : words(e)) || e.title || e.placeholder || '';
  return [...document.querySelectorAll(arguments[0])].filter((e) => e.getClientRects().length > 0).map((e) => [e, name(e).replace(/\\s+/g, ' ').trim()]);`;
/** After so long also what is probably called otherwise is asked for its name, in ms. */
const SURE_AFTER_MS = 1500;

/** An element of a role by its accessible name, as a user of a screen reader would ask for it: the browser computes both. */
export async function byRole(driver: WebDriver, role: string, name: string | RegExp, timeoutMs = 40_000): Promise<WebElement> {
  const selectors: Readonly<Record<string, string>> = {
    button: 'button,[role=button]',
    link: 'a[href]',
    tab: '[role=tab]',
    combobox: 'select,[role=combobox]',
    textbox: 'input:not([type=checkbox]):not([type=range]),textarea',
    checkbox: 'input[type=checkbox]',
    slider: '[role=slider],input[type=range]',
    spinbutton: 'input[type=number]',
    option: '[role=option]',
    table: 'table',
    region: 'section,[role=region]',
  };
  const matches = (text: string) => (typeof name === 'string' ? text === name : name.test(text));
  const started = Date.now();
  return driver.wait(
    async () => {
      const shown = await driver.executeScript<Array<[WebElement, string]>>(ON_SCREEN, selectors[role] ?? `[role=${role}]`);
      for (const [element, probably] of shown) {
        if (!matches(probably) && Date.now() - started < SURE_AFTER_MS) continue;
        try {
          if (!matches(await element.getAccessibleName())) continue;
          // A tick box is drawn by its frame; the box itself lies unseen on top and takes the clicks.
          const drawn = role === 'checkbox' ? await element.findElement(By.xpath('..')) : element;
          if (await drawn.isDisplayed()) return element;
        } catch (error) {
          // The page replaced the element while it was being looked at; the next round sees the new one.
          if ((error as Error).name !== 'StaleElementReferenceError') throw error;
        }
      }
      return null;
    },
    timeoutMs,
    `no ${role} named ${name}`,
  ) as Promise<WebElement>;
}

export const byTestId = (driver: WebDriver, id: string, timeoutMs = 40_000): Promise<WebElement> =>
  driver.wait(until.elementLocated(By.css(`[data-testid="${id}"]`)), timeoutMs, `no element ${id}`);

/** Text of an element, asked for again when the page replaces it meanwhile. */
export async function textOf(driver: WebDriver, id: string): Promise<string> {
  return driver.wait(async () => {
    try {
      return (await (await byTestId(driver, id)).getText()) || null;
    } catch (error) {
      if ((error as Error).name !== 'StaleElementReferenceError') throw error;
      return null;
    }
  }, 40_000) as Promise<string>;
}

/** Waits until a reading satisfies a condition and returns it; on failure says what it was last. */
export async function eventually<T>(
  driver: WebDriver,
  read: () => Promise<T>,
  holds: (value: T) => boolean,
  what: string,
  timeoutMs = 40_000,
): Promise<T> {
  let last: T | undefined;
  try {
    await driver.wait(async () => {
      last = await read();
      return holds(last);
    }, timeoutMs);
  } catch {
    throw new Error(`${what}: last seen ${JSON.stringify(last)}`);
  }
  return last as T;
}
