import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { BANDS, type Band } from '@/core/radio/band';
import { accessPointsAround, clientTypesOf, floorsOf, modelsOf, variantsOf, type Design } from '@/core/design/design';
import { ssidsOf } from '@/core/design/ssids';
import { heardAt } from '@/core/fields/heard';
import { lostWithout, shareMeeting } from '@/core/fields/statistics';
import type { PointM } from '@/core/geometry/point';
import { COMMON_CLIENT } from '@/core/radio/receiver';
import { emittersOf, floorScene } from '@/engine/scene';
import { lensResult, sceneRadios } from '@/engine/museum.testing';
import { byRole, byTestId, eventually, textOf } from './browser';
import { chooseIn, clickPlan, openProject, saved, strongestDbm, toBand, toLens } from './moves';
import { driver, server, stored } from './together';

const quay = async () => {
  const { design } = await stored('quillhaven');
  const floor = floorsOf(design)[0]!;
  return { design, floor, around: accessPointsAround(design, floor.id, variantsOf(design).at(-1)!.id) };
};
const cellsOf = (): Promise<string[][]> =>
  driver.executeScript(
    'return [...document.querySelectorAll("table[aria-label=Radios] tbody tr")].map((row) => [...row.cells].map((cell) => cell.innerText.replaceAll("−", "-").trim()))',
  );

test('the map of one channel hears the radios on it and no other, and what it says of a spot is the core’s figure', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await toBand(driver, '5');
  const { design, floor, around } = await quay();
  const all = emittersOf(design, around, ['5']);
  const at = { xM: 30, yM: 30 };
  const scene = floorScene(design, floor);
  const primary = all.find(({ channel }) => channel.primary !== all[0]!.channel.primary)!.channel.primary;
  const levelOf = (emitters: typeof all) => heardAt(scene.medium, emitters, { ...at, zM: scene.planeZM }, COMMON_CLIENT, -110)[0]!.rssiDbm;
  const alone = levelOf(all.filter(({ channel }) => channel.primary === primary));
  await clickPlan(driver, at.xM, at.yM);
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => Math.abs(level - levelOf(all)) < 0.06,
    'the strongest of all',
  );
  await chooseIn(driver, 'from', new RegExp(`^channel ${primary}$`));
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => Math.abs(level - alone) < 0.06,
    'the strongest on the channel',
  );
  const card = await (await byTestId(driver, 'pinned-readout')).getText();
  for (const { of, channel } of all) if (channel.primary !== primary && of.floorId === floor.id) expect(card).not.toContain(of.name);
  // A channel of 5 GHz says nothing at 2.4: there it is of all again.
  await toBand(driver, '2.4');
  expect(await (await byRole(driver, 'combobox', 'from')).getAttribute('value')).toBe('');
  await toBand(driver, '5');
  // Several that are picked: as one choice.
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  const [one, two] = around.filter(({ floorId }) => floorId === floor.id);
  await driver.findElement(By.css(`[data-ap="${one!.id}"]`)).sendKeys(Key.ENTER);
  await driver.findElement(By.css(`[data-ap="${two!.id}"]`)).sendKeys(Key.chord(Key.SHIFT, Key.ENTER));
  await chooseIn(driver, 'from', /^the 2 selected$/);
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await clickPlan(driver, at.xM, at.yM);
  const both = levelOf(all.filter(({ of }) => of.id === one!.id || of.id === two!.id));
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => Math.abs(level - both) < 0.06,
    'the stronger of the two',
  );
  await chooseIn(driver, 'from', /^all APs$/);
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
});

test('the map of a network name hears the access points that announce it, as is written down in the brief and at each of them', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await (await byRole(driver, 'tab', 'Brief')).click();
  await (await byRole(driver, 'button', 'Add a network name')).click();
  const last = async () => (await driver.findElements(By.css('fieldset.ssid'))).at(-1)!;
  await eventually(
    driver,
    async () => (await driver.findElements(By.css('fieldset.ssid'))).length,
    (n) => n === 7,
    'the seventh name',
  );
  const nameOf = async () => (await last()).findElement(By.css('input.MuiInputBase-input'));
  // What is taken is refused and said; what was there stays.
  await (await nameOf()).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Wardens', Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('body')).getText(),
    (text) => text.includes('no two are the same'),
    'why the name is refused',
  );
  expect(await (await nameOf()).getAttribute('value')).toBe('Network');
  await (await nameOf()).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Terrace', Key.ENTER);
  const bands = await (await last()).findElement(By.css('select'));
  await bands.findElement(By.xpath("option[.='5 and 6 GHz']")).click();
  await saved(driver);
  await (await byRole(driver, 'tab', 'Design')).click();
  await toBand(driver, '5');
  const before = await quay();
  const [one] = before.around.filter(({ floorId }) => floorId === before.floor.id);
  await driver.findElement(By.css(`[data-ap="${one!.id}"]`)).sendKeys(Key.ENTER);
  await (await byRole(driver, 'checkbox', /^Terrace/)).click();
  await saved(driver);
  const { design, floor, around } = await quay();
  const terrace = ssidsOf(design).find(({ name }) => name === 'Terrace')!;
  expect(terrace.bands).toEqual(['5', '6']);
  expect(around.filter(({ withheldSsids }) => withheldSsids.includes(terrace.id)).map(({ name }) => name)).toEqual([one!.name]);
  await driver.navigate().refresh();
  await byRole(driver, 'combobox', 'from', 40_000);
  await chooseIn(driver, 'from', /^Terrace$/);
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  const at = { xM: one!.xM + 5, yM: one!.yM + 4 };
  await clickPlan(driver, at.xM, at.yM);
  const scene = floorScene(design, floor);
  const others = emittersOf(design, around, ['5']).filter(({ of }) => of.id !== one!.id);
  const expected = heardAt(scene.medium, others, { ...at, zM: scene.planeZM }, COMMON_CLIENT, -110)[0]!.rssiDbm;
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => Math.abs(level - expected) < 0.06,
    'the strongest that announces it',
  );
  expect(await (await byTestId(driver, 'pinned-readout')).getText()).not.toContain(one!.name);
  // Where the name is not announced nobody is heard, and the list says why.
  await toBand(driver, '2.4');
  await eventually(
    driver,
    async () => (await byTestId(driver, 'pinned-readout')).getText(),
    (text) => text.includes('No radio of this band is heard here'),
    'nobody heard',
  );
  await toBand(driver, '5');
  await chooseIn(driver, 'from', /^all APs$/);
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
});

test('a client takes its band by its own rule: the map, the spot and the table follow, and another rule takes another band', async () => {
  await openProject(driver, server.url, 'quillhaven');
  const { design, floor, around } = await quay();
  const at = { xM: 44, yM: 30 };
  const phone = clientTypesOf(design)('phone');
  const scene = floorScene(design, floor, phone);
  const strongestOf = (band: Band) =>
    heardAt(scene.medium, emittersOf(design, around, [band]), { ...at, zM: scene.planeZM }, scene.receiver, -110)[0]!;
  // Here all three are heard at -70 dBm or more, each at a level of its own.
  for (const band of BANDS) expect(strongestOf(band).rssiDbm).toBeGreaterThan(-70);
  await toBand(driver, '2.4');
  await chooseIn(driver, 'for', /^Phone$/);
  await chooseIn(driver, 'band', /^by client$/);
  await clickPlan(driver, at.xM, at.yM);
  const reads = async (band: Band) => {
    await eventually(
      driver,
      () => strongestDbm(driver),
      (level) => Math.abs(level - strongestOf(band).rssiDbm) < 0.06,
      `the strongest at ${band} GHz`,
    );
    expect(await (await byTestId(driver, 'pinned-readout')).getText()).toContain(`takes ${band} GHz here`);
  };
  await reads('6');
  // Radios of several bands serve, each what is taken of its band; together no more than there is.
  const radios = sceneRadios(BANDS.flatMap((band) => emittersOf(design, around, [band])));
  const map = lensResult({ scene, mask: scene.mask, radios, bandRule: phone.bandRule });
  const served = new Map(
    radios.map(({ apId, channel }, i) => [`${around.find(({ id }) => id === apId)!.name} ${channel.band}`, map.served[i]!.areaM2]),
  );
  await eventually(
    driver,
    async () =>
      (await cellsOf()).map((cells) => [`${cells[0]} ${cells[1]!.split(' ')[1]}`, Number(cells[5]!.replace(/[^0-9]/g, '') || '0')] as const),
    (rows) => rows.length > 5 && rows.every(([name, m2]) => Math.abs((served.get(name) ?? 0) - m2) < 0.6),
    'what each radio serves',
  );
  expect(new Set([...served].flatMap(([name, m2]) => (m2 > 0 ? [name.split(' ')[1]] : []))).size).toBe(3);
  // A type of one's own that prefers the lowest band.
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Brief')).click();
  await (await byRole(driver, 'tab', 'Client types')).click();
  await (await byRole(driver, 'button', 'Phone')).click();
  await (await byRole(driver, 'button', 'Make an own one like it')).click();
  await chooseIn(driver, 'prefers', /^the lowest band$/);
  await saved(driver);
  await (await byRole(driver, 'tab', 'Design')).click();
  await (await byRole(driver, 'tab', 'Radios')).click();
  await chooseIn(driver, 'for', /^Phone, own$/);
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await clickPlan(driver, at.xM, at.yM);
  await reads('2.4');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await chooseIn(driver, 'for', /^common client$/);
  await toBand(driver, '5');
});

test('Resilience says of each radio what would be lost without it, the worst first, as the core counts it', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await toBand(driver, '5');
  await toLens(driver, 'Resilience');
  const { design, floor, around } = await quay();
  const emitters = emittersOf(design, around, ['5']);
  const scene = floorScene(design, floor);
  const map = lensResult({ scene, mask: scene.mask, lens: 'resilience', radios: sceneRadios(emitters) });
  const lostM2 = lostWithout(emitters.length, map.serving, map.strongest!, map.values, scene.mask, -67, scene.grid.cellM ** 2);
  const worst = emitters.map(({ of }, i) => ({ of, lostM2: lostM2[i]! })).reduce((a, b) => (b.lostM2 > a.lostM2 ? b : a));
  expect(worst.lostM2).toBeGreaterThan(20);
  const [name, , , , , , , lost] = (await eventually(driver, cellsOf, (rows) => rows[0]?.[7]?.includes('m²') === true, 'what is lost'))[0]!;
  expect(name).toBe(worst.of.name);
  expect(Math.abs(Number(lost!.replace(/ m².*/, '').replaceAll(/\s/g, '')) - worst.lostM2)).toBeLessThan(1);
  expect(modelsOf(design)(worst.of.modelId).name).toBe((await cellsOf())[0]![4]);
  await toLens(driver, 'Signal');
});

test('the coverage curve of a zone is that of its own cells, and all of it comes back', async () => {
  await openProject(driver, server.url, 'quillhaven');
  await toBand(driver, '5');
  await (await byRole(driver, 'tab', 'Coverage curve')).click();
  const { design, floor, around } = await quay();
  const scene = floorScene(design, floor);
  const map = lensResult({ scene, mask: scene.mask, radios: sceneRadios(emittersOf(design, around, ['5'])) });
  const chart = () => driver.findElement(By.css('.curve .chart')).getAttribute('aria-label');
  const said = (share: number) => `Coverage curve: ${(share * 100).toFixed(1)} % of the area at -67 dBm or more`;
  await eventually(driver, chart, (text) => text === said(shareMeeting(map.values, scene.mask, -67, 'least')), 'the curve of all');
  const shares = scene.zones.map(({ zone, mask }) => ({ zone, share: shareMeeting(map.values, mask, -67, 'least') }));
  const worst = shares.reduce((a, b) => (b.share < a.share ? b : a));
  await chooseIn(driver, 'curve of', new RegExp(`^${worst.zone.name}$`));
  await eventually(driver, chart, (text) => text === said(worst.share), 'the curve of the zone');
  await chooseIn(driver, 'curve of', /^all of it$/);
  await (await byRole(driver, 'tab', 'Radios')).click();
});

test('a floor may count the slant of its walls: what lies behind one at an angle loses more, and one undo takes it back', async () => {
  await openProject(driver, server.url, 'cottage');
  await toBand(driver, '5');
  const before = (await stored('cottage')).design;
  const strongest = (design: Design, { xM, yM }: PointM): number => {
    const floor = floorsOf(design)[0]!;
    const emitters = emittersOf(design, accessPointsAround(design, floor.id, variantsOf(design).at(-1)!.id), ['5']);
    const scene = floorScene(design, floor);
    return heardAt(scene.medium, emitters, { xM, yM, zM: scene.planeZM }, COMMON_CLIENT, -110)[0]!.rssiDbm;
  };
  const [ground] = floorsOf(before);
  const counted: Design = { ...before, floors: { ...before.floors, [ground!.id]: { ...ground!, slant: true } } };
  // Where it makes most of a difference, away from walls and marks.
  const spots = Array.from({ length: 300 }, (_, i) => ({ xM: 1.3 + 0.6 * (i % 20), yM: 0.7 + 0.52 * Math.floor(i / 20) }));
  const lostDb = (at: PointM) => strongest(before, at) - strongest(counted, at);
  const at = spots.reduce((best, spot) => (lostDb(spot) > lostDb(best) ? spot : best));
  expect(lostDb(at)).toBeGreaterThan(0.5);
  await clickPlan(driver, at.xM, at.yM);
  const upright = await strongestDbm(driver);
  expect(Math.abs(upright - strongest(before, at))).toBeLessThan(0.06);
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  await (await byRole(driver, 'tab', 'Building')).click();
  await (await byRole(driver, 'checkbox', 'count slant of walls')).click();
  await saved(driver);
  const { design } = await stored('cottage');
  expect(floorsOf(design)[0]!.slant).toBe(true);
  await (await byRole(driver, 'tab', 'Design')).click();
  await clickPlan(driver, at.xM, at.yM);
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => Math.abs(level - strongest(design, at)) < 0.06,
    'the level with the slant',
  );
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'));
  await eventually(
    driver,
    () => strongestDbm(driver),
    (level) => level === upright,
    'the level without',
  );
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  expect(await textOf(driver, 'save-state')).toMatch(/saved/);
});
