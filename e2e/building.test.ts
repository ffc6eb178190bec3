import { execFileSync } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, middleOf, press, settled, textOf } from './browser.ts';
import { exportAs } from './parts.ts';
import {
  add,
  choose,
  command,
  downloads,
  driver,
  HUTS,
  liveHas,
  liveSays,
  openNew,
  saveByKeys,
  saveState,
  useSession,
  visit,
} from './session.ts';

useSession();

/** What Chromium’s driver can do and others cannot. */
interface DevTools {
  sendAndGetDevToolsCommand(command: 'Page.printToPDF', options: object): Promise<{ data: string }>;
}

const selected = async (): Promise<string> => {
  await settled(driver);
  return textOf(driver, '[data-testid="selected"]');
};

const band = (name: string): Promise<void> => button(driver, `Band ${name}`).then((b) => b.click());
/** The group of fields in the Data tray, opened. */
const fields = async (label: string): Promise<void> => {
  await settled(driver);
  const group = await driver.findElement(
    By.xpath(`//section[@aria-label="Data"]//button[@aria-expanded][starts-with(normalize-space(),"${label}")]`),
  );
  if ((await group.getAttribute('aria-expanded')) === 'false') await group.click();
};
const field = async (key: string) => {
  await settled(driver);
  return find(driver, `[data-field$="${key}"]`);
};
const place = async (key: string): Promise<void> => (await field(key)).sendKeys(Key.ENTER);

/** Drags a field's button to a place of a band, in pixels from the band's left top corner. */
const drop = async (key: string, bandKey: string, x: number, y: number): Promise<void> => {
  const from = await field(key);
  const middle = await middleOf(from);
  const to = await (await find(driver, `[data-band="${bandKey}"]`)).getRect();
  await dragBy(driver, from, Math.round(to.x + x) - middle.x, Math.round(to.y + y) - middle.y);
};
const bandKeyOf = async (label: string): Promise<string> =>
  (await (await find(driver, `section[aria-label="Band ${label}"]`)).getAttribute('data-band'))!;
const blank = async (): Promise<void> => {
  await visit('/start');
  await (await find(driver, '[data-testid="start"] button:nth-of-type(2)')).click();
  await find(driver, '[data-testid="board"]');
};
const saveAs = async (name: string): Promise<void> => {
  await press(driver, Key.CONTROL, 's');
  const box = await find(driver, 'input[placeholder="Stays by hut and month"]');
  await box.sendKeys(Key.chord(Key.CONTROL, 'a'), name, Key.ENTER);
  await saveState('Saved, revision');
};
/** Runs what is open, and gives the text of its PDF. */
const pdfOf = async (name: string): Promise<string> => {
  await (await button(driver, 'Run')).click();
  await exportAs('pdf');
  const file = join(downloads, `${name}.pdf`);
  await eventually(driver, 'the download', async () => existsSync(file));
  return execFileSync('pdftotext', ['-layout', file, '-']).toString();
};
/** Rows of a recipe, worked out by the database; each as texts by field. */
const recipeRows = (...steps: object[]): Promise<Record<string, string>[]> =>
  driver.executeScript<Record<string, string>[]>(
    `const [steps] = arguments;
     const body = JSON.stringify({ steps: [{ step: 'take', from: { model: 'cumeeira', entity: steps.shift().entity } }, ...steps], parameters: [], rows: 100 });
     const answer = await fetch('/api/recipe/rows', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
     const { fields, rows } = (await answer.json()).found;
     return rows.map((row) => Object.fromEntries(fields.map((f, i) => [f.name, String(row[i + row.length - fields.length])])));`,
    steps,
  );
/** Nights by the name of the hut. */
const nightsByHut = async (): Promise<Map<string, number>> => {
  const totals = [{ total: 'SUM', of: 'nights', name: 'sum' }];
  const rows = await recipeRows(
    { entity: 'stay' },
    { step: 'bring', relation: 'hut', keep: 'matching', as: 'hut' },
    { step: 'summarise', by: [{ field: 'hut_name' }], totals },
  );
  return new Map(rows.map((row) => [row.hut_name!, Number(row.sum)]));
};
/** Lines that hold a number alone. */
const lonely = (text: string): number[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => /^\d+$/.test(line))
    .map(Number);

describe('from a blank page, by mouse and keyboard', () => {
  it('builds regions, huts and stays with captions, subtotals, a picture, formats and stripes', async () => {
    await blank();
    await add('regions');
    await band('Region detail');
    await fields('Region');
    await place('region1:name');
    await add('huts inside region');
    await fields('Hut');
    const hutDetail = await bandKeyOf('Hut detail');
    await drop(':photo', hutDetail, 60, 14);
    expect(await selected()).toBe('Picture photo');
    await drop(':name', hutDetail, 200, 10);
    await liveHas('Alminhas');

    await add('stays inside hut');
    await fields('Stay');
    await (await field(':arrival')).click();
    const actions = driver.actions();
    await actions
      .keyDown(Key.CONTROL)
      .click(await field(':status'))
      .click(await field(':nights'))
      .keyUp(Key.CONTROL)
      .perform();
    const stayDetail = await bandKeyOf('Stay detail');
    await drop(':nights', stayDetail, 45, 8);
    await liveHas('Status');
    await liveHas('stayed');

    await add('stay footer');
    const stayFooter = await bandKeyOf('Stay footer');
    await fields('Stay');
    await drop(':nights', stayFooter, 300, 8);
    expect(await selected()).toBe('Field SUM(nights)');
    await band('Region detail');
    await add('region after each');
    await band('Region after each row');
    await fields('Stay');
    await place(':nights');
    expect(await selected()).toBe('Field SUM(stay.nights)');

    // The arrival as a sortable day, chosen among real values.
    await (await find(driver, `[data-band="${stayDetail}"] [data-item][aria-label="Field arrival"]`)).click();
    await (await driver.findElement(By.css('button[aria-label^="Shown as:"]'))).click();
    const sortable = await eventually(driver, 'the choices', () =>
      driver.findElement(By.xpath('//button[contains(., "sortable")][contains(., "20")]')),
    );
    expect(await sortable.getText()).toMatch(/20\d\d-\d\d-\d\d/);
    await sortable.click();

    await (await button(driver, 'Stays of each hut: select the drawer Stay')).click();
    await (await driver.findElement(By.css('button[aria-label^="Every 2nd row"]'))).click();
    await (await button(driver, '#dcebe3')).click();
    await eventually(driver, 'stripes', () =>
      driver.executeScript<boolean>(`return document.querySelectorAll('.live-pages rect[fill="#dcebe3"]').length > 5`),
    );

    await saveAs('Nights at the huts');
    const text = await pdfOf('Nights at the huts');
    const oracle = await nightsByHut();
    expect(text).toContain('Nights at the huts');
    expect(text).toMatch(/Arrival +Status +Nights/);
    expect(text).toMatch(/2025-07-\d\d +\S+ +\d+/);
    // Long names take two lines.
    for (const hut of oracle.keys()) expect(text).toContain(hut.slice(0, 16));
    const totals = lonely(text);
    for (const nights of oracle.values()) expect(totals).toContain(nights);
    const sum = [...oracle.values()].reduce((a, b) => a + b, 0);
    // Each hut's, and each region's: together twice the whole.
    expect(totals.reduce((a, b) => a + b, 0)).toBe(sum * 2);
    const pages = text.split('\f').length - 1;
    expect(text).toContain(`Page ${pages} of ${pages}`);
  });

  it('is undone all the way back to blank, and redone to the same document', async () => {
    await blank();
    const definition = (): Promise<string> =>
      driver.executeScript<string>(
        `const key = location.pathname.split('/').at(-1); const draft = await (await fetch('/api/drafts/' + key)).json(); return JSON.stringify(draft.definition)`,
      );
    const settled = async (): Promise<string> => {
      await saveState('kept at');
      return definition();
    };
    const empty = await settled();
    await add('huts');
    await fields('Hut');
    await place(':name');
    await press(driver, Key.CONTROL, 'd');
    await press(driver, Key.SHIFT, Key.ARROW_RIGHT);
    await add('hut footer');
    await add('group by name');
    await add('stays inside hut');
    await fields('Stay');
    await place(':nights');
    await press(driver, Key.DELETE);
    const full = await settled();
    expect(full.length).toBeGreaterThan(empty.length + 500);
    const board = await find(driver, '[data-testid="board"]');
    let undone = 0;
    for (; undone < 50; undone++) {
      const undo = await find(driver, 'button[aria-label^="Undo"]');
      if (!(await undo.isEnabled())) break;
      await board.sendKeys(Key.chord(Key.CONTROL, 'z'));
    }
    expect(undone).toBeGreaterThanOrEqual(8);
    expect(await settled()).toBe(empty);
    for (let i = 0; i < undone; i++) await board.sendKeys(Key.chord(Key.CONTROL, 'y'));
    expect(await settled()).toBe(full);
  });
});

describe('the guided start', () => {
  it('makes a grouped list with totals in fewer than 25 interactions', async () => {
    let interactions = 0;
    /** Presses something, however often it is drawn anew meanwhile. */
    const act = async (what: () => Promise<{ click: () => Promise<void> }>): Promise<void> => {
      interactions++;
      await eventually(driver, 'what is pressed', async () => {
        await (await what()).click();
        return true;
      });
    };
    const tick = (label: string) =>
      driver.findElement(By.xpath(`//label[normalize-space(.)="${label}" or span="${label}"]/input`));
    await visit('/');
    await act(() => button(driver, 'New report'));
    await act(() => find(driver, '[data-testid="start"] button:nth-of-type(1)'));
    const search = await find(driver, 'input[type="search"]');
    interactions++;
    await search.sendKeys('stays');
    await act(() => driver.findElement(By.xpath('//li/button[starts-with(normalize-space(),"Stays ")]')));
    await act(() => button(driver, 'Next'));
    for (const label of ['Arrival', 'Status', 'Nights']) await act(() => tick(label));
    await act(() => button(driver, 'Next'));
    await act(() => button(driver, 'Group by …'));
    interactions++;
    await (await find(driver, '[cmdk-input]')).sendKeys('Hut: Name', Key.ENTER);
    interactions++;
    await choose('Total of Nights', 'sum');
    await liveHas('Total Alminhas');
    await act(() => button(driver, 'Next'));
    await act(() => button(driver, 'Back'));
    await act(() => button(driver, 'Create it now'));
    await find(driver, '[data-testid="board"]');
    interactions++;
    await saveAs('Stays by hut');
    interactions += 2;
    const text = await pdfOf('Stays by hut');
    expect(interactions).toBeLessThan(25);
    const oracle = await nightsByHut();
    for (const [hut, nights] of oracle) expect(text).toMatch(new RegExp(`Total ${hut} +${nights}\\n`));
    const sum = [...oracle.values()].reduce((a, b) => a + b, 0);
    expect(text).toMatch(new RegExp(`Total +${sum}\\n`));
  });
});

describe('a subreport', () => {
  it('is tried alone with a sample value, then linked to each row of another report', async () => {
    // The inner report: stays of one hut, which a parameter names.
    await blank();
    await (
      await driver.findElement(By.xpath('//*[@data-section="parameters"]//button[contains(., "Parameter")]'))
    ).click();
    const box = (label: string) => find(driver, `input[aria-label$=": ${label}"]`);
    await (await box('In formulas')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'house', Key.ENTER);
    await choose('house: Asks for', 'a number');
    await (await find(driver, 'input[aria-label="house: Sample value"]')).sendKeys('3', Key.ENTER);
    await add('stays');
    await fields('Stay');
    await place(':nights');
    await (await button(driver, 'Stay: filter')).click();
    await (await driver.findElement(By.xpath('//summary[.="As a formula"]'))).click();
    const filter = await find(driver, '[role="dialog"] .cm-content, [data-radix-popper-content-wrapper] .cm-content');
    await filter.sendKeys('hut.id = house', Key.ENTER);
    await press(driver, Key.ESCAPE);
    await add('stay footer');
    await fields('Stay');
    await place(':nights');
    // The hut that the sample value names, alone.
    const third = (await recipeRows({ entity: 'hut' })).find((hut) => hut.id === '3')!.name!;
    const sample = (await nightsByHut()).get(third)!;
    await liveSays(String(sample));
    await saveAs('Stays of one hut');

    await blank();
    await add('huts');
    await fields('Hut');
    await place(':name');
    await add('subreport');
    await choose('Report', 'Stays of one hut');
    // It chooses its rows by the key of the hut, so that is what its parameter gets.
    await eventually(driver, 'the key', async () =>
      (await textOf(driver, '[data-testid="settings"]')).includes('Fits: a number.'),
    );
    await liveHas('Alminhas');
    await saveAs('Huts with their stays');
    const text = await pdfOf('Huts with their stays');
    const oracle = await nightsByHut();
    const totals = lonely(text);
    for (const [hut, nights] of oracle) {
      expect(text).toContain(hut.slice(0, 16));
      expect(totals).toContain(nights);
    }
  });
});

describe('sets of rows', () => {
  it('stand side by side, each with fields of its own, and change places', async () => {
    const sets = async (): Promise<string[]> => {
      const bars = await driver.findElements(By.css('[aria-label*="select the drawer"]'));
      return Promise.all(bars.map((bar) => bar.getAttribute('aria-label') as Promise<string>));
    };
    await blank();
    await add('huts');
    await fields('Hut');
    await place(':name');
    await add('Regions, side by side');
    await eventually(driver, 'the new set', async () => (await sets()).length === 2);
    await fields('Region');
    await place(':name');
    await liveHas('Alminhas');
    await liveHas('Ilha de Pedra');
    const leftOf = (words: string): Promise<number> =>
      driver.executeScript<number>(
        `return [...document.querySelectorAll('.live-pages text')].find((t) => t.textContent === arguments[0]).getBoundingClientRect().x`,
        words,
      );
    expect(await leftOf('Ilha de Pedra')).toBeGreaterThan((await leftOf('Alminhas')) + 100);

    expect((await sets()).map((words) => words.split(':')[0])).toEqual(['Huts', 'Regions']);
    await command('Move Region up');
    await eventually(driver, 'regions first', async () => (await sets())[0]!.startsWith('Regions'));
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'huts first again', async () => (await sets())[0]!.startsWith('Huts'));
    // By hand, its bar goes before the other one's.
    const [, second] = await driver.findElements(By.css('[data-bar]'));
    await dragBy(driver, second!, -14, 0);
    await eventually(driver, 'regions first by hand', async () => (await sets())[0]!.startsWith('Regions'));
    await eventually(
      driver,
      'regions at the left',
      async () => (await leftOf('Ilha de Pedra')) < (await leftOf('Alminhas')) - 100,
    );
    await saveAs('Huts beside regions');
    const text = await pdfOf('Huts beside regions');
    for (const words of ['Alminhas', 'Ilha de Pedra']) expect(text.split(words)).toHaveLength(2);
  });

  it('begin on paper of their own, with a page header of theirs, also in the viewer and the PDF', async () => {
    const regions = {
      id: 'regions',
      name: 'region',
      rows: { entity: 'region' },
      detail: {
        height: 6,
        items: [{ kind: 'field', id: 'region-name', x: 0, y: 0, width: 60, height: 5, formula: 'name' }],
      },
    };
    await openNew({ ...HUTS, name: 'Upright, then wide', body: [...HUTS.body, regions] });
    await (await button(driver, 'Regions: select the drawer Region')).click();
    const own = By.xpath('//label[normalize-space(.)="On pages of its own"]//input');
    await (await eventually(driver, 'the switch', () => driver.findElement(own))).click();
    await choose('Orientation', 'Landscape', '[data-testid="settings"]');
    await (await button(driver, 'Leave it as it is')).click();
    await add('Region page header');
    await add('page number');
    const shapes = (selector: string): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...document.querySelectorAll(arguments[0])].map((page) => {
           const { width, height } = page.getBoundingClientRect();
           return width > height ? 'landscape' : 'portrait';
         })`,
        selector,
      );
    const turned = async (selector: string): Promise<boolean> =>
      (await shapes(selector)).join() === 'portrait,landscape';
    await eventually(driver, 'a page that lies', () => turned('[data-live-page] svg'));
    await liveHas('Page 2 of 2');
    await saveByKeys();
    const text = await pdfOf('Upright, then wide');
    expect(text.split('\f').map((page) => /Page \d of \d/.exec(page)?.[0] ?? '')).toEqual(['', 'Page 2 of 2', '']);
    await (await button(driver, 'Next page')).click();
    await eventually(driver, 'both in the viewer', () => turned('[data-page] svg'));

    // The browser's own print window cannot be pressed here: what it would print is printed into a file.
    await driver.executeScript('window.print = () => { window.isPrinting = true; }');
    await (await button(driver, 'Print')).click();
    await (await find(driver, '[role="dialog"] [type="submit"]')).click();
    await eventually(driver, 'the print', () => driver.executeScript<boolean>('return window.isPrinting'));
    const options = { preferCSSPageSize: true, printBackground: true };
    const printed = await (driver as unknown as DevTools).sendAndGetDevToolsCommand('Page.printToPDF', options);
    const file = join(downloads, 'printed.pdf');
    writeFileSync(file, printed.data, 'base64');
    const info = execFileSync('pdfinfo', ['-l', '9', file]).toString();
    expect(
      [...info.matchAll(/size: +([\d.]+) x ([\d.]+)/g)].map(([, ...size]) => size.map((n) => Math.round(Number(n)))),
    ).toEqual([
      [595, 842],
      [842, 595],
    ]);
    await driver.executeScript(`window.dispatchEvent(new Event('afterprint'))`);
  });
});
