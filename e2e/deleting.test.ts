import { expect, it } from 'vitest';
import { By, button, eventually, find, textOf } from './browser.ts';
import { isDone } from './parts.ts';
import { columnsOf, driver, store, useSession, visit } from './session.ts';

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
  await (await button(driver, 'Delete Deleted in the list')).click();
  expect(await (await find(driver, '[role="alertdialog"]')).getText()).toContain('is used by “Nests the deleted one”');
  await (await button(driver, 'Cancel')).click();
  expect(await isListed('Deleted in the list')).toBe(true);
  await (await button(driver, 'Delete Deleted in the list')).click();
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
