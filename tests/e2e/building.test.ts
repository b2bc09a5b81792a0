import { beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { museum } from '@demo/museum';
import { MARGIN_M, drawnSheet } from '@demo/drawing/image';
import { planOf } from '@demo/drawing/plan';
import { pngOf } from '@demo/drawing/png';
import { dxfOf, pdfOf, svgOf, vectorSheet } from '@demo/drawing/vectors';
import { materialLossDb } from '@/core/building/material';
import { wallLengthM, type Wall } from '@/core/building/wall';
import { floorsOf, onFloor, openingsOf, referencesOf } from '@/core/design/design';
import { byRole, byTestId, eventually, textOf } from './browser';
import { chooseIn, clickPlan, dragPlan, movePlan, saved } from './moves';
import { driver, server, stored } from './together';

const press = (...keys: string[]) => driver.findElement(By.css('body')).sendKeys(...keys);
const fill = async (name: string, text: string) => (await byRole(driver, 'textbox', name)).sendKeys(Key.chord(Key.CONTROL, 'a'), text);
/** The project made here, from the address of the page. */
const projectId = async () => (await driver.getCurrentUrl()).split('/').at(-1)!;
const design = async () => (await stored(await projectId())).design;

async function newProject(name: string): Promise<void> {
  await driver.get(server.url);
  await (await byRole(driver, 'button', 'New project')).click();
  await fill('name', name);
  await fill('width', '40');
  await fill('depth', '25');
  await (await byRole(driver, 'button', 'Create')).click();
  await (await byRole(driver, 'tab', 'Building', 40_000)).click();
}

const kindsIn = ({ openings }: Awaited<ReturnType<typeof design>>, kind: string) => Object.values(openings).filter((one) => one.kind === kind).length;
const doorsIn = (of: Awaited<ReturnType<typeof design>>) => kindsIn(of, 'door');
const windowsIn = (of: Awaited<ReturnType<typeof design>>) => kindsIn(of, 'window');

/** Gives a file to the page as its file dialog would. */
async function bringIn(file: string): Promise<void> {
  await driver.findElement(By.css('input[type=file]')).sendKeys(file);
}

const PX_PER_M = 30;
const folder = mkdtempSync(path.join(os.tmpdir(), 'upper-room-plans-'));
const file = (name: string, bytes: Uint8Array | string): string => {
  const at = path.join(folder, name);
  writeFileSync(at, bytes);
  return at;
};

test('six rooms with doors on a bare grid: 21 clicks and keys, each wall and door where it was meant', async () => {
  await newProject('Six rooms');
  let count = 0;
  const key = (text: string) => (count++, press(text));
  const click = (x: number, y: number) => (count++, clickPlan(driver, x, y));
  await key('q');
  await click(0, 0);
  await click(40, 25);
  await key('w');
  await click(0, 12.5);
  await click(40, 12.5);
  for (const [x, y] of [
    [13, 0],
    [26, 0],
    [13, 25],
    [26, 25],
  ] as const) {
    await click(x, y);
    await click(x, 12.5);
  }
  await key('d');
  for (const [x, y] of [
    [6, 12.5],
    [20, 12.5],
    [33, 12.5],
    [13, 5],
    [13, 20],
    [26, 20],
  ] as const)
    await click(x, y);
  await saved(driver);
  expect(count).toBeLessThanOrEqual(30);
  const made = await design();
  const walls = Object.values(made.walls);
  const lengths = walls.map((wall) => Number(wallLengthM(wall).toFixed(2))).sort((a, b) => a - b);
  expect(lengths).toEqual([12.5, 12.5, 12.5, 12.5, 25, 25, 40, 40, 40]);
  expect(Object.values(made.openings).map(({ kind, widthM }) => [kind, widthM])).toEqual(Array.from({ length: 6 }, () => ['door', 0.9]));
  const [first] = Object.values(made.openings).filter(
    (opening) => made.walls[opening.wallId]!.ayM === 12.5 && made.walls[opening.wallId]!.byM === 12.5,
  );
  expect(first!.atM + first!.widthM / 2).toBeCloseTo(6, 0);
});

describe('from a drawing to a building', () => {
  beforeAll(async () => {
    await newProject('Quay traced');
  });

  test('a raster plan comes in, without a scale until it is measured; two known lengths fit and tell their errors', async () => {
    const quay = floorsOf(museum())[0]!;
    await bringIn(file('quay.png', pngOf(drawnSheet(planOf(museum(), quay.id), { style: 'filled', pxPerM: PX_PER_M }))));
    await byRole(driver, 'button', 'Measure a known length', 30_000);
    expect(await textOf(driver, 'not-to-scale')).toBe('Not to scale');
    await driver.wait(async () => (await (await byTestId(driver, 'drawing')).getAttribute('data-loaded')) === 'yes', 40_000);
    // The sheet is 76 m wide and lies on 40 m of plan: what is x m of the building is drawn at (x + margin) x 40 / 76.
    const shown = 40 / (72 + 2 * MARGIN_M);
    const at = (m: number) => (m + MARGIN_M) * shown;
    for (const [a, b, text] of [
      [[0, 38], [72, 38], '72'],
      [[0, 0], [0, 38], '38 m'],
    ] as const) {
      await (await byRole(driver, 'button', 'Measure a known length')).click();
      const now = Object.values((await design()).drawings)[0]!.mPerPxX * PX_PER_M;
      const spot = (m: number) => (text === '72' ? at(m) : (m + MARGIN_M) * now);
      await clickPlan(driver, spot(a[0]), spot(a[1]));
      await clickPlan(driver, spot(b[0]), spot(b[1]));
      await byRole(driver, 'textbox', /^true length/);
      await (await driver.switchTo().activeElement()).sendKeys(text, Key.ENTER);
      await saved(driver);
    }
    const made = await eventually(driver, design, ({ references }) => Object.keys(references).length === 2, 'two references');
    const [drawing] = Object.values(made.drawings);
    // A pointer on a pixel of the screen is within 3 px of the sheet.
    expect(Math.abs(drawing!.mPerPxX * PX_PER_M - 1)).toBeLessThan(0.01);
    expect(
      referencesOf(made, drawing!.id)
        .map(({ lengthM }) => lengthM)
        .sort(),
    ).toEqual([38, 72]);
    expect(await driver.findElements(By.css('[data-testid=not-to-scale]'))).toHaveLength(0);
    expect((await driver.findElement(By.css('.inspector')).getText()).match(/−?\d+\.\d %, −?\d+\.\d\d m/g)).toHaveLength(2);
    // The outline was the drawing's own and went along: 76 m x 50 m.
    const [floor] = Object.values(made.floors);
    expect(floor!.outline[2]!.xM).toBeCloseTo(76, -0.5);
  });

  test('walls are found in it, judged by click and box, and drawn with their doors and windows', async () => {
    await (await byRole(driver, 'button', 'Find walls')).click();
    await byRole(driver, 'button', /^Draw \d+ walls$/, 60_000);
    const words = async () =>
      (await (await byRole(driver, 'region', 'Found walls')).getText()).match(/(\d+) walls of (\d+) in, with (\d+) doors and (\d+) windows/)!;
    const out = async () => (await driver.findElements(By.css('[data-proposal=out]'))).length;
    const all = Number((await words())[2]);
    expect([Number((await words())[1]), await out()]).toEqual([all, 0]);
    // Of the drawing's margin of 2 m the wall at 22 m of the museum lies at 24 m.
    await clickPlan(driver, 24, 8);
    await eventually(driver, out, (count) => count === 1, 'one out');
    await clickPlan(driver, 24, 8);
    await eventually(driver, out, (count) => count === 0, 'none out');
    // The lift's four walls, and no wall that only passes.
    await dragPlan(driver, [56.8, 14.4], [61.2, 18.8]);
    await eventually(driver, out, (count) => count === 4, 'the lift out');
    const [, chosen, , doors, windows] = (await words()).map(Number);
    expect(chosen).toBe(all - 4);
    await (await byRole(driver, 'button', `Draw ${chosen} walls`)).click();
    await saved(driver);
    const made = await design();
    expect([Object.keys(made.walls).length, doorsIn(made), windowsIn(made)]).toEqual([chosen, doors, windows]);
    // A passage is a gap on paper: what is drawn beside it are two walls.
    const [quay] = floorsOf(museum());
    const truth = onFloor(museum(), 'walls', quay!.id).filter(({ topM, baseM }) => topM >= 2 && baseM === 0);
    const gapsM = openingsOf(museum(), quay!.id).reduce((sum, { kind, widthM }) => sum + (kind === 'passage' || kind === 'shutter' ? widthM : 0), 0);
    const lengthM = (walls: readonly Wall[]) => walls.reduce((sum, wall) => sum + wallLengthM(wall), 0);
    expect(Math.abs((lengthM(Object.values(made.walls)) + 4 * 3) / (lengthM(truth) - gapsM) - 1)).toBeLessThan(0.02);
    expect(doors).toBeGreaterThan(15);
    expect(windows).toBeGreaterThan(25);
    // One step back and forward again.
    await (await byRole(driver, 'button', /^Undo/)).click();
    await saved(driver);
    expect(Object.keys((await design()).walls)).toHaveLength(0);
    await (await byRole(driver, 'button', /^Redo/)).click();
    await saved(driver);
    expect(await design()).toEqual(made);
  });

  test('walls are drawn by typed lengths, a door and a window put in, and their losses are the core’s', async () => {
    const before = await design();
    await press(Key.ESCAPE, Key.ESCAPE);
    await press('w');
    await chooseIn(driver, 'Material of new walls', /^Brick, 0.25/);
    await clickPlan(driver, 34, 25);
    await movePlan(driver, 38, 25);
    await press('8');
    await (await driver.switchTo().activeElement()).sendKeys('.4', Key.TAB, '0', Key.ENTER);
    await movePlan(driver, 43, 29);
    await press('5');
    await (await driver.switchTo().activeElement()).sendKeys(Key.TAB, '270', Key.ENTER);
    await press(Key.ESCAPE);
    await saved(driver);
    const walls = Object.values((await design()).walls).filter(({ id }) => !Object.hasOwn(before.walls, id));
    expect(walls.map((wall) => Number(wallLengthM(wall).toFixed(3))).sort()).toEqual([5, 8.4]);
    await press('d');
    await clickPlan(driver, 36, 25.05);
    await chooseIn(driver, 'Opening to put in', /^Window/);
    await clickPlan(driver, 40, 25.05);
    await saved(driver);
    const inspector = await eventually(
      driver,
      () => driver.findElement(By.css('.inspector')).getText(),
      (text) => text.startsWith('Window'),
      'the window in the inspector',
    );
    expect(inspector).toContain(`${materialLossDb('glass', '5').toFixed(1)} dB`);
    expect(
      Object.values((await design()).openings)
        .filter(({ id }) => !Object.hasOwn(before.openings, id))
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['door', 'window']);
    // Where no wall is, the reason is said and nothing is made.
    await clickPlan(driver, 60, 45);
    await eventually(
      driver,
      async () => (await driver.findElements(By.css('.notice'))).length > 0 && (await driver.findElement(By.css('.notice')).getText()),
      (text) => typeof text === 'string' && text.includes('no wall here'),
      'the reason',
    );
    expect(Object.keys((await design()).openings)).toHaveLength(Object.keys(before.openings).length + 2);
  });

  test('an own material with a measured loss is on its walls at once', async () => {
    await press(Key.ESCAPE, Key.ESCAPE);
    await (await byRole(driver, 'tab', 'Materials')).click();
    await (await byRole(driver, 'button', 'Brick, 0.25 m')).click();
    await (await byRole(driver, 'button', 'Make an own one like it')).click();
    await (await byRole(driver, 'textbox', '5 GHz')).sendKeys('9', Key.ENTER);
    await saved(driver);
    await driver.findElement(By.css('[data-wall]')).sendKeys(Key.ENTER);
    await chooseIn(driver, 'material', /own$/);
    await saved(driver);
    const made = await design();
    const [own] = Object.values(made.materials);
    expect(own!.measuredDb).toEqual({ '5': 9 });
    expect(Object.values(made.walls).filter(({ materialId }) => materialId === own!.id)).toHaveLength(1);
    await eventually(
      driver,
      () => driver.findElement(By.css('.inspector')).getText(),
      (text) => text.includes('9.0 dB'),
      'the measured loss',
    );
  });

  test('the floor is duplicated, laid over the one below, and its slab opened; after a reload all of it is there', async () => {
    await press(Key.ESCAPE, Key.ESCAPE);
    await (await byRole(driver, 'button', 'Duplicate the floor')).click();
    await eventually(driver, design, ({ floors }) => Object.keys(floors).length === 2, 'two floors');
    await (await byRole(driver, 'button', 'Lay the floor over the one below …')).click();
    for (const [x, y] of [
      [34, 25],
      [42.4, 25],
    ] as const) {
      await clickPlan(driver, x, y);
      await clickPlan(driver, x, y);
    }
    await (await byRole(driver, 'button', 'Lay it over')).click();
    await press('z');
    await chooseIn(driver, 'Area to draw', /^Slab hole$/);
    await clickPlan(driver, 44.5, 27);
    await clickPlan(driver, 47, 30);
    await saved(driver);
    const before = await design();
    const [ground, copy] = floorsOf(before);
    expect(copy!.elevationM).toBeCloseTo(ground!.elevationM + 3.2, 6);
    expect(copy!.registeredWorstM).toBeLessThan(0.01);
    const count = (floorId: string) => [onFloor(before, 'walls', floorId).length, openingsOf(before, floorId).length];
    expect(count(copy!.id)).toEqual(count(ground!.id));
    expect(count(ground!.id)[0]).toBeGreaterThan(40);
    expect(onFloor(before, 'slabOpenings', copy!.id)).toHaveLength(1);
    await driver.navigate().refresh();
    await byRole(driver, 'button', 'Bring in a drawing…', 40_000);
    await driver.wait(async () => (await (await byTestId(driver, 'drawing')).getAttribute('data-loaded')) === 'yes', 40_000);
    expect(await design()).toEqual(before);
  });
});

describe('what cannot be brought in says why', () => {
  const words = () =>
    driver
      .findElement(By.css('.notice'))
      .getText()
      .catch(() => '');
  test.each([
    ['cut.png', '\x89PNG\r\n\x1a\n\0\0', 'damaged or cut off'],
    ['plan.pdf', '%PDF-1.7\nnothing', 'damaged or cut off'],
    ['letter.docx', 'PK\x03\x04', 'not a drawing that can be read'],
    ['empty.dxf', '0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n', 'nothing to draw'],
    ['broken.svg', '<svg xmlns="http://www.w3.org/2000/svg"><rect', 'damaged or cut off'],
  ])('%s', async (name, content, reason) => {
    const before = Object.keys((await design()).drawings).length;
    await driver.executeScript("document.querySelector('.notice button[aria-label=Close]')?.click()");
    await eventually(driver, words, (text) => text === '', 'no notice');
    await bringIn(file(name, Buffer.from(content, 'latin1')));
    await eventually(driver, words, (text) => text.includes(reason), 'the reason');
    expect(Object.keys((await design()).drawings)).toHaveLength(before);
  });

  test('an SVG with code and foreign links is drawn without them; a DXF says its scale by its units', async () => {
    const line = (x1: number, y1: number, x2: number, y2: number) => `0\nLINE\n8\nWALLS\n10\n${x1}\n20\n${y1}\n11\n${x2}\n21\n${y2}\n`;
    await bringIn(
      file(
        'shed.dxf',
        `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n${line(0, 0, 14000, 0)}${line(14000, 0, 14000, 9000)}0\nENDSEC\n0\nEOF\n`,
      ),
    );
    const dxf = await eventually(driver, design, ({ drawings }) => Object.values(drawings).some(({ name }) => name === 'shed'), 'the DXF');
    const shed = Object.values(dxf.drawings).find(({ name }) => name === 'shed')!;
    expect([shed.scaleFrom, shed.mPerPxX * (shed.widthPx - 40)]).toEqual(['file', expect.closeTo(14, 1)]);
    await press(Key.ESCAPE);
    await bringIn(
      file(
        'sketch.svg',
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 80 50"><script>window.harmed = true</script><image href="https://example.org/spy.png" width="9" height="9"/><path d="M5 5H75V45"/></svg>',
      ),
    );
    const svg = await eventually(driver, design, ({ drawings }) => Object.values(drawings).some(({ name }) => name === 'sketch'), 'the SVG');
    const sketch = Object.values(svg.drawings).find(({ name }) => name === 'sketch')!;
    expect([sketch.widthPx, sketch.heightPx, sketch.scaleFrom]).toEqual([4000, 2500, 'guess']);
    expect(await driver.executeScript('return window.harmed === undefined')).toBe(true);
  });
});

describe('a drawing of vectors', () => {
  const upper = floorsOf(museum())[1]!;
  const sheet = vectorSheet(planOf(museum(), upper.id), { style: 'filled', pxPerM: 30, busy: true });
  const name = (format: string) => `traced-${format}`;
  const broughtIn = async (format: string) =>
    Object.values(
      (await eventually(driver, design, ({ drawings }) => Object.values(drawings).some((one) => one.name === name(format)), format)).drawings,
    ).find((one) => one.name === name(format))!;

  test.each([
    ['svg', () => svgOf(sheet)],
    ['pdf', () => pdfOf(sheet)],
    ['dxf', () => dxfOf(sheet)],
  ])(
    '%s: lengths written on it tell its scale, which stays a guess; its vectors are kept and drawn when it is looked at closely',
    async (format, text) => {
      await newProject(`Vectors of ${format}`);
      await bringIn(file(`${name(format)}.${format}`, text()));
      if (format === 'dxf') await (await byRole(driver, 'button', 'Lay it under the floor', 30_000)).click();
      const drawing = await broughtIn(format);
      expect(drawing.scaleFrom).toBe('words');
      // The longer side of the sheet, with 2 m about the floor, or of a DXF of all that is drawn; a length is written in whole millimetres.
      const truePx = format === 'dxf' ? null : drawing.widthPx / (sheet.widthPx / 30);
      const pxPerM = 1 / drawing.mPerPxX;
      if (truePx !== null) expect(Math.abs(pxPerM / truePx - 1)).toBeLessThan(0.01);
      else expect(pxPerM).toBeGreaterThan(40);
      expect(await textOf(driver, 'not-to-scale')).toBe('Not to scale');
      expect(await driver.findElement(By.css('.inspector')).getText()).toContain('a guess, read from the lengths written on it');
      expect(drawing.source?.chosen).toEqual(format === 'dxf' ? [0, 1, 2] : []);
      const drawnFrom = async () => (await byTestId(driver, 'drawing')).getAttribute('data-drawn-from');
      await eventually(driver, drawnFrom, (from) => from === 'picture', 'the picture');
      for (let i = 0; i < 12; i++) await (await byRole(driver, 'button', 'Zoom in')).click();
      await eventually(driver, drawnFrom, (from) => from === 'vectors', 'the vectors');
    },
  );
});
