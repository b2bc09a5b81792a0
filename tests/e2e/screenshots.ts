import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key, until, type WebDriver } from 'selenium-webdriver';
import { drawnSheet } from '@demo/drawing/image';
import { planOf } from '@demo/drawing/plan';
import { pngOf } from '@demo/drawing/png';
import { museum } from '@demo/museum';
import { floorsOf } from '@/core/design/design';
import { byRole, eventually, openBrowser, textOf, viewport } from './browser';
import { chooseIn, clickPlan, openProject, stand, toBand, toLens } from './moves';
import { startServer } from './server';

const OUT = 'docs/screenshots';

/** One current picture of each main view, from the demo data. */
async function shoot(driver: WebDriver, name: string): Promise<void> {
  await driver.sleep(700);
  writeFileSync(`${OUT}/${name}.png`, await driver.takeScreenshot(), 'base64');
  console.log(`${OUT}/${name}.png`);
}

/** An old scan of the Quay level, brought into a new project; one wall that was found is taken out. */
async function foundWalls(): Promise<void> {
  const scan = path.join(mkdtempSync(path.join(os.tmpdir(), 'upper-room-scan-')), 'Quay level, old scan.png');
  const plan = planOf(museum(), floorsOf(museum())[0]!.id);
  writeFileSync(scan, pngOf(drawnSheet(plan, { style: 'filled', pxPerM: 40, busy: true, scan: true })));
  await driver.get(server.url);
  await (await byRole(driver, 'button', 'New project')).click();
  await (await byRole(driver, 'textbox', 'name')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Quay level, traced');
  await (await byRole(driver, 'button', 'Create')).click();
  await (await byRole(driver, 'tab', 'Building', 40_000)).click();
  await driver.findElement(By.css('input[type=file]')).sendKeys(scan);
  await (await byRole(driver, 'button', 'Find walls', 30_000)).click();
  await byRole(driver, 'button', /^Draw \d+ walls$/, 60_000);
  await (await byRole(driver, 'button', 'Take this scale')).click();
  await driver.findElement(By.css('[data-proposal]')).sendKeys(Key.ENTER);
  await shoot(driver, 'found-walls');
}

/** The kitchen at lunch. */
/** The oven on the map of the walk at lunch, with where it is. */
async function interferer(): Promise<void> {
  await (await byRole(driver, 'button', 'Swept at lunch, café')).click();
  const oven = By.xpath('//section[@aria-label="What is not Wi-Fi"]//li[contains(., "Microwave oven")]');
  await driver.wait(until.elementLocated(oven), 20_000);
  await driver.findElement(oven).findElement(By.xpath('.//button[text()="Map"]')).sendKeys(Key.ENTER);
  await driver.findElement(oven).findElement(By.xpath('.//button[text()="Locate"]')).sendKeys(Key.ENTER);
  await textOf(driver, 'located-signal');
  await driver.executeScript('document.querySelector("[data-testid=located-signal]").scrollIntoView({ block: "center" })');
  await driver.sleep(2500);
  await shoot(driver, 'interferer');
}

async function air(): Promise<void> {
  await (await byRole(driver, 'tab', 'Air')).click();
  await stand(driver, 66, 17);
  await chooseIn(driver, 'Jump to', /^lunch/);
  await chooseIn(driver, 'Pace of the clock', /^60×/);
  await eventually(
    driver,
    () => driver.findElements(By.css('table[aria-label="Networks heard"] tbody tr')),
    (rows) => rows.length > 20,
    'networks',
  );
  await driver.sleep(3000);
  await chooseIn(driver, 'Pace of the clock', /^1×/);
  await driver.findElement(By.xpath("//table[@aria-label='Networks heard']//tr[contains(., 'chandlery-flat')]//button")).sendKeys(Key.ENTER);
  await driver.executeScript('document.querySelector(".air-sheets .body").scrollTop = 0; document.querySelector(".air-sheets .body").scrollLeft = 0');
  await shoot(driver, 'air-networks');
  await (await byRole(driver, 'button', 'Let it go')).click();
  await (await byRole(driver, 'tab', 'Load')).click();
  await (await byRole(driver, 'button', 'Measure')).click();
  await byRole(driver, 'button', 'Measure again', 60_000);
  await chooseIn(driver, 'for', /^Old-6/);
  // By keyboard: a pointer that rests on it would have its hint in the picture.
  await (await byRole(driver, 'button', 'Night theme')).sendKeys(Key.ENTER);
  await shoot(driver, 'air-load');
  await (await byRole(driver, 'button', 'Day theme')).sendKeys(Key.ENTER);
  await (await byRole(driver, 'tab', 'Spectrum')).click();
  await eventually(
    driver,
    async () => (await driver.findElement(By.css('.air-spectrum canvas')).getAttribute('aria-label')) ?? '',
    (label) => /([2-9]\d\d) sweeps/.test(label),
    'some ten seconds of sweeps',
  );
  await (await byRole(driver, 'button', 'new at the peak')).click();
  await (await byRole(driver, 'button', 'new at the peak')).click();
  await (await byRole(driver, 'button', 'next peak')).click();
  await shoot(driver, 'air-spectrum');
  await (await byRole(driver, 'tab', 'What is it?')).click();
  // The oven pauses between two dishes: looked at again until something is told.
  await eventually(
    driver,
    async () => {
      const look = await byRole(driver, 'button', /^Look (now|again)$/);
      if (await look.isEnabled()) await look.sendKeys(Key.ENTER);
      await driver.sleep(3000);
      return driver.findElements(By.css('.air-cards .found'));
    },
    (cards) => cards.length > 0,
    'what it is',
    120_000,
  );
  await shoot(driver, 'air-what');
}

mkdirSync(OUT, { recursive: true });
const server = await startServer();
const driver = await openBrowser();
try {
  await driver.get(server.url);
  await byRole(driver, 'link', /^Open Quillhaven/);

  await openProject(driver, server.url, 'quillhaven');
  await clickPlan(driver, 51, 25.5);
  await shoot(driver, 'design-signal');
  await toLens(driver, 'Signal');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);

  await (await byRole(driver, 'button', 'Propose positions…')).click();
  await chooseIn(driver, 'model', /^Heron C4/);
  await (await byRole(driver, 'button', 'Propose')).click();
  await byRole(driver, 'button', /^Hang \d+ access points$/, 120_000);
  await shoot(driver, 'positions');
  await (await byRole(driver, 'button', 'Discard')).click();
  await (await byRole(driver, 'button', 'Close')).click();

  await toLens(driver, 'Rate');
  await driver.findElement(By.css('body')).sendKeys('c');
  await (await byRole(driver, 'button', 'show the difference')).click();
  await byRole(driver, 'status', 'Comparison', 40_000);
  await shoot(driver, 'compare');
  await (await byRole(driver, 'button', 'end the comparison')).click();
  await (await byRole(driver, 'tab', 'Radios')).click();
  await toLens(driver, 'Interference');

  await (await byRole(driver, 'tab', 'Findings')).click();
  await byRole(driver, 'table', 'Findings', 60_000);
  await driver.findElement(By.xpath("//table[@aria-label='Findings']//button[contains(.,'Q-03, 5 GHz: not allowed')]")).click();
  await driver.sleep(600);
  await shoot(driver, 'findings');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Radios')).click();

  await toLens(driver, 'Contention');
  await toBand(driver, '2.4');
  await (await byRole(driver, 'button', 'Retune…')).click();
  await (await byRole(driver, 'button', 'Compute')).click();
  await byRole(driver, 'button', 'Apply', 60_000);
  await shoot(driver, 'retune');
  await (await byRole(driver, 'button', 'Close')).click();
  await toBand(driver, '5');
  await toLens(driver, 'Signal');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Radios')).click();

  await (await byRole(driver, 'tab', 'Building')).click();
  await (await byRole(driver, 'button', /^Gallery level/)).click();
  await driver.findElement(By.css('[data-opening][aria-label^="Door, Metal"]')).sendKeys(Key.ENTER);
  await shoot(driver, 'building');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE, Key.ESCAPE);
  await (await byRole(driver, 'button', /^Quay level/)).click();

  await (await byRole(driver, 'tab', 'Brief')).click();
  await (await byRole(driver, 'button', 'Quay terrace')).click();
  await shoot(driver, 'brief');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);

  await (await byRole(driver, 'tab', 'Survey')).click();
  await (await byRole(driver, 'combobox', 'pace')).sendKeys('20 times');
  await (await byRole(driver, 'button', 'Connect receiver')).click();
  await (await byRole(driver, 'button', 'Start walk')).click();
  await toBand(driver, '5');
  for (const [x, y] of [
    [28, 21],
    [44, 21],
    [44, 36],
    [30, 36],
  ] as const)
    await clickPlan(driver, x, y);
  await driver.sleep(3200);
  await (await byRole(driver, 'button', 'Pause')).click();
  for (const [x, y] of [
    [62, 24],
    [70, 24],
    [70, 35],
    [62, 35],
  ] as const)
    await clickPlan(driver, x, y);
  await eventually(
    driver,
    async () => Number(await textOf(driver, 'sample-count')),
    (count) => count > 150,
    'samples',
  );
  await (await byRole(driver, 'tab', 'Samples')).click();
  await shoot(driver, 'survey-walk');
  await (await byRole(driver, 'button', 'Finish')).click();
  await chooseIn(driver, 'Variant', /^As found$/);
  await chooseIn(driver, 'shows', /^measured$/);
  await (await byRole(driver, 'tab', 'Fit')).click();
  await (await byRole(driver, 'button', 'Look for what is not as drawn, in □ 5 GHz')).click();
  await eventually(
    driver,
    async () => (await driver.findElement(By.css('.fit'))).getText(),
    (text) => /foretold/.test(text) && /nobody drew/.test(text),
    'what the walk teaches',
    120_000,
  );
  // Room for both: what was learned, and what is not as drawn.
  const edge = await driver.findElement(By.css('[role=separator]'));
  await edge.sendKeys(...Array<string>(4).fill(Key.ARROW_UP));
  await driver.executeScript('document.activeElement.blur(); document.querySelector("ol.faults").scrollIntoView({ block: "end" })');
  await shoot(driver, 'survey-measured');
  await edge.sendKeys(...Array<string>(4).fill(Key.ARROW_DOWN));
  await chooseIn(driver, 'shows', /^Trust$/);
  await eventually(
    driver,
    async () => (await byRole(driver, 'status', 'Share of area that passes')).getText(),
    (text) => / dB or less/.test(text),
    'how sure it is',
  );
  await (await byRole(driver, 'tab', 'Coverage curve')).click();
  await (await byRole(driver, 'checkbox', /^only where it is less sure/)).click();
  await (await byRole(driver, 'button', 'Suggest a route')).sendKeys(Key.ENTER);
  await textOf(driver, 'route');
  await shoot(driver, 'trust');
  await (await byRole(driver, 'button', 'Take it off')).sendKeys(Key.ENTER);
  await chooseIn(driver, 'shows', /^Off the model$/);
  await (await byRole(driver, 'tab', 'Samples')).click();
  await (await byRole(driver, 'button', 'difference dB')).click();
  await driver.findElement(By.xpath("//tr[contains(., 'ferry-kiosk')]//button")).sendKeys(Key.ENTER);
  await eventually(
    driver,
    () => textOf(driver, 'located'),
    (text) => text.includes('likeliest at'),
    'where the kiosk is',
  );
  await shoot(driver, 'off-model');
  await (await byRole(driver, 'button', 'Close')).click();
  await driver.findElement(By.css('body')).sendKeys('f');
  await chooseIn(driver, 'shows', /^predicted$/);
  await (await byRole(driver, 'button', 'Start walk')).sendKeys(Key.ENTER);
  await clickPlan(driver, 41, 30);
  await (await byRole(driver, 'button', 'Stand here')).sendKeys(Key.ENTER);
  for (const times of [5, 6]) {
    await (await byRole(driver, 'button', 'Test throughput')).sendKeys(Key.ENTER);
    await eventually(
      driver,
      () => driver.findElements(By.css('table[aria-label="Throughput tests"] tbody tr')),
      (rows) => rows.length === times,
      'the test in the table',
    );
  }
  await shoot(driver, 'throughput');
  await (await byRole(driver, 'button', 'Finish')).sendKeys(Key.ENTER);
  await interferer();
  await air();
  await (await byRole(driver, 'tab', 'Survey')).click();
  await viewport(driver, 390, 844);
  await openProject(driver, server.url, 'quillhaven');
  await (await byRole(driver, 'tab', 'Survey')).click();
  await chooseIn(driver, 'shows', /^measured$/);
  await driver.sleep(4000);
  await driver.executeScript('window.scrollTo(0, 0); document.querySelectorAll("*").forEach((one) => (one.scrollTop = 0))');
  await shoot(driver, 'phone');
  await viewport(driver, 1280, 800);
  await foundWalls();
} finally {
  await driver.quit();
  await server.stop();
}
