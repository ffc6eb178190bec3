import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, press, textOf } from './browser.ts';
import {
  add,
  choose,
  command,
  downloads,
  driver,
  HUTS,
  live,
  liveHas,
  liveSays,
  liveText,
  openNew,
  saveByKeys,
  select,
  servers,
  store,
  useSession,
  visit,
  write,
} from './session.ts';

useSession();

/** The first live page, as its elements. */
const firstPage = (): Promise<string> =>
  driver.executeScript<string>(`return document.querySelector('[data-live-page="1"] svg').outerHTML`);

describe('the live page', () => {
  it('shows after many edits what it shows when it is laid out anew', async () => {
    const id = await openNew(HUTS);
    await select('name');
    for (const key of [Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_DOWN]) await press(driver, key);
    await press(driver, Key.CONTROL, 'd');
    await press(driver, Key.DELETE);
    await select('beds');
    await write('Formula', 'beds * 2');
    await liveSays('102');
    await saveByKeys();
    const patched = await firstPage();
    await driver.get(`${servers.gaveta}/reports/${id}/design`);
    await live();
    expect(await firstPage()).toBe(patched);
    expect(patched).toContain('>102<');
  });
});

describe('functions of the host', () => {
  it('are worked out on the live page as in the report that runs', async () => {
    const id = await openNew(HUTS);
    await select('beds');
    await write('Formula', 'ALTITUDEBELT(altitude)');
    await liveSays('subalpine');
    const beltsIn = (text: string): string[] => text.match(/montane|subalpine|alpine|nival/g) ?? [];
    const belts = beltsIn(await liveText());
    expect(belts).toHaveLength(24);
    await saveByKeys();
    await driver.get(`${servers.gaveta}/reports/${id}`);
    const page = await find(driver, '[data-page="1"]');
    await eventually(driver, 'the run', async () => (await page.getText()).includes('subalpine'));
    expect(beltsIn(await page.getText())).toEqual(belts);
  });
});

describe('settings of items', () => {
  it('make a barcode of a field, and say what it cannot hold', async () => {
    await openNew(HUTS);
    await (await button(driver, 'Band Hut detail')).click();
    await (await find(driver, '[data-testid="board"]')).sendKeys('/');
    await (await find(driver, '[cmdk-input]')).sendKeys('barcode', Key.ENTER);
    await eventually(driver, 'the selection', async () =>
      (await textOf(driver, '[data-testid="selected"]')).startsWith('Barcode'),
    );
    await write('Content', '"HUT " & id');
    await eventually(driver, 'a barcode for each hut', () =>
      driver.executeScript<boolean>(
        `return [...document.querySelectorAll('.live-pages path title')].filter((t) => /^HUT \\d+$/.test(t.textContent)).length > 10`,
      ),
    );
    await choose('Code', 'EAN-13');
    const chip = await eventually(driver, 'the problem', () =>
      driver.findElement(By.xpath('//button[contains(., " problem") and not(contains(., "No problems"))]')),
    );
    await chip.click();
    await eventually(driver, 'its words', async () =>
      (await textOf(driver, '[data-radix-popper-content-wrapper]')).includes(
        'it takes 12 digits, or 13 of which the last is the check digit',
      ),
    );
    await press(driver, Key.ESCAPE);
  });

  it('highlight rows by a condition, and count those hit', async () => {
    await openNew(HUTS);
    await select('beds');
    await (
      await driver.findElement(By.xpath('//*[@data-testid="settings"]//button[normalize-space()="Highlight"]'))
    ).click();
    await write('Condition of highlight 1', 'beds > 50');
    const beds = await driver.executeScript<number[]>(
      `return [...document.querySelectorAll('.live-pages [data-item="beds"]')].map((t) => Number(t.textContent))`,
    );
    const many = beds.filter((b) => b > 50).length;
    expect(many).toBeGreaterThan(0);
    await eventually(driver, 'the count', async () =>
      (await textOf(driver, '[data-testid="highlight-hits"]')).includes(`${many} of ${beds.length}`),
    );
    await eventually(driver, 'the look', async () =>
      driver.executeScript<boolean>(
        `const hit = [...document.querySelectorAll('.live-pages [data-item="beds"][font-weight="700"]')];
         return hit.length === arguments[0] && hit.every((t) => Number(t.textContent) > 50)`,
        many,
      ),
    );
  });

  it('show a formula’s value row by row, and underline what is wrong with a sentence', async () => {
    await openNew(HUTS);
    await select('beds');
    const box = await find(driver, '[data-setting="formula"] .cm-content');
    await box.click();
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'name & "!"');
    const value = (): Promise<string> => textOf(driver, '[data-testid="formula-value"]');
    await eventually(driver, 'the first value', async () => (await value()).includes('Alminhas!'));
    await (await button(driver, 'Value for the next row')).click();
    await eventually(driver, 'the second value', async () => (await value()).includes('Bico da Garça!'));
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'nane');
    await eventually(driver, 'the sentence', async () =>
      (await textOf(driver, '[data-testid="settings"]')).includes('Did you mean name?'),
    );
    await find(driver, '.cm-lintRange-error');
    await box.sendKeys(Key.ESCAPE);
  });

  it('are decided on by formulas, of items and of bands, and say what is unfit', async () => {
    await openNew(HUTS);
    await select('beds');
    await (await button(driver, 'More of look')).click();
    await (await button(driver, 'Bold by a formula')).click();
    await write('Bold', 'beds > 50');
    const rows = (condition: string): Promise<boolean> =>
      driver.executeScript<boolean>(
        `const beds = [...document.querySelectorAll('.live-pages text[data-item="beds"]')];
         return beds.length > 10 && beds.every((t) => ${condition})`,
      );
    await eventually(driver, 'bold where there are many beds', () =>
      rows(`(t.getAttribute('font-weight') === '700') === (Number(t.textContent) > 50)`),
    );
    await (await button(driver, 'Colour by a formula')).click();
    await write('Colour', 'IF(beds > 50; "#b3402e"; "reddish")');
    await eventually(driver, 'red where there are many beds', () =>
      rows(`(t.getAttribute('fill') === '#b3402e') === (Number(t.textContent) > 50)`),
    );
    const chip = await eventually(driver, 'the problem', () => button(driver, '1 problem'));
    await chip.click();
    await eventually(driver, 'its words', async () =>
      (await textOf(driver, '[data-radix-popper-content-wrapper]')).includes('“reddish” does not fit here (colour)'),
    );
    await press(driver, Key.ESCAPE);

    await (await button(driver, 'Band Hut detail')).click();
    await (await button(driver, 'Background by a formula')).click();
    await write('Background', 'IF(beds > 50; "#f3e6c8")');
    const many = await driver.executeScript<number>(
      `return [...document.querySelectorAll('.live-pages [data-item="beds"]')].filter((t) => Number(t.textContent) > 50).length`,
    );
    expect(many).toBeGreaterThan(0);
    await eventually(driver, 'bands of large huts', () =>
      driver.executeScript<boolean>(
        `return document.querySelectorAll('.live-pages rect[fill="#f3e6c8"]').length === arguments[0]`,
        many,
      ),
    );
    await (await button(driver, 'Background by a formula')).click();
    await eventually(driver, 'no background', () =>
      driver.executeScript<boolean>(`return !document.querySelector('.live-pages rect[fill="#f3e6c8"]')`),
    );
  });

  it('take a picture from a file, and refuse what is none', async () => {
    await openNew(HUTS);
    await (await button(driver, 'Band Hut detail')).click();
    await (await find(driver, '[data-testid="board"]')).sendKeys('/');
    await (await find(driver, '[cmdk-input]')).sendKeys('picture', Key.ENTER);
    const file = await find(driver, 'input[type="file"][aria-label="Choose a file"]');
    const folder = mkdtempSync(join(tmpdir(), 'gaveta-files-'));
    const [text, picture] = [join(folder, 'words.txt'), join(folder, 'dot.png')];
    writeFileSync(text, 'not a picture');
    writeFileSync(
      picture,
      Buffer.from(
        'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
        'base64',
      ),
    );
    await file.sendKeys(text);
    await eventually(driver, 'the refusal', async () =>
      (await textOf(driver, '[role="alert"]')).includes('“words.txt” is not a picture.'),
    );
    await file.sendKeys(picture);
    await eventually(driver, 'the picture on each row', () =>
      driver.executeScript<boolean>(`return document.querySelectorAll('.live-pages image').length > 10`),
    );
  });
});

describe('named styles', () => {
  it('are made of an item’s look, given to others, changed for all of them, and removed', async () => {
    await openNew(HUTS);
    await select('beds');
    await (await button(driver, 'Bold')).click();
    await (await button(driver, 'Create a style from this look')).click();
    await (await find(driver, 'input[aria-label="Name of the style"]')).sendKeys('Counts', Key.ENTER);
    await select('name');
    await choose('Style', 'Counts');
    const weights = (item: string): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...new Set([...document.querySelectorAll('.live-pages text[data-item="' + arguments[0] + '"]')].map((t) => t.getAttribute('font-weight')))]`,
        item,
      );
    await eventually(driver, 'bold names', async () => (await weights('name')).join() === '700');
    await (await button(driver, 'Report')).click();
    await (await find(driver, '[data-style-name="Counts"] summary')).click();
    await (await find(driver, '[data-style-name="Counts"] button[aria-label="Bold"]')).click();
    await eventually(driver, 'plain names and beds', async () =>
      [...(await weights('name')), ...(await weights('beds'))].every((weight) => weight !== '700'),
    );
    const name = await find(driver, '[data-style-name="Counts"] input[aria-label="Name"]');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Numbers', Key.ENTER);
    await (await find(driver, '[data-style-name="Numbers"] summary')).click();
    await (await button(driver, 'Select its 2 items')).click();
    await eventually(
      driver,
      'both items',
      async () => (await driver.findElements(By.css('[data-item][aria-pressed="true"]'))).length === 2,
    );
  });
});

describe('the whole report', () => {
  it('fits columns to a paper that is turned, after asking', async () => {
    const wide = structuredClone(HUTS);
    Object.assign(wide, { page: { paper: 'A4', orientation: 'landscape' } });
    wide.body[0]!.detail.items[1]!.x = 200;
    await openNew(wide);
    await command('page setup');
    await choose('Orientation', 'Portrait');
    await (await button(driver, 'Fit columns to the page')).click();
    await eventually(driver, 'no problems', async () => button(driver, 'No problems'));
    const right = await driver.executeScript<number>(
      `const sheet = document.querySelector('[data-band="huts/detail"]').getBoundingClientRect();
       return (document.querySelector('[data-item="beds"]').getBoundingClientRect().right - sheet.left) / sheet.width`,
    );
    expect(right).toBeLessThanOrEqual(1);
  });

  it('is saved to a file and opened from it again', async () => {
    await openNew({ ...HUTS, name: 'Huts to keep' });
    await command('save to a file');
    const saved = join(downloads, 'huts-to-keep.json');
    const definition = await eventually(driver, 'the file', async () => JSON.parse(readFileSync(saved, 'utf8')));
    expect(definition).toMatchObject({ gaveta: 2, name: 'Huts to keep', body: [{ sort: [{ by: 'name' }] }] });
    await visit('/start');
    const broken = join(downloads, 'broken.json');
    writeFileSync(broken, '{"gaveta": 1, "name": 7}');
    const file = await eventually(driver, 'the file box', async () => driver.findElement(By.css('input[type="file"]')));
    await file.sendKeys(broken);
    await eventually(driver, 'what is wrong', async () => (await textOf(driver, 'main')).includes('“broken.json”'));
    await file.sendKeys(saved);
    await find(driver, '[data-item="beds"]');
    await live();
    await liveSays('Alminhas');
  });

  it('opens a nested report and comes back', async () => {
    const child = await store({ ...HUTS, name: 'Inner huts' });
    const outer = structuredClone(HUTS) as { name: string; body: { detail: { items: object[] } }[] };
    outer.name = 'Outer huts';
    outer.body[0]!.detail.items.push({
      kind: 'subreport',
      id: 'inner',
      x: 0,
      y: 6,
      width: 100,
      height: 2,
      report: child,
    });
    const id = await openNew(outer);
    await select('inner');
    await (await button(driver, 'Open it')).click();
    await eventually(driver, 'the inner one', async () => (await driver.getCurrentUrl()).endsWith(`${child}/design`));
    await driver.navigate().refresh();
    await (await button(driver, 'Outer huts')).click();
    await eventually(driver, 'the outer one', async () => (await driver.getCurrentUrl()).endsWith(`${id}/design`));
    await button(driver, 'Reports');
  });

  it('links a nested report by name and type, checks what is typed, and shares rows with it', async () => {
    const stays = {
      gaveta: 2,
      name: 'Nights of a hut',
      model: 'cumeeira',
      parameters: [{ name: 'hut_id', label: 'Hut', type: 'number', required: true }],
      body: [
        {
          id: 'stays',
          name: 'stay',
          rows: { entity: 'stay' },
          filter: 'hut.id = hut_id',
          footer: {
            height: 6,
            items: [
              { kind: 'field', id: 'sum', x: 0, y: 0, width: 40, height: 5, formula: '"Nights: " & SUM(nights)' },
            ],
          },
        },
      ],
    };
    await store(stays);
    await openNew(HUTS);
    await (await button(driver, 'Band Hut detail')).click();
    await add('subreport');
    await choose('Report', 'Nights of a hut');
    await eventually(driver, 'the link that was found', async () =>
      (await textOf(driver, '[data-testid="settings"]')).includes('Fits: a number.'),
    );
    await liveHas('Nights: ');
    await write('Hut gets', 'name');
    await eventually(driver, 'what is wrong with it', async () =>
      (await textOf(driver, '[data-testid="settings"] [role="alert"]')).includes(
        'The link of “hut_id” needs a number, and this is text.',
      ),
    );
    await write('Hut gets', 'id');
    await eventually(driver, 'nothing wrong', async () =>
      (await textOf(driver, '[data-testid="settings"]')).includes('Fits: a number.'),
    );
    await choose('Shows', 'Stays of this hut');
    await (await find(driver, '[data-testid="board"]')).sendKeys(Key.ESCAPE);
    await eventually(driver, 'the shared rows', async () => (await liveText()).includes('Nights: '));
  });

  it('puts rows together in a query of its own, and shows them', async () => {
    await openNew(HUTS);
    await (await button(driver, 'Query')).click();
    await (await find(driver, '[role="dialog"] input[aria-label="Name of the recipe"]')).sendKeys(
      Key.chord(Key.CONTROL, 'a'),
      'Highest huts',
      Key.TAB,
    );
    const inDialog = (name: string) =>
      eventually(driver, name, () =>
        driver.findElement(By.xpath(`//*[@role="dialog"]//button[normalize-space()="${name}"]`)),
      );
    await (await inDialog('Huts')).click();
    await eventually(driver, 'its rows', async () =>
      (await textOf(driver, '[role="dialog"] [data-testid="rows-state"]')).includes('24 rows'),
    );
    await (await inDialog('Apply')).click();
    await find(driver, '[data-query="highest_huts"]');
    await (await button(driver, 'Huts: select the drawer Hut')).click();
    await choose('Rows from', 'Highest huts');
    await liveHas('Alminhas');
    await driver.wait(
      async () => (await driver.findElements(By.css('[data-problem]'))).length === 0 && button(driver, 'No problems'),
      10_000,
    );
    await saveByKeys();
    const definition = await driver.executeScript<{ queries: object[]; body: { rows: object }[] }>(
      `return (await (await fetch('/api/reports/' + location.pathname.split('/').at(-2))).json()).definition`,
    );
    expect(definition.queries).toMatchObject([
      { name: 'highest_huts', label: 'Highest huts', steps: [{ step: 'take', from: { entity: 'hut' } }] },
    ]);
    expect(definition.body[0]!.rows).toEqual({ entity: 'highest_huts' });
  });

  it('moves a drawer to another place of the spine', async () => {
    await openNew({
      ...HUTS,
      body: [
        {
          ...HUTS.body[0]!,
          drawers: ['stays', 'wardens'].map((relation) => ({
            id: relation,
            name: relation,
            rows: { relation },
            detail: { height: 8, items: [] },
          })),
        },
      ],
    });
    const order = (): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...document.querySelectorAll('[data-drawer-line]')].map((line) => line.dataset.drawerLine)`,
      );
    expect(await order()).toEqual(['huts', 'stays', 'wardens']);
    const bar = await find(driver, '[data-bar="wardens"]');
    const [from, to] = [await bar.getRect(), await (await find(driver, '[data-bar="stays"]')).getRect()];
    await dragBy(driver, bar, 0, Math.round(to.y - from.y - from.height / 2 + 4));
    await eventually(driver, 'the other order', async () => (await order()).join() === 'huts,wardens,stays');
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the order before', async () => (await order()).join() === 'huts,stays,wardens');
  });
});

describe('by hand', () => {
  it('fits a band to its items from the menu of its name', async () => {
    await openNew({ ...HUTS, body: [{ ...HUTS.body[0]!, detail: { ...HUTS.body[0]!.detail, height: 30 } }] });
    const height = async (): Promise<number> =>
      (await (await find(driver, '[data-band="huts/detail"]')).getRect()).height;
    const before = await height();
    await driver
      .actions()
      .contextClick(await button(driver, 'Band Hut detail'))
      .perform();
    await (await driver.wait(
      async () =>
        (await driver.findElements(By.xpath('//*[@role="menuitem"][contains(., "Fit the height")]')))[0] ?? null,
      10_000,
    ))!.click();
    await eventually(driver, 'the lower band', async () => (await height()) < before / 3);
  });
});

describe('the language', () => {
  it('changes everywhere at once, is remembered, and can be asked for by the address', async () => {
    await openNew(HUTS);
    await command('portuguese');
    await button(driver, 'Guardar');
    await select('beds');
    await write('Fórmula', 'nane');
    await (await eventually(driver, 'the problem', () => button(driver, '1 problema'))).click();
    await eventually(driver, 'its words', async () =>
      (await textOf(driver, '[data-radix-popper-content-wrapper]')).includes('Quis dizer name?'),
    );
    await press(driver, Key.ESCAPE);
    expect(await driver.executeScript(`return document.documentElement.lang`)).toBe('pt-PT');
    await driver.get(`${servers.gaveta}/`);
    await button(driver, 'Novo relatório');
    await driver.get(`${servers.gaveta}/?ui-language=en`);
    await button(driver, 'New report');
    await driver.executeScript(`localStorage.removeItem('gaveta.language')`);
  });
});
