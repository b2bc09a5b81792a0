import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { museumBuilding } from '@demo/museum';
import { asFoundSurvey } from '@demo/survey';
import { accessPointsAround, floorsOf, variantsOf } from '@/core/design/design';
import { shareMeeting, valuedOf } from '@/core/fields/statistics';
import type { Measured } from '@/core/fields/lens';
import { measuredInto } from '@/core/survey/fit/shown';
import { countedOf } from '@/core/survey/heard';
import { emittersOf, floorScene, sceneOf } from '@/engine/scene';
import { surveyed } from '@/engine/survey';
import { byRole, eventually, textOf } from './browser';
import { chooseIn, clickPlan, measuredCard, openProject, saved, toBand } from './moves';
import { driver, server, stored } from './together';

const building = museumBuilding();
const quay = floorsOf(building.design)[0]!;
const scene = floorScene(building.design, quay);

/** What of the demo's walk is measured, and the share of that at a level or better, by the core. */
function expected(what: Measured, threshold: number, sense: 'least' | 'most', reachM: number): { share: number; of: number } {
  const aps = accessPointsAround(building.design, quay.id, variantsOf(building.design)[0]!.id);
  const radios = emittersOf(building.design, aps, ['5'], true).map(({ of, ...emitter }) => ({ ...emitter, apId: of.id }));
  const { walk, ...heard } = asFoundSurvey(building);
  const { maps } = surveyed({ scene: sceneOf(scene), radios, heard: countedOf(walk, heard), held: [], reachM });
  const values = new Float32Array(scene.mask.length);
  measuredInto(
    what,
    maps.map((map) => ({ ...map, predictedDbm: null })),
    0,
    -90,
    values,
  );
  const counted = valuedOf(values, scene.mask);
  return {
    share: 100 * shareMeeting(values, counted, threshold, sense),
    of: counted.reduce((sum, inside) => sum + inside, 0) * scene.grid.cellM ** 2,
  };
}

const fitText = async () => (await driver.findElement(By.css('.fit'))).getText();

test('the measured map of the finished survey has the numbers of the core', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await chooseIn(driver, 'Variant', /^As found$/);
  await (await byRole(driver, 'tab', 'Survey')).click();
  await toBand(driver, '5');
  await chooseIn(driver, 'shows', /^measured$/);
  const core = expected('level', -67, 'least', 5);
  const card = await eventually(
    driver,
    () => measuredCard(driver),
    ({ of }) => Math.abs(of - core.of) < 1.5,
    'as much measured as the core says',
  );
  expect(Math.abs(card.share - core.share)).toBeLessThan(0.06);
});

test('Trust says how sure that is: of what lies close to the walk more is sure', async () => {
  await chooseIn(driver, 'shows', /^Trust$/);
  const threshold = await byRole(driver, 'textbox', 'threshold');
  await threshold.sendKeys(Key.chord(Key.CONTROL, 'a'), '3', Key.ENTER);
  const core = expected('sure', 3, 'most', 5);
  const wide = await eventually(
    driver,
    () => measuredCard(driver),
    ({ share }) => Math.abs(share - core.share) < 0.06,
    'the share that is known to 3 dB',
  );
  const reach = await byRole(driver, 'textbox', 'reach');
  await reach.sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
  const near = await eventually(
    driver,
    () => measuredCard(driver),
    ({ of }) => of < wide.of / 1.5,
    'a smaller reach',
  );
  expect(near.share).toBeGreaterThan(wide.share + 10);
});

test('after a reload Trust is still of the walk, and says so', async () => {
  await driver.navigate().refresh();
  const near = await eventually(
    driver,
    () => measuredCard(driver),
    ({ share }) => share > 0,
    'the measured share, again',
  );
  expect(near.of).toBeLessThan(near.whole);
  expect(await driver.findElement(By.css('.lensbar .timing')).getText()).toBe('measured');
});

test('Fit says what was learned; a radio of its table is picked by keyboard', async () => {
  await (await byRole(driver, 'tab', 'Fit')).click();
  const text = await eventually(driver, fitText, (all) => /foretold to ±/.test(all), 'what was learned');
  const [, learned, drawn] = /foretold to ±([\d.]+) dB[^]*to ±([\d.]+) dB by the drawing/.exec(text)!;
  expect(Number(learned)).toBeLessThan(Number(drawn) / 2);
  const row = await driver.findElement(By.xpath('//table[@aria-label="What was learned"]//button[.="Old-2"]'));
  await row.sendKeys(Key.ENTER);
  await driver.wait(async () => (await driver.findElement(By.css('[data-ap="quill-ap-002"]')).getAttribute('aria-pressed')) === 'true', 40_000);
});

test('what was learned is chosen, taken into the drawing as one step, and the readings lie closer to it; undo takes it back', async () => {
  const spread = async (): Promise<[before: number, after: number]> => {
    const text = await (await byRole(driver, 'status', 'What taking it would bring')).getText();
    const [, before, after] = /by ±([\d.]+) dB(?:; with what is ticked, by ±([\d.]+) dB)?/.exec(text)!;
    return [Number(before), Number(after ?? before)];
  };
  // Only materials and the exponent may differ: single walls are held to the drawing, and not told of.
  await (await byRole(driver, 'checkbox', 'single walls')).click();
  await eventually(
    driver,
    async () => (await byRole(driver, 'table', 'What was learned')).getText(),
    (text) => !text.includes('one wall') && text.includes('Brick'),
    'what was learned without single walls',
  );
  const boxes = async () => driver.findElements(By.css('table[aria-label="What was learned"] [type=checkbox]'));
  for (const box of await boxes()) if (!(await box.isSelected())) await driver.executeScript('arguments[0].click()', box);
  const [drawn, promised] = await spread();
  expect(promised).toBeLessThan(drawn - 0.1);
  await (await byRole(driver, 'button', /^Take the \d+ ticked into the drawing$/)).click();
  const now = await eventually(driver, spread, ([before]) => before < drawn - 0.1, 'the drawing as it was measured');
  expect(Math.abs(now[0] - promised)).toBeLessThan(0.11);
  const { design } = await stored('quillhaven');
  const own = Object.values(design.materials).filter(({ name }) => name.endsWith(', measured'));
  expect(own.map(({ measuredDb }) => Object.keys(measuredDb))).toEqual(own.map(() => ['5']));
  expect(Object.values(design.walls).some(({ materialId }) => own.some(({ id }) => id === materialId))).toBe(true);
  const level = floorsOf(design)[0]!;
  expect(level.exponent).not.toBeNull();
  await (await byRole(driver, 'button', /^Undo/)).click();
  await eventually(driver, spread, ([before]) => Math.abs(before - drawn) < 0.06, 'the drawing as it was');
  expect(Object.values((await stored('quillhaven')).design.materials).filter(({ name }) => name.endsWith(', measured'))).toEqual([]);
  await (await byRole(driver, 'checkbox', 'single walls')).click();
  await eventually(driver, fitText, (text) => text.includes('one wall'), 'single walls, told of again');
});

test('what is not as drawn is found: the partition that nobody drew, and the weak access point', async () => {
  await (await byRole(driver, 'button', 'Look for what is not as drawn, in □ 5 GHz')).click();
  await eventually(driver, fitText, (text) => /nobody drew|Nothing stands out/.test(text), 'an answer', 180_000);
  const found = await Promise.all((await driver.findElements(By.css('.faults li'))).map((item) => item.getText()));
  const [first] = found;
  const [x1, y1, x2, y2] = /between ([\d.]+) m, ([\d.]+) m and ([\d.]+) m, ([\d.]+) m/.exec(first!)!.slice(1).map(Number);
  // It stands from (30, 24.5) to (37, 24.5).
  expect(Math.hypot((x1! + x2!) / 2 - 33.5, (y1! + y2!) / 2 - 24.5)).toBeLessThan(1);
  expect(found.some((text) => /^Old-1 is \d+ dB weaker than designed/.test(text))).toBe(true);
  await (await driver.findElement(By.css('.faults li button'))).click();
  await eventually(
    driver,
    async () => Promise.all((await driver.findElements(By.css('[data-testid=pinned-readout]'))).map((card) => card.getText())),
    (cards) => cards.some((text) => /33\.\d, 24\.\d m/.test(text)),
    'the spot between its ends, pinned',
  );
});

test('two walks count together, and each alone; a walk that has nothing hides none; the choice stands after a reload', async () => {
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await chooseIn(driver, 'shows', /^measured$/);
  const reach = await byRole(driver, 'textbox', 'reach');
  await reach.sendKeys(Key.chord(Key.CONTROL, 'a'), '5', Key.ENTER);
  const alone = await eventually(
    driver,
    () => measuredCard(driver),
    ({ part }) => part > 1500,
    'the demo’s walk',
  );
  await (await byRole(driver, 'button', 'Connect receiver')).click();
  await chooseIn(driver, 'pace', /^20 times/);
  await (await byRole(driver, 'button', 'Start walk', 40_000)).click();
  await chooseIn(driver, 'shows', /^measured$/);
  // Nothing was walked yet: the map is of what was walked before.
  await eventually(
    driver,
    () => measuredCard(driver),
    ({ part }) => Math.abs(part - alone.part) < 1.5,
    'what was walked before',
  );
  // Through the plant room and the store, where nobody has been.
  for (const [x, y] of [
    [3, 4],
    [9, 4],
    [9, 12],
  ] as const)
    await clickPlan(driver, x, y);
  await eventually(
    driver,
    async () => Number(await textOf(driver, 'sample-count')),
    (count) => count > 60,
    'samples of the new walk',
  );
  await (await byRole(driver, 'button', 'Finish')).click();
  const both = await eventually(
    driver,
    () => measuredCard(driver),
    ({ part }) => part > alone.part + 40,
    'both walks',
  );
  await chooseIn(driver, 'purpose', /^access point on a stick$/);
  await saved(driver);
  await driver.navigate().refresh();
  await byRole(driver, 'tab', 'Survey', 40_000);
  await chooseIn(driver, 'shows', /^measured$/);
  await eventually(
    driver,
    () => measuredCard(driver),
    ({ part }) => Math.abs(part - both.part) < 1.5,
    'both walks after a reload',
  );
  expect(Object.values((await stored('quillhaven')).design.walks).map(({ purpose }) => purpose)).toContain('stick');
  await (await byRole(driver, 'checkbox', 'Count Survey as found, Quay level')).click();
  await eventually(
    driver,
    () => measuredCard(driver),
    ({ part }) => part < both.part - alone.part / 2,
    'the new walk alone',
  );
  await (await byRole(driver, 'button', 'Delete walk')).click();
  await chooseIn(driver, 'shows', /^Trust$/);
});

test('what only a walk shows stays with the walks', async () => {
  await (await byRole(driver, 'tab', 'Design')).click();
  const lens = await byRole(driver, 'combobox', 'lens');
  await driver.wait(async () => (await lens.getAttribute('value')) === 'signal', 40_000);
  const offered = await Promise.all((await lens.findElements(By.css('option'))).map((option) => option.getAttribute('value')));
  expect(offered).not.toContain('trust');
});
