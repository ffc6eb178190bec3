import { expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf } from './browser.ts';
import { chooseFor, isDone } from './parts.ts';
import { columnsOf, driver, live, openNew, saveState, select, store, useSession, visit } from './session.ts';

useSession();

const isListed = async (name: string): Promise<boolean> =>
  (await driver.findElements(By.xpath(`//main//li//span[normalize-space()="${name}"]`))).length > 0;
const gone = (name: string) => eventually(driver, `no ${name}`, async () => !(await isListed(name)));
const there = (name: string) => eventually(driver, name, () => isListed(name));

it('deletes a report from the list and restores it, and asks first where others use it', async () => {
  const inner = await store({ ...columnsOf('name'), name: 'Deleted in the list' });
  const item = { kind: 'subreport', id: 's', x: 0, y: 0, width: 50, height: 10, report: inner };
  await store({ gaveta: 2, name: 'Nests the deleted one', header: { height: 20, items: [item] } });
  await visit('/');
  await chooseFor('Deleted in the list', 'Delete');
  expect(await (await find(driver, '[role="alertdialog"]')).getText()).toContain('is used by “Nests the deleted one”');
  await (await button(driver, 'Cancel')).click();
  expect(await isListed('Deleted in the list')).toBe(true);
  await chooseFor('Deleted in the list', 'Delete');
  await (await find(driver, '[role="alertdialog"] button:last-of-type')).click();
  await gone('Deleted in the list');
  await (await button(driver, 'Restore')).click();
  await there('Deleted in the list');
});

it('deletes a report from the viewer, and leads back to the list', async () => {
  const id = await store({ ...columnsOf('name'), name: 'Deleted in the viewer' });
  await visit(`/reports/${id}`);
  await isDone();
  await (await button(driver, 'More')).click();
  await (await find(driver, '[role="menuitem"]:last-child')).click();
  await eventually(driver, 'what was deleted', async () =>
    (await textOf(driver, 'main')).includes('“Deleted in the viewer” was deleted.'),
  );
  await gone('Deleted in the viewer');
});

it('says what uses a calculated field and a parameter before they are removed', async () => {
  const report = columnsOf('double', 'name');
  const hut = { ...report.body[0]!, calculated: [{ name: 'double', formula: 'beds * 2' }], filter: 'beds >= least' };
  await openNew({
    ...report,
    parameters: [{ name: 'least', label: 'Least beds', type: 'number', default: 1 }],
    body: [hut],
  });
  const asked = async (): Promise<string> => (await find(driver, '[role="alertdialog"]')).getText();
  await (await find(driver, '[data-drawer-line="huts"] button[aria-label*="select"]')).click();
  await (await button(driver, 'Remove double')).click();
  expect(await asked()).toContain('“double” is used by: Field double.');
  await (await button(driver, 'Cancel')).click();
  await button(driver, 'No problems');
  await (await button(driver, 'Report')).click();
  await (await driver.findElement(By.xpath('//summary[starts-with(normalize-space(), "Least beds")]'))).click();
  await (await button(driver, 'Remove the parameter')).click();
  expect(await asked()).toContain('“Least beds” is used by: Hut.');
  await (await find(driver, '[role="alertdialog"] button:last-of-type')).click();
  await eventually(driver, 'what does not work now', async () =>
    (await textOf(driver, '[data-problems]')).includes('problems'),
  );
});

it('undo goes on after the page was loaded anew', async () => {
  await openNew(columnsOf('name', 'beds'));
  const items = async (): Promise<number> => (await driver.findElements(By.css('[data-item]'))).length;
  const before = await items();
  await select('value-beds');
  await press(driver, Key.DELETE);
  await select('value-name');
  await press(driver, Key.DELETE);
  await press(driver, Key.CONTROL, 'z');
  const left = await items();
  expect(left).toBeLessThan(before);
  await saveState('kept at');
  await driver.navigate().refresh();
  await live();
  expect(await items()).toBe(left);
  const board = await find(driver, '[data-testid="board"]');
  await board.sendKeys(Key.chord(Key.CONTROL, 'y'));
  await eventually(driver, 'redone', async () => (await items()) < left);
  await board.sendKeys(Key.chord(Key.CONTROL, 'z'));
  await board.sendKeys(Key.chord(Key.CONTROL, 'z'));
  await eventually(driver, 'undone to what is saved', async () => (await items()) === before);
  await saveState('Saved, revision 1');
});
