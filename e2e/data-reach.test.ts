import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf } from './browser.ts';
import { addStep } from './parts.ts';
import { choose, driver, liveHas, openDesigner, store, useSession, visit } from './session.ts';

useSession({ alone: true });

const folder = mkdtempSync(join(tmpdir(), 'gaveta-reach-'));
afterAll(() => rmSync(folder, { recursive: true }));

const says = (css: string, words: string): Promise<boolean> =>
  eventually(driver, `“${words}” in ${css}`, async () => (await textOf(driver, css)).includes(words));
const type = async (label: string, text: string, within = ''): Promise<void> => {
  const box = await find(driver, `${within} input[aria-label="${label}"]`);
  await box.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
};
const tick = async (label: string, within: string): Promise<void> => {
  const box = By.xpath(`//ul[starts-with(@aria-label, "${within}")]//label[normalize-space()="${label}"]//input`);
  await (await eventually(driver, label, () => driver.findElement(box))).click();
};
const headings = (): Promise<string> => textOf(driver, '[data-testid="rows"] thead');
const firstRow = (): Promise<string> => textOf(driver, '[data-testid="rows"] tbody tr');
const rowsSay = (words: string): Promise<boolean> => says('[data-testid="rows-state"]', words);

/** Chooses files on the screen of a new connection. */
const chooseFiles = async (files: Readonly<Record<string, string>>): Promise<void> => {
  await visit('/data/connections/new');
  const kind = By.xpath('//button[b[normalize-space()="A file"]]');
  await (await eventually(driver, 'the kinds', () => driver.findElement(kind))).click();
  const paths = Object.entries(files).map(([name, text]) => {
    const path = join(folder, name);
    writeFileSync(path, text);
    return path;
  });
  await (await find(driver, 'input[type="file"][multiple]')).sendKeys(paths.join('\n'));
};

describe('files', () => {
  it('of one kind become one table, with headings where they are and without what is left out', async () => {
    await chooseFiles({
      'Calls 2024.csv': 'Calls of a year\n\nhut;who;words\nBrecha;Inês Vaz;all well\n',
      'Calls 2025.csv': 'Calls of a year\n\nhut;who;words\nLonga;Rui Sá;fog\nBrecha;Ana Lima;\n',
    });
    await (await find(driver, 'summary')).click();
    await (await find(driver, '[name="settings.headings"]')).sendKeys('3');
    await says('[aria-label="The first rows"]', 'all well');
    await (await find(driver, '[aria-label="Take the column who"]')).click();
    await says('[aria-label="The first rows"]', 'who is left out');
    await (await find(driver, '[name="label"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Radio calls of years');
    await (await button(driver, 'Save')).click();
    await says('nav', 'Radio calls of years');
    await visit('/data/recipes/new?from=radio_calls_of_years/radio_calls_of_years');
    await rowsSay('3 rows');
    expect(await headings()).toMatch(/^File\s+Hut\s+Words/);
    expect(await firstRow()).toBe('Calls 2024 Brecha all well');
  });

  it('of several kinds are refused with words', async () => {
    await chooseFiles({ 'a.csv': 'a\n1\n', 'b.json': '[]' });
    await says('form', 'These files are of several formats. Choose files of one.');
  });
});

it('what many rows of each row add up to comes along without making it many', async () => {
  await visit('/data/recipes/new?from=cumeeira/stay');
  await addStep('Bring in');
  await choose('What is brought in', 'all its Charges', '[data-step="2"]');
  await choose('What comes along', 'what they add up to: each row here stays one', '[data-step="2"]');
  await choose('Total of', 'Amount', '[data-step="2"]');
  await rowsSay('6,000 rows');
  await eventually(driver, 'a column of totals', async () => (await headings()).includes('Sum of Amount'));
});

describe('statements', () => {
  it('ask for the value of a parameter at once, of the type that it is compared with, and never say “all” of it', async () => {
    await visit('/data/recipes/new?sql=cumeeira');
    await choose('Tables of', 'Tariffs (file)', '[data-step="1"]');
    await (await find(driver, '.cm-content')).click();
    await press(driver, 'select year, count(*) as n from tariffs where year >= :since group by year');
    await says('[data-step="1"]', 'a number');
    await (await find(driver, '[aria-label="Value of :since to try with"]')).sendKeys('2025');
    await (await driver.findElement(By.xpath('//*[@data-step="1"]//button[normalize-space()="Run"]'))).click();
    await rowsSay('rows');
    expect(await textOf(driver, '[data-chip="since"]')).toMatch(/^Since\s+no value$/);
    const rows = await driver.executeScript<string[]>(
      `return [...document.querySelectorAll('[data-testid="rows"] tbody tr td:first-child')].map((cell) => cell.textContent)`,
    );
    expect(rows.length).toBeGreaterThan(0);
    expect(rows.every((year) => Number(year.replace(/\D/g, '')) >= 2025)).toBe(true);
  });
});

describe('steps', () => {
  it('split, join, change types, fill blanks and turn columns into rows', async () => {
    await chooseFiles({ 'depths.csv': 'place,jan,feb\nBrecha North,"1,140 cm",90 cm\nLonga South,n/a,60 cm\n' });
    await says('[aria-label="The first rows"]', 'Brecha North');
    await (await button(driver, 'Save')).click();
    await says('nav', 'depths');
    await visit('/data/recipes/new?from=depths/depths');
    await rowsSay('2 rows');

    await addStep('Split a text');
    await type('Label of the column', 'Hut', '[data-step="2"]');
    await eventually(driver, 'the parts', async () => (await headings()).includes('Hut'));

    await addStep('Join texts');
    await tick('Part 2', 'Fields to join');
    await tick('Hut', 'Fields to join');
    await type('Between them', ': ', '[data-step="3"]');
    await eventually(driver, 'the joined text', async () => (await firstRow()).includes('North: Brecha'));

    await addStep('Add a column');
    await type('Formula', 'SUBSTITUTE(Jan; " cm"; "")', '[data-step="4"]');
    await eventually(driver, 'a formula over a label', async () => (await firstRow()).includes('1,140'));
    await addStep('Change types');
    await choose('Field whose type changes', 'new_column', '[data-step="5"]');
    await addStep('Change types');
    await choose('Field whose type changes', 'Feb', '[data-step="6"]');
    await says('[data-step="6"]', '2 values do not fit and become blank');

    await addStep('Fill blanks');
    await tick('Place', 'Columns whose blanks');
    await tick('new_column', 'Columns whose blanks');
    await type('Value', '0', '[data-step="7"]');
    await eventually(
      driver,
      'the filled rows',
      async () => /0\s*$/.test(await firstRow()) || (await firstRow()).includes('1140'),
    );

    await addStep('Turn columns into rows');
    await rowsSay('rows');
    expect(await textOf(driver, '[data-step="8"]')).toContain('Keep rows without a value');
  });

  it('add a column with a total over the rows of a group', async () => {
    await visit('/data/recipes/new?from=cumeeira/flight');
    await addStep('Add a column');
    await type('Formula', 'COUNTDISTINCT(Flown on)', '[data-step="2"]');
    await says('[data-step="2"]', 'Its totals are those of all rows.');
    await (await driver.findElement(By.xpath('//*[@data-step="2"]//button[contains(., "for each")]'))).click();
    await says('[data-step="2"]', 'Its totals are those of the rows that are alike in');
    await eventually(driver, 'the rows', async () => (await headings()).includes('new_column'));
  });
});

describe('a recipe', () => {
  const make = (name: string, formula: string): Promise<string> =>
    driver.executeScript<string>(
      `const steps = [{ step: 'take', from: { model: 'cumeeira', entity: 'hut' } }, { step: 'sort', by: [{ field: 'name' }] },
         { step: 'add', name: 'double', formula: arguments[1] }];
       const body = JSON.stringify({ name: arguments[0], steps, parameters: [] });
       return (await (await fetch('/api/recipes', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body })).json()).id;`,
      name,
      formula,
    );

  it('that is mended mends the report over it, which is open beside it', async () => {
    await visit('/data');
    const recipe = await make('Beds twice', 'beds * 2 + 7000');
    const item = { kind: 'field', id: 'f', x: 0, y: 0, width: 40, height: 5, formula: 'double' };
    const body = [{ id: 'b', name: 'huts', rows: { entity: 'huts' }, detail: { height: 6, items: [item] } }];
    const id = await store({ gaveta: 2, name: 'Beds', queries: [{ name: 'huts', recipe }], body });
    await openDesigner(id);
    await liveHas('70');
    /** Goes somewhere in the same window, as a link does. */
    const go = (path: string): Promise<unknown> =>
      driver.executeScript(
        `history.pushState({}, '', arguments[0]); dispatchEvent(new PopStateEvent('popstate'));`,
        path,
      );
    await go(`/data/recipes/${recipe}`);
    await (await find(driver, '[data-step="3"] button')).click();
    await type('Name of the column', 'twice', '[data-step="3"]');
    await (await button(driver, 'Save')).click();
    await says('[data-testid="recipe-state"]', 'Saved');
    await go(`/reports/${id}/design`);
    await liveHas('#NAME?');
    await go(`/data/recipes/${recipe}`);
    await (await find(driver, '[data-step="3"] button')).click();
    await type('Name of the column', 'double', '[data-step="3"]');
    await (await button(driver, 'Save')).click();
    await says('[data-testid="recipe-state"]', 'Saved');
    await go(`/reports/${id}/design`);
    await liveHas('70');
  });

  it('is copied under a name of its own', async () => {
    await visit('/data');
    const recipe = await make('Beds three times', 'beds * 3');
    await visit(`/data/recipes/${recipe}`);
    await rowsSay('24 rows');
    await (await button(driver, 'Save a copy')).click();
    await says('nav', 'Copy of Beds three times');
    expect(await driver.getCurrentUrl()).not.toContain(recipe);
  });
});
