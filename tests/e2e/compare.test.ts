import { beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Driver } from 'selenium-webdriver/chrome.js';
import { byRole, eventually, textOf } from './browser';
import { chooseIn, clickPlan, openProject, saved, strongestDbm, toBand } from './moves';
import { driver, server, stored } from './together';

const folder = mkdtempSync(path.join(os.tmpdir(), 'upper-room-files-'));
const percents = (text: string): number[] => [...text.matchAll(/(\d+\.\d) %/g)].map(([, value]) => Number(value));
const sumOfComparison = async () => (await byRole(driver, 'status', 'Comparison')).getText();

/** Runs a command by its name, as from the keyboard. */
async function command(title: string): Promise<void> {
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'k'));
  await (await byRole(driver, 'combobox', /./)).getId();
  await driver.switchTo().activeElement().sendKeys(title, Key.ENTER);
}

/** The one file of that ending that the browser keeps next. */
async function kept(suffix: string, work: () => Promise<void>): Promise<Buffer> {
  const before = new Set(readdirSync(folder));
  await work();
  const [name] = await eventually(
    driver,
    async () => readdirSync(folder).filter((file) => !before.has(file) && file.endsWith(suffix)),
    (files) => files.length === 1,
    `a file ${suffix}`,
  );
  return readFileSync(path.join(folder, name!));
}

beforeAll(async () => {
  await (driver as unknown as Driver).setDownloadPath(folder);
  await openProject(driver, server.url, 'quillhaven');
});

test('two variants side by side say what each says alone, and their difference where the hand is', async () => {
  await toBand(driver, '5');
  const proposed = percents(await textOf(driver, 'share'))[0]!;
  await chooseIn(driver, 'Variant', /^As found$/);
  const found = await eventually(
    driver,
    async () => percents(await textOf(driver, 'share'))[0],
    (share) => share !== undefined && share !== proposed,
    'the share of the other variant',
  );
  await command('Compare with another');
  const sum = await eventually(driver, sumOfComparison, (text) => percents(text).length === 2, 'both shares');
  // What is compared with comes first, what is in hand last.
  expect(percents(sum)).toEqual([proposed, found]);
  expect(Number(/\(([^ ]+) points\)/.exec(sum)![1]!.replace('−', '-'))).toBeCloseTo(found! - proposed, 1);

  await command('Show or hide the difference');
  await clickPlan(driver, 9.4, 8);
  const title = async (of: string) => (await driver.findElement(By.css(`[aria-label="${of}"] .pane-title`)).getText()).replaceAll('−', '-');
  const dbm = (text: string) => Number(/(-?\d+\.\d) dBm/.exec(text)![1]);
  const then = await eventually(
    driver,
    () => title('Compared with: Proposed'),
    (text) => /dBm/.test(text),
    'the level there',
  );
  // Under the proposed access point Q-08 the other design is much louder.
  const now = await strongestDbm(driver);
  expect(dbm(then)).toBeGreaterThan(now + 5);
  const difference = await eventually(
    driver,
    () => title('Difference'),
    (text) => /-\d+\.\d dB/.test(text),
    'the difference there',
  );
  // The readout is at the spot, the difference at the middle of its cell.
  expect(Math.abs(Number(/(-\d+\.\d) dB/.exec(difference)![1]) - (now - dbm(then)))).toBeLessThan(1.5);
});

test('a design is compared with itself before an edit, radio by radio', async () => {
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await command('Compare with another');
  await chooseIn(driver, 'Variant', /^Proposed$/);
  await driver.findElement(By.css('[data-ap="quill-ap-007"]')).sendKeys(Key.ENTER);
  const { design } = await stored('quillhaven');
  const was = design.accessPoints['quill-ap-007']!.radios.find(({ band }) => band === '5')!.txPowerDbm;
  await (await byRole(driver, 'button', '5 GHz power −3 dB')).click();
  await saved(driver);
  await (await byRole(driver, 'tab', 'History')).click();
  const lines = await driver.findElements(By.css('[aria-label="History"] tbody tr'));
  await lines[1]!.findElement(By.xpath('.//button[contains(., "compare with here")]')).click();
  const table = await byRole(driver, 'table', 'Comparison');
  const rows = await eventually(
    driver,
    async () => (await table.getText()).split('\n'),
    (all) => all.some((row) => row.includes('Q-01')),
    'rows of the comparison',
  );
  const changed = rows.find((row) => /Q-01.*5/.test(row))!;
  expect(changed).toContain(`${was}`);
  expect(changed).toContain(`${was - 3}`);
  // Nothing else was touched.
  expect(rows.filter((row) => /^Q-0[2-9]/.test(row) && / dB$/.test(row))).toEqual([]);
  await (await byRole(driver, 'button', 'end the comparison')).click();
  await (await byRole(driver, 'button', 'Undo')).click();
  await saved(driver);
});

test('tables and the map are kept as files that say what the screen says', async () => {
  await (await byRole(driver, 'tab', 'Radios')).click();
  const csv = (await kept('.csv', async () => (await byRole(driver, 'button', 'save as CSV')).click())).toString('utf8');
  const [head, ...rows] = csv
    .replace('\uFEFF', '')
    .trimEnd()
    .split('\r\n')
    .map((row) => row.split(','));
  const at = (row: string[], name: string) => row[head!.indexOf(name)];
  const { design } = await stored('quillhaven');
  const floorId = design.accessPoints['quill-ap-007']!.floorId;
  const aps = Object.values(design.accessPoints).filter(
    (ap) => ap.floorId === floorId && ap.variantId === design.accessPoints['quill-ap-007']!.variantId,
  );
  expect(rows).toHaveLength(aps.reduce((sum, ap) => sum + ap.radios.length, 0));
  for (const ap of aps)
    for (const radio of ap.radios) {
      const row = rows.find((one) => at(one, 'radio') === ap.name && at(one, 'band [GHz]') === radio.band)!;
      expect([at(row, 'channel'), at(row, 'width [MHz]'), at(row, 'power [dBm]')]).toEqual(
        [radio.channel, radio.widthMhz, radio.txPowerDbm].map(String),
      );
    }
  const card = await (await byRole(driver, 'status', 'Share of area that passes')).getText();
  const area = Number(/of ([\d\s\u00a0\u202f]+) m²/.exec(card)![1]!.replace(/\D/g, ''));
  const served = rows.filter((row) => at(row, 'band [GHz]') === '5').reduce((sum, row) => sum + Number(at(row, 'serves [m2]')), 0);
  expect(served).toBeLessThanOrEqual(area + 1);
  expect(served).toBeGreaterThan(area * 0.95);

  const share = percents(await textOf(driver, 'share'))[0]!;
  const svg = (await kept('.svg', () => command('Keep the map as SVG'))).toString('utf8');
  for (const words of [
    'Quillhaven Maritime Museum: Quay level',
    'Proposed · Signal, dBm · 5 GHz · predicted',
    `${share} % of the area`,
    'Q-01',
    'threshold −67 dBm',
  ])
    expect(svg).toContain(words);
  // Nothing in it asks for the page it came from.
  expect(svg).not.toMatch(/var\(|blob:|http:\/\/127/);
  const png = await kept('.png', () => command('Keep the map as PNG'));
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([2800, 1960]);
  // A sheet of one colour would weigh a few kilobytes.
  expect(png.length).toBeGreaterThan(200_000);
});
