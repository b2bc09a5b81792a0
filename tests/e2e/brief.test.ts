import { expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { floorRecords } from '@/contract/floorFile';
import { wallLengthM } from '@/core/building/wall';
import { accessPointsAround, floorsOf, onFloor, variantsOf } from '@/core/design/design';
import { sightLine } from '@/core/propagation/ray';
import { modelOf, radioModelOf } from '@/core/radio/catalogue';
import { HANDLERS } from '@/engine/handlers';
import { finish, lensCall, sceneRadios } from '@/engine/museum.testing';
import type { LensResult } from '@/engine/protocol';
import { emittersOf, floorMedium, floorScene, poseOf } from '@/engine/scene';
import { byRole, eventually } from './browser';
import { chooseIn, clickPlan, openProject, saved, toLens } from './moves';
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
  await byRole(driver, 'tab', 'Brief', 40_000);
  await eventually(driver, evidence, (text) => text.includes('signal −62 dBm, second −67 dBm, SNR 20 dB, 50 Mb/s'), 'the level in the table');
  expect(await evidence()).toContain('75');
  await (await byRole(driver, 'button', 'Terrace')).click();
  await (await byRole(driver, 'button', 'Delete')).click();
  await eventually(driver, evidence, (text) => /Quay terrace .*none yet/s.test(text), 'the zone without a level');
  await saved(driver);
  expect(Object.values((await design()).zones).find((zone) => zone.name === 'Quay terrace')).toMatchObject({ serviceLevelId: null, people: 75 });
});

test('clutter that is drawn costs by the metre, less where a hole is cut; an arc is drawn as walls that join', async () => {
  await (await byRole(driver, 'tab', 'Building')).click();
  const floorId = floorsOf(await design())[0]!.id;
  const before = await design();
  await (await byRole(driver, 'button', /^Area/)).click();
  await chooseIn(driver, 'Area to draw', /^Clutter$/);
  await clickPlan(driver, 24, 40);
  await clickPlan(driver, 60, 45);
  await (await byRole(driver, 'textbox', '□ 5 GHz')).sendKeys(Key.chord(Key.CONTROL, 'a'), '1.5', Key.ENTER);
  await chooseIn(driver, 'Area to draw', /^Hole$/);
  await clickPlan(driver, 30, 41);
  await clickPlan(driver, 34, 43);
  await (await byRole(driver, 'button', /^Wall/)).click();
  await chooseIn(driver, 'How walls are drawn', /^Arc$/);
  for (const [x, y] of [
    [62, 40],
    [70, 40],
    [66, 44],
  ] as const)
    await clickPlan(driver, x, y);
  await saved(driver);
  const after = await design();
  const drawn = onFloor(after, 'zones', floorId).find(({ kind }) => kind === 'clutter')!;
  expect(drawn.clutter).toMatchObject({ topM: 2, dbPerM: { '5': 1.5 } });
  expect(drawn.holes).toHaveLength(1);
  const arc = onFloor(after, 'walls', floorId).filter(({ id }) => !Object.hasOwn(before.walls, id));
  expect(arc.length).toBeGreaterThan(4);
  const lengthM = arc.reduce((sum, wall) => sum + wallLengthM(wall), 0);
  // Half a circle of 4 m.
  expect(Math.abs(lengthM - 4 * Math.PI)).toBeLessThan(0.3);

  // What the card says of the way is what the core says.
  await (await byRole(driver, 'tab', 'Design')).click();
  await chooseIn(driver, 'band', /5 GHz/);
  await clickPlan(driver, 50, 44);
  const card = () => driver.findElement(By.css('.readout')).getText();
  const words = await eventually(driver, card, (text) => text.includes('clutter'), 'clutter in the budget');
  const [, name, saidDb] = /([A-Z]-\d+): .* − ([\d.]+) clutter/s.exec(words)!;
  const ap = Object.values(after.accessPoints).find((one) => one.name === name && one.variantId === variantsOf(after).at(-1)!.id)!;
  const floor = after.floors[floorId]!;
  const at = /([\d.]+), ([\d.]+) m/.exec(words)!;
  const end = { xM: Number(at[1]), yM: Number(at[2]), zM: floor.elevationM + after.project.project!.clientHeightM };
  const line = sightLine(floorMedium(after, floor), poseOf(after, ap), radioModelOf(modelOf(ap.modelId), '5')!.antenna, '5', end);
  expect(Number(saidDb)).toBeGreaterThan(0.5);
  expect(Math.abs(line.clutterLossDb - Number(saidDb))).toBeLessThan(0.3);
});

test('Service level: the zones table says of each zone what the core says, and the scale names the kinds', async () => {
  await toLens(driver, 'Service level');
  await (await byRole(driver, 'tab', 'Zones')).click();
  const now = await design();
  const floor = floorsOf(now)[0]!;
  const scene = floorScene(now, floor);
  const radios = sceneRadios(emittersOf(now, accessPointsAround(now, floor.id, variantsOf(now).at(-1)!.id), ['5']));
  const zones = scene.zones.map(({ zone, mask }) => ({ id: zone.id, mask, level: now.serviceLevels[zone.serviceLevelId ?? ''] ?? null }));
  const { result } = finish(HANDLERS.lens(lensCall({ scene, mask: scene.mask, lens: 'service', radios, zones })));
  const indoors = scene.zones.findIndex(({ zone }) => zone.name === 'Indoors');
  const { each, all } = (result as LensResult).zones[indoors]!.owed!;
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`;
  const row = await eventually(
    driver,
    () => driver.findElement(By.xpath("//table[@aria-label='Zones']//tr[td[1]='Indoors']")).getText(),
    (text) => text.includes('met'),
    'the zone',
  );
  for (const share of [each[0]!, each[1]!, each[4]!, all]) expect(row).toContain(percent(share));
  expect(all).toBeLessThan(0.5);
  expect(row).toContain('not met');
  expect(await driver.findElement(By.css('.kinds')).getText()).toContain('too many share');
  // Another lens tells of the same zones what meets its threshold.
  await toLens(driver, 'Signal');
  const shareAt = async (dbm: string) => {
    await (await byRole(driver, 'textbox', 'threshold')).sendKeys(Key.chord(Key.CONTROL, 'a'), dbm, Key.ENTER);
    const text = await eventually(
      driver,
      evidence,
      (words) => words.includes(`at ${dbm.replace('-', '−')} dBm or more`),
      'the zones at the threshold',
    );
    return Number(/Indoors .*?([\d.]+) %/s.exec(text)![1]);
  };
  // The shares follow the threshold, not only the words.
  const loud = await shareAt('-50');
  expect(loud).toBeLessThan((await shareAt('-67')) - 20);
  await eventually(driver, evidence, (text) => /Signal: at −67 dBm or more/.test(text) && /Indoors .*9\d\.\d %/s.test(text), 'the share of the zone');
});

test('where a keep-out zone says that no service is owed, none is judged: in the zones table and at the spot', async () => {
  await (await byRole(driver, 'tab', 'Building')).click();
  const floor = floorsOf(await design())[0]!;
  await (await byRole(driver, 'button', /^Area/)).click();
  await chooseIn(driver, 'Area to draw', /^Keep out$/);
  await chooseIn(driver, 'How it is drawn', /^Box$/);
  await clickPlan(driver, 20, 22);
  await clickPlan(driver, 30, 32);
  await chooseIn(driver, 'keeps out', /^service/);
  await saved(driver);
  const now = await design();
  expect(onFloor(now, 'zones', floor.id).find(({ name }) => name === 'Keep out 1')).toMatchObject({ kind: 'keep-out', keepsOut: 'service' });
  const exemptM2 = floorScene(now, floor).zones.find(({ zone }) => zone.name === 'Indoors')!.exemptM2;
  expect(Math.abs(exemptM2 - 100)).toBeLessThan(12);
  await (await byRole(driver, 'tab', 'Design')).click();
  await toLens(driver, 'Service level');
  await eventually(driver, evidence, (text) => text.includes(`of it ${exemptM2.toFixed(0)} m² where none is owed`), 'what is not owed of the zone');
  await clickPlan(driver, 25, 27);
  await eventually(
    driver,
    () => driver.findElement(By.css('.readout')).getText(),
    (text) => text.includes('no service level is owed here'),
    'the spot',
  );
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
