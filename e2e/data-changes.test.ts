import { expect, it } from 'vitest';
import { By, button, eventually, find, textOf } from './browser.ts';
import { addStep } from './parts.ts';
import { choose, driver, store, useSession, visit } from './session.ts';

useSession({ alone: true });

/** A file as a connection, whatever was there under its name. */
const putFile = (name: string, csv: string): Promise<number> =>
  driver.executeScript<number>(
    `const [name, csv] = arguments;
     const up = await (await fetch('/api/uploads', { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: new Blob([csv]) })).json();
     const settings = { kind: 'file', format: 'csv', fileName: name + '.csv' };
     const body = JSON.stringify({ name, label: name, settings, upload: up.id });
     return (await fetch('/api/connections', { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body })).status;`,
    name,
    csv,
  );
const says = (css: string, words: string): Promise<boolean> =>
  eventually(driver, `“${words}”`, async () => (await textOf(driver, css)).includes(words));

it('a step that is not finished says what it needs, and nothing is saved until it has it', async () => {
  await visit('/data/recipes/new?from=cumeeira/stay');
  await says('[data-testid="rows-state"]', '6,000 rows');
  await addStep('Sort by');
  await says('[data-testid="rows-state"]', '6,000 rows');
  await (await driver.findElement(By.xpath('//button[contains(., "field to sort by")]'))).click();
  await says('[data-testid="rows-lack"]', 'Step 2: This step is not finished: it needs a field to go by. Choose it');
  expect(await (await button(driver, 'Save')).isEnabled()).toBe(false);
  const fields = await driver.findElements(By.css('[data-step="2"] [aria-label="Sort by"]'));
  await fields.at(-1)!.click();
  await (await driver.findElement(By.xpath('//*[@role="option"][normalize-space()="Party"]'))).click();
  await says('[data-testid="rows-state"]', '6,000 rows');
  expect(await (await button(driver, 'Save')).isEnabled()).toBe(true);
});

it('a running total asks for an order, and is there once the rows have one', async () => {
  await visit('/data/recipes/new?from=cumeeira/flight');
  await says('[data-testid="rows-state"]', 'rows');
  await addStep('Calculate across rows');
  await choose('What is calculated', 'running total', '[data-step="2"]');
  await choose('Of the field', 'Load (kg)', '[data-step="2"]');
  await says('[data-step="2"]', 'Add “Sort by” before it');
  await (await find(driver, '[data-step="1"] button')).click();
  await addStep('Sort by');
  await choose('Sort by', 'Flown on', '[data-step="2"]');
  await (await find(driver, '[data-step="3"] button')).click();
  await says('[data-testid="rows"] thead', 'Running total of Load (kg)');
});

it('a connection whose columns changed lets a field go on, and says who uses it before it is removed', async () => {
  await visit('/data');
  expect(await putFile('snow', 'hut,depth\nAlminhas,10\nLago Frio\n')).toBe(200);
  const item = { kind: 'field', id: 'f', x: 0, y: 0, width: 40, height: 5, formula: 'depth' };
  const body = [{ id: 'b', name: 'snow', rows: { entity: 'snow' }, detail: { height: 6, items: [item] } }];
  const report = { gaveta: 2, name: 'Depths of snow', model: 'snow', body };
  await store(report);
  await visit('/data/connections/snow');
  await choose('Read from', 'Pasted text');
  await (await find(driver, 'form textarea')).sendKeys('hut,metres\nAlminhas,12\nLago Frio\n');
  await says('[aria-label="The first rows"]', 'Line 3 has fewer cells');
  await (await button(driver, 'Save')).click();
  await says('[aria-label="What changed"]', 'snow.depth');
  await choose('What snow.depth is called now', 'metres');
  await says('form', 'go on with it under the name that they know');
  const shown = await driver.executeScript<string>(
    `const body = JSON.stringify({ definition: arguments[0], parameters: {} });
     return (await fetch('/api/design-rows', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body })).text();`,
    report,
  );
  expect(JSON.parse(shown)).toMatchObject({ levels: [{ rows: [expect.arrayContaining(['12']), expect.anything()] }] });
  await (await button(driver, 'Remove')).click();
  await says('[role="alertdialog"], [role="dialog"]', 'stops working: Depths of snow.');
});
