import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { byRole, eventually, textOf } from './browser';
import { chooseIn, clickPlan, openProject, saved, stand } from './moves';
import { tooSmall } from './sizes';
import { driver, server, stored } from './together';

const inspector = () => driver.findElement(By.css('.inspector')).getText();
const statusOf = async (name: string) => (await byRole(driver, 'status', name)).getText();
const tab = async (name: string) => (await byRole(driver, 'tab', name)).click();
/** The rows of a table by its name, each as its cells. */
const rowsOf = (name: string): Promise<string[][]> =>
  driver.executeScript(
    `return [...document.querySelectorAll('table[aria-label="' + arguments[0] + '"] tbody tr')].map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent));`,
    name,
  );
const heads = (name: string): Promise<string[]> =>
  driver.executeScript(`return [...document.querySelectorAll('table[aria-label="' + arguments[0] + '"] th')].map((cell) => cell.textContent);`, name);
const measured = () =>
  eventually(
    driver,
    () => statusOf('Measurement'),
    (text) => text.startsWith('Measured from'),
    'the end of the measurement',
  );

/** Presses a button once it can be: a look may still be under way. */
async function pressReady(name: string): Promise<void> {
  const button = await byRole(driver, 'button', name);
  await eventually(
    driver,
    () => button.isEnabled(),
    (ready) => ready,
    name,
  );
  await button.sendKeys(Key.ENTER);
}

/** Looks until the oven is told, and so surely that it may be kept: it pauses now and then between two dishes. */
async function lookForOven(): Promise<void> {
  await eventually(
    driver,
    async () => {
      const told = await Promise.all((await driver.findElements(By.css('.air-cards .found h3'))).map((head) => head.getText()));
      // What is told counts once no look is under way that may tell something else.
      if ((await statusOf('Identification')).startsWith('Looking')) return 'looking';
      const isSure = (await driver.findElements(By.xpath('//button[text()="Keep it at this spot"]'))).length > 0;
      if (isSure && told.some((text) => text.startsWith('Microwave oven'))) return told.join();
      await (await byRole(driver, 'button', /^Look (now|again)$/)).sendKeys(Key.ENTER);
      return `${told.join()}: looking again`;
    },
    (told) => told.includes('Microwave oven') && !told.endsWith('looking again'),
    'the oven',
    90_000,
  );
}

test('stand in the kitchen: the oven at lunch is seen and told, the load measured, the better channel taken and measured again', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await chooseIn(driver, 'Variant', /^As found/);
  await tab('Air');
  await stand(driver, 66, 17);
  await eventually(
    driver,
    () => driver.findElement(By.css('.air-side')).getText(),
    (text) => text.includes('Kitchen'),
    'the kitchen',
  );
  await chooseIn(driver, 'Jump to', /^lunch/);
  await eventually(
    driver,
    async () => (await rowsOf('Networks heard')).length,
    (rows) => rows > 10,
    'networks',
  );

  await tab('Spectrum');
  const label = async () => (await driver.findElement(By.css('.air-spectrum canvas')).getAttribute('aria-label')) ?? '';
  await eventually(driver, label, (text) => /(\d{2,}) sweeps, highest/.test(text), 'some sweeps');
  // The waterfall is drawn: below the traces there is paper and there is ink.
  await eventually(
    driver,
    (): Promise<number> =>
      driver.executeScript(`
        const canvas = document.querySelector('.air-spectrum canvas');
        const { width, height } = canvas;
        const data = canvas.getContext('2d').getImageData(Math.round(width * 0.1), Math.round(height * 0.55), Math.round(width * 0.8), 40).data;
        return new Set(Array.from({ length: data.length / 4 }, (_, i) => data[4 * i])).size;`),
    (tones) => tones > 10,
    'a waterfall',
  );
  await (await byRole(driver, 'button', 'new at the peak')).click();
  await eventually(driver, inspector, (text) => /1\n24\d\d\.\d\d MHz\n−\d\d\.\d dBm/.test(text), 'a marker at the peak');

  await tab('What is it?');
  await lookForOven();

  await tab('Load');
  await chooseIn(driver, 'Measured for', /^for 60 s/);
  await pressReady('Measure');
  await measured();
  const notWifi = (await heads('Channel load')).indexOf('not Wi-Fi %');
  const load = await rowsOf('Channel load');
  expect(load).toHaveLength(13);
  expect(Number(load[0]![notWifi])).toBe(0);
  expect(Number(load[10]![notWifi])).toBeGreaterThan(2);
  await chooseIn(driver, 'for', /^Old-6/);
  await eventually(driver, inspector, (text) => /11\/20 now: .* not Wi-Fi \d+ %/s.test(text), 'why channel 11 is not good');
  const take = await byRole(driver, 'button', /^Take \d+\/20 for Old-6$/);
  const taken = Number(/\d+/.exec(await take.getText())![0]);
  await take.click();
  await saved(driver);
  const old6 = Object.values((await stored('quillhaven')).design.accessPoints).find(({ name }) => name === 'Old-6')!;
  expect(old6.radios.find(({ band }) => band === '2.4')!.channel).toBe(taken);
  expect([1, 6]).toContain(taken);
  await pressReady('Measure again');
  await measured();
  const after = await rowsOf('Channel load');
  const named = await heads('Channel load');
  const of = (head: string) => Number(after[10]![named.indexOf(head)]);
  // Old-6 has left channel 11.
  expect(of('busy %')).toBeLessThan(of('busy before %'));
  await (await byRole(driver, 'button', 'Undo')).click();
  await saved(driver);
}, 240_000);

test('kept at five spots, the oven is located where it stands, after a reload too', async () => {
  await tab('What is it?');
  for (const [i, [xM, yM]] of (
    [
      [63, 14],
      [71, 18.5],
      [64, 17.5],
      [66, 10.5],
      [69, 16],
    ] as const
  ).entries()) {
    await stand(driver, xM, yM);
    await eventually(
      driver,
      () => statusOf('Identification'),
      (text) => text.startsWith('Looks at all'),
      'that nothing is told of the new spot yet',
    );
    await lookForOven();
    await pressReady('Keep it at this spot');
    await eventually(
      driver,
      async () => (await driver.findElement(By.css('.air-what')).getText()).replace(/\s+/g, ' '),
      (text) => text.includes(`Microwave oven: at ${i + 1} spot`),
      'the kept spots',
    );
  }
  await saved(driver);
  expect(Object.values((await stored('quillhaven')).design.signalReadings).filter(({ signal }) => signal === 'oven')).toHaveLength(5);
  await (await byRole(driver, 'button', 'Locate')).sendKeys(Key.ENTER);
  const words = await textOf(driver, 'located-signal');
  const [, x, y, region] = /at (\d+\.\d) m, (\d+\.\d) m, .*; ([\d.]+) m² hold it/.exec(words)!.map(Number);
  // It stands at 70.3, 13.2.
  expect(Math.hypot(x! - 70.3, y! - 13.2)).toBeLessThan(7);
  // Of 3300 m2 of floor and terrace.
  expect(region).toBeLessThan(700);
  await stand(driver, 66, 17);
}, 240_000);

test('a network is picked, and its level over time ends when it is switched off', async () => {
  await tab('Networks');
  await (await byRole(driver, 'textbox', 'Find a network')).sendKeys('55:83');
  const shown = await eventually(
    driver,
    () => rowsOf('Networks heard'),
    (rows) => rows.length > 0,
    'networks that are found',
  );
  const name = shown[0]![1]!;
  expect(new Set(shown.map(([, ap]) => ap))).toEqual(new Set([name]));
  await driver.findElement(By.css('table[aria-label="Networks heard"] tbody button')).sendKeys(Key.ENTER);
  await eventually(driver, inspector, (text) => text.includes(`${name}, ours`), 'the picked network');
  await tab('Over time');
  const chart = async () => (await driver.findElement(By.css('.air-time [role=img]')).getAttribute('aria-label')) ?? '';
  await eventually(driver, chart, (text) => /−\d+ dBm now/.test(text), 'its level');

  const ap = Object.values((await stored('quillhaven')).design.accessPoints).find((one) => one.name === name)!;
  await tab('Design');
  await clickPlan(driver, ap.xM, ap.yM);
  const switches = await eventually(
    driver,
    () => driver.findElements(By.xpath("//div[contains(@class,'field')][label='on']//input")),
    (found) => found.length === 2,
    'the two radios',
  );
  for (const one of switches) await one.sendKeys(Key.SPACE);
  await saved(driver);
  await tab('Air');
  await chooseIn(driver, 'Pace of the clock', /^10×/);
  await eventually(driver, chart, (text) => text.includes('not heard since'), 'the end of its level');
});

test('what does not go is said, and the setting before stays; nothing is too small to hit or to read', async () => {
  await tab('Spectrum');
  const field = async (name: string, text: string) => (await byRole(driver, 'textbox', name)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  await field('start', '2600');
  await eventually(
    driver,
    () => driver.findElement(By.css('.air-controls')).getText(),
    (text) => text.includes('Not set: the span is'),
    'why it is not set',
  );
  expect(await driver.findElement(By.css('.air-spectrum canvas')).getAttribute('aria-label')).toContain('Spectrum 2400 to 2500 MHz');
  for (const name of ['Networks', 'Load', 'Spectrum', 'What is it?', 'Against the plan']) {
    await tab(name);
    expect(await tooSmall(driver)).toEqual([]);
  }
});

test('with a trigger that nothing meets no sweep is taken in; at a level that is met they go on after the delay', async () => {
  await tab('Spectrum');
  const sweeps = async () =>
    Number(/: (\d+) sweeps?, highest/.exec((await driver.findElement(By.css('.air-spectrum canvas')).getAttribute('aria-label')) ?? '')?.[1] ?? 0);
  const field = async (name: string, text: string) => (await byRole(driver, 'textbox', name)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  const waits = async () => (await driver.findElements(By.css('.air-waits'))).length;
  const box = await byRole(driver, 'checkbox', 'at a level');
  await box.sendKeys(Key.SPACE);
  await field('level', '0');
  await eventually(driver, waits, (count) => count === 1, 'it waits');
  const before = await sweeps();
  const time = async () => (await byRole(driver, 'timer', 'Simulated time')).getText();
  const then = await time();
  await eventually(driver, time, (now) => now !== then, 'the clock');
  expect(await sweeps()).toBe(before);
  await field('delay', '60000');
  await field('level', '-110');
  const words = async () => (await driver.findElements(By.css('.air-waits')))[0]?.getText();
  await eventually(driver, words, (text) => text === 'triggered: waits for the delay', 'the delay');
  expect(await sweeps()).toBe(before);
  await field('delay', '400');
  await eventually(driver, sweeps, (count) => count > before, 'sweeps');
  await eventually(driver, waits, (count) => count === 0, 'it is open');
  await box.sendKeys(Key.SPACE);
});

test('a recording is named, there after a reload, held beside what is live, and deleted for good', async () => {
  await tab('Spectrum');
  const label = async () => (await driver.findElement(By.css('.air-spectrum canvas')).getAttribute('aria-label')) ?? '';
  await (await byRole(driver, 'button', 'record')).click();
  const stop = await byRole(driver, 'button', /^stop recording \(([3-9]|\d\d)/);
  await stop.sendKeys(Key.ENTER);
  await chooseIn(driver, 'show', /^Kitchen 12:/);
  const name = await byRole(driver, 'textbox', 'name');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Lunch', Key.ENTER);
  await eventually(driver, label, (text) => /\d+ sweeps, highest/.test(text), 'the recording');
  const shown = await label();
  await driver.navigate().refresh();
  await tab('Spectrum');
  await chooseIn(driver, 'show', /^Lunch$/);
  await eventually(driver, label, (text) => text === shown, 'the same sweeps');
  // Replayed from its first sweep to its last.
  await (await byRole(driver, 'slider', 'Replayed up to')).sendKeys(Key.HOME);
  await eventually(driver, label, (text) => /: 1 sweeps?, highest/.test(text), 'the first sweep');
  await (await byRole(driver, 'button', 'replay')).sendKeys(Key.ENTER);
  await eventually(driver, label, (text) => text === shown, 'all of it again');
  await (await byRole(driver, 'button', 'delete recording')).sendKeys(Key.ENTER);
  await driver.navigate().refresh();
  await byRole(driver, 'button', 'record');
  expect(await driver.findElements(By.xpath('//button[text()="delete recording"]'))).toEqual([]);
  expect(await driver.findElements(By.xpath('//option[text()="Lunch"]'))).toEqual([]);
});

test('after a reload the receiver stands where it stood, and the clock goes on from there', async () => {
  const time = async () => (await byRole(driver, 'timer', 'Simulated time')).getText();
  const hour = Number((await time()).slice(0, 2));
  expect(hour).toBe(12);
  await driver.navigate().refresh();
  await byRole(driver, 'tab', 'Against the plan');
  await eventually(
    driver,
    () => driver.findElement(By.css('.air-side')).getText(),
    (text) => text.includes('Kitchen'),
    'the kitchen',
  );
  expect(Number((await time()).slice(0, 2))).toBe(12);
  await tab('Networks');
  await eventually(
    driver,
    async () => (await rowsOf('Networks heard')).length,
    (rows) => rows > 10,
    'networks',
  );
});

test('the list of networks is taken out as a table, as a page and as JSON, each with all that is listed', async () => {
  await (await byRole(driver, 'button', 'pause')).sendKeys(Key.ENTER);
  await byRole(driver, 'button', 'run');
  await driver.executeScript(
    'window.__saved = []; const make = URL.createObjectURL; URL.createObjectURL = (blob) => { blob.text().then((text) => window.__saved.push(text)); return make.call(URL, blob); };',
  );
  // Where some are below what is ignored it says "29 of 30 networks": 29 are listed.
  const listed = parseInt(await driver.findElement(By.css('.air-counts')).getText(), 10);
  expect(listed).toBeGreaterThan(10);
  for (const as of ['CSV', 'HTML', 'JSON']) {
    const before: number = await driver.executeScript('return window.__saved.length');
    await (await byRole(driver, 'button', as)).sendKeys(Key.ENTER);
    await eventually(
      driver,
      (): Promise<number> => driver.executeScript('return window.__saved.length'),
      (count) => count === before + 1,
      as,
    );
  }
  const [csv, page, json] = await driver.executeScript<string[]>('return window.__saved');
  const lines = csv!.trim().split('\r\n');
  expect(lines).toHaveLength(listed + 1);
  const addresses = (JSON.parse(json!) as { networks: Array<{ bssid: string }> }).networks.map(({ bssid }) => bssid);
  expect(new Set(addresses).size).toBe(listed);
  for (const [i, address] of addresses.entries()) expect(lines[i + 1]).toContain(address);
  expect(page!.match(/<tr>/g)).toHaveLength(listed + 1);
  // Nothing is fetched by the page.
  expect(page).not.toMatch(/<script|src=|href=|url\(/);
  // Of one channel alone; every other is still heard.
  const onIt = lines.filter((line) => line.includes(',□ 36/')).length;
  await chooseIn(driver, 'Channels listed', /^□ 36$/);
  await eventually(
    driver,
    () => statusOf('Listed'),
    (text) => text === `${onIt} of ${listed} listed`,
    'how many are on it',
  );
  const rows = await rowsOf('Networks heard');
  expect(rows.length).toBeGreaterThan(0);
  for (const row of rows) expect(row.join(' ')).toMatch(/□ 36\/\d+/);
  // What is listed stays so from tab to tab.
  await tab('Load');
  await tab('Networks');
  expect(await statusOf('Listed')).toBe(`${onIt} of ${listed} listed`);
  await chooseIn(driver, 'Channels listed', /^every channel$/);
});
