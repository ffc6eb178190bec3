import { describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, openBrowser, press, textOf } from './browser.ts';
import { addStep } from './parts.ts';
import { choose, driver, servers, useSession, visit } from './session.ts';

useSession({ alone: true, limits: { previewSeconds: 5 } });

const rowsState = (): Promise<string> => textOf(driver, '[data-testid="rows-state"]');
const rowsSay = (words: string): Promise<string> =>
  eventually(driver, `rows: ${words}`, async () => {
    const said = await rowsState();
    return said.includes(words) && said;
  });
const type = async (label: string, text: string, within = ''): Promise<void> => {
  const box = await find(driver, `${within} input[aria-label="${label}"]`);
  await box.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
};
const stepCount = (step: number): Promise<string> => textOf(driver, `[data-step="${step}"] [data-count]`);

describe('the Data screen', () => {
  it('shows the tables with their relations, and finds one', async () => {
    await visit('/data');
    await eventually(
      driver,
      'the map',
      async () => (await driver.findElements(By.css('.react-flow__node'))).length > 15,
    );
    await (await find(driver, 'input[type="search"]')).sendKeys('warden');
    await eventually(
      driver,
      'fewer entries',
      async () => (await driver.findElements(By.css('nav[aria-label="Data"] li a'))).length === 1,
    );
    await (await driver.findElement(By.css('nav[aria-label="Data"] li a'))).click();
    await rowsSay('rows in');
    expect(await textOf(driver, 'table[aria-label="Wardens"] thead')).toContain('distinct');
  });

  it('builds a recipe of three steps with live counts, and a report from it', async () => {
    await visit('/data/recipes/new?from=cumeeira/stay');
    await rowsSay('6,000 rows');
    await addStep('Bring in');
    await choose('What is brought in', 'its Hut', '[data-step="2"]');
    await eventually(driver, 'how the two fit', async () =>
      (await textOf(driver, '[data-testid="fit"]')).includes('0 of 6000 rows here'),
    );
    await addStep('Keep only');
    await choose('Field', 'Party', '[data-step="3"]');
    await choose('Comparison', 'is at least', '[data-step="3"]');
    await type('Value', '11', '[data-step="3"]');
    const kept = await rowsSay('rows in');
    await eventually(driver, 'the live count', async () => /^\d{2,3} rows$/.test(await stepCount(3)));
    await addStep('Summarise by');
    await choose('Summarise by', 'Hut: Name', '[data-step="4"]');
    await rowsSay('rows in');
    await eventually(
      driver,
      'groups',
      async () => (await driver.findElements(By.css('[data-testid="rows"] tbody tr'))).length > 10,
    );
    expect(await textOf(driver, '[data-testid="recipe-sql"]')).toContain('group by');
    expect(kept).not.toContain('6,000');

    // A step that another change leaves without its column says so, and mends itself.
    await (await find(driver, '[data-step="2"] button')).click();
    await choose('What is brought in', 'its Member', '[data-step="2"]');
    await eventually(driver, 'the problem', async () =>
      (await textOf(driver, '[data-step="4"]')).includes('“hut_name” no longer exists'),
    );
    await press(driver, Key.CONTROL, 'z');
    await eventually(
      driver,
      'the undo',
      async () => !(await textOf(driver, '[data-step="4"]')).includes('no longer exists'),
    );

    await type('Name of the recipe', 'Big parties by hut');
    await press(driver, Key.CONTROL, 's');
    await eventually(driver, 'the save', async () =>
      (await textOf(driver, '[data-testid="recipe-state"]')).startsWith('Saved, revision 1'),
    );
    await eventually(driver, 'the report', async () => {
      if ((await driver.getCurrentUrl()).includes('/design')) return true;
      // Once it was pressed its screen may go at any moment.
      const [use] = await driver.findElements(By.xpath('//button[normalize-space()="Use in a report"]'));
      await use?.click().catch(() => undefined);
      return false;
    });
    await eventually(driver, 'the live page', async () =>
      (
        await driver.executeScript<string>(`return document.querySelector('[data-live-page="1"]')?.textContent ?? ''`)
      ).includes('Alminhas'),
    );
    await (await button(driver, 'Run')).click();
    await eventually(driver, 'the rows in the viewer', async () =>
      (
        await driver.executeScript<string>(`return document.querySelector('[data-page="1"]')?.textContent ?? ''`)
      ).includes('Big parties by hut'),
    );
  });

  it('shows an error of a statement at its place', async () => {
    await visit('/data/recipes/new?sql=cumeeira');
    await (await find(driver, '.cm-content')).click();
    await press(driver, 'select name, alttude_m\nfrom hut');
    await (await button(driver, 'Run')).click();
    const said = await eventually(driver, 'the error', async () => textOf(driver, '[data-step="1"] [role="alert"]'));
    expect(said).toContain('1: select name, alttude_m');
    expect(said).toContain('alttude_m');
    expect(said.split('\n')[1]!.indexOf('^')).toBe('1: select name, '.length);
    await (await find(driver, '.cm-content')).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
    await press(driver, 'delete from hut');
    await (await button(driver, 'Run')).click();
    await eventually(driver, 'the refusal', async () =>
      (await textOf(driver, '[data-step="1"] [role="alert"]')).includes('Only a reading statement'),
    );
  });

  it('ends a runaway statement at its limit while another person’s report goes on', async () => {
    await visit('/data/recipes/new?sql=cumeeira');
    await (await find(driver, '.cm-content')).click();
    await press(
      driver,
      'select a.name from hut a, generate_series(1, 100000000) b, generate_series(1, 1000) c where b * c < 0',
    );
    await (await button(driver, 'Run')).click();
    // Its columns are known at once; its rows never come.
    await eventually(driver, 'the rows being looked for', async () => (await rowsState()).includes('Looking'));
    const other = await openBrowser();
    try {
      const started = Date.now();
      await other.driver.get(`${servers.gaveta}/demo/sign-in`);
      await other.driver.get(`${servers.gaveta}/reports/warden-roster`);
      await eventually(other.driver, 'the other person’s report', async () =>
        (await textOf(other.driver, '[data-testid="page-place"]')).includes('Page 1 of 8'),
      );
      expect(Date.now() - started).toBeLessThan(20_000);
    } finally {
      await other.close();
    }
    const said = await eventually(driver, 'the end', async () => textOf(driver, '[data-testid="rows"] [role="alert"]'));
    expect(said).toContain('ended after 5 seconds');
    await (await button(driver, 'Refresh')).click();
    await rowsSay('Looking');
    expect(await driver.findElements(By.css('[data-testid="rows"] [role="alert"]'))).toHaveLength(0);
    await (await driver.findElement(By.xpath('//*[@data-testid="rows"]//button[normalize-space()="Cancel"]'))).click();
  });

  it('shows no rows of the statement before once the new one is cancelled or fails', async () => {
    const statement = async (text: string): Promise<void> => {
      await (await find(driver, '.cm-content')).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
      await press(driver, text);
      await (await driver.findElement(By.xpath('//*[@data-step="1"]//button[normalize-space()="Run"]'))).click();
    };
    const rowsShown = async (): Promise<number> =>
      (await driver.findElements(By.css('[data-testid="rows"] tbody tr'))).length;
    await visit('/data/recipes/new?sql=cumeeira');
    await (await find(driver, '.cm-content')).click();
    await statement('select name from hut');
    await rowsSay('24 rows in');
    await statement(
      'select a.name from hut a, generate_series(1, 100000000) b, generate_series(1, 1000) c where b * c < 1',
    );
    await rowsSay('Looking');
    await (await driver.findElement(By.xpath('//*[@data-testid="rows"]//button[normalize-space()="Cancel"]'))).click();
    await rowsSay('Cancelled: no rows.');
    expect(await rowsShown()).toBe(0);
    await (await button(driver, 'Refresh')).click();
    await eventually(driver, 'the end', async () => textOf(driver, '[data-testid="rows"] [role="alert"]'));
    expect(await rowsShown()).toBe(0);
    await statement('select name from hut where beds > 60');
    await rowsSay('rows in');
    expect(await rowsShown()).toBeGreaterThan(0);
  });

  it('takes a pasted file as a connection, says what is wrong with it, and shows its rows', async () => {
    await visit('/data/connections/new');
    await (
      await eventually(driver, 'the kinds', async () => (await driver.findElements(By.css('main button')))[0])
    ).click();
    await find(driver, 'form input');
    await (await button(driver, 'Save')).click();
    await eventually(driver, 'what is missing', async () => {
      const said = await driver.findElements(By.css('form [role="alert"]'));
      return (await Promise.all(said.map((one) => one.getText()))).join(' ') === 'Enter a name. Choose a file.';
    });
    await (await find(driver, 'form input')).sendKeys('Snow depths');
    await choose('Read from', 'Pasted text');
    const box = await find(driver, 'form textarea');
    await box.sendKeys('hut;depth\nPedra Longa;1,5;x\n');
    await eventually(driver, 'the error', async () =>
      (await textOf(driver, 'form [role="alert"]')).includes('Row 2 has 3 cells'),
    );
    const measured = 'hut;depth;measured\nPedra Longa;1.400;3/4/2025\nLago Frio;90;5/6/2025\n';
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), measured);
    // Nothing is pressed: its first rows are there, with what each column would become.
    const preview = '[aria-label="The first rows"]';
    await eventually(driver, 'the first rows', async () => (await textOf(driver, preview)).includes('Lago Frio'));
    await eventually(driver, 'the doubt', async () => (await textOf(driver, preview)).includes('Day or month first?'));
    const typeOf = (column: string) => find(driver, `${preview} [aria-label="Type of the column ${column}"]`);
    expect(await (await typeOf('measured')).getAttribute('data-value')).toBe('date');
    expect(await (await typeOf('depth')).getAttribute('data-value')).toBe('number');
    await choose('Order of day, month and year in the column measured', 'month, day, year');
    await eventually(driver, 'no doubt', async () => !(await textOf(driver, preview)).includes('Day or month first?'));
    const label = await find(driver, '[aria-label="Label of the column depth"]');
    await label.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Snow depth', Key.ENTER);
    await choose('Type of the column hut', 'Number');
    await eventually(driver, 'what does not fit', async () =>
      (await textOf(driver, preview)).includes('2 values do not fit'),
    );
    await choose('Type of the column hut', 'Text');
    await eventually(driver, 'all fits', async () => !(await textOf(driver, preview)).includes('do not fit'));
    await (await button(driver, 'Save')).click();
    await eventually(
      driver,
      'the table',
      async () => (await driver.findElements(By.css('a[href$="/data/tables/snow_depths/snow_depths"]'))).length === 1,
    );
    await (await find(driver, 'a[href$="/data/tables/snow_depths/snow_depths"]')).click();
    await rowsSay('2 rows');
    expect(await textOf(driver, '[data-testid="rows"] tbody')).toContain('Lago Frio');
    await eventually(driver, 'what its columns hold', async () =>
      (await textOf(driver, '[data-testid="rows"] thead')).includes('distinct'),
    );
    const head = await find(driver, '[data-testid="rows"] th');
    const { width } = await head.getRect();
    await dragBy(driver, await head.findElement(By.css('span[aria-hidden]')), 80, 0);
    expect((await head.getRect()).width).toBeCloseTo(width + 80, -1);
    expect(await textOf(driver, '[data-testid="rows"]')).toContain('Snow depth');
    expect(await textOf(driver, '[data-testid="rows"] tbody')).toContain('4 Mar 2025');
  });

  it('relates the rows of a file to those of the database by two keys, and makes a report of it', async () => {
    await visit('/data/relate');
    await choose('For each of', 'Tariffs');
    await choose('show its', 'Charges');
    await choose('Field here', 'Kind');
    await choose('Field there', 'Kind');
    await eventually(driver, 'how they fit', async () =>
      (await textOf(driver, '[data-testid="fit"]')).startsWith('1 of 18 outer rows has nothing in it'),
    );
    await eventually(driver, 'nested rows', async () =>
      (await textOf(driver, '[data-testid="nested"]')).includes('bunk'),
    );
    await (await button(driver, 'Create a report')).click();
    await eventually(driver, 'the live page', async () =>
      (
        await driver.executeScript<string>(`return document.querySelector('[data-live-page="1"]')?.textContent ?? ''`)
      ).includes('board meeting'),
    );
  });

  it('points a report whose data is not here at other data', async () => {
    const id = await driver.executeAsyncScript<string>(
      `const done = arguments[0];
       const definition = { gaveta: 1, name: 'From elsewhere', model: 'elsewhere', body: { id: 'b', name: 'hut', rows: { entity: 'hut' },
         detail: { height: 6, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 60, height: 5, formula: 'name' }] } } };
       fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition }) })
         .then((r) => r.json()).then((r) => done(r.id), (e) => done(String(e)))`,
    );
    await visit(`/reports/${id}/design`);
    const said = await eventually(driver, 'what is missing', async () => textOf(driver, '[role="alert"]'));
    expect(said).toContain('takes rows from “elsewhere”, which is not here');
    await choose('Use instead …', 'Cumeeira huts');
    await (await button(driver, 'Use it')).click();
    await eventually(driver, 'its rows', async () =>
      (
        await driver.executeScript<string>(`return document.querySelector('[data-live-page="1"]')?.textContent ?? ''`)
      ).includes('Pedra Longa'),
    );
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the undo', async () => (await textOf(driver, '[role="alert"]')).includes('elsewhere'));
  });
});

describe('the chips of the viewer', () => {
  it('offer the huts of the region that is chosen, run with them, and remember them', async () => {
    await visit('/reports/season-ledger?season=2025');
    await (await find(driver, 'nav button:nth-child(2)')).click();
    await (
      await eventually(
        driver,
        'the choice',
        async () =>
          (
            await driver.findElements(By.xpath('//button[@role="option"][normalize-space()="Encosta Sul"]'))
          )[0],
      )
    ).click();
    await eventually(driver, 'the region in the address', async () =>
      (await driver.getCurrentUrl()).includes('region_name=Encosta'),
    );
    await (await find(driver, 'nav button:nth-child(3)')).click();
    const offered = await eventually(driver, 'the huts', async () => {
      const options = await driver.findElements(By.css('[role="option"]'));
      return options.length === 6 && Promise.all(options.map((option) => option.getText()));
    });
    expect(offered).toContain('Pedra Longa');
    await (await driver.findElement(By.xpath('//button[@role="option"][normalize-space()="Pedra Longa"]'))).click();
    await (await driver.findElement(By.xpath('//*[@role="dialog"]//button[normalize-space()="Run"]'))).click();
    await eventually(driver, 'the run', async () => {
      const text = await driver.executeScript<string>(
        `return [...document.querySelectorAll('[data-page]')].map((p) => p.textContent).join(' ')`,
      );
      return text.includes('Pedra Longa') && !text.includes('Três Irmãos');
    });
    await visit('/reports/season-ledger');
    await eventually(driver, 'what was chosen last', async () =>
      (await driver.getCurrentUrl()).includes('huts=Pedra+Longa'),
    );
    await (await button(driver, 'Start over')).click();
    await eventually(driver, 'everything', async () => !(await driver.getCurrentUrl()).includes('huts='));
  });

  it('check what is typed before anything runs', async () => {
    await visit('/reports/season-ledger');
    await (await find(driver, 'nav button:nth-child(1)')).click();
    const box = await find(driver, '[role="dialog"] input');
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'soon', Key.ENTER);
    expect(await (await find(driver, '[role="dialog"] [role="alert"]')).getText()).toContain('Enter a number');
    expect(await driver.getCurrentUrl()).not.toContain('soon');
  });

  it('choose stretches of time by name', async () => {
    await visit('/reports/ridge-weather');
    await eventually(driver, 'the report', async () =>
      (await textOf(driver, '[data-testid="page-place"]')).includes('of'),
    );
    await (await find(driver, 'nav button:nth-child(1)')).click();
    await (
      await eventually(
        driver,
        'the choice',
        async () =>
          (
            await driver.findElements(
              By.xpath('//button[@role="option"][normalize-space()="Night of the clock change"]'),
            )
          )[0],
      )
    ).click();
    await eventually(driver, 'the readings of that night', async () =>
      (
        await driver.executeScript<string>(`return document.querySelector('[data-page="1"]')?.textContent ?? ''`)
      ).includes('29 Mar'),
    );
  });
});
