import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { newStep, type Change } from '@/core/design/step';
import { seeded } from '@/core/random';
import { byRole, byTestId, eventually, textOf } from './browser';
import { twoHundred } from './large';
import { chooseIn, clickPlan, dragPlan, openProject, saved, strongestDbm, toBand, toLens } from './moves';
import { tooSmall } from './sizes';
import { driver, restart, server, stored } from './together';

const press = (...keys: string[]) =>
  driver
    .actions()
    .sendKeys(...keys)
    .perform();
const chord = (...keys: string[]) =>
  driver
    .switchTo()
    .activeElement()
    .then((element) => element.sendKeys(Key.chord(...keys)));
const ap = (id: string) => driver.findElement(By.css(`[data-ap="${id}"]`));

test('work done while the server is away is kept, shown as unsaved, and sent when it is back, once', async () => {
  await openProject(driver, server.url, 'cottage');
  const before = await stored('cottage');
  await server.stop('SIGKILL');
  await ap('cottage-ap-003').sendKeys(Key.ENTER);
  await ap('cottage-ap-003').sendKeys(Key.ARROW_LEFT);
  await ap('cottage-ap-003').sendKeys(Key.ARROW_LEFT);
  await eventually(
    driver,
    () => textOf(driver, 'save-state'),
    (text) => text === 'not saved yet',
    'the save state without server',
  );
  await restart({ folder: server.folder, port: server.port });
  await eventually(
    driver,
    () => textOf(driver, 'save-state'),
    (text) => text === 'saved',
    'the save state with the server back',
    30_000,
  );
  const after = await stored('cottage');
  expect(after.design.accessPoints['cottage-ap-003']!.xM).toBeCloseTo(before.design.accessPoints['cottage-ap-003']!.xM - 0.2, 6);
  expect(after.revision).toBe(before.revision + 2);
});

describe('wrong input', () => {
  test('a form says what is wrong and keeps the old value', async () => {
    await openProject(driver, server.url, 'cottage');
    await ap('cottage-ap-001').sendKeys(Key.ENTER);
    const height = await byRole(driver, 'textbox', 'height');
    for (const wrong of ['300', 'high', '', '-1', '1e9', 'NaN']) {
      await height.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE, wrong, Key.TAB);
      await eventually(
        driver,
        async () => (await driver.findElements(By.css('.inspector [role=alert]'))).length,
        (n) => n === 1 || wrong === '',
        `an explanation for "${wrong}"`,
      );
      expect(await height.getAttribute('value')).toBe('2.4');
    }
    expect((await stored('cottage')).design.accessPoints['cottage-ap-001']!.heightM).toBe(2.4);
    await height.sendKeys(Key.chord(Key.CONTROL, 'a'), '2,1', Key.ENTER);
    await saved(driver);
    expect((await stored('cottage')).design.accessPoints['cottage-ap-001']!.heightM).toBe(2.1);
  });

  test('access points on a wall, outside the plan and on one spot are computed like any other', async () => {
    await openProject(driver, server.url, 'cottage');
    await toBand(driver, '5');
    await (await byRole(driver, 'button', 'AP')).click();
    for (const [x, y] of [
      [6, 2],
      [6, 2],
      [14.3, 4],
    ] as const)
      await clickPlan(driver, x, y);
    await press(Key.ESCAPE);
    await saved(driver);
    const names = Object.values((await stored('cottage')).design.accessPoints)
      .map((one) => one.name)
      .sort();
    expect(names).toEqual(['C-01', 'C-02', 'C-03', 'C-04', 'C-05', 'C-06']);
    await eventually(
      driver,
      () => textOf(driver, 'share'),
      (share) => Number(share.replace(' %', '')) > 90,
      'the map with them',
    );
    for (let i = 0; i < 3; i++) await (await byRole(driver, 'button', 'Undo')).click();
    await saved(driver);
    expect(Object.keys((await stored('cottage')).design.accessPoints)).toHaveLength(3);
  });

  test('a wall without length is refused in words; nothing is lost', async () => {
    await openProject(driver, server.url, 'cottage');
    await (await byRole(driver, 'tab', 'Building')).click();
    const before = Object.keys((await stored('cottage')).design.walls).length;
    await (await byRole(driver, 'button', 'Wall')).click();
    await clickPlan(driver, 3, 7.2);
    await press('0', Key.ENTER);
    await eventually(
      driver,
      async () => (await driver.findElements(By.css('.MuiAlert-root'))).length,
      (n) => n === 1,
      'a message',
    );
    await clickPlan(driver, 5, 7.2);
    await press(Key.ESCAPE, Key.ESCAPE);
    await saved(driver);
    const walls = Object.values((await stored('cottage')).design.walls);
    expect(walls).toHaveLength(before + 1);
    await (await byRole(driver, 'tab', 'Design')).click();
  });

  test('a project that is not there, and one of nonsense, are said and lead home', async () => {
    await driver.get(`${server.url}/projects/atlantis`);
    await byRole(driver, 'link', 'To all projects');
    expect(await driver.findElement(By.css('[role=alert]')).getText()).toContain('no project with this id');
  });
});

test('a wall drawn, changed and moved changes what is heard behind it', async () => {
  await openProject(driver, server.url, 'cottage');
  await toBand(driver, '5');
  await chooseIn(driver, 'from', /^C-01$/);
  await clickPlan(driver, 5.3, 4.4);
  const open = await strongestDbm(driver);
  await press(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Building')).click();
  await (await byRole(driver, 'button', 'Wall')).click();
  await chooseIn(driver, 'Material of new walls', /^Concrete/);
  // From (4, 4) to (6, 3): between the access point at (3, 2.5) and the spot.
  await clickPlan(driver, 3.6, 4.2);
  await clickPlan(driver, 5.4, 3.1);
  await press(Key.ESCAPE, Key.ESCAPE);
  await saved(driver);
  await (await byRole(driver, 'tab', 'Design')).click();
  await clickPlan(driver, 5.3, 4.4);
  const behind = await strongestDbm(driver);
  expect(open - behind).toBeGreaterThan(20);
  await press(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Building')).click();
  const drawn = Object.values((await stored('cottage')).design.walls).find((wall) => wall.materialId === 'concrete')!;
  await driver.findElement(By.css(`[data-wall="${drawn.id}"]`)).sendKeys(Key.ENTER);
  await chooseIn(driver, 'material', /^Plasterboard/);
  await saved(driver);
  await (await byRole(driver, 'tab', 'Design')).click();
  await clickPlan(driver, 5.3, 4.4);
  const light = await strongestDbm(driver);
  expect(open - light).toBeGreaterThan(1);
  expect(open - light).toBeLessThan(5);
  await press(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Building')).click();
  await dragPlan(driver, [4.5, 3.65], [4.5, 6.65]);
  await saved(driver);
  expect((await stored('cottage')).design.walls[drawn.id]!.ayM).toBeGreaterThan(6.5);
  await driver.findElement(By.css(`[data-wall="${drawn.id}"]`)).sendKeys(Key.ENTER);
  await chord(Key.DELETE);
  await saved(driver);
  expect((await stored('cottage')).design.walls[drawn.id]).toBeUndefined();
  await (await byRole(driver, 'tab', 'Design')).click();
});

test('by keyboard alone: a new project, an access point, its place, the readout, lenses, undo', async () => {
  await driver.get(server.url);
  await byRole(driver, 'link', /^Open Netmakers/);
  for (let i = 0; i < 30 && (await (await driver.switchTo().activeElement()).getText()) !== 'New project'; i++) await press(Key.TAB);
  await press(Key.ENTER);
  await byRole(driver, 'textbox', 'name');
  for (let i = 0; i < 30 && (await (await driver.switchTo().activeElement()).getText()) !== 'Create'; i++) await press(Key.TAB);
  await press(Key.ENTER);
  await textOf(driver, 'share');
  expect(await textOf(driver, 'share')).toBe('0.0 %');
  const palette = async (words: string) => {
    await chord(Key.CONTROL, 'k');
    await byRole(driver, 'combobox', 'Command');
    await press(words, Key.ENTER);
  };
  await palette('add an access');
  await eventually(
    driver,
    () => textOf(driver, 'share'),
    (share) => Number(share.replace(' %', '')) > 20,
    'coverage of the first access point',
  );
  await palette('pin the readout');
  const id = await driver.executeScript<string>("return document.querySelector('[data-ap]').dataset.ap");
  const before = await strongestDbm(driver);
  await driver.executeScript("document.querySelector('[data-ap]').focus()");
  await press(Key.ARROW_RIGHT);
  for (let i = 0; i < 6; i++) await chord(Key.SHIFT, Key.ARROW_RIGHT);
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => level < before,
    'the level after moving away',
  );
  await palette('SNR');
  await eventually(
    driver,
    () => byTestId(driver, 'share').then(async () => await driver.findElement(By.css('[role=slider]')).getAttribute('aria-label')),
    (label) => label === 'Threshold of SNR',
    'the scale',
  );
  const slider = await driver.findElement(By.css('[role=slider]'));
  await slider.sendKeys(Key.ARROW_UP);
  expect(await slider.getAttribute('aria-valuetext')).toBe('26 dB');
  await palette('undo');
  await saved(driver);
  const url = await driver.getCurrentUrl();
  const { design } = await stored(url.split('/').at(-1)!);
  expect(design.accessPoints[id]!.xM).toBeCloseTo(25.1, 6);
});

test('metric and US units show the same lengths', async () => {
  await openProject(driver, server.url, 'cottage');
  await ap('cottage-ap-002').sendKeys(Key.ENTER);
  await (await byRole(driver, 'button', /metric units, change$/)).click();
  await eventually(
    driver,
    async () => (await byRole(driver, 'textbox', 'x')).getAttribute('value'),
    (value) => value === '32.81',
    'x in feet',
  );
  const y = await byRole(driver, 'textbox', 'y');
  await y.sendKeys(Key.chord(Key.CONTROL, 'a'), '10', Key.ENTER);
  await saved(driver);
  expect((await stored('cottage')).design.accessPoints['cottage-ap-002']!.yM).toBeCloseTo(3.048, 6);
  await (await byRole(driver, 'button', /US customary units, change$/)).click();
  await saved(driver);
});

test('several access points are changed, moved and deleted at once, each as one step', async () => {
  await openProject(driver, server.url, 'cottage');
  const before = await stored('cottage');
  await chord(Key.CONTROL, 'a');
  await byRole(driver, 'region', 'Evidence');
  expect(await driver.findElement(By.css('.inspector h2')).getText()).toBe('3 access points');
  const powers = await driver.findElements(By.css('fieldset input[inputmode=decimal]'));
  await powers[1]!.sendKeys(Key.chord(Key.CONTROL, 'a'), '7', Key.ENTER);
  await saved(driver);
  const after = await stored('cottage');
  expect(after.revision).toBe(before.revision + 1);
  expect(Object.values(after.design.accessPoints).map((one) => one.radios.find((radio) => radio.band === '5')!.txPowerDbm)).toEqual([7, 7, 7]);
  await (await byRole(driver, 'button', 'Delete')).click();
  await saved(driver);
  expect(Object.keys((await stored('cottage')).design.accessPoints)).toEqual([]);
  await eventually(
    driver,
    () => textOf(driver, 'share'),
    (share) => share === '0.0 %',
    'the map of an empty floor',
  );
  await toLens(driver, 'Contention');
  await toLens(driver, 'Serving AP');
  await toLens(driver, 'Signal');
  await (await byRole(driver, 'button', 'Retune…')).click();
  await (await byRole(driver, 'button', 'Compute')).click();
  await eventually(
    driver,
    async () => await driver.findElement(By.css('.inspector')).getText(),
    (text) => text.includes('No radio is on in the chosen bands'),
    'what retune says of an empty floor',
  );
  await (await byRole(driver, 'button', 'Close')).click();
  await (await byRole(driver, 'button', 'Undo')).click();
  await (await byRole(driver, 'button', 'Undo')).click();
  await saved(driver);
  expect((await stored('cottage')).design).toEqual(before.design);
});

test('200 access points among 450 walls: the map comes, a drag works, a retune reports and can be stopped', async () => {
  const { id } = (await (
    await fetch(`${server.url}/api/projects`, {
      method: 'POST',
      body: JSON.stringify({ name: 'Two hundred', units: 'metric', domain: 'EU', widthM: 120, heightM: 80 }),
    })
  ).json()) as { id: string };
  const { design, revision } = await stored(id);
  const [floorId, variantId] = [Object.keys(design.floors)[0]!, Object.keys(design.variants)[0]!];
  const uniform = seeded(4);
  const walls = Array.from({ length: 450 }, (_, i) => {
    const [x, y, along] = [Math.floor(uniform() * 24) * 5, Math.floor(uniform() * 16) * 5, uniform() < 0.5];
    return {
      id: `w${i}`,
      floorId,
      axM: x,
      ayM: y,
      bxM: x + (along ? 5 : 0),
      byM: y + (along ? 0 : 5),
      baseM: 0,
      topM: 3,
      materialId: ['plasterboard', 'brick', 'glass'][i % 3]!,
    };
  });
  const changes = [...walls.map((after) => ({ table: 'walls', id: after.id, before: null, after })), ...twoHundred(floorId, variantId)] as Change[];
  expect(
    (
      await fetch(`${server.url}/api/projects/${id}/steps`, {
        method: 'POST',
        body: JSON.stringify({ baseRevision: revision, step: newStep('big', 'Big', 'tester', changes) }),
      })
    ).status,
  ).toBe(200);
  await openProject(driver, server.url, id);
  await eventually(
    driver,
    () => textOf(driver, 'share'),
    (share) => Number(share.replace(' %', '')) > 99,
    'the map of 200 access points',
  );
  await dragPlan(driver, [57, 44], [60, 46]);
  await saved(driver);
  expect((await stored(id)).design.accessPoints.ap109!.xM).toBeCloseTo(60, 0);
  await toLens(driver, 'Contention');
  await (await byRole(driver, 'button', 'Retune…')).click();
  // All bands: one alone is planned before a busy machine has found the button.
  for (const box of await driver.findElements(By.css('.inspector .field input[type=checkbox]')))
    if (/GHz/.test(await box.getAccessibleName()) && !(await box.isSelected())) await box.click();
  await (await byRole(driver, 'button', 'Compute')).click();
  await eventually(
    driver,
    async () =>
      (await driver.findElements(By.css('.inspector [role=status] p'))).length && driver.findElement(By.css('.inspector [role=status] p')).getText(),
    (text) => /best so far [\d.]+.*today [\d.]+/.test(String(text)),
    'progress',
    30_000,
  );
  // Asked for by its place: among hundreds of access points it takes long to ask every button for its name.
  await driver.findElement(By.xpath('//aside//button[.="Stop"]')).click();
  // Stopping keeps the best it had, as a sheet to look at; nothing is applied by itself.
  await byRole(driver, 'button', 'Discard', 60_000);
  expect(await textOf(driver, 'sheet-summary')).toContain('Stopped: the best so far');
  await (await byRole(driver, 'button', 'Discard')).click();
  // The engine is free again: another lens comes.
  await toLens(driver, 'SNR');
  await eventually(
    driver,
    async () => (await byTestId(driver, 'scale')).getText(),
    (text) => text.includes('dB or more') && !text.includes('radios'),
    'the next lens',
  );
  expect((await stored(id)).design.accessPoints.ap0!.radios[0]!.channel).toBe(36);
  // Each of its waits has a limit of its own; beside a busy core they add up.
}, 180_000);

test('no view has a serious accessibility fault, a target that is hard to hit, or text that is hard to read', async () => {
  const axe = readFileSync('node_modules/axe-core/axe.min.js', 'utf8');
  const faults = async (what: string) => {
    // A tooltip that is just fading is neither shown nor gone.
    await driver.actions().move({ x: 640, y: 770 }).perform();
    await eventually(
      driver,
      () =>
        driver.executeScript<number>(
          'return document.getAnimations().filter((one) => one.playState === "running").length + document.querySelectorAll("[role=tooltip]").length',
        ),
      (moving) => moving === 0,
      'a page that stands still',
    );
    await driver.executeScript(axe);
    const found = await driver.executeAsyncScript<Array<{ id: string; impact: string; nodes: string[] }>>(
      "const done = arguments[0]; axe.run(document, { resultTypes: ['violations'] }).then((r) => done(r.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => ({ id: v.id, impact: v.impact, nodes: v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)) }))));",
    );
    expect({ what, found, tooSmall: await tooSmall(driver) }).toEqual({ what, found: [], tooSmall: [] });
  };
  await driver.get(server.url);
  await byRole(driver, 'link', /^Open Quillhaven/);
  await faults('home');
  await openProject(driver, server.url, 'quillhaven');
  await clickPlan(driver, 30, 30);
  await faults('design');
  await toLens(driver, 'Contention');
  for (const tab of ['Coverage curve', 'Zones', 'Sight line', 'History', 'Legend', 'Radios']) {
    await (await byRole(driver, 'tab', tab)).click();
    await faults(tab);
  }
  await (await byRole(driver, 'tab', 'Findings')).click();
  await byRole(driver, 'table', 'Findings', 60_000);
  await driver.findElement(By.css('[aria-label=Findings] tbody button')).click();
  await byRole(driver, 'region', 'Finding');
  await faults('Findings');
  await (await byRole(driver, 'tab', 'Radios')).click();
  await toLens(driver, 'Signal');
  await driver.findElement(By.css('[data-ap]')).sendKeys(Key.ENTER);
  await faults('an access point');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await (await byRole(driver, 'button', 'Night theme')).click();
  await faults('night');
  await (await byRole(driver, 'button', 'Day theme')).click();
  await (await byRole(driver, 'tab', 'Building')).click();
  await faults('building');
  await (await byRole(driver, 'tab', 'Survey')).click();
  await faults('survey');
  await (await byRole(driver, 'tab', 'Brief')).click();
  await faults('brief');
  await (await byRole(driver, 'tab', 'Access point models')).click();
  await (await byRole(driver, 'button', 'Dunlin C2 ceiling')).click();
  await faults('a model of the catalogue');
  await (await byRole(driver, 'button', 'Make an own one like it')).click();
  await byRole(driver, 'checkbox', 'outdoors');
  await faults('a model of one’s own');
  await (await byRole(driver, 'tab', 'Client types')).click();
  await (await byRole(driver, 'button', 'Voice handset')).click();
  await (await byRole(driver, 'button', 'Make an own one like it')).click();
  await byRole(driver, 'textbox', 'noise figure');
  await faults('a client of one’s own');
  await (await byRole(driver, 'tab', 'Design')).click();
  // A lens of kinds and back: the scale is measured anew, for the sheet leaves it little room.
  await toLens(driver, 'Serving AP');
  await toLens(driver, 'Signal');
  await driver.findElement(By.css('body')).sendKeys('r');
  await (await byRole(driver, 'textbox', 'search from')).sendKeys(Key.chord(Key.CONTROL, 'a'), '1', Key.ENTER);
  await (await byRole(driver, 'button', 'Compute')).click();
  await byRole(driver, 'button', 'Apply', 60_000);
  await faults('a retune sheet');
});

test('Findings: the loud one is found, shown on the plan and set within the law; another is accepted; both stand after a reload', async () => {
  await driver.get(`${server.url}/projects/quillhaven`);
  await (await byRole(driver, 'tab', 'Design')).click();
  await (await byRole(driver, 'tab', 'Findings')).click();
  await byRole(driver, 'table', 'Findings', 60_000);
  // Read at once: rows are drawn anew while they are looked at.
  const texts = (css: string) => driver.executeScript<string[]>('return [...document.querySelectorAll(arguments[0])].map((e) => e.textContent)', css);
  const titles = () => texts('[aria-label="Findings"] tbody td:nth-child(3)');
  const summary = async () => (await texts('.evidence .summary'))[0] ?? '';
  const loud = 'Q-03, 5 GHz: not allowed';
  expect(await titles()).toContain(loud);
  const stops = (text: string) => Number(/(\d+) to stop at/.exec(text)![1]);
  const before = stops(await summary());
  await driver.findElement(By.xpath(`//table[@aria-label='Findings']//button[.='${loud}']`)).click();
  const panel = await byRole(driver, 'region', 'Finding');
  expect(await panel.getText()).toContain('24.8 dBm EIRP is more than the 23 dBm that UK allows');
  expect(await driver.findElements(By.css(`[data-testid=flags] [aria-label$="${loud}"]`))).toHaveLength(1);
  await (await byRole(driver, 'button', 'Set 18 dBm')).click();
  await saved(driver);
  const q03 = async () => Object.values((await stored('quillhaven')).design.accessPoints).find(({ name }) => name === 'Q-03')!;
  expect((await q03()).radios.find(({ band }) => band === '5')!.txPowerDbm).toBe(18);
  await eventually(driver, titles, (all) => all.length > 0 && !all.includes(loud), 'it is found no more');
  const steering = 'Band steering is on, and some clients know one band only';
  await driver.findElement(By.xpath(`//table[@aria-label='Findings']//button[.='${steering}']`)).click();
  const reason = await driver.wait(async () => (await driver.findElements(By.css('[aria-label=Finding] textarea')))[0] ?? false, 40_000);
  await (reason as WebElement).sendKeys('scanners go in March', Key.TAB);
  await (await byRole(driver, 'button', 'Accept')).click();
  await saved(driver);
  await eventually(driver, summary, (text) => stops(text) === before - 1 && text.includes('1 accepted'), 'one accepted');
  await driver.navigate().refresh();
  await byRole(driver, 'table', 'Findings', 60_000);
  expect(await summary()).toContain('1 accepted');
  expect(await driver.findElement(By.css('[aria-label="Findings"] tbody tr:last-child')).getText()).toContain('accepted: scanners go in March');
});

test('a project is kept as a file and brought in again as another; the command line finds in it what the screen found', async () => {
  const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'upper-room-file-')), 'museum.upperroom');
  writeFileSync(file, Buffer.from(await (await fetch(`${server.url}/api/projects/quillhaven/file`)).arrayBuffer()));
  await driver.get(server.url);
  await byRole(driver, 'link', 'Keep as a file: Quillhaven Maritime Museum');
  await driver.findElement(By.css('input[type=file]')).sendKeys(file);
  await byRole(driver, 'tab', 'Findings', 30_000);
  const id = (await driver.getCurrentUrl()).split('/').at(-1)!;
  expect(id).not.toBe('quillhaven');
  const { design } = await stored(id);
  expect(design).toEqual((await stored('quillhaven')).design);
  // Q-03 at 2.4 GHz is still too loud: it stops.
  const run = spawnSync(process.execPath, ['scripts/run-ts.mjs', 'scripts/check.ts', file, '--json'], { encoding: 'utf8' });
  expect(run.status).toBe(2);
  const told = JSON.parse(run.stdout) as { variant: string; findings: Array<{ title: string; accepted: string | null }> };
  expect(told.variant).toBe('Proposed');
  expect(told.findings.map(({ title }) => title)).toContain('Q-03, 2.4 GHz: not allowed');
  expect(told.findings.flatMap(({ accepted }) => accepted ?? [])).toEqual(Object.values(design.acceptedFindings).map(({ reason }) => reason));
  const nothing = spawnSync(process.execPath, ['scripts/run-ts.mjs', 'scripts/check.ts', path.join(os.tmpdir(), 'none.upperroom')], {
    encoding: 'utf8',
  });
  expect([nothing.status, nothing.stderr.includes('cannot be read')]).toEqual([3, true]);
});
