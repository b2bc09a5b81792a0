import { expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { floorRecords } from '@/contract/floorFile';
import { floorsOf, onFloor } from '@/core/design/design';
import { byRole, eventually } from './browser';
import { chooseIn, openProject, saved } from './moves';
import { driver, server, stored } from './together';

const ID = 'quillhaven';
const design = async () => (await stored(ID)).design;
const evidence = () => driver.findElement(By.css('#evidence-body')).getText();

test('what is owed is written down, given to a zone, and stands after a reload; a level that goes leaves its zones without one', async () => {
  await openProject(driver, server.url, ID);
  await (await byRole(driver, 'tab', 'Brief')).click();
  const needs = await byRole(driver, 'textbox', 'needs');
  // Enter begins a line, leaving the field keeps the text.
  await needs.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Voice for the wardens.', Key.ENTER, 'Scanners at the door.', Key.TAB);
  await (await byRole(driver, 'checkbox', /^Sensor/)).click();
  await saved(driver);
  expect((await design()).project.project).toMatchObject({
    needs: 'Voice for the wardens.\nScanners at the door.',
    clientTypes: ['handset', 'phone', 'laptop', 'guide', 'scanner', 'sensor'],
  });
  await (await byRole(driver, 'button', 'Add a level')).click();
  const name = await byRole(driver, 'textbox', 'name');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Terrace', Key.ENTER);
  await (await byRole(driver, 'textbox', 'signal, at least')).sendKeys(Key.chord(Key.CONTROL, 'a'), '-200', Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('.inspector')).getText(),
    (text) => text.includes('must be a number from'),
    'the limits',
  );
  await (await byRole(driver, 'textbox', 'signal, at least')).sendKeys(Key.chord(Key.CONTROL, 'a'), '-62', Key.ENTER);
  await (await byRole(driver, 'checkbox', 'second signal')).click();
  await saved(driver);
  const terrace = Object.values((await design()).serviceLevels).find((level) => level.name === 'Terrace')!;
  expect(terrace).toMatchObject({ signalDbm: -62, secondDbm: -67, snrDb: 20, share: 0.95 });
  await (await byRole(driver, 'button', 'Quay terrace')).click();
  await chooseIn(driver, 'service level', /^Terrace$/);
  await (await byRole(driver, 'textbox', 'expected')).sendKeys(Key.chord(Key.CONTROL, 'a'), '75', Key.ENTER);
  await saved(driver);
  expect(Object.values((await design()).zones).find((zone) => zone.name === 'Quay terrace')).toMatchObject({
    serviceLevelId: terrace.id,
    people: 75,
  });
  await driver.navigate().refresh();
  await byRole(driver, 'tab', 'Brief', 20_000);
  await eventually(driver, evidence, (text) => text.includes('signal −62 dBm, second −67 dBm, SNR 20 dB, 50 Mb/s'), 'the level in the table');
  expect(await evidence()).toContain('75');
  await (await byRole(driver, 'button', 'Terrace')).click();
  await (await byRole(driver, 'button', 'Delete')).click();
  await eventually(driver, evidence, (text) => /Quay terrace .*none yet/s.test(text), 'the zone without a level');
  await saved(driver);
  expect(Object.values((await design()).zones).find((zone) => zone.name === 'Quay terrace')).toMatchObject({ serviceLevelId: null, people: 75 });
});

/** What the page would have the browser keep, as text. */
async function written(title: string): Promise<string> {
  await driver.executeScript(
    'window.kept = null; URL.createObjectURL = (blob) => { void blob.text().then((text) => { window.kept = text; }); return "#"; };',
  );
  await (await byRole(driver, 'button', title)).click();
  return eventually(
    driver,
    () => driver.executeScript<string | null>('return window.kept'),
    (text) => text !== null,
    title,
  ) as Promise<string>;
}

test.each([
  ['Write the floor as GeoJSON', 'floor.geojson'],
  ['Write the floor as DXF', 'floor.dxf'],
])('%s, and bring it back: walls, openings and areas are equal', async (title, file) => {
  await (await byRole(driver, 'tab', 'Building')).click();
  await (await byRole(driver, 'button', /^Quay level/)).click();
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE, Key.ESCAPE);
  const text = await written(title);
  const before = await design();
  const [quay] = floorsOf(before);
  const at = path.join(mkdtempSync(path.join(os.tmpdir(), 'upper-room-floor-')), file);
  writeFileSync(at, text);
  await driver.findElement(By.css('input[type=file]')).sendKeys(at);
  const after = await eventually(driver, design, ({ floors }) => Object.keys(floors).length > Object.keys(before.floors).length, 'one more floor');
  const added = Object.keys(after.floors).find((id) => !Object.hasOwn(before.floors, id))!;
  /** What lies on a floor, without its ids. */
  const bare = (floorId: string) => {
    const { walls, openings, zones, slabOpenings } = floorRecords(after, floorId);
    const plain = (records: readonly object[]) => records.map((record) => JSON.stringify({ ...record, id: '', floorId: '', wallId: '' })).sort();
    return { walls: plain(walls), openings: plain(openings), zones: plain(zones), slabOpenings: plain(slabOpenings) };
  };
  expect(bare(added)).toEqual(bare(quay!.id));
  expect(onFloor(after, 'walls', added).length).toBeGreaterThan(50);
  // The next format begins where this one did.
  await (await byRole(driver, 'button', 'Undo')).click();
  await eventually(driver, design, ({ floors }) => Object.keys(floors).length === Object.keys(before.floors).length, 'the floor gone');
});
