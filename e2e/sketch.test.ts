import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { generateTables } from '@gaveta-examples/cumeeira';
import ExcelJS from 'exceljs';
import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf, type WebElement } from './browser.ts';
import { downloads, driver, liveHas, servers, useSession, visit } from './session.ts';

useSession();

/** The lines of the table as they are seen, each with its cells. */
const lines = (): Promise<string[][]> =>
  driver.executeScript<string[][]>(
    `return [...document.querySelectorAll('[data-testid="lines"] [data-line]')]
       .map((line) => [...line.children].map((cell) => cell.textContent.trim()).filter((text) => text !== ''))`,
  );
/** Waits until the lines are so. */
const linesAre = (what: string, are: (lines: string[][]) => boolean): Promise<string[][]> =>
  eventually(driver, what, async () => {
    const isBefore = (await driver.findElements(By.css('[data-testid="lines"] > .opacity-60'))).length > 0;
    const found = await lines();
    return !isBefore && are(found) && found;
  });
const isSame = (a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): boolean =>
  a.size === b.size && [...a].every(([name, count]) => b.get(name) === count);
const total = (found: string[][], column: number): string => found.at(-1)![column]!;
const sentence = (): Promise<string> => textOf(driver, '[data-testid="sentence"]');
const says = (words: string): Promise<boolean> =>
  eventually(driver, `the sentence “${words}”`, async () => (await sentence()).replace(/\s+/g, ' ').includes(words));
/** Picks a field at one of the sentence's plus signs. */
const grow = async (where: string, words: string): Promise<void> => {
  await (await find(driver, `[data-pick="${where}"]`)).click();
  await find(driver, '.panel [cmdk-input]');
  await typed(words, Key.ENTER);
};
/** Types words, and keys behind them, into what has the keyboard. */
const typed = (...keys: string[]): Promise<void> =>
  driver
    .switchTo()
    .activeElement()
    .sendKeys(...keys);
const word = (id: string): Promise<WebElement> => find(driver, `[data-word="${id}"]`);
const inPanel = (css: string): Promise<WebElement> => find(driver, `.panel ${css}`);
/** Drags a field from the column at the left to a place. */
const drop = async (field: string, where: string): Promise<void> => {
  const [from, to] = [await find(driver, `[data-field="${field}"]`), await find(driver, where)];
  const drag = driver.actions().move({ origin: from }).press().move({ origin: from, x: 20, y: 5 });
  await drag.move({ origin: to }).release().perform();
};
const begin = (entity: string, model = 'cumeeira'): Promise<void> =>
  visit(`/sketches/new?from=${encodeURIComponent(`table ${model} ${entity}`)}`);

describe('a sketch', () => {
  it('answers a question from nothing, filters by its chart, is saved, exported and made a report with the same totals', async () => {
    await visit('/');
    await (await button(driver, 'New sketch')).click();
    await find(driver, '[cmdk-input]');
    await typed('stays', Key.ENTER);
    await linesAre('rows with their end', (found) => found.length > 20 && found.at(-1)!.length === 2);
    await grow('group', 'region');
    await linesAre('four regions', (found) => found.length === 5);
    await grow('group', 'hut name');
    const grouped = await linesAre('huts in their regions', (found) => found.length > 20);
    expect(grouped[0]![0]).toBe('Alto Norte');
    await (await find(driver, '[data-field="charges.amount"]')).click();
    await linesAre('the charges', (found) => found[0]!.length === 4);

    // The first five of each region by nights.
    await (await find(driver, '[data-caption="nights"]')).click();
    await (await button(driver, 'Largest first')).click();
    await press(driver, Key.ESCAPE);
    await (await word('group hut')).click();
    const first = await inPanel('input[aria-label="How many of the first"]');
    await first.sendKeys('5', Key.ENTER);
    await press(driver, Key.ESCAPE);
    await says('the first 5 huts of each region');
    const five = await linesAre('five huts of each', (found) => found.length === 4 * 6 + 1);
    const nights = five.slice(1, 6).map(([, , cell]) => Number(cell!.replace(',', '')));
    expect(nights).toEqual([...nights].sort((a, b) => b - a));

    // What is pressed in the chart is kept in the table, as a chip that can be taken away.
    await (await button(driver, 'Chart')).click();
    const bar = await find(driver, '.sketch-chart [data-cell="0"]');
    await driver.actions().move({ origin: bar }).click().perform();
    const kept = await linesAre('one hut of one region', (found) => found.length === 3);
    expect(kept[1]![0]).toBe(five[1]![0]);
    expect(await textOf(driver, '[data-chip]')).toContain(`Kept from the chart: hut is ${five[1]![0]}`);
    await (await find(driver, '[data-chip] button')).click();
    const all = await linesAre('all of them again', (found) => found.length === five.length);
    await press(driver, Key.CONTROL, 'z');
    await linesAre('the undo', (found) => found.length === 3);
    await press(driver, Key.CONTROL, 'y');
    await linesAre('the redo', (found) => found.length === five.length);

    // Saved by name, with a note.
    await (await find(driver, '[data-save]')).click();
    const name = await inPanel('form input');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Five huts');
    await (await inPanel('form textarea')).sendKeys('For the board.');
    await (await inPanel('form button[type="submit"]')).click();
    await eventually(driver, 'the saved sketch', async () =>
      (await textOf(driver, '[data-testid="sketch-state"]')).includes('Saved, revision 1'),
    );

    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'what is not saved', async () =>
      (await textOf(driver, '[data-testid="sketch-state"]')).includes('kept'),
    );
    await press(driver, Key.CONTROL, 'y');

    await (await button(driver, 'Export')).click();
    await (await find(driver, '[data-output="xlsx"]')).click();
    await (await find(driver, '[data-testid="export-start"]')).click();
    const file = await eventually(driver, 'the file', async () =>
      readdirSync(downloads).find((one) => one.startsWith('Five huts') && one.endsWith('.xlsx')),
    );
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(readFileSync(join(downloads, file)) as unknown as ArrayBuffer);
    const cells: unknown[] = [];
    for (const sheet of book.worksheets) sheet.eachRow((row) => row.eachCell(({ value }) => cells.push(value)));
    const number = (text: string): number => Number(text.replaceAll(',', ''));
    expect(cells).toContain(number(total(all, 3)));

    await (await button(driver, 'Make a report of it')).click();
    for (const cell of all.at(-1)!) await liveHas(cell);
    await liveHas(all[1]![0]!);
  });

  it('is asked by the keyboard alone', async () => {
    await begin('stay');
    await linesAre('rows', (found) => found.length > 20);
    const focus = async (css: string): Promise<void> => {
      await find(driver, css);
      // As far as Tab leads.
      await eventually(driver, `the way to ${css}`, async () => {
        if (await driver.executeScript<boolean>(`return document.activeElement.matches(arguments[0])`, css))
          return true;
        await press(driver, Key.TAB);
        return false;
      });
    };
    await focus('[data-pick="group"]');
    await press(driver, Key.ENTER);
    await find(driver, '.panel [cmdk-input]');
    await typed('region', Key.ENTER);
    await linesAre('four regions', (found) => found.length === 5);
    await focus('[data-word="column nights"]');
    await press(driver, Key.ENTER);
    await focus('.panel [aria-label="Sort"] button');
    await press(driver, Key.ENTER);
    await press(driver, Key.ESCAPE);
    await says('most nights first');
    await focus('[data-pick="only"]');
    await press(driver, Key.ENTER);
    await find(driver, '.panel [cmdk-input]');
    await typed('status', Key.ENTER);
    await focus('[data-testid="filter"] input[type="checkbox"]');
    await press(driver, ' ');
    await press(driver, Key.ESCAPE);
    await eventually(driver, 'the filter', async () => (await driver.findElements(By.css('[data-chip]'))).length === 1);
    await focus('[data-word="rows"]');
    await press(driver, Key.ENTER);
    await press(driver, Key.ENTER);
    await says('each row');
    await linesAre('rows in their regions', (found) => found.length > 20);
    await focus('[data-testid="lines"]');
    await press(driver, Key.ARROW_DOWN);
    await press(driver, Key.ARROW_LEFT);
    await eventually(
      driver,
      'the closed group',
      async () => (await driver.findElements(By.css('[data-line="group"][aria-expanded="false"]'))).length === 1,
    );
    await press(driver, Key.CONTROL, 'z');
    await says('the totals');
  });

  it('shows made-up rows until the real ones are asked for, and works columns out', async () => {
    await begin('hut');
    await linesAre('rows', (found) => found.length > 10);
    await (await find(driver, '[aria-label="Look and rows"]')).click();
    await (await driver.findElement(By.xpath('//label[normalize-space()="Live rows"]'))).click();
    await press(driver, Key.ESCAPE);
    await linesAre('made-up rows', (found) => found.length === 5 && found[0]!.includes('Hut 1'));
    await (await find(driver, '[data-field="beds"]')).click();
    await (await button(driver, 'Fetch rows')).click();
    await linesAre('real rows', (found) => found.length > 10);
    await (await button(driver, '+ Calculated column …')).click();
    await (await inPanel('input[aria-label="Name of the column"]')).sendKeys('Half');
    await (await inPanel('.cm-content')).click();
    await typed('altitude / gone');
    await eventually(driver, 'what is wrong', async () =>
      (await textOf(driver, '.panel [role="alert"]')).includes('gone'),
    );
    await typed(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE);
    await typed('altitude / 2');
    await eventually(
      driver,
      'no problem',
      async () => (await driver.findElements(By.css('.panel [role="alert"]'))).length === 0,
    );
    await (await button(driver, 'Add')).click();
    await says('half');
  });

  it('keeps rows by what is worked out, and groups by their totals of it', async () => {
    await begin('hut');
    await linesAre('rows', (found) => found.length > 10);
    await (await button(driver, '+ Calculated column …')).click();
    await (await inPanel('input[aria-label="Name of the column"]')).sendKeys('Half');
    await (await inPanel('.cm-content')).click();
    await typed('altitude / 2');
    await (await button(driver, 'Add')).click();
    await (await find(driver, '[data-caption="half"]')).click();
    await (await button(driver, 'Keep only …')).click();
    const least = await inPanel('[data-testid="filter"] input[inputmode="decimal"]');
    await least.sendKeys('900', Key.ENTER);
    await press(driver, Key.ESCAPE);
    await says('only half is at least 900');
    const high = await linesAre('high huts', (found) => found.length > 2 && found.length < 24);
    await grow('group', 'region');
    const regions = await linesAre('their regions', (found) => found.length < high.length && found[0]!.length > 1);
    await (await find(driver, '[data-caption="half"]')).click();
    await (await button(driver, 'Keep only some regions …')).click();
    await inPanel('form[aria-label="Keep only regions where Half"]');
    await typed('1000000', Key.ENTER);
    await press(driver, Key.ESCAPE);
    await says('regions where half is above 1000000');
    await eventually(driver, 'no lines', async () =>
      (await textOf(driver, '[data-testid="lines-state"]')).includes('No'),
    );
    await press(driver, Key.CONTROL, 'z');
    await linesAre('the regions again', (found) => found.length === regions.length);
  });

  it('takes fields where they are dropped, keeps more of its chart with Shift, and is led through by arrows', async () => {
    await begin('stay');
    await linesAre('rows', (found) => found.length > 20);
    await drop('status', '[data-drop="groups"]');
    await says('for each status');
    await drop('hut.name', '[data-drop="columns"]');
    await says('nights and hut for each');
    await drop('hut.beds', '[data-caption="nights"]');
    await says('hut: beds, nights and hut');
    await drop('hut.altitude', '[data-drop="only"]');
    await inPanel('[data-testid="filter"] svg');
    await press(driver, Key.ESCAPE);
    // Over the table there are places for what its captions do not take.
    const region = await find(driver, '[data-field="hut.region.name"]');
    await driver.actions().move({ origin: region }).press().move({ origin: region, x: 20, y: 5 }).perform();
    const place = await find(driver, 'main [data-drop="across"]');
    await driver.actions().move({ origin: place }).release().perform();
    await says('across region');

    await (await button(driver, 'Chart')).click();
    const pressed = async (cell: number): Promise<void> => {
      const part = await find(driver, `.sketch-chart [data-cell="${cell}"]`);
      await driver.actions().move({ origin: part }).click().perform();
    };
    await pressed(0);
    await says('only status is Booked');
    await driver.actions().keyDown(Key.SHIFT).perform();
    await pressed(1);
    await driver.actions().keyUp(Key.SHIFT).perform();
    await says('only status is Booked or Cancelled');

    await driver.executeScript(`document.querySelector('[data-field]').focus()`);
    await press(driver, Key.ARROW_DOWN);
    await press(driver, Key.ARROW_RIGHT);
    await press(driver, Key.ENTER);
    await find(driver, '[role="menuitem"]');
    await press(driver, Key.ESCAPE);
  });

  it('puts a field across, keeps only some of its values, turns it round, and is the same crosstab on paper', async () => {
    await begin('stay');
    await linesAre('rows', (found) => found.length > 20);
    await drop('status', '[data-drop="across"]');
    await says('across status');
    await linesAre('the totals alone', (found) => found.length === 1);
    await grow('group', 'region');
    const numbers = (line: string[]): number[] => line.slice(1).map((cell) => Number(cell.replaceAll(',', '')));
    // Of the party and the nights, for four states and all of them.
    const crossed = await linesAre('four regions', (found) => found.length === 5 && found[0]!.length === 11);
    for (const line of crossed) {
      const own = numbers(line);
      for (const of of [0, 1]) expect(own[of]! + own[of + 2]! + own[of + 4]! + own[of + 6]!).toBe(own[of + 8]);
    }
    expect(await textOf(driver, '[data-across="all"]')).toBe('Total');
    expect(await textOf(driver, '[data-across]')).toBe('Booked');
    await (await word('across')).click();
    await (await inPanel('[aria-label="Sort"] button:nth-of-type(2)')).click();
    await eventually(driver, 'the last first', async () => (await textOf(driver, '[data-across]')) === 'Stayed');
    await press(driver, Key.ESCAPE);
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the first again', async () => (await textOf(driver, '[data-across]')) === 'Booked');
    await (await find(driver, '[data-across=\'"stayed"\'] button')).click();
    await (await find(driver, '[role="menuitem"]')).click();
    await says('only status is Stayed');
    await linesAre('one state', (found) => found.length === 5 && found[0]!.length === 5);
    await press(driver, Key.CONTROL, 'z');
    await linesAre('all states again', (found) => found[0]!.length === 11);
    await (await find(driver, '[data-word^="group "]')).click();
    await (await button(driver, 'Put across the top')).click();
    await says('for each status');
    await says('across region');
    const turned = await linesAre('four states', (found) => found.length === 5 && found[0]!.length === 11);
    expect(numbers(turned.at(-1)!).slice(-2)).toEqual(numbers(crossed.at(-1)!).slice(-2));
    expect(numbers(turned[0]!)[0]).toBe(numbers(crossed[0]!)[0]);
    await (await button(driver, 'Make a report of it')).click();
    for (const cell of turned.at(-1)!) await liveHas(cell);
  });

  it('tells two ways to one table apart, and counts by the one that was chosen', async () => {
    await begin('round', 'rounds');
    await linesAre('rounds', (found) => found.length > 10);
    const { warden, hut } = generateTables(1);
    const names = new Map(hut!.map(([id, , name]) => [id, String(name)]));
    const countBy = (column: number): Map<string, number> => {
      const found = new Map<string, number>();
      for (const row of warden!) {
        const name = names.get(row[column]!) ?? '(blank)';
        found.set(name, (found.get(name) ?? 0) + 1);
      }
      return found;
    };
    const counted = (found: string[][]): Map<string, number> =>
      new Map(found.slice(0, -1).map(([name, count]) => [name!, Number(count)]));
    await find(driver, 'section[aria-label="Own shelter of the round"]');
    await find(driver, 'section[aria-label="Relief shelter of the round"]');
    await drop('stands_in.name', '[data-drop="groups"]');
    await says('for each relief shelter');
    await linesAre('rounds by relief', (found) => isSame(counted(found), countBy(0)));
    await press(driver, Key.CONTROL, 'z');
    await linesAre('rounds again', (found) => !found.some(([name]) => name === '(blank)'));
    // The same words lead to both; the way stands beside each.
    await (await find(driver, '[data-pick="group"]')).click();
    await find(driver, '.panel [cmdk-input]');
    await typed('shelter name');
    await eventually(driver, 'both ways', async () => {
      const text = await textOf(driver, '.panel');
      return text.includes('Own shelter') && text.includes('Relief shelter');
    });
    await typed(Key.ENTER);
    await says('for each own shelter');
    await linesAre('rounds by own', (found) => isSame(counted(found), countBy(1)));
    await grow('group', 'relief name');
    await says('for each own shelter and relief shelter');
    const pairs = new Set(warden!.map(([id, own]) => `${own} ${names.get(id!) ?? ''}`));
    const count = `${countBy(1).size + pairs.size} lines`;
    await eventually(driver, count, async () => (await textOf(driver, '[data-testid="lines-state"]')).includes(count));
  });

  it('keeps days that are pressed in a calendar', async () => {
    await begin('stay');
    await linesAre('rows', (found) => found.length > 20);
    await (await find(driver, '[data-caption="booked_at"]')).click();
    await (await button(driver, 'Keep only …')).click();
    const pressDay = async (day: string): Promise<void> => (await inPanel(`[data-day="${day}"] button`)).click();
    await inPanel('[data-day="2026-06-09"]');
    await pressDay('2026-06-09');
    await says('only booked at from 9 Jun 2026 to 9 Jun 2026');
    await pressDay('2026-06-11');
    await says('only booked at from 9 Jun 2026 to 11 Jun 2026');
    const { stay } = generateTables(1);
    const days = stay!.map((row) => new Date(String(row.at(-1))).toISOString().slice(0, 10));
    const kept = days.filter((day) => day >= '2026-06-09' && day <= '2026-06-11').length;
    await linesAre('the last day whole', (found) => found.length === kept + 1);
    await press(driver, Key.ESCAPE);
  });

  it('begins beside a table, and loses nothing when somebody else saved it meanwhile', async () => {
    await visit('/data/tables/cumeeira/region');
    await (await button(driver, 'New sketch')).click();
    await linesAre('regions', (found) => found.length >= 4);
    await (await find(driver, '[data-save]')).click();
    const name = await inPanel('form input');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Four regions', Key.ENTER);
    const state = (words: string): Promise<boolean> =>
      eventually(driver, words, async () => (await textOf(driver, '[data-testid="sketch-state"]')).includes(words));
    await state('Saved, revision 1');
    const others = `const done = arguments[arguments.length - 1];
      const at = '/api/sketches/' + location.pathname.split('/').at(-1);
      const body = (sketch) => JSON.stringify({ sketch: { ...sketch, note: 'Theirs.' }, base: 1 });
      const headers = { 'Content-Type': 'application/json' };
      fetch(at).then((answer) => answer.json())
        .then(({ sketch }) => fetch(at, { method: 'PUT', headers, body: body(sketch) })).then(({ status }) => done(status));`;
    expect(await driver.executeAsyncScript(others)).toBe(200);
    await (await find(driver, '[data-field="hectares"]')).click();
    await says('office');
    await (await find(driver, '[data-save]')).click();
    await eventually(driver, 'who saved it', async () =>
      (await textOf(driver, '[role="alert"]')).includes('saved revision 2 meanwhile'),
    );
    await (await button(driver, 'Save over it')).click();
    await state('Saved, revision 3');
  });

  it('is folded, sorted and filtered by who reads it, and not changed', async () => {
    await begin('stay');
    await linesAre('rows', (found) => found.length > 20);
    await grow('group', 'region');
    await linesAre('four regions', (found) => found.length === 5);
    const id = await driver.executeAsyncScript<string>(
      `const done = arguments[0];
       const key = location.pathname.split('/').at(-1);
       const kept = () => fetch('/api/sketches/' + key + '/draft').then((r) => r.json()).then((draft) =>
         draft.sketch.groups.length === 0 ? setTimeout(kept, 100) :
         fetch('/api/sketches', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ sketch: draft.sketch }) })
           .then((r) => r.json()).then((r) => done(r.id)));
       kept();`,
    );
    await driver.get(`${servers.gaveta}/demo/sign-in?as=auditor`);
    try {
      await driver.get(`${servers.gaveta}/sketches/${id}`);
      await linesAre('four regions', (found) => found.length === 5);
      expect(await driver.findElements(By.css('[data-save], [data-field], [data-pick="group"]'))).toEqual([]);
      await (await word('group hut_region')).click();
      await (await button(driver, 'Z to A')).click();
      await linesAre('the last region first', (found) => found[0]![0] === 'Vale Escuro');
      await (await button(driver, 'Keep only …')).click();
      await (await inPanel('fieldset input[type="checkbox"]')).click();
      await linesAre('one region', (found) => found.length === 2);
    } finally {
      await driver.get(`${servers.gaveta}/demo/sign-in`);
    }
  });
});
