import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, middleOf, press, settled, textOf } from './browser.ts';
import { hold, letGo, runOf } from './parts.ts';
import { columnsOf, driver, live, openNew, saveState, select, store, useSession, visit } from './session.ts';

useSession();

const text = { kind: 'text', id: 't', x: 0, y: 0, width: 40, height: 5, content: ['Huts'] };
const nesting = (name: string, report: string) => ({
  gaveta: 2,
  name,
  header: { height: 20, items: [{ kind: 'subreport', id: 'inner', x: 0, y: 0, width: 50, height: 10, report }] },
});

/** What hangs at the pointer says. */
const hint = (): Promise<string> => textOf(driver, '.fixed[role="status"]');

/** The place of a band on the screen. */
const bandAt = async (band: string, share: number): Promise<{ x: number; y: number }> => {
  const box = await (await find(driver, `[data-band="${band}"]`)).getRect();
  return { x: Math.round(box.x + box.width * share), y: Math.round(box.y + box.height / 2) };
};

const itemsIn = async (band: string): Promise<number> =>
  (await driver.findElements(By.css(`[data-band="${band}"] [data-item]`))).length;

/** Types into a box of the tray, and gives what the box shows then; another box may have taken its place. */
const type = async (label: string, value: string): Promise<string> => {
  const box = await find(driver, `input[aria-label="${label}"]`);
  await box.click();
  await box.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
  await settled(driver);
  return driver.executeScript<string>(
    'return document.querySelector(arguments[0]).value',
    `input[aria-label="${label}"]`,
  );
};

describe('a field that hangs at the pointer', () => {
  it('says where it cannot be let go, and nothing comes of it there', async () => {
    await openNew(columnsOf('name', 'beds'));
    const strip = await middleOf(await find(driver, '[data-testid="live-state"]'));
    await hold('huts:name', strip);
    expect(await hint()).toContain('let go over a band of the report');
    await letGo();
    await hold('huts:name', await bandAt('huts/detail', 0.8));
    expect(await hint()).toBe('Name');
    await letGo();
    await eventually(driver, 'the one that could be let go', async () => (await itemsIn('huts/detail')) === 3);
  });

  it('becomes a second total where it was let go', async () => {
    const definition = columnsOf('name', 'beds') as { body: object[] };
    const [huts] = definition.body;
    await openNew({ ...definition, body: [{ ...huts, footer: { height: 12, items: [] } }] });
    const lefts = (): Promise<number[]> =>
      driver.executeScript<number[]>(
        `return [...document.querySelectorAll('[data-band="huts/footer"] [data-item]')].map((one) => Math.round(one.getBoundingClientRect().x))`,
      );
    await hold('huts:beds', await bandAt('huts/footer', 0.7));
    await letGo();
    await eventually(driver, 'a total', async () => (await itemsIn('huts/footer')) === 1);
    const at = await bandAt('huts/footer', 0.05);
    await hold('huts:beds', at);
    await letGo();
    await eventually(driver, 'another', async () => (await itemsIn('huts/footer')) === 2);
    const [first, second] = await lefts();
    expect(Math.abs(second! - at.x)).toBeLessThan(12);
    expect(first).not.toBe(second);
  });
});

describe('a report', () => {
  it('is not offered for itself, nor for one that it stands in', async () => {
    const inner = await store({ gaveta: 2, name: 'Innermost', header: { height: 20, items: [text] } });
    const middle = await store(nesting('Between', inner));
    await store(nesting('Outermost', middle));
    await visit(`/reports/${middle}/design`);
    await live();
    await select('inner');
    await (await find(driver, '[role="combobox"][aria-label="Report"]')).click();
    const offered = await eventually(driver, 'the reports', async () => {
      const all = await driver.findElements(By.css('.select-list [role="option"]'));
      return all.length > 0 && Promise.all(all.map((one) => one.getText()));
    });
    expect(offered).toContain('Innermost');
    expect(offered).not.toContain('Between');
    expect(offered).not.toContain('Outermost');
    await press(driver, Key.ESCAPE);
  });

  it('is told of a name that another one has, and of one that is too long', async () => {
    await store({ gaveta: 2, name: 'Huts by height' });
    await openNew(columnsOf('name'));
    await (await find(driver, 'h1 button')).click();
    const box = await find(driver, 'header input');
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'huts by Height');
    expect(await textOf(driver, 'header [role="alert"]')).toBe('Another report has this name.');
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'x'.repeat(540));
    expect(await textOf(driver, 'header [role="alert"]')).toBe('At most 200 characters.');
    await box.sendKeys(Key.ENTER);
    await press(driver, Key.CONTROL, 's');
    await saveState('Saved, revision 2');
    // The buttons keep their room.
    for (const name of ['Run', 'Save'])
      expect((await (await button(driver, name)).getRect()).width).toBeGreaterThan(50);
  });
});

describe('a report that was never saved', () => {
  it('runs with its parameters and their choices, and nothing that is asked for is missing', async () => {
    const choicesFrom = { rows: 'region', value: 'name' };
    const parameter = { name: 'region_name', label: 'Region', type: 'choice', choicesFrom };
    const definition = { ...columnsOf('name', 'beds'), parameters: [parameter] };
    await driver.executeScript(
      `const body = JSON.stringify({ definition: arguments[0], report: null, base: 0 });
       return (await fetch('/api/drafts/new-9', { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body })).status`,
      definition,
    );
    await driver.manage().logs().get('browser');
    await runOf('/new/new-9/try');
    await (await button(driver, 'Region all')).click();
    await eventually(driver, 'the choices', async () =>
      (await textOf(driver, '[data-radix-popper-content-wrapper]')).includes('Alto Norte'),
    );
    await visit('/reports/season-ledger/design');
    await live();
    // The way from one screen to the next leads by one of a report that is not there.
    const isOurs = ({ level, message }: { level: { name: string }; message: string }): boolean =>
      level.name === 'SEVERE' && !/\/(?:reports|library)\/-/.test(message);
    const errors = (await driver.manage().logs().get('browser')).filter(isOurs);
    expect(errors.map(({ message }) => message)).toEqual([]);
  });
});

describe('a band', () => {
  it('takes a height between its items and the paper, and says so', async () => {
    await openNew(columnsOf('name', 'beds'));
    await (await button(driver, 'Band Hut detail')).click();
    const least = await type('Band height', '-5');
    expect(Number(least)).toBeGreaterThan(0);
    expect(await textOf(driver, '[role="alert"]')).toContain('is possible here');
    expect(await type('Band height', '9999')).toBe('267');
    expect(await textOf(driver, '[role="alert"]')).toContain('to 267 mm is possible here');
    expect(await type('Band height', 'high')).toBe('267');
    expect(await textOf(driver, '[role="alert"]')).toContain('“high” is not a number');
  });

  it('is removed by the Delete key, after a question', async () => {
    await openNew(columnsOf('name', 'beds'));
    await (await button(driver, 'Band Hut header')).click();
    await press(driver, Key.DELETE);
    expect(await (await find(driver, '[role="alertdialog"]')).getText()).toContain(
      'The band “Hut header” goes with the 2 items in it.',
    );
    await (await button(driver, 'Cancel')).click();
    expect(await itemsIn('huts/header')).toBe(2);
    await press(driver, Key.DELETE);
    await (await find(driver, '[role="alertdialog"] button:last-of-type')).click();
    await eventually(
      driver,
      'no header',
      async () => (await driver.findElements(By.css('[data-band="huts/header"]'))).length === 0,
    );
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the header', async () => (await itemsIn('huts/header')) === 2);
  });

  it('of the drawer comes first among those that are found', async () => {
    await openNew(columnsOf('name'));
    await (await button(driver, 'Band Hut detail')).click();
    await press(driver, '/');
    const search = await find(driver, '[cmdk-input]');
    for (const letter of 'footer') await search.sendKeys(letter);
    const first = await find(driver, '[cmdk-item][aria-selected="true"]');
    expect(await first.getText()).toContain('Hut footer');
    await press(driver, Key.ESCAPE);
  });
});
