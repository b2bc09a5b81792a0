import { Key, type WebDriver } from 'selenium-webdriver';
import { byRole, openBrowser } from '../e2e/browser';
import { chooseIn, openProject } from '../e2e/moves';
import { startServer } from '../e2e/server';
import { framesOf } from './frames';

/** The page's heap after collecting garbage, and what its typed arrays hold beside it, in MB. */
async function memoryMb(driver: WebDriver): Promise<{ heap: number; arrays: number }> {
  const cdp = driver as unknown as { sendAndGetDevToolsCommand(name: string, params?: object): Promise<Record<string, number>> };
  await cdp.sendAndGetDevToolsCommand('HeapProfiler.collectGarbage');
  const { usedSize, backingStorageSize } = await cdp.sendAndGetDevToolsCommand('Runtime.getHeapUsage');
  return { heap: usedSize! / 1e6, arrays: (backingStorageSize ?? 0) / 1e6 };
}

/** The spectrum for ten minutes as they go by, 20 sweeps of 2000 bins a second, at the kitchen's lunch: memory before and after, frames and long tasks at the beginning and the end. */
export async function air(): Promise<string> {
  const server = await startServer();
  const driver = await openBrowser();
  try {
    await openProject(driver, server.url, 'quillhaven');
    await (await byRole(driver, 'tab', 'Air')).click();
    await chooseIn(driver, 'Jump to', /^lunch/);
    await (await byRole(driver, 'tab', 'Spectrum')).click();
    await (await byRole(driver, 'textbox', /^bins/)).sendKeys(Key.chord(Key.CONTROL, 'a'), '2000', Key.ENTER);
    await driver.sleep(3000);
    const lines: string[] = [];
    const memory = async (when: string) => {
      const { heap, arrays } = await memoryMb(driver);
      lines.push(`${when}: heap ${heap.toFixed(0)} MB, arrays ${arrays.toFixed(0)} MB`);
    };
    await memory('at the beginning');
    lines.push(await framesOf(driver, 'spectrum, first half minute', () => driver.sleep(30_000)));
    await driver.sleep(9 * 60_000);
    lines.push(await framesOf(driver, 'spectrum, tenth minute', () => driver.sleep(30_000)));
    const sweeps = await driver.executeScript<string>(`return document.querySelector('.air-spectrum canvas').getAttribute('aria-label')`);
    lines.push(sweeps);
    await memory('after ten minutes');
    return lines.join('; ');
  } finally {
    await driver.quit();
    await server.stop();
  }
}
