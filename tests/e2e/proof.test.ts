import { expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Heard } from '@/core/survey/heard';
import { captureOf, readCapture } from '@/core/formats/capture';
import { LINK_RADIOTAP, readPcapng, writePcapng } from '@/core/formats/pcapng';
import { trimmedMean } from '@/core/survey/transfer';
import { museumBuilding } from '@demo/museum';
import { floorsOf } from '@/core/design/design';
import { byRole, eventually, textOf } from './browser';
import { chooseIn, clickPlan, measuredCard, openProject, saved } from './moves';
import { driver, server, stored } from './together';

const heardOn = async (walkId: string): Promise<Heard> =>
  (await fetch(`${server.url}/api/projects/cottage/walks/${walkId}/samples`)).json() as Promise<Heard>;
const walksNow = async () => Object.values((await stored('cottage')).design.walks).sort((a, b) => a.startedAt.localeCompare(b.startedAt));
const count = async () => Number(await textOf(driver, 'sample-count'));
const panel = () => driver.findElement(By.css('.inspector')).getText();
const press = async (name: string | RegExp) => (await byRole(driver, 'button', name)).sendKeys(Key.ENTER);
/** Writes into a field of the panel that is folded away until it is asked for. */
const unfold = () => driver.executeScript('document.querySelectorAll("details.more").forEach((one) => (one.open = true))');
const folder = mkdtempSync(path.join(os.tmpdir(), 'upper-room-proof-'));
const fileWith = (name: string, bytes: Uint8Array | string): string => {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
};

test('the receiver is set before a walk: which adapter, which channels; what makes no sense is said and not begun with', async () => {
  await openProject(driver, server.url, 'cottage');
  await (await byRole(driver, 'tab', 'Survey')).click();
  await (await byRole(driver, 'button', 'Connect receiver')).click();
  await eventually(
    driver,
    () => textOf(driver, 'receiver-state'),
    (state) => state === 'connected',
    'the receiver',
  );
  await unfold();
  const channels = await byRole(driver, 'textbox', 'only channels');
  await channels.sendKeys('six', Key.TAB);
  await eventually(driver, panel, (text) => text.includes('Channel numbers, as 1, 6, 36'), 'what is wrong with the text');
  await channels.sendKeys(Key.chord(Key.CONTROL, 'a'), '34, 200', Key.ENTER);
  await eventually(driver, panel, (text) => text.includes('None of these is a channel'), 'what is wrong with the channels');
  expect(await (await byRole(driver, 'button', 'Start walk')).isEnabled()).toBe(false);
  await (await byRole(driver, 'textbox', 'only channels')).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE, Key.ENTER);
  await chooseIn(driver, 'adapter', /^phone in the hand/);
  await chooseIn(driver, 'pace', /^20 times/);
  await press('Start walk');
  await clickPlan(driver, 1, 7);
  await clickPlan(driver, 12, 7);
  await eventually(driver, panel, (text) => /time\s+11 s/.test(text), 'the end of the first leg');
  await press('Pause');
  await clickPlan(driver, 12, 2);
  await clickPlan(driver, 2, 2);
  await eventually(driver, panel, (text) => /time\s+21 s/.test(text), 'the end of the second leg');
  await press('Finish');
  await saved(driver);
  const [walk] = await walksNow();
  expect(walk!.receiver).toMatchObject({ adapter: 'phone', channels: [], dwellMs: 110 });
  const heard = await eventually(
    driver,
    () => heardOn(walk!.id),
    ({ samples }) => samples.length > 20,
    'the stored samples',
  );
  // All of the way was listened to.
  expect(heard.scans.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0)).toBeCloseTo(21_000, -2);
});

test('a leg is left out and counts again; a turn is moved and takes along what was heard beside it', async () => {
  const [walk] = await walksNow();
  await (await byRole(driver, 'tab', 'Samples')).click();
  const timesHeard = async (): Promise<number> =>
    driver.executeScript(
      'return [...document.querySelectorAll("table[aria-label=\'Samples by network\'] tbody tr")].reduce((sum, row) => sum + Number(row.cells[3].innerText), 0)',
    );
  const { samples } = await heardOn(walk!.id);
  await eventually(driver, timesHeard, (times) => times === samples.length, 'all samples in the table');
  await unfold();
  await (await byRole(driver, 'checkbox', /^leg 2/)).click();
  await eventually(driver, timesHeard, (times) => times === samples.filter(({ leg }) => leg === 0).length, 'the samples of one leg');
  await (await byRole(driver, 'button', 'Undo')).click();
  await eventually(driver, timesHeard, (times) => times === samples.length, 'both legs again');
  await (await byRole(driver, 'button', 'Select')).click();
  const turn = await byRole(driver, 'button', /^Turn 1 of leg 2 at 12\.0, 2\.0 m/);
  await turn.sendKeys(Key.chord(Key.SHIFT, Key.ARROW_DOWN));
  await byRole(driver, 'button', /^Turn 1 of leg 2 at 12\.0, 3\.0 m/);
  await saved(driver);
  const [moved] = await walksNow();
  // As exactly as a click hits.
  const { xM, yM } = moved!.legs[1]!.turns[0]!;
  expect([Math.abs(xM - 12), Math.abs(yM - 3)].every((off) => off < 0.03)).toBe(true);
  // What is stored stays as it was measured.
  expect((await heardOn(walk!.id)).samples).toEqual(samples);
});

test('a mark has a note and a photo, which is there after a reload', async () => {
  await (await byRole(driver, 'button', 'Mark')).click();
  await clickPlan(driver, 7, 7.6);
  await (await byRole(driver, 'textbox', 'seen here')).sendKeys('Shelves of 2 m', Key.TAB);
  const input = await driver.findElement(By.css('.mark-form input[type=file]'));
  await input.sendKeys(fileWith('notes.txt', 'no photo'));
  await eventually(
    driver,
    () => driver.findElement(By.css('body')).getText(),
    (text) => text.includes('is no photo'),
    'what is wrong with a text',
  );
  await input.sendKeys(path.resolve('docs/screenshots/brief.png'));
  await eventually(
    driver,
    () => driver.findElements(By.css('.mark-form .photos img')),
    (photos) => photos.length === 1,
    'the photo',
  );
  await saved(driver);
  await driver.navigate().refresh();
  const line = await byRole(driver, 'button', /^1 Shelves of 2 m, 1 photo$/);
  await line.click();
  const shown = await driver.findElement(By.css('.mark-form .photos img'));
  await eventually(
    driver,
    () => driver.executeScript<number>('return arguments[0].naturalWidth', shown),
    (width) => width > 0,
    'the photo itself',
  );
  await press('Delete mark');
  await saved(driver);
  expect((await stored('cottage')).design.marks).toEqual({});
});

test('throughput at a pinned spot: trimmed means as the stored runs have them, the second test against the first', async () => {
  if ((await textOf(driver, 'receiver-state')) === 'not connected') await press('Connect receiver');
  await (await byRole(driver, 'button', 'Select')).click();
  await clickPlan(driver, 4, 6.2);
  for (const times of [1, 2]) {
    await eventually(
      driver,
      async () => (await byRole(driver, 'button', 'Test throughput')).isEnabled(),
      (on) => on,
      'a receiver and a spot',
    );
    await press('Test throughput');
    await eventually(
      driver,
      () => driver.findElements(By.css('table[aria-label="Throughput tests"] tbody tr')),
      (rows) => rows.length === times,
      'the test in the table',
    );
  }
  await saved(driver);
  const tests = Object.values((await stored('cottage')).design.transferTests).sort((a, b) => a.at.localeCompare(b.at));
  const means = tests.map(({ runs }) => trimmedMean(runs.map(({ downMbps }) => downMbps)));
  const rows: string[][] = await driver.executeScript(
    'return [...document.querySelectorAll("table[aria-label=\'Throughput tests\'] tbody tr")].map((row) => [...row.cells].map((cell) => cell.innerText.replaceAll("−", "-")))',
  );
  rows.forEach((row, i) => expect(row[8]!.split(' ')[0]).toBe(means[i]!.toFixed(0)));
  expect(rows[0]![11]).toBe('–');
  expect(Number(rows[1]![11]!.replace(' %', ''))).toBeCloseTo(100 * (means[1]! / means[0]! - 1), -0.4);
});

test('a survey goes out as a capture and a table, and comes in again with every sample in its place', async () => {
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await driver.executeScript(
    'window.kept = []; const make = URL.createObjectURL; URL.createObjectURL = (blob) => { blob.arrayBuffer().then((bytes) => window.kept.push(btoa(String.fromCharCode(...new Uint8Array(bytes))))); return make(blob); }',
  );
  const [walk] = await walksNow();
  const { samples } = await heardOn(walk!.id);
  await press('As capture');
  await press('Take out as CSV');
  const kept = await eventually(
    driver,
    () => driver.executeScript<string[]>('return window.kept'),
    (all) => all.length === 2,
    'two files',
  );
  const [capture, csv] = kept.map((text) => new Uint8Array(Buffer.from(text, 'base64'))) as [Uint8Array, Uint8Array];
  const { beacons } = readCapture(capture);
  expect(beacons).toHaveLength(samples.length);
  // As they count: less what the phone reads less.
  expect(beacons.map(({ rssiDbm }) => rssiDbm).sort()).toEqual(samples.map(({ rssiDbm }) => Math.min(0, rssiDbm + 5)).sort());
  const input = await driver.findElement(By.css('input[type=file][aria-label="File with samples"]'));
  for (const [name, bytes] of [
    ['taken.pcapng', capture],
    ['taken.csv', csv],
  ] as const) {
    const before = (await walksNow()).map(({ id }) => id);
    await input.sendKeys(fileWith(name, bytes));
    const there = await eventually(driver, walksNow, (walks) => walks.length === before.length + 1, `the walk out of ${name}`);
    const brought = there.find(({ id }) => !before.includes(id))!;
    await saved(driver);
    const own = await eventually(
      driver,
      () => heardOn(brought.id),
      (heard) => heard.samples.length === samples.length,
      `the samples of ${name}`,
    );
    expect(brought.legs).toHaveLength(2);
    expect(new Set(own.samples.map(({ apId }) => apId))).toEqual(new Set(samples.map(({ apId }) => apId)));
  }
  // What is none is told, with what to do, and makes no walk.
  const before = (await walksNow()).length;
  await input.sendKeys(fileWith('broken.csv', 'x [m],y [m],BSSID,channel,level\n1,2,02:55:aa:00:01:02,36,loud\n'));
  await eventually(
    driver,
    () => driver.findElement(By.css('body')).getText(),
    (text) => text.includes('line 2: level “loud”'),
    'the line that is wrong',
  );
  await input.sendKeys(fileWith('broken.pcapng', 'no capture at all, but some text'));
  await eventually(
    driver,
    () => driver.findElement(By.css('body')).getText(),
    (text) => text.includes('it is no pcapng'),
    'what is wrong with the capture',
  );
  expect(await walksNow()).toHaveLength(before);
  expect(await count()).toBe(samples.length);
});

test('a walk of clicks alone takes a capture that does not say where it was taken', async () => {
  const captured = await heardOn((await walksNow())[0]!.id);
  await press('Walk for a capture');
  await clickPlan(driver, 2, 7);
  await driver.sleep(1200);
  await clickPlan(driver, 9, 7);
  await press('Finish');
  await saved(driver);
  const clicks = (await walksNow()).find(({ receiver, legs }) => receiver === null && legs.length === 1)!;
  const [from, to] = [clicks.legs[0]!.turns[0]!.tMs, clicks.legs[0]!.turns.at(-1)!.tMs];
  // Time runs by the clock.
  expect(to - from).toBeGreaterThan(1100);
  const middleMs = Date.parse(clicks.startedAt) + (from + to) / 2;
  const some = captured.samples.slice(0, 6).map((sample) => ({ ...sample, tMs: 0 }));
  const packets = readPcapng(captureOf(some, middleMs)).map((packet) => ({ ...packet, comment: null }));
  const before = (await walksNow()).map(({ id }) => id);
  const input = await driver.findElement(By.css('input[type=file][aria-label="File with samples"]'));
  await input.sendKeys(fileWith('other.pcapng', writePcapng(LINK_RADIOTAP, packets)));
  const there = await eventually(driver, walksNow, (walks) => walks.length === before.length + 1, 'the walk along the clicks');
  await saved(driver);
  const brought = there.find(({ id }) => !before.includes(id))!;
  const { samples } = await eventually(
    driver,
    () => heardOn(brought.id),
    (heard) => heard.samples.length === 6,
    'its samples',
  );
  // In the middle of the time, in the middle of the way.
  for (const { xM, yM } of samples) expect([Math.abs(xM - 5.5) < 0.2, Math.abs(yM - 7) < 0.1]).toEqual([true, true]);
});

test('held against an earlier walk that heard the same, nothing has changed anywhere', async () => {
  const walks = await walksNow();
  const [first] = walks;
  const copy = walks.find(({ note }) => note === 'From taken.pcapng')!;
  await press(first!.name);
  await chooseIn(driver, 'band', /5 GHz/);
  await chooseIn(driver, 'earlier walk', new RegExp(`^${copy.name} `));
  const share = await eventually(
    driver,
    () => measuredCard(driver),
    ({ of }) => of > 5,
    'the area that both walks measured',
  );
  // At 0 dB or more: the turn that was moved is moved in both.
  expect(share.part).toBe(share.of);
  const threshold = await byRole(driver, 'textbox', 'threshold');
  for (const [at, expected] of [
    ['-2', 100],
    ['2', 0],
  ] as const) {
    await threshold.sendKeys(Key.chord(Key.CONTROL, 'a'), at, Key.ENTER);
    await eventually(
      driver,
      async () => (await measuredCard(driver)).share,
      (now) => Math.abs(now - expected) < 6,
      `the share at ${at} dB`,
    );
  }
});

test('the training ground hides what a survey may find; the truth is told when asked, and the walk says so', async () => {
  await driver.get(`${server.url}/projects/cottage/site`);
  await press('Show what is hidden');
  await chooseIn(driver, 'access point', /^(?!choose)/);
  const strength = await byRole(driver, 'textbox', 'off by');
  await strength.sendKeys(Key.chord(Key.CONTROL, 'a'), '-70', Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('.site-page')).getText(),
    (text) => /from .60 to 60/.test(text),
    'the limits',
  );
  await strength.sendKeys(Key.chord(Key.CONTROL, 'a'), '-15', Key.ENTER);
  await press('Hide it');
  await eventually(
    driver,
    () => driver.findElement(By.css('.site-page')).getText(),
    (text) => /sends 15 dB less/.test(text) && /kept/.test(text),
    'the fault, kept',
  );
  await driver.navigate().refresh();
  await press('Show what is hidden');
  await eventually(
    driver,
    () => driver.findElement(By.css('.site-page')).getText(),
    (text) => /sends 15 dB less/.test(text),
    'the fault after a reload',
  );
  await openProject(driver, server.url, 'cottage');
  await (await byRole(driver, 'tab', 'Survey')).click();
  await (await byRole(driver, 'tab', 'Fit')).click();
  await press(/^Compare with the truth/);
  await press('Not now');
  expect((await walksNow()).every(({ scoredAt }) => scoredAt === null)).toBe(true);
  await press(/^Compare with the truth/);
  await press('Look');
  const told = await eventually(
    driver,
    () => textOf(driver, 'score'),
    (text) => text.includes('sends 15 dB less'),
    'the score',
  );
  expect(told).toMatch(/differs from the truth by [\d.]+ dB, the drawing by [\d.]+ dB/);
  await saved(driver);
  expect((await walksNow()).some(({ scoredAt }) => scoredAt !== null)).toBe(true);
  await eventually(driver, panel, (text) => text.includes('was looked at on'), 'what the walk says');
});

test('a neighbour that was heard is located near where it is, and may be linked to an access point', async () => {
  const building = museumBuilding();
  const kiosk = building.sites[floorsOf(building.design)[0]!.id]!.neighbours.find(({ ssid, band }) => ssid === 'ferry-kiosk' && band === '5')!;
  await openProject(driver, server.url, 'quillhaven');
  await chooseIn(driver, 'Variant', /^As found$/);
  await (await byRole(driver, 'tab', 'Survey')).click();
  await (await byRole(driver, 'tab', 'Samples')).click();
  const row = await driver.wait(async () => (await driver.findElements(By.xpath(`//tr[contains(., '${kiosk.bssid}')]//button`)))[0] ?? null, 40_000);
  await row!.sendKeys(Key.ENTER);
  const told = await eventually(
    driver,
    () => textOf(driver, 'located'),
    (text) => text.includes('likeliest at'),
    'the place',
  );
  const [, x, y] = /likeliest at (-?[\d.]+) m, (-?[\d.]+) m/.exec(told.replaceAll('−', '-'))!.map(Number);
  expect(Math.hypot(x! - kiosk.xM, y! - kiosk.yM)).toBeLessThan(4);
  expect(await textOf(driver, 'located-region')).toBe('ferry-kiosk');
  await chooseIn(driver, 'it is', /^Old-2$/);
  await saved(driver);
  const { design } = await stored('quillhaven');
  expect(Object.values(design.addresses)).toMatchObject([{ bssid: kiosk.bssid }]);
  expect(design.accessPoints[Object.values(design.addresses)[0]!.apId]!.name).toBe('Old-2');
  await eventually(
    driver,
    () => textOf(driver, 'located'),
    (text) => text.includes('Designed place of Old-2'),
    'the difference to the designed place',
  );
  await (await byRole(driver, 'button', 'Undo')).click();
  await saved(driver);
  expect((await stored('quillhaven')).design.addresses).toEqual({});
});
