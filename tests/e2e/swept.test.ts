import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { Swept } from '@/core/survey/swept';
import { byRole, eventually, textOf } from './browser';
import { chooseIn, clickPlan, openProject, saved, toBand, toLens } from './moves';
import { driver, server, stored } from './together';

const sweptOn = async (walkId: string): Promise<Swept[]> =>
  ((await (await fetch(`${server.url}/api/projects/quillhaven/walks/${walkId}/samples`)).json()) as { swept: Swept[] }).swept;
const number = (text: string, pattern: RegExp): number => Number((pattern.exec(text)?.[1] ?? 'none').replace('−', '-'));
const status = () => byRole(driver, 'toolbar', 'Lens').then((bar) => bar.getText());
const mapSays = (pattern: RegExp, what: string) => eventually(driver, status, (text) => pattern.test(text), what);

test('a swept receiver carried at lunch: what it told is stored with the walk, and the map says at a look what was told there', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await chooseIn(driver, 'Variant', /^As found$/);
  await (await byRole(driver, 'tab', 'Survey')).click();
  await (await byRole(driver, 'checkbox', 'swept receiver too')).click();
  const begins = await byRole(driver, 'textbox', 'begins at, on the site');
  await begins.sendKeys(Key.chord(Key.CONTROL, 'a'), '25:70', Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('.inspector')).getText(),
    (text) => text.includes('A time of the day, as 12:30.'),
    'what is wrong with that time',
  );
  await begins.sendKeys(Key.chord(Key.CONTROL, 'a'), '12:20', Key.ENTER);
  await (await byRole(driver, 'button', 'Connect receiver')).click();
  await (await byRole(driver, 'button', 'Start walk')).click();
  await chooseIn(driver, 'pace', /^5 times/);
  await clickPlan(driver, 69, 28);
  await clickPlan(driver, 69, 22);
  await saved(driver);
  const walk = Object.values((await stored('quillhaven')).design.walks).find(({ finished }) => !finished)!;
  expect(walk.receiver!.swept).toEqual({ bands: ['2.4'], fromMs: (12 + 1 / 3) * 3_600_000 });
  const looks = await eventually(
    driver,
    () => sweptOn(walk.id),
    (all) => all.length === 6,
    'a look a second',
    90_000,
  );
  expect(looks.map(({ tMs }) => tMs)).toEqual([500, 1500, 2500, 3500, 4500, 5500]);
  expect(looks.filter(({ signals }) => signals.some(({ kind }) => kind === 'oven')).length).toBeGreaterThan(2);
  await (await byRole(driver, 'button', 'Finish')).click();

  await toLens(driver, 'Interferer');
  await toBand(driver, '2.4');
  await chooseIn(driver, 'signal', /^Microwave oven$/);
  await mapSays(/measured, Microwave oven/, 'the map of the oven');
  // A metre a second: the look's middle is that far from where the walk began.
  const told = looks.filter(({ signals }) => signals.some(({ kind }) => kind === 'oven')).at(-1)!;
  await clickPlan(driver, 69, 28 - told.tMs / 1000);
  const readout = await eventually(
    driver,
    () => driver.findElement(By.css('.readout')).getText(),
    (text) => /Interferer [−\d.]+ dBm/.test(text),
    'the level at a look',
  );
  const levelDbm = told.signals.find(({ kind }) => kind === 'oven')!.levelDbm;
  expect(Math.abs(number(readout, /Interferer ([−\d.]+) dBm/) - levelDbm)).toBeLessThan(3);
  // What was not told cannot be chosen.
  const kinds = await byRole(driver, 'combobox', 'signal');
  const options = await kinds.findElements(By.css('option'));
  const off = await Promise.all(options.map(async (option) => [await option.getText(), await option.isEnabled()] as const));
  expect(off).toContainEqual(['Microwave oven', true]);
  expect(off).toContainEqual(['Radar', false]);
}, 240_000);

test('the oven is located on the plan, put there, and counts as noise in Design where that is asked for; all of it is there after a reload', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await chooseIn(driver, 'Variant', /^As found$/);
  await (await byRole(driver, 'tab', 'Survey')).click();
  await (await byRole(driver, 'button', 'Swept at lunch, café')).click();
  const section = await byRole(driver, 'region', 'What is not Wi-Fi');
  const oven = await section.findElement(By.xpath('.//li[contains(., "Microwave oven")]'));
  await oven.findElement(By.xpath('.//button[text()="Locate"]')).sendKeys(Key.ENTER);
  const where = await textOf(driver, 'located-signal');
  const [xM, yM] = [number(where, /Likeliest at ([\d.]+)/), number(where, /Likeliest at [\d.]+ m, ([\d.]+)/)];
  // The oven truly stands at 70.3, 13.2.
  expect(Math.hypot(xM - 70.3, yM - 13.2)).toBeLessThan(4);
  expect(await textOf(driver, 'located-region')).toBe('Microwave oven');
  await oven.findElement(By.xpath('.//button[text()="Put it on the plan"]')).sendKeys(Key.ENTER);
  await saved(driver);
  const [emitter] = Object.values((await stored('quillhaven')).design.emitters);
  expect(emitter).toMatchObject({ signal: 'oven', heightM: 1.5 });
  expect(Math.hypot(emitter!.xM - xM, emitter!.yM - yM)).toBeLessThan(0.1);

  // As proposed the radios leave little noise.
  await chooseIn(driver, 'Variant', /^Proposed$/);
  await (await byRole(driver, 'tab', 'Design')).click();
  await toLens(driver, 'Noise');
  await toBand(driver, '2.4');
  // Beside the kitchen, served on channel 11: where the oven is too.
  await clickPlan(driver, 68, 8);
  const noise = async () => number(await driver.findElement(By.css('.readout')).getText(), /Noise ([−\d.]+) dBm/);
  const without = await eventually(driver, noise, (dbm) => !Number.isNaN(dbm), 'the noise there');
  await (await byRole(driver, 'checkbox', '1 emitter')).click();
  const beside = await eventually(driver, noise, (dbm) => dbm > without + 10, 'more noise there');
  expect(beside).toBeLessThan(-20);
  expect(await driver.findElement(By.css('.readout')).getText()).toContain('with 1 emitter that was found');

  await driver.navigate().refresh();
  await byRole(driver, 'button', 'Emitter: Microwave oven');
}, 240_000);
