import { expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, press, settled, textOf } from './browser.ts';
import {
  add,
  columnsOf,
  command,
  copyOf,
  driver,
  HUTS,
  openDesigner,
  openNew,
  saveState,
  select,
  useSession,
  visit,
} from './session.ts';

useSession();

const itemsOf = async (band: string): Promise<number> =>
  (await driver.findElements(By.css(`[data-band="${band}"] [data-item]`))).length;

it('says why a drawer cannot go where it is dragged, and leaves it', async () => {
  await openDesigner(await copyOf('roster-wardens'));
  const bar = await find(driver, '[data-bar="wardens"]');
  const box = await bar.getRect();
  const start = { x: Math.round(box.x + box.width / 2), y: Math.round(box.y + box.height / 2) };
  await driver
    .actions()
    .move(start)
    .press()
    .move({ x: start.x + 4, y: start.y + 30 })
    .perform();
  const hint = await eventually(driver, 'the reason', async () => textOf(driver, '.fixed[role="status"]'));
  expect(hint).toContain('it goes before or after another set of rows, not inside one');
  await driver.actions().release().perform();
  await saveState('Saved, revision 1');
});

it('puts lists side by side, found under “side”, and takes items from one to the other', async () => {
  const rect = async (css: string) => (await find(driver, css)).getRect();
  await openNew(HUTS);
  await select('name');
  await add('regions, side');
  const added = '[data-band$="/detail"]:not([data-band="huts/detail"])';
  const [huts, regions] = [await rect('[data-band="huts/detail"]'), await rect(added)];
  expect(Math.abs(huts.y - regions.y)).toBeLessThan(2);
  expect(regions.x).toBeGreaterThanOrEqual(huts.x + huts.width);
  expect(Math.abs(regions.width - huts.width)).toBeLessThan(2);
  // Names of bands lie beside the bars, never under them.
  for (const name of await driver.findElements(By.css('[aria-label^="Band "]'))) {
    const { x, y, height } = await name.getRect();
    const covered = await driver.executeScript<string[]>(
      `return document.elementsFromPoint(arguments[0], arguments[1]).flatMap((e) => e.dataset?.bar ?? [])`,
      x + 1,
      y + height / 2,
    );
    expect(covered).toEqual([]);
  }
  const beds = await find(driver, '[data-item="beds"]');
  const from = await beds.getRect();
  await dragBy(driver, beds, Math.round(regions.x + 20 - from.x), 0);
  await find(driver, `${added} [data-item="beds"]`);
  const moved = await rect('[data-item="beds"]');
  expect(Math.abs(moved.x - regions.x - 20)).toBeLessThan(8);
  await command('put region below');
  const below = await rect(added);
  expect(below.y).toBeGreaterThanOrEqual(huts.y + huts.height);
  expect(below.width).toBeGreaterThan(huts.width * 2);
});

it('moves a column with its caption, and changes its place when it is dragged past another', async () => {
  await openNew(columnsOf('name', 'beds'));
  const left = async (item: string): Promise<number> =>
    (await (await find(driver, `[data-item="${item}"]`)).getRect()).x;
  const [first, second] = [await left('caption-name'), await left('caption-beds')];
  await dragBy(driver, await find(driver, '[data-item="value-name"]'), Math.round((second - first) * 1.2), 0);
  expect([await left('caption-beds'), await left('value-beds')]).toEqual([first, first]);
  expect(await left('caption-name')).toBe(await left('value-name'));
  expect(await left('value-name')).toBeGreaterThan(first + 50);
});

it('copies items by keyboard from one report into another', async () => {
  await openDesigner('roster-wardens');
  await (await find(driver, '[data-band="wardens/detail"] [data-item][aria-label="Field name"]')).click();
  await press(driver, Key.CONTROL, 'c');
  await (await button(driver, 'Reports')).click();
  // Others have stored reports as well: more than are listed at once. The designer has a search of its own.
  await find(driver, '[data-thing]');
  await (await find(driver, 'main input[type="search"]')).sendKeys('roster flights');
  // What others made is found as well, and the list is drawn anew until all of it is there.
  await eventually(driver, 'what was found', async () => {
    await (await driver.findElement(By.css('button[aria-label="What to do with Roster: flights"]'))).click();
    await (await driver.findElement(By.xpath('//*[@role="menuitem"][normalize-space()="Edit"]'))).click();
    return true;
  });
  await (await button(driver, 'Band Flight detail')).click();
  const before = await itemsOf('flights/detail');
  await press(driver, Key.CONTROL, 'k');
  await (await find(driver, '[cmdk-input]')).sendKeys('paste', Key.ENTER);
  await eventually(driver, 'the pasted item', async () => (await itemsOf('flights/detail')) === before + 1);
  await settled(driver);
  expect(await textOf(driver, '[data-testid="selected"]')).toBe('Field name');
});

it('compares two revisions in words and restores the older one', async () => {
  const roster = await copyOf('warden-roster');
  await openDesigner(roster);
  const title = await find(driver, '[data-band="header"] [data-item]');
  await title.click();
  await press(driver, Key.DELETE);
  await press(driver, Key.CONTROL, 's');
  await saveState('Saved, revision 2');
  await visit(`/reports/${roster}/revisions`);
  await eventually(driver, 'the change', async () =>
    (await textOf(driver, '[data-testid="changes"]')).includes('Text report.name removed'),
  );
  await (await button(driver, 'Restore revision 1')).click();
  await find(driver, 'input[aria-label="Revision 3 at the right"]');
  expect(await textOf(driver, 'body')).toContain('Restored from revision 1');
  await openDesigner(roster);
  await saveState('Saved, revision 3');
  expect(await itemsOf('header')).toBeGreaterThan(1);
});

it('tells two people who have a report open of one another', async () => {
  const weather = await copyOf('ridge-weather');
  await openDesigner(weather);
  await driver.executeScript(
    `const body = JSON.stringify({ window: 'another window' });
     await fetch('/api/reports/${weather}/presence', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });`,
  );
  await eventually(driver, 'the other one', async () =>
    (await textOf(driver, '[data-testid="others"]')).includes('Inês'),
  );
});
