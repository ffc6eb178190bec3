import { beforeAll, describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, press, settled, textOf } from './browser.ts';
import { copyOf, driver, liveHas, liveText, openDesigner, saveState, useSession, visit } from './session.ts';

useSession();
let roster: string;
let flights: string;
let wardens: string;
beforeAll(async () => {
  [roster, flights, wardens] = [
    await copyOf('warden-roster'),
    await copyOf('roster-flights'),
    await copyOf('roster-wardens'),
  ];
});

const selected = async (): Promise<(string | null)[]> =>
  Promise.all(
    (await driver.findElements(By.css('[data-item][aria-pressed="true"]'))).map((e) => e.getAttribute('data-item')),
  );
const setting = async (label: string): Promise<string | null> => {
  await settled(driver);
  return (await find(driver, `section[aria-label="Selection"] input[aria-label="${label}"]`)).getAttribute('value');
};

describe('the board', () => {
  it('selects, moves, resizes and nudges, and undoes all of it', async () => {
    await openDesigner(roster);
    const title = await find(driver, '[data-band="huts/detail"] [data-item][aria-label="Field name"]');
    await title.click();
    const id = await title.getAttribute('data-item');
    expect(await selected()).toEqual([id]);
    expect(await setting('From left')).toBe('0');

    await press(driver, Key.SHIFT, Key.ARROW_RIGHT);
    await press(driver, Key.ARROW_DOWN);
    expect([await setting('From left'), await setting('From top')]).toEqual(['10', '4.5']);
    await press(driver, Key.ALT, Key.ARROW_RIGHT);
    expect(await setting('Width')).toBe('111');

    const before = await title.getRect();
    await dragBy(driver, title, 30, 0);
    const after = await title.getRect();
    expect(after.x - before.x).toBeGreaterThan(20);
    const width = Number(await setting('Width'));
    await dragBy(driver, await find(driver, '[data-handle="e"]'), -40, 0);
    expect(Number(await setting('Width'))).toBeLessThan(width);

    for (let i = 0; i < 5; i++) await press(driver, Key.CONTROL, 'z');
    expect([await setting('From left'), await setting('From top'), await setting('Width')]).toEqual([
      '0',
      '3.5',
      '110',
    ]);
    expect(await textOf(driver, '[data-testid="save-state"]')).toContain('Saved');
    await press(driver, Key.CONTROL, 'y');
    expect(await setting('From left')).toBe('10');
  });

  it('selects several with a marquee, changes their look together, duplicates and deletes', async () => {
    await openDesigner(flights);
    const band = await find(driver, '[data-band="flights/detail"]');
    const sheet = await band.getRect();
    const actions = driver.actions();
    await actions
      .move({ x: Math.round(sheet.x + 4), y: Math.round(sheet.y + 3) })
      .press()
      .move({ x: Math.round(sheet.x + sheet.width - 10), y: Math.round(sheet.y + sheet.height - 3) })
      .release()
      .perform();
    expect(await selected()).toHaveLength(3);
    await (await button(driver, 'Bold')).click();
    await eventually(driver, 'bold rows', () =>
      driver.executeScript<boolean>(
        `return document.querySelectorAll('[data-live-page] text[font-weight="700"]').length > 5`,
      ),
    );
    await (await find(driver, '[data-testid="board"]')).sendKeys(Key.chord(Key.CONTROL, 'd'));
    expect(await selected()).toHaveLength(3);
    const items = (): Promise<number> =>
      driver.findElements(By.css('[data-band="flights/detail"] [data-item]')).then((list) => list.length);
    expect(await items()).toBe(6);
    await press(driver, Key.DELETE);
    expect(await items()).toBe(3);
  });

  it('edits text in place and keeps the formulas inside it', async () => {
    await openDesigner(roster);
    const text = await find(driver, '[data-band="header"] [data-item][aria-label^="Text Wardens"]');
    await text.click();
    await press(driver, Key.ENTER);
    const editor = await find(driver, '[data-item] [role="textbox"]');
    await editor.sendKeys(Key.HOME, 'Everybody: ', Key.ENTER);
    await liveHas('Everybody: Wardens, certificates and flights of 24 huts');
  });

  it('shows a wrong formula as a problem that leads to its item, and the rest of the page', async () => {
    await openDesigner(roster);
    const name = await find(driver, '[data-band="huts/detail"] [data-item][aria-label="Field name"]');
    await name.click();
    const formula = await find(driver, '[data-setting="formula"] .cm-content');
    await formula.sendKeys(Key.chord(Key.CONTROL, 'a'), 'nmae', Key.ENTER);
    await eventually(driver, 'the error at its place', async () => (await liveText()).includes('#NAME?'));
    expect(await liveText()).toContain('Warden roster');
    await press(driver, Key.ESCAPE);
    await (await button(driver, '1 problem')).click();
    const problem = await find(driver, '[data-problem]');
    expect(await problem.getText()).toContain(
      '“nmae” is not a field, drawer or parameter in reach here. Did you mean name?',
    );
    await problem.click();
    expect(await selected()).toHaveLength(1);
    await (await button(driver, '1 problem')).click();
    await (await button(driver, 'Use name')).click();
    await eventually(driver, 'the mended formula', async () => !(await liveText()).includes('#NAME?'));
    expect(await textOf(driver, 'header')).toContain('No problems');
  });

  it('selects on the board what is clicked on the live page', async () => {
    await openDesigner(flights);
    const mark = await find(driver, '[data-live-page="1"] text[data-item]');
    const id = await mark.getAttribute('data-item');
    await mark.click();
    expect(await selected()).toEqual([id]);
  });

  it('keeps the work of the second of two people who save, and offers ways on', async () => {
    await openDesigner(wardens);
    await driver.executeScript(`
      const report = await (await fetch('/api/reports/${wardens}')).json();
      const headers = { 'Content-Type': 'application/json' };
      await fetch('/api/reports/${wardens}', { method: 'PUT', headers, body: JSON.stringify({ definition: report.definition, base: report.revision }) });`);
    const name = await find(driver, '[data-band="wardens/detail"] [data-item][aria-label="Field name"]');
    await name.click();
    await press(driver, Key.ARROW_RIGHT);
    await (await button(driver, 'Save')).click();
    const alert = await find(driver, '[role="alert"]');
    expect(await alert.getText()).toContain(
      'Inês (office) saved revision 2 while you were working. Your work is still here.',
    );
    expect(await textOf(driver, '[data-testid="save-state"]')).toMatch(/^Not saved yet/);
    await (await button(driver, 'Save mine on top')).click();
    await saveState('Saved, revision 3');
  });
});

describe('a new report', () => {
  it('starts blank, gets rows and a field by keyboard, is named when first saved, and runs', async () => {
    await visit('/');
    await (await button(driver, 'New report')).click();
    await (await find(driver, '[data-testid="start"] button:nth-of-type(2)')).click();
    const board = await find(driver, '[data-testid="board"]');
    await board.sendKeys('/');
    await (await find(driver, '[cmdk-input]')).sendKeys('courses', Key.ENTER);
    const field = await find(driver, '[data-field$=":title"]');
    await field.sendKeys(Key.ENTER);
    await eventually(driver, 'the rows', async () => (await liveText()).includes('Mountain first aid'));
    await press(driver, Key.CONTROL, 's');
    await (await find(driver, 'input[placeholder="Stays by hut and month"]')).sendKeys('Courses on offer', Key.ENTER);
    await saveState('Saved, revision 1');
    expect(await driver.getCurrentUrl()).toMatch(/reports\/[^/]+\/design$/);
    // Its name, then the field.
    await press(driver, Key.CONTROL, 'z');
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'undo past the save', async () => !(await liveText()).includes('Mountain first aid'));
    await press(driver, Key.CONTROL, 'y');
    await press(driver, Key.CONTROL, 'y');
    await (await button(driver, 'Run')).click();
    await eventually(driver, 'the viewer', () =>
      driver.executeScript<boolean>(
        `return document.querySelector('[data-page="1"]')?.textContent.includes('Mountain first aid')`,
      ),
    );
  });

  it('keeps work that was not saved over a closed window', async () => {
    await openDesigner(flights);
    const item = await find(driver, '[data-band="flights/detail"] [data-item]');
    await item.click();
    await press(driver, Key.ARROW_RIGHT);
    await saveState('kept at');
    const left = await setting('From left');
    await driver.switchTo().newWindow('tab');
    const [first] = await driver.getAllWindowHandles();
    const second = await driver.getWindowHandle();
    await driver.switchTo().window(first!);
    await driver.close();
    await driver.switchTo().window(second);
    await openDesigner(flights);
    expect(await textOf(driver, 'body')).toContain('was restored');
    await (await find(driver, '[data-band="flights/detail"] [data-item]')).click();
    expect(await setting('From left')).toBe(left);
    await (await button(driver, 'Keep it and open the saved report')).click();
    await saveState('Saved, revision');
  });
});

describe('the columns of the screen', () => {
  const width = async (css: string): Promise<number> => (await (await find(driver, css)).getRect()).width;
  const live = 'aside[aria-label="Live page"]';
  const letter = (key: string) => driver.actions().keyDown(Key.SHIFT).sendKeys(key).keyUp(Key.SHIFT).perform();

  it('are resized by dragging and by keys, and remembered', async () => {
    await openDesigner(flights);
    const [lists, page] = [await width('[data-testid="trays"]'), await width(live)];
    await dragBy(driver, await find(driver, '[aria-label="Resize the live page"]'), -120, 0);
    await eventually(driver, 'a wider page', async () => Math.abs((await width(live)) - page - 120) < 6);
    const line = await find(driver, '[aria-label="Resize the lists"]');
    await line.sendKeys(Key.ARROW_RIGHT);
    await eventually(driver, 'wider lists', async () => (await width('[data-testid="trays"]')) > lists + 5);
    const left = await width('[data-testid="trays"]');
    await driver.navigate().refresh();
    await eventually(driver, 'the same widths', async () => {
      const [now, pageNow] = [await width('[data-testid="trays"]'), await width(live)];
      return Math.abs(now - left) < 3 && Math.abs(pageNow - page - 120) < 12;
    });
    // A double click gives back the width that it had at first.
    await driver
      .actions()
      .doubleClick(await find(driver, '[aria-label="Resize the live page"]'))
      .perform();
    await eventually(driver, 'the first width', async () => Math.abs((await width(live)) - page) < 20);
    await driver.executeScript(`localStorage.removeItem('gaveta.designer.columns')`);
  });

  it('leave the whole width to the board or the live page by a key, and type on the board can be read', async () => {
    await openDesigner(flights);
    const all = (await driver.manage().window().getRect()).width;
    const board = '[data-testid="board"]';
    const sizes = await driver.executeScript<number[]>(
      `return [...document.querySelectorAll('[data-testid="board"] [data-item] span')].map((e) => parseFloat(getComputedStyle(e).fontSize))`,
    );
    expect(Math.min(...sizes)).toBeGreaterThanOrEqual(9);
    await (await find(driver, board)).click();
    await letter('b');
    // The lists stay: fields are dropped from them.
    const wide = all - (await width('[data-testid="trays"]')) - 40;
    await eventually(driver, 'the board alone', async () => (await width(board)) > wide);
    await letter('b');
    await letter('v');
    await eventually(driver, 'the live page alone', async () => (await width(live)) > wide);
    await (await button(driver, 'Live page at full width')).click();
    await eventually(driver, 'both again', async () => (await width(board)) > 200 && (await width(live)) < all / 2);
  });
});

it('fields on the board show formulas, labels, or the values of a row that is stepped through', async () => {
  await openDesigner(flights);
  const shown = async (): Promise<string[]> =>
    Promise.all(
      (await driver.findElements(By.css('[data-band="flights/detail"] [data-item]'))).map((item) => item.getText()),
    );
  const kind = await find(driver, '[data-testid="board-shows"]');
  const formulas = await shown();
  expect(formulas).toContain('kg');
  await kind.click();
  await eventually(driver, 'labels', async () => !(await shown()).includes('kg'));
  await kind.click();
  const row = () => textOf(driver, '[data-testid="board-row"]');
  await eventually(driver, 'the first row', async () => (await row()).startsWith('1/'));
  const first = await shown();
  for (const words of first) expect(await liveText()).toContain(words);
  await (await button(driver, 'Values of the next row')).click();
  await eventually(driver, 'the second row', async () => (await shown()).join() !== first.join());
  expect(await row()).toMatch(/^2\//);
  await kind.click();
  await eventually(driver, 'formulas again', async () => (await shown()).join() === formulas.join());
});
