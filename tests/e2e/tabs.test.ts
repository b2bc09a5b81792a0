import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { v7 as uuid } from 'uuid';
import { edit } from '@/core/design/commands';
import { newStep } from '@/core/design/step';
import { byRole, eventually, exactViewport, setOffline, textOf } from './browser';
import { openProject, saved, toLens } from './moves';
import { driver, server, stored } from './together';

const AP = 'cottage-ap-001';
const ap = () => driver.findElement(By.css(`[data-ap="${AP}"]`));

/** Somebody else, in another browser, sets fields of the access point. */
async function somebodyElse(fields: object): Promise<void> {
  const { design, revision } = await stored('cottage');
  const step = newStep(uuid(), 'Rename C-01', 'browser-elsewhere-4711', edit(design, 'accessPoints', AP, fields));
  const answer = await fetch(`${server.url}/api/projects/cottage/steps`, { method: 'POST', body: JSON.stringify({ baseRevision: revision, step }) });
  expect(answer.status).toBe(200);
}

test('an edit that somebody else was quicker with stays listed with both values, also after a reload, until it is settled', async () => {
  await openProject(driver, server.url, 'cottage');
  await ap().sendKeys(Key.ENTER);
  await setOffline(driver, true);
  const name = await byRole(driver, 'textbox', 'name');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Mine', Key.ENTER);
  await eventually(
    driver,
    () => textOf(driver, 'save-state'),
    (text) => text === 'not saved yet',
    'the save state without network',
  );
  await somebodyElse({ name: 'Theirs' });
  await setOffline(driver, false);
  await byRole(driver, 'button', '1 refused', 30_000);
  await driver.navigate().refresh();
  await (await byRole(driver, 'button', '1 refused')).click();
  const table = await byRole(driver, 'table', 'Refused edits');
  expect(await table.getText()).toMatch(/Mine[\s\S]*Theirs/);
  expect((await stored('cottage')).design.accessPoints[AP]!.name).toBe('Theirs');
  await (await byRole(driver, 'button', /^Apply mine/)).click();
  await saved(driver);
  await eventually(
    driver,
    async () => (await stored('cottage')).design.accessPoints[AP]!.name,
    (text) => text === 'Mine',
    'the name after applying mine',
  );
  expect(await driver.findElements(By.xpath('//button[contains(., "refused")]'))).toHaveLength(0);
});

test('the history tells who did what, and goes back to a step as one step', async () => {
  await somebodyElse({ heightM: 1.1 });
  await (await byRole(driver, 'tab', 'History')).click();
  const lines = async () => (await (await byRole(driver, 'table', 'History')).findElements(By.css('tbody tr'))).length;
  const before = await eventually(driver, lines, (n) => n >= 4, 'the lines of the history');
  const text = await (await byRole(driver, 'table', 'History')).getText();
  expect(text).toMatch(/browser 4711 Rename C-01[\s\S]*you Apply mine[\s\S]*browser 4711 Rename C-01[\s\S]*Upper Room Demo project/);
  await (await byRole(driver, 'button', /^Go back to: Demo project/)).click();
  await saved(driver);
  const { design } = await eventually(
    driver,
    () => stored('cottage'),
    (project) => project.design.accessPoints[AP]!.name === 'C-01',
    'the project as it began',
  );
  expect(design.accessPoints[AP]!.heightM).toBe(2.4);
  expect(await lines()).toBe(before + 1);
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'));
  await eventually(
    driver,
    () => stored('cottage'),
    (project) => project.design.accessPoints[AP]!.name === 'Mine',
    'one undo takes it back',
  );
  await saved(driver);
});

test('Channel tints by channel, writes it into the areas, and can show one alone', async () => {
  await openProject(driver, server.url, 'cottage');
  await (await byRole(driver, 'tab', 'Design')).click();
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await toLens(driver, 'Channel');
  const legend = () => driver.findElement(By.css('.scale')).getText();
  await eventually(driver, legend, (text) => /36\/40[\s\S]*\d+ m²/.test(text), 'the channels with their areas');
  await byRole(driver, 'combobox', 'show');
  await toLens(driver, 'Signal');
});

test('twelve tabs of one browser all save, and follow each other', async () => {
  const first = await driver.getWindowHandle();
  const handles = [first];
  for (let i = 1; i < 12; i++) {
    await driver.switchTo().newWindow('tab');
    await exactViewport(driver);
    await openProject(driver, server.url, 'cottage');
    handles.push(await driver.getWindowHandle());
  }
  for (const [i, handle] of handles.entries()) {
    await driver.switchTo().window(handle);
    await ap().sendKeys(i % 2 === 0 ? Key.ARROW_RIGHT : Key.ARROW_DOWN);
    await saved(driver);
  }
  const { design, revision } = await stored('cottage');
  const { xM, yM } = design.accessPoints[AP]!;
  expect(revision).toBeGreaterThanOrEqual(13);
  expect([xM, yM].map((value) => Math.round(value * 10))).toEqual([36, 31]);
  const places = new Set<string>();
  for (const handle of handles) {
    await driver.switchTo().window(handle);
    places.add((await ap().getAttribute('transform'))!);
    if (handle !== first) await driver.close();
  }
  expect(places.size).toBe(1);
  await driver.switchTo().window(first);
});
