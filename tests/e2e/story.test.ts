import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { museum } from '@demo/museum';
import { accessPointsOf, floorsOf, variantsOf } from '@/core/design/design';
import { heardAt } from '@/core/fields/heard';
import { COMMON_CLIENT } from '@/core/radio/receiver';
import { emittersOf, floorMedium } from '@/engine/scene';
import { byRole, byTestId, eventually, exactViewport, textOf } from './browser';
import { chooseIn, clickPlan, dragPlan, measuredCard, movePlan, openProject, saved, strongestDbm, toBand, toLens, walkedTo } from './moves';
import { beforeTheEnd, driver, server } from './together';

beforeTheEnd(async () => {
  const faults = (await driver.manage().logs().get('browser')).filter((entry) => entry.level.name === 'SEVERE').map((entry) => entry.message);
  // What a server refused on purpose shows as a failed request; anything else is a fault of ours.
  expect(faults.filter((message) => !/the server responded with a status of (404|409|410|422)/.test(message))).toEqual([]);
});

const design = museum();
const floor = floorsOf(design)[0]!;
const aps = accessPointsOf(design, floor.id, variantsOf(design).at(-1)!.id);

/** What the core says is heard at a spot of the proposed museum in 5 GHz. */
function coreSays(xM: number, yM: number): { name: string; rssiDbm: number } {
  const [first] = heardAt(floorMedium(design, floor), emittersOf(design, aps, ['5']), { xM, yM, zM: floor.elevationM + 1 }, COMMON_CLIENT, -90);
  return { name: first!.of.name, rssiDbm: first!.rssiDbm };
}

/** The mean of a count, as the scale says it. */
const meanShown = async () => Number((await (await byRole(driver, 'status', /^Share of area/)).getText()).match(/mean ([\d.]+)/)![1]);
const shareShown = async () => Number((await textOf(driver, 'share')).replace(' %', ''));

describe('the whole story, in one window after another', () => {
  test('home shows both projects; one opens', async () => {
    await driver.get(server.url);
    await byRole(driver, 'link', /^Open Netmakers/);
    await (await byRole(driver, 'link', /^Open Quillhaven/)).click();
    expect(await shareShown()).toBeGreaterThan(50);
  });

  test('the readout says what the core says, and its budget adds up', async () => {
    await toBand(driver, '5');
    await clickPlan(driver, 40, 33);
    const pinned = await byTestId(driver, 'pinned-readout');
    const text = await pinned.getText();
    const [, x, y] = text.match(/([\d.]+), ([\d.]+) m/)!.map(Number);
    // The card rounds its place to 0.1 m; there the level changes by less than 0.3 dB.
    const said = coreSays(x!, y!);
    expect(text).toContain(said.name);
    const shown = await strongestDbm(driver);
    expect(Math.abs(shown - said.rssiDbm)).toBeLessThan(0.3);
    const [power, gain, path, walls] = (await textOf(driver, 'budget'))
      .split(': ')[1]!
      .match(/[\d.]+/g)!
      .map(Number);
    expect(power! + gain! - path! - walls!).toBeCloseTo(shown, 0);
    expect(Math.abs(power! + gain! - path! - walls! - shown)).toBeLessThan(0.21);
  });

  test('the section along the sight line shows the walls that are charged, and its budget adds up to the level', async () => {
    await (await byRole(driver, 'tab', 'Sight line')).click();
    const terms = await eventually(
      driver,
      async () => {
        const all = await driver.findElements(By.css('.sight-budget dd'));
        return Promise.all(all.map((term) => term.getText()));
      },
      (texts) => texts.length >= 4,
      'the terms of the budget',
    );
    const values = terms.map((text) => Number(text.replace('−', '-').replace('+', '').split(' ')[0]));
    const arrives = values.pop()!;
    expect(Math.abs(values.reduce((sum, value) => sum + value, 0) - arrives)).toBeLessThan(0.06 * values.length + 0.06);
    expect(Math.abs(arrives - (await strongestDbm(driver)))).toBeLessThan(0.06);
    expect(await driver.findElement(By.css('.sight-cut svg')).getAttribute('aria-label')).toMatch(/^Section from Q-\d\d to the pinned spot/);
    await (await byRole(driver, 'tab', 'Radios')).click();
  });

  /** Types the threshold and waits for the share that belongs to it. */
  async function setThreshold(dbm: string): Promise<void> {
    await (await byRole(driver, 'textbox', 'threshold')).sendKeys(Key.chord(Key.CONTROL, 'a'), dbm, Key.ENTER);
    await eventually(
      driver,
      () => driver.findElement(By.css('.share')).getText(),
      (text) => text.includes(`at ${dbm.replace('-', '−')} dBm`),
      'the share at the threshold',
    );
  }

  test('dragging an access point changes the map while it moves, and undo brings the value back', async () => {
    // At a level that a moved access point changes somewhere: what all of the floor has, it has wherever one hangs.
    await setThreshold('-50');
    const before = await strongestDbm(driver);
    const shareBefore = await textOf(driver, 'share');
    let during = NaN;
    await dragPlan(driver, [36, 28], [36, 21], async () => {
      during = await strongestDbm(driver);
      await eventually(
        driver,
        () => textOf(driver, 'share'),
        (share) => share !== shareBefore,
        'the share while dragging',
      );
    });
    expect(during).not.toBeCloseTo(before, 1);
    const after = await eventually(
      driver,
      () => strongestDbm(driver),
      (value) => value !== before,
      'the readout after the drag',
    );
    expect(after).toBeLessThan(before - 1);
    await saved(driver);
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'));
    await eventually(
      driver,
      () => strongestDbm(driver),
      (value) => value === before,
      'the readout after undo',
    );
    await eventually(
      driver,
      () => textOf(driver, 'share'),
      (share) => share === shareBefore,
      'the share after undo',
    );
    await (await byRole(driver, 'button', 'Redo')).click();
    await eventually(
      driver,
      () => strongestDbm(driver),
      (value) => value === after,
      'the readout after redo',
    );
    await (await byRole(driver, 'button', 'Undo')).click();
    await eventually(
      driver,
      () => strongestDbm(driver),
      (value) => value === before,
      'the readout after the second undo',
    );
    await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
  });

  test('Escape in the middle of a drag puts everything back, and nothing is saved', async () => {
    const shareBefore = await textOf(driver, 'share');
    const place = () => driver.findElement(By.css('[data-ap="quill-ap-010"]')).getAttribute('transform');
    const placeBefore = await place();
    await dragPlan(driver, [36, 28], [30, 22], async () => {
      expect(await place()).not.toBe(placeBefore);
      await driver.findElement(By.css('body')).sendKeys(Key.ESCAPE);
    });
    expect(await place()).toBe(placeBefore);
    await eventually(
      driver,
      () => textOf(driver, 'share'),
      (share) => share === shareBefore,
      'the share after Escape',
    );
    await setThreshold('-67');
    expect(await textOf(driver, 'save-state')).toBe('saved');
  });

  test('retune lowers the cost to no less than its bound, previews on the map, and applies as one step', async () => {
    await toLens(driver, 'Contention');
    const shareBefore = await eventually(driver, shareShown, (share) => share < 95, 'the contention share');
    const meanBefore = await meanShown();
    await (await byRole(driver, 'button', 'Retune…')).click();
    await (await byRole(driver, 'button', 'Compute')).click();
    await byRole(driver, 'button', 'Apply', 60_000);
    const summary = await textOf(driver, 'sheet-summary');
    // The sheet leads with what the map counts: the same number as under the scale, before and in the preview.
    const [, before, after] = summary.match(/radios sharing airtime, mean: ([\d.]+) → ([\d.]+)/)!.map(Number);
    expect(before).toBe(meanBefore);
    expect(after).toBeLessThan(before! / 2);
    await eventually(driver, meanShown, (mean) => mean === after, 'the mean in preview');
    await (await byRole(driver, 'button', 'details')).click();
    const [, costAfter, bound] = (await textOf(driver, 'sheet-summary')).match(/cost in radios [\d.]+ → ([\d.]+), at least ([\d.]+)/)!.map(Number);
    expect(bound).toBeLessThanOrEqual(costAfter! + 0.005);
    const table = await byRole(driver, 'table', 'Retune sheet');
    expect(await table.findElements(By.css('tbody tr'))).toHaveLength(10);
    // The preview already shows the plan; nothing is saved yet.
    const sharePreview = await eventually(driver, shareShown, (share) => share > shareBefore, 'the share in preview');
    await (await byRole(driver, 'checkbox', 'on the map')).click();
    await eventually(driver, shareShown, (share) => share === shareBefore, 'the share without preview');
    await (await byRole(driver, 'button', 'Apply')).click();
    await eventually(driver, shareShown, (share) => share === sharePreview, 'the share after applying');
    await saved(driver);
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'));
    await eventually(driver, shareShown, (share) => share === shareBefore, 'one undo takes the whole plan back');
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'y'));
    await eventually(driver, shareShown, (share) => share === sharePreview, 'redo brings it again');
    await saved(driver);
  });

  test('a walk: samples come along the leg, a pause and a resume elsewhere leave a gap, a click is undone', async () => {
    await toLens(driver, 'Signal');
    await (await byRole(driver, 'tab', 'Survey')).click();
    await chooseIn(driver, 'pace', /^20 times/);
    await (await byRole(driver, 'button', 'Connect receiver')).click();
    await eventually(
      driver,
      () => textOf(driver, 'receiver-state'),
      (state) => state === 'connected',
      'the receiver',
    );
    await (await byRole(driver, 'button', 'Start walk')).click();
    const count = async () => Number(await textOf(driver, 'sample-count'));
    for (const [x, y] of [
      [28, 21],
      [44, 21],
    ] as const)
      await clickPlan(driver, x, y);
    await walkedTo(driver, 44, 21);
    const first = await eventually(driver, count, (n) => n > 40, 'samples on the way to the second turn');
    await clickPlan(driver, 44, 35);
    await walkedTo(driver, 44, 35);
    // What is on its way from before the turn is fewer than these.
    const second = await eventually(driver, count, (n) => n > first + 150, 'more samples after the next turn');
    await (await byRole(driver, 'button', 'Undo last click')).click();
    await eventually(driver, count, (n) => n < second && n > 0, 'samples of the undone turn taken back');
    await (await byRole(driver, 'button', 'Pause')).click();
    await clickPlan(driver, 63, 24);
    await clickPlan(driver, 70, 24);
    await byTestId(driver, 'gap');
    await eventually(
      driver,
      async () => (await (await byTestId(driver, 'walk')).getAccessibleName()).match(/(\d+) legs/)?.[1],
      (legs) => legs === '2',
      'two legs',
    );
    await walkedTo(driver, 70, 24);
    const name = await byRole(driver, 'textbox', 'name');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Entrance and café', Key.ENTER);
    await (await byRole(driver, 'button', 'Finish')).click();
    await saved(driver);
    // Measured beside predicted in the readout.
    await movePlan(driver, 36, 21);
    expect(await (await byTestId(driver, 'readout')).getText()).toMatch(/measured[\s\S]*−\d+\.\d \(\d+\)/);
  });

  test('after a reload everything is there: the plan, the walk, its samples, the way back', async () => {
    const samples = Number(await textOf(driver, 'sample-count'));
    await driver.navigate().refresh();
    await textOf(driver, 'share');
    await eventually(
      driver,
      async () => Number(await textOf(driver, 'sample-count')),
      (n) => n === samples,
      'the samples after reload',
    );
    await byRole(driver, 'button', 'Entrance and café');
    await chooseIn(driver, 'shows', /^measured/);
    await eventually(
      driver,
      () => measuredCard(driver),
      ({ share, of, whole }) => share > 0 && of > 0 && of < whole * 0.6,
      'only what was measured is claimed',
    );
    await (await byRole(driver, 'tab', 'Design')).click();
    await driver.findElement(By.css('[data-ap="quill-ap-011"]')).sendKeys(Key.DELETE);
    expect(await driver.findElements(By.css('[data-ap="quill-ap-011"]'))).toHaveLength(0);
    await (await byRole(driver, 'button', 'Undo')).click();
    await driver.wait(async () => (await driver.findElements(By.css('[data-ap="quill-ap-011"]'))).length === 1, 30_000);
    await saved(driver);
  });

  test('a second window sees a change at once, and a deletion', async () => {
    const first = await driver.getWindowHandle();
    await driver.switchTo().newWindow('window');
    await exactViewport(driver);
    await openProject(driver, server.url, 'cottage');
    const second = await driver.getWindowHandle();
    await driver.switchTo().window(first);
    await openProject(driver, server.url, 'cottage');
    await driver.findElement(By.css('[data-ap="cottage-ap-001"]')).sendKeys(Key.ENTER);
    const power = (await driver.findElements(By.css('fieldset input[inputmode=decimal]')))[1]!;
    await power.sendKeys(Key.chord(Key.CONTROL, 'a'), '9', Key.ENTER);
    await saved(driver);
    await driver.switchTo().window(second);
    await eventually(
      driver,
      () => driver.findElement(By.css('[data-ap="cottage-ap-001"]')).getAccessibleName(),
      (name) => name.includes('5 GHz channel 36 width 40 MHz 9 dBm'),
      "the other window's access point",
    );
    await driver.switchTo().window(first);
    await driver.get(server.url);
    const card = await driver.wait(async () => (await driver.findElements(By.css('li[aria-label="Netmakers\' Cottage"]')))[0], 30_000);
    await (await card!.findElement(By.xpath('.//button[text()="Delete"]'))).click();
    await (await byRole(driver, 'button', 'Delete project')).click();
    await driver.switchTo().window(second);
    await eventually(
      driver,
      () => textOf(driver, 'save-state'),
      (state) => state === 'deleted elsewhere',
      'the deletion',
    );
    await driver.switchTo().window(first);
    await (await byRole(driver, 'button', 'Undo')).click();
    await byRole(driver, 'link', /^Open Netmakers/);
    await driver.switchTo().window(second);
    await saved(driver);
    await driver.close();
    await driver.switchTo().window(first);
  });
});
