import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { Sample } from '@/core/survey/sample';
import { byRole, byTestId, eventually, exactViewport, textOf, viewport } from './browser';
import { chooseIn, clickPlan, openProject, saved, toBand, measuredCard } from './moves';
import { driver, server, stored } from './together';

const storedSamples = async (walkId: string): Promise<Sample[]> =>
  ((await (await fetch(`${server.url}/api/projects/cottage/walks/${walkId}/samples`)).json()) as { samples: Sample[] }).samples;
const count = async () => Number(await textOf(driver, 'sample-count'));
const connect = async () => {
  await (await byRole(driver, 'button', 'Connect receiver')).click();
  await eventually(
    driver,
    () => textOf(driver, 'receiver-state'),
    (state) => state === 'connected',
    'the receiver',
  );
};

test('the receiver searches, connects, and must be there before a walk', async () => {
  await openProject(driver, server.url, 'cottage');
  await (await byRole(driver, 'tab', 'Survey')).click();
  expect(await textOf(driver, 'receiver-state')).toBe('not connected');
  expect(await (await byRole(driver, 'button', 'Walk')).isEnabled()).toBe(false);
  await connect();
  await byRole(driver, 'button', 'Start walk');
});

test('at walking pace a metre takes a second, and every sample lies on the leg', async () => {
  await (await byRole(driver, 'button', 'Start walk')).click();
  await clickPlan(driver, 1, 7);
  await clickPlan(driver, 5, 7);
  const started = Date.now();
  await eventually(driver, count, (n) => n > 3, 'the first samples');
  await eventually(
    driver,
    async () => driver.findElement(By.css('.inspector')).getText(),
    (text) => /time\s+4 s/.test(text),
    'the end of the leg',
    40_000,
  );
  // Four metres: about four seconds on the wall clock, never much less.
  expect(Date.now() - started).toBeGreaterThan(3000);
  await saved(driver);
  const walk = Object.values((await stored('cottage')).design.walks)[0]!;
  // The last batches are on their way when the clock stands: looked at together until what is shown is what is stored.
  const { samples } = await eventually(
    driver,
    async () => ({ shown: await count(), samples: await storedSamples(walk.id) }),
    ({ shown, samples: all }) => all.length > 3 && all.at(-1)!.tMs > 3500 && all.length === shown,
    'as many samples stored as are shown',
  );
  for (const sample of samples) {
    expect(sample.yM).toBeCloseTo(7, 1);
    expect(Math.abs(sample.xM - 1 - sample.tMs / 1000)).toBeLessThan(0.05);
  }
});

test('a click undone and another made at once: every sample lies on the way that stands', async () => {
  await chooseIn(driver, 'pace', /^20 times/);
  const settled = await count();
  await clickPlan(driver, 5, 8.5);
  await clickPlan(driver, 8, 8.5);
  await eventually(driver, count, (n) => n > settled, 'samples on the way that will be undone');
  const undo = await byRole(driver, 'button', 'Undo last click');
  await driver.sleep(500);
  // Within one frame, far quicker than the receiver reports: the undone way and the new one must not mix.
  await driver.executeScript('arguments[0].click(); arguments[0].click();', undo);
  await clickPlan(driver, 1.5, 7);
  await eventually(
    driver,
    async () => driver.findElement(By.css('.inspector')).getText(),
    (text) => /time\s+[78] s/.test(text),
    'the end of the new way',
    40_000,
  );
  await saved(driver);
  const walk = Object.values((await stored('cottage')).design.walks)[0]!;
  const after = await eventually(
    driver,
    async () => (await storedSamples(walk.id)).filter((sample) => sample.tMs > 4000),
    (samples) => samples.length > 3 && samples.at(-1)!.tMs > 6500,
    'the stored samples of the new way',
  );
  for (const sample of after) {
    expect(Math.abs(sample.yM - 7)).toBeLessThan(0.05);
    expect(Math.abs(sample.xM - (5 - (sample.tMs - 4000) / 1000))).toBeLessThan(0.1);
  }
});

test('by keyboard: pin a spot, walk there', async () => {
  await chooseIn(driver, 'pace', /^5 times/);
  const before = await count();
  await driver.findElement(By.css('body')).sendKeys('p');
  await driver.findElement(By.css('body')).sendKeys('t');
  await eventually(driver, count, (n) => n > before, 'samples on the way to the pinned spot');
  await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
});

test('a second window sees the walk and its samples as they come', async () => {
  const first = await driver.getWindowHandle();
  await driver.switchTo().newWindow('window');
  await exactViewport(driver);
  await driver.get(`${server.url}/projects/cottage`);
  await (await byRole(driver, 'tab', 'Survey')).click();
  const seen = await eventually(driver, count, (n) => n > 3, 'samples in the second window');
  const second = await driver.getWindowHandle();
  await driver.switchTo().window(first);
  await (await byRole(driver, 'button', 'Walk')).click();
  await clickPlan(driver, 12, 7);
  await driver.switchTo().window(second);
  await eventually(driver, count, (n) => n > seen, 'more samples in the second window');
  await driver.close();
  await driver.switchTo().window(first);
});

test('a reload in the middle loses nothing; the walk goes on from where it stood, elsewhere as a new leg', async () => {
  await saved(driver);
  const walk = Object.values((await stored('cottage')).design.walks)[0]!;
  await driver.navigate().refresh();
  await (await byRole(driver, 'tab', 'Survey')).click();
  // What the page had not sent when it was left is sent by the one that comes after it.
  const both = async () => [await count(), (await storedSamples(walk.id)).length] as const;
  const [kept] = await eventually(driver, both, ([shown, there]) => shown > 0 && shown === there, 'the samples after the reload');
  await connect();
  await (await byRole(driver, 'button', 'Continue')).click();
  await clickPlan(driver, 3, 1.5);
  await clickPlan(driver, 5, 1.5);
  await eventually(driver, count, (n) => n > kept, 'samples of the new leg');
  await byTestId(driver, 'gap');
  await (await byRole(driver, 'button', 'Finish')).click();
  await saved(driver);
  const after = (await stored('cottage')).design.walks[walk.id]!;
  expect(after.finished).toBe(true);
  expect(after.legs.length).toBeGreaterThanOrEqual(2);
  // Nothing was placed on the jump.
  const jumpFrom = after.legs[0]!.turns.at(-1)!;
  for (const sample of await storedSamples(walk.id)) if (sample.leg === 1) expect(sample.tMs).toBeGreaterThanOrEqual(jumpFrom.tMs);
});

test('the measured map says of what its share is: a smaller reach claims less area, not less of it', async () => {
  await toBand(driver, '5');
  await chooseIn(driver, 'shows', /^measured/);
  const card = () => measuredCard(driver);
  const wide = await eventually(driver, card, ({ share }) => share > 20, 'the measured share');
  expect(wide.part).toBe(wide.of);
  expect(wide.of).toBeLessThan(wide.whole);
  const reach = await byRole(driver, 'textbox', 'reach');
  await reach.sendKeys(Key.chord(Key.CONTROL, 'a'), '1', Key.ENTER);
  const near = await eventually(driver, card, ({ of }) => of < wide.of / 1.5, 'the area within 1 m');
  expect(near.whole).toBe(wide.whole);
  // The same walk: what was measured passes about as often, however far it is carried.
  expect(Math.abs(near.share - wide.share)).toBeLessThan(20);
});

test('each radio is held against the model at the places of its samples; sorted by that, the one that differs stands first', async () => {
  await (await byRole(driver, 'tab', 'Samples')).click();
  const column = (n: number) => async () =>
    Promise.all((await driver.findElements(By.css(`[aria-label="Samples by network"] tbody td:nth-child(${n})`))).map((cell) => cell.getText()));
  const differences = column(9);
  await eventually(driver, differences, (all) => all.filter((text) => /\d/.test(text)).length > 4, 'differences');
  await (await byRole(driver, 'button', 'difference dB')).click();
  const sorted = await eventually(
    driver,
    async () => (await differences()).filter((text) => /\d/.test(text)).map((text) => Math.abs(Number(text.replace('−', '-')))),
    (all) => all.every((value, i) => i === 0 || value <= all[i - 1]!),
    'the largest first',
  );
  expect(sorted[0]).toBeGreaterThan(0);
  // What is predicted there and what is measured there differ by what the table says, wherever all samples were compared.
  const [heard, mean, compared, predicted, difference] = await Promise.all([4, 6, 7, 8, 9].map((n) => column(n)()));
  const whole = heard!.flatMap((count, i) => (count === compared![i] ? [i] : []));
  const number = (text: string) => Number(text.replace('−', '-'));
  for (const i of whole) expect(Math.abs(number(mean![i]!) - number(predicted![i]!) - number(difference![i]!))).toBeLessThan(0.16);
  expect(whole.length).toBeGreaterThan(0);
});

test('a deleted walk goes with its line, and undo brings both back', async () => {
  await (await byRole(driver, 'button', 'Delete walk')).click();
  await driver.wait(async () => (await driver.findElements(By.css('[data-testid=walk]'))).length === 0, 30_000);
  await saved(driver);
  await (await byRole(driver, 'button', 'Undo')).click();
  await eventually(driver, count, (n) => n > 10, 'the samples after undo');
});

test('a spot check: whoever stands still has what was heard there, with its mean and spread, as it is stored', async () => {
  if ((await driver.findElements(By.xpath("//button[.='Connect receiver']"))).length > 0) await connect();
  await chooseIn(driver, 'pace', /^20 times/);
  const before = Object.keys((await stored('cottage')).design.walks);
  await (await byRole(driver, 'button', 'Start walk')).click();
  await clickPlan(driver, 3, 3);
  const seconds = await byRole(driver, 'textbox', 'stand for');
  await seconds.sendKeys(Key.chord(Key.CONTROL, 'a'), '0', Key.ENTER);
  await eventually(
    driver,
    () => driver.findElement(By.css('.inspector')).getText(),
    (text) => text.includes('must be a number from 1'),
    'the limits',
  );
  await seconds.sendKeys(Key.chord(Key.CONTROL, 'a'), '40', Key.ENTER);
  await (await byRole(driver, 'button', 'Stand here')).click();
  await clickPlan(driver, 5, 3);
  await eventually(
    driver,
    () => driver.findElement(By.css('.inspector')).getText(),
    (text) => /time\s+42 s/.test(text),
    'the end of standing and of the way',
  );
  await (await byRole(driver, 'button', 'Finish')).click();
  await saved(driver);
  const walkId = Object.keys((await stored('cottage')).design.walks).find((id) => !before.includes(id))!;
  const there = await eventually(
    driver,
    async () => ({ all: await storedSamples(walkId), shown: await count() }),
    ({ all, shown }) => all.length > 100 && all.length === shown,
    'as many samples stored as are shown',
  ).then(({ all }) => all.filter(({ tMs }) => tMs < 40_000));
  for (const { xM, yM } of there) expect([Math.abs(xM - 3) < 0.1, Math.abs(yM - 3) < 0.1]).toEqual([true, true]);
  await chooseIn(driver, 'samples heard', /^standing 40 s at 3\.0 m, 3\.0 m$/);
  const cells = (): Promise<string[][]> =>
    driver.executeScript(
      'return [...document.querySelectorAll("table[aria-label=\'Samples by network\'] tbody tr")].map((row) => [...row.cells].map((cell) => cell.innerText.replaceAll("−", "-").trim()))',
    );
  const rows = await eventually(
    driver,
    cells,
    (all) => all.reduce((sum, row) => sum + Number(row[3]), 0) === there.length,
    'what was heard standing there',
  );
  for (const row of rows.filter(([, , , times]) => Number(times) > 1)) {
    const own = there.filter(({ bssid }) => bssid === row.at(-1)).map(({ rssiDbm }) => rssiDbm);
    const mean = own.reduce((sum, dbm) => sum + dbm, 0) / own.length;
    expect(own).toHaveLength(Number(row[3]));
    expect(Math.abs(Number(row[5]) - mean)).toBeLessThan(0.051);
    const spread = Math.sqrt(own.reduce((sum, dbm) => sum + (dbm - mean) ** 2, 0) / (own.length - 1));
    expect(Math.abs(Number(row[6]) - spread)).toBeLessThan(0.051);
  }
});

test('a route is suggested past every place, through the doors, and walked along as one step', async () => {
  await openProject(driver, server.url, 'cottage');
  await (await byRole(driver, 'tab', 'Survey')).click();
  if ((await textOf(driver, 'receiver-state')) === 'not connected') await connect();
  await chooseIn(driver, 'pace', /^20 times/);
  const every = await byRole(driver, 'textbox', 'past each');
  await every.sendKeys(Key.chord(Key.CONTROL, 'a'), '3', Key.ENTER);
  await (await byRole(driver, 'button', 'Suggest a route')).click();
  const words = await textOf(driver, 'route');
  const [, metres, stops] = /^([\d.]+) m past (\d+) stops, about/.exec(words)!.map(Number);
  expect(words).not.toContain('cannot be walked to');
  // A floor of 14 x 9 m with a stop each 3 m: fifteen squares whole or in part.
  expect(stops!).toBeGreaterThanOrEqual(12);
  await byTestId(driver, 'route-line');
  const before = Object.keys((await stored('cottage')).design.walks);
  await (await byRole(driver, 'button', 'Start walk')).click();
  await (await byRole(driver, 'button', 'Walk along it')).click();
  await eventually(
    driver,
    () => driver.findElement(By.css('.inspector')).getText(),
    (text) => Number(/time\s+(\d+) s/.exec(text)?.[1] ?? 0) >= Math.floor(metres!) - 1,
    'the end of the route',
  );
  await (await byRole(driver, 'button', 'Finish')).click();
  await saved(driver);
  const { design } = await stored('cottage');
  const walk = Object.values(design.walks).find(({ id }) => !before.includes(id))!;
  expect(walk.legs).toHaveLength(1);
  const turns = walk.legs[0]!.turns;
  const length = turns.slice(1).reduce((sum, turn, i) => sum + Math.hypot(turn.xM - turns[i]!.xM, turn.yM - turns[i]!.yM), 0);
  expect(Math.abs(length - metres!)).toBeLessThan(0.6);
  // Where the map is sure by now nothing is left to walk to.
  await toBand(driver, '5');
  await (await byRole(driver, 'textbox', 'reach')).sendKeys(Key.chord(Key.CONTROL, 'a'), '20', Key.ENTER);
  await chooseIn(driver, 'shows', /^Trust$/);
  // Places are weighed against each other: each with what it settles and how far it is; one that is chosen is drawn.
  await eventually(
    driver,
    async () => {
      const ask = await byRole(driver, 'button', 'Where next?');
      if (await ask.isEnabled()) await ask.sendKeys(Key.ENTER);
      const [list] = await driver.findElements(By.css('.next-places'));
      return list === undefined ? '' : list.getText();
    },
    (text) => /: \d+\.\d % of what is not sure, \d+ m to walk/.test(text) || text.includes('Nowhere'),
    'places to walk to next',
  );
  const [next] = await driver.findElements(By.css('.next-places button'));
  if (next !== undefined) {
    await next.sendKeys(Key.ENTER);
    expect(await driver.findElements(By.css('[data-testid=route-line]'))).toHaveLength(1);
  }
  await (await byRole(driver, 'checkbox', /^only where it is less sure/)).click();
  // The map comes a moment after the reach.
  await eventually(
    driver,
    async () => {
      const ask = await byRole(driver, 'button', 'Suggest a route');
      if (await ask.isEnabled()) await ask.click();
      return textOf(driver, 'route');
    },
    (left) => Number(/past (\d+) stops/.exec(left)?.[1] ?? 0) < stops!,
    'a shorter route past what is not sure',
  );
  await (await byRole(driver, 'button', 'Take it off')).click();
  expect(await driver.findElements(By.css('[data-testid=route-line]'))).toHaveLength(0);
});

test('on a phone: taps are turns, two fingers enlarge and move the plan, one that rests pins a spot', async () => {
  const tools = driver as unknown as { sendDevToolsCommand: (command: string, params: object) => Promise<void> };
  await viewport(driver, 390, 844);
  await tools.sendDevToolsCommand('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 2 });
  try {
    await openProject(driver, server.url, 'cottage');
    await (await byRole(driver, 'tab', 'Survey')).click();
    if ((await textOf(driver, 'receiver-state')) === 'not connected') await connect();
    // Nothing is wider than the window.
    expect(await driver.executeScript('return document.documentElement.scrollWidth')).toBe(390);
    const plan = () =>
      driver.executeScript<{ x: number; y: number; width: number; height: number }>(
        'const box = document.querySelector(".plan svg").getBoundingClientRect(); return { x: box.x, y: box.y, width: box.width, height: box.height }',
      );
    const touch = (type: string, points: ReadonlyArray<readonly [number, number]>) =>
      tools.sendDevToolsCommand('Input.dispatchTouchEvent', { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
    const { x, y, width, height } = await plan();
    expect(height).toBeGreaterThan(180);
    const [cx, cy] = [x + width / 2, y + height / 2];
    const scale = () => driver.executeScript<string>('return document.querySelector(".plan").innerText.match(/\\d+(\\.\\d+)? m/)[0]');
    // A finger that rests.
    await touch('touchStart', [[cx, cy]]);
    await eventually(
      driver,
      async () => (await driver.findElements(By.css('.readout.pinned'))).length,
      (pinned) => pinned === 1,
      'the pinned readout',
    );
    await touch('touchEnd', []);
    await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
    // Two that part: the plan is three times as large.
    const before = await scale();
    await touch('touchStart', [[cx - 30, cy]]);
    await touch('touchStart', [
      [cx - 30, cy],
      [cx + 30, cy],
    ]);
    for (const by of [45, 60, 75, 90])
      await touch('touchMove', [
        [cx - by, cy],
        [cx + by, cy],
      ]);
    await touch('touchEnd', []);
    await eventually(driver, scale, (now) => now !== before, 'a larger plan');
    // Taps are turns of a walk.
    const walks = Object.keys((await stored('cottage')).design.walks);
    await (await byRole(driver, 'button', 'Start walk')).click();
    for (const [dx, dy] of [
      [-40, -20],
      [40, 20],
    ] as const) {
      await touch('touchStart', [[cx + dx, cy + dy]]);
      await touch('touchEnd', []);
    }
    await eventually(driver, count, (n) => n > 0, 'samples on the way');
    await (await byRole(driver, 'button', 'Finish')).click();
    await saved(driver);
    const { design } = await stored('cottage');
    const turns = Object.values(design.walks)
      .find(({ id }) => !walks.includes(id))!
      .legs.flatMap((leg) => leg.turns);
    expect(turns).toHaveLength(2);
  } finally {
    await tools.sendDevToolsCommand('Emulation.setTouchEmulationEnabled', { enabled: false });
    await exactViewport(driver);
  }
});
