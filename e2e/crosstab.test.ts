import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, settled, textOf } from './browser.ts';
import { drop, hang, openGroup, tags } from './parts.ts';
import { add, choose, driver, HUTS, liveHas, liveText, openNew, select, useSession, visit } from './session.ts';

useSession();

const BLANK = { gaveta: 2, name: 'Nights', model: 'cumeeira', body: [], header: { height: 45, items: [] } };

/** A report of nothing but a crosstab of stays. */
const stays = (more: object) => {
  const item = { kind: 'crosstab', id: 'x', x: 0, y: 0, width: 170, height: 30, rows: { entity: 'stay' }, ...more };
  return { ...BLANK, header: { height: 45, items: [item] } };
};

describe('a crosstab', () => {
  it('is built from nothing by dropping fields on its parts, and each drop is undone', async () => {
    await openNew(BLANK);
    await (await find(driver, '[data-band="header"]')).click();
    await add('crosstab');
    await settled(driver);
    await openGroup('Stays');
    await drop('cumeeira/stay:nights', 'cells');
    await drop('rows of stay:hut.name', 'down');
    await drop('rows of stay:arrival', 'across');
    expect(await tags()).toEqual(['across Arrival, by month', 'down Hut: Name', 'in the cells sum of Nights']);
    await liveHas('Casa da Brecha');
    expect(await liveText()).toContain('Total');
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the axis across to be empty', async () => (await tags()).length === 2);
    expect(await textOf(driver, '[data-part="across"]')).toBe('Across: drop fields here');
    // By keyboard a field goes where it suits.
    await (await find(driver, '[data-field="rows of stay:arrival"]')).sendKeys(Key.ENTER);
    await eventually(driver, 'the field across', async () => (await tags())[0] === 'across Arrival, by month');
  });

  it('says at the pointer where a field cannot go, and stays as it is', async () => {
    await openNew({ ...HUTS, header: { height: 40, items: [] } });
    await (await find(driver, '[data-band="header"]')).click();
    await add('crosstab');
    await settled(driver);
    await openGroup('Hut');
    await (await hang('huts:photo', 'down')).perform();
    await eventually(driver, 'the reason', async () =>
      (await driver.executeScript<string>(`return document.body.textContent`)).includes('it cannot go here'),
    );
    await driver.actions().release().perform();
    expect(await tags()).toEqual([]);
    await drop('huts:beds', 'cells');
    await liveHas('Beds');
  });

  it('changes by its tags and in the tray: periods, order, first ones with the others', async () => {
    await openNew(
      stays({
        down: [{ name: 'hut', by: 'hut.name', caption: 'Hut' }],
        across: [{ name: 'arrival', by: 'arrival', per: 'year', format: 'yyyy', caption: 'Arrival' }],
        cells: [{ formula: 'SUM(nights)', caption: 'nights' }],
      }),
    );
    await select('x');
    await (await find(driver, '[data-tag="down-0"]')).click();
    await choose('Sort by', 'nights', '.panel');
    const first = await find(driver, '.panel [aria-label="Only the first"]');
    await first.sendKeys('3', Key.ENTER);
    await liveHas('Others');
    const lines = (await liveText()).match(/Torre Caída|Laje do Trovão|Casa da Brecha|Alminhas/g) ?? [];
    expect(lines.length).toBeLessThanOrEqual(3);
    await press(driver, Key.ESCAPE);
    await (await find(driver, '[data-tag="across-0"]')).click();
    await choose('By', 'each quarter', '.panel');
    await eventually(driver, 'the tag', async () => (await tags())[0] === 'across Arrival, by quarter');
  });

  it('has its formulas completed and checked while they are typed, and takes looks by condition and level', async () => {
    await openNew(
      stays({
        down: [{ name: 'hut_name', by: 'hut.name', caption: 'Hut' }],
        cells: [{ formula: 'SUM(nights)', caption: 'nights' }],
      }),
    );
    await select('x');
    await settled(driver);
    await (await driver.findElement(By.xpath('//*[@data-part-settings="cells"]//button[@aria-expanded]'))).click();
    const choices = '[data-choices="cells-0"]';
    const box = await find(driver, `${choices} [aria-label="Formula"]`);
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', box);
    const fresh = async (text: string): Promise<void> => {
      await box.click();
      await box.sendKeys(Key.chord(Key.CONTROL, 'a'), text);
    };
    await fresh('nigh');
    await eventually(driver, 'what is wrong', async () =>
      (await textOf(driver, choices)).includes('“nigh” is not a field'),
    );
    await box.sendKeys(Key.ESCAPE);
    await box.sendKeys(Key.ESCAPE);
    await eventually(driver, 'the formula as it was', async () => (await box.getText()) === 'SUM(nights)');
    await fresh('AVERAGE(nig');
    await eventually(driver, 'the field offered', async () =>
      (await textOf(driver, '.cm-tooltip-autocomplete')).includes('nights'),
    );
    await box.sendKeys(Key.ENTER, ')', Key.ENTER);
    await eventually(driver, 'the tag', async () =>
      (await tags()).some((tag) => tag.startsWith('in the cells average')),
    );
    // Its look by a condition over the cell.
    await (await button(driver, 'Highlight')).click();
    const when = await find(driver, `${choices} [aria-label^="Condition"]`);
    await when.sendKeys('AVERAGE(nights) > 8', Key.ENTER);
    await eventually(driver, 'cells in red', () =>
      driver.executeScript<boolean>(
        `return document.querySelector('.live-pages text[data-item="x"][fill="#b3402e"]') !== null`,
      ),
    );
    expect(await textOf(driver, '[data-problems]')).toContain('No problems');
  });

  it('that would be too wide is told of, with a mend', async () => {
    await openNew(
      stays({
        across: [{ name: 'number', by: 'id' }],
        cells: [{ formula: 'SUM(nights)' }],
      }),
    );
    await liveHas('columns wide');
    await (await button(driver, '1 problem')).click();
    await (await button(driver, 'Keep the first 20')).click();
    await eventually(driver, 'no problem', async () => (await textOf(driver, 'header')).includes('No problems'));
    await eventually(driver, 'the columns', async () => !(await liveText()).includes('columns wide'));
  });

  it('leads from a cell to the rows behind it', async () => {
    await visit('/reports/nights-matrix');
    // Its last marks come with the end of the run.
    await eventually(driver, 'the end of the run', async () =>
      / of \d/.test(await textOf(driver, '[data-testid="page-place"]')),
    );
    const cell = await find(driver, '[data-link*="season-ledger"][data-link*="Casa da Brecha"]');
    const { season } = JSON.parse((await cell.getAttribute('data-link'))!).parameters as { season: number };
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', cell);
    await cell.click();
    await eventually(driver, 'the ledger of the hut', async () => {
      const text = await driver.executeScript<string>('return document.body.textContent');
      return text.includes(`Season ${season}, Alto Norte`) && text.includes('Casa da Brecha');
    });
    expect(await driver.getCurrentUrl()).toContain('season-ledger');
  });
});
