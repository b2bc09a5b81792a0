import { expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { readEquipment, writeAntenna } from '@/contract/equipmentFile';
import { accessPointsAround, floorsOf, variantsOf } from '@/core/design/design';
import { heardAt } from '@/core/fields/heard';
import { COMMON_CLIENT } from '@/core/radio/receiver';
import { emittersOf, floorMedium } from '@/engine/scene';
import { byRole, eventually } from './browser';
import { chooseIn, clickPlan, openProject, saved, strongestDbm, toBand } from './moves';
import { driver, server, stored } from './together';

const ID = 'quillhaven';
const design = async () => (await stored(ID)).design;
const entered = async (name: string, text: string, at = 0) => {
  const fields = await driver.findElements(By.css('.inspector input'));
  const named = [];
  for (const field of fields) if ((await field.getAccessibleName()) === name) named.push(field);
  await named[at]!.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
};
const file = (name: string, content: string) => {
  const at = path.join(mkdtempSync(path.join(os.tmpdir(), 'upper-room-equipment-')), name);
  writeFileSync(at, content);
  return at;
};

/** The level at a spot by the core, of all 5 GHz radios round the ground floor. */
async function coreDbm(xM: number, yM: number): Promise<number> {
  const now = await design();
  const floor = floorsOf(now)[0]!;
  const emitters = emittersOf(now, accessPointsAround(now, floor.id, variantsOf(now).at(-1)!.id), ['5']);
  const heightM = now.project.project!.clientHeightM;
  return heardAt(floorMedium(now, floor), emitters, { xM, yM, zM: floor.elevationM + heightM }, { ...COMMON_CLIENT, heightM }, -110)[0]!.rssiDbm;
}

test('a model of one’s own: its limits hold what hangs, its antenna comes from a file, and the map follows; all of it stands after a reload', async () => {
  await openProject(driver, server.url, ID);
  await (await byRole(driver, 'tab', 'Brief')).click();
  await (await byRole(driver, 'tab', 'Access point models')).click();
  await (await byRole(driver, 'button', 'Heron C4 ceiling')).click();
  await (await byRole(driver, 'button', 'Make an own one like it')).click();
  await (await byRole(driver, 'textbox', 'name')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Lapwing', Key.ENTER);
  await saved(driver);
  const own = Object.values((await design()).apModels)[0]!;
  expect(own).toMatchObject({ name: 'Lapwing', radios: [{ band: '2.4' }, { band: '5', maxPowerDbm: 23 }] });

  await (await byRole(driver, 'tab', 'Design')).click();
  await toBand(driver, '5');
  const now = await design();
  const ap = accessPointsAround(now, floorsOf(now)[0]!.id, variantsOf(now).at(-1)!.id).find(({ name }) => name === 'Q-01')!;
  await driver.findElement(By.css(`[data-ap="${ap.id}"]`)).sendKeys(Key.ENTER);
  await chooseIn(driver, 'model', /^Lapwing$/);
  await saved(driver);
  expect((await design()).accessPoints[ap.id]!.modelId).toBe(own.id);
  await clickPlan(driver, ap.xM + 3, ap.yM + 2);
  const before = await strongestDbm(driver);
  expect(Math.abs(before - (await coreDbm(ap.xM + 3, ap.yM + 2)))).toBeLessThan(0.3);

  // The model may send 5 dBm at the most: what hangs is brought within it, and the spot hears 7 dB less.
  await driver.findElement(By.css(`[data-ap="${ap.id}"]`)).sendKeys(Key.ENTER);
  await (await byRole(driver, 'button', 'About this model')).click();
  await entered('power to', '5', 1);
  await saved(driver);
  const was = ap.radios.find(({ band }) => band === '5')!.txPowerDbm;
  expect((await design()).accessPoints[ap.id]!.radios.find(({ band }) => band === '5')!.txPowerDbm).toBe(5);
  await eventually(
    driver,
    () => strongestDbm(driver),
    (dbm) => Math.abs(dbm - (before - (was - 5))) < 0.15,
    'the level with less power',
  );

  // An antenna of 3 dBi in all directions, from a file.
  const even = { peakDbi: 3, horizontalDb: [0], verticalDb: [0, 0] };
  const input = (await driver.findElements(By.css('input[aria-label="Antenna file for 5 GHz"]')))[0]!;
  await input.sendKeys(file('broken.json', '{"format":"upper-room antenna"}'));
  await eventually(
    driver,
    () => driver.findElement(By.css('.notice')).getText(),
    (text) => text.includes('holds no access points, clients or antenna') && text.includes('version'),
    'what is wrong',
  );
  await input.sendKeys(file('even.json', writeAntenna('Even', even)));
  await saved(driver);
  await eventually(driver, design, ({ apModels }) => apModels[own.id]!.radios[1]!.antenna.verticalDb.length === 2, 'the antenna');
  const level = await coreDbm(ap.xM + 3, ap.yM + 2);
  await eventually(
    driver,
    () => strongestDbm(driver),
    (dbm) => Math.abs(dbm - level) < 0.3,
    'the level with the antenna',
  );

  // The next ones are to be of it too.
  await (await byRole(driver, 'button', /^AP/)).click();
  await chooseIn(driver, 'Model to hang', /^Lapwing$/);

  await driver.navigate().refresh();
  await (await byRole(driver, 'tab', 'Brief', 40_000)).click();
  await (await byRole(driver, 'tab', 'Access point models')).click();
  await driver.executeScript(
    'window.kept = null; URL.createObjectURL = (blob) => { void blob.text().then((text) => { window.kept = text; }); return "#"; };',
  );
  await (await byRole(driver, 'button', 'Keep all own equipment as a file')).click();
  const text = await eventually(
    driver,
    () => driver.executeScript<string | null>('return window.kept'),
    (kept) => kept !== null,
    'the file',
  );
  expect(readEquipment(text!).models).toEqual([(await design()).apModels[own.id]]);

  // Deleted, what hung of it is of the catalogue, and nothing else is lost.
  await (await byRole(driver, 'button', 'Lapwing')).click();
  await (await byRole(driver, 'button', /^Delete, its access points become/)).click();
  await saved(driver);
  expect((await design()).accessPoints[ap.id]!.modelId).toBe('dunlin-c2');
  // Nor is anything hung of a model that is gone.
  const known = new Set(Object.keys((await design()).accessPoints));
  await (await byRole(driver, 'tab', 'Design')).click();
  await (await byRole(driver, 'button', /^AP/)).click();
  await clickPlan(driver, 40, 32);
  await saved(driver);
  expect(Object.values((await design()).accessPoints).flatMap(({ id, modelId }) => (known.has(id) ? [] : [modelId]))).toEqual(['dunlin-c2']);
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'));
  await (await byRole(driver, 'tab', 'Brief')).click();
  await (await byRole(driver, 'tab', 'Access point models')).click();
  await driver.findElement(By.css('input[aria-label="Equipment file"]')).sendKeys(file('own.json', text!));
  await eventually(driver, design, ({ apModels }) => Object.values(apModels).some(({ name }) => name === 'Lapwing'), 'the model back');
});

test('a client of one’s own is chosen for the map, and the map is its', async () => {
  await (await byRole(driver, 'tab', 'Client types')).click();
  await (await byRole(driver, 'button', 'Laptop')).click();
  await (await byRole(driver, 'button', 'Make an own one like it')).click();
  await (await byRole(driver, 'textbox', 'name')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Trolley', Key.ENTER);
  await entered('gain', '-6');
  await saved(driver);
  const own = Object.values((await design()).clientTypes)[0]!;
  expect(own).toMatchObject({ name: 'Trolley', equipment: { gainDbi: -6 } });
  expect((await design()).project.project!.clientTypes).toContain(own.id);
  await (await byRole(driver, 'tab', 'Design')).click();
  await clickPlan(driver, 40, 30);
  const before = await strongestDbm(driver);
  await chooseIn(driver, 'for', /^Trolley/);
  await eventually(
    driver,
    () => strongestDbm(driver),
    (dbm) => Math.abs(dbm - (before - 6)) < 0.11,
    'the level of the client',
  );
});

test('law of one’s own begins as the one chosen; a rule that is changed is the law of the design at once', async () => {
  await (await byRole(driver, 'tab', 'Brief')).click();
  // First the pinned spot goes, then what is selected.
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE, Key.ESCAPE);
  await chooseIn(driver, 'regulatory domain', /^our own$/);
  await (await byRole(driver, 'button', /5 GHz: 36–48$/)).click();
  await (await byRole(driver, 'textbox', 'channels')).sendKeys(Key.chord(Key.CONTROL, 'a'), '37', Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('.notice')).getText(),
    (text) => text.includes('no 5 GHz channels'),
    'what is wrong',
  );
  await (await byRole(driver, 'textbox', 'channels')).sendKeys(Key.chord(Key.CONTROL, 'a'), '36-40', Key.ENTER);
  await (await byRole(driver, 'textbox', 'EIRP up to')).sendKeys(Key.chord(Key.CONTROL, 'a'), '14', Key.ENTER);
  await saved(driver);
  const project = (await design()).project.project!;
  expect(project).toMatchObject({ domain: 'own', ownDomain: { name: 'Like UK' } });
  expect(project.ownDomain!.rules.find(({ channels }) => channels.includes(36))).toMatchObject({ channels: [36, 40], maxEirpDbm: 14 });
  const now = await design();
  const aps = accessPointsAround(now, floorsOf(now)[0]!.id, variantsOf(now).at(-1)!.id);
  const breaking = aps.find((ap) => ap.floorId === floorsOf(now)[0]!.id && ap.radios.some(({ band, channel }) => band === '5' && channel === 44))!;
  await (await byRole(driver, 'tab', 'Design')).click();
  await driver.findElement(By.css(`[data-ap="${breaking.id}"]`)).sendKeys(Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('.inspector')).getText(),
    (text) => text.includes('is not allowed in Like UK'),
    'the breach by its name',
  );
  await driver.navigate().refresh();
  await byRole(driver, 'tab', 'Brief', 40_000);
  expect((await design()).project.project!.domain).toBe('own');
});
