import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press } from './browser.ts';
import { driver, HUTS, live, openNew, select, servers, useSession, visit, write } from './session.ts';

useSession();

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const violations = async (): Promise<{ id: string; nodes: string[] }[]> => {
  if (!(await driver.executeScript<boolean>('return window.axe !== undefined'))) await driver.executeScript(axe);
  return driver.executeAsyncScript(
    `const done = arguments[0]; axe.run({ exclude: ['svg'] }, { resultTypes: ['violations'] }).then((r) => done(r.violations.map((v) => ({ id: v.id, nodes: v.nodes.map((n) => n.html.slice(0, 160)) }))))`,
  );
};

describe('nobody is kept out', () => {
  it.each([
    ['the list of reports', '/', 'main a'],
    ['a folder of the library, and who may', '/?folder=season&thing=season-ledger', 'aside [aria-label="Who may"]'],
    ['the record', '/record', '[data-act], main [role="status"]'],
    ['the viewer', '/reports/warden-roster', '[data-page] text'],
    ['the designer', '/reports/warden-roster/design', '[data-live-page] text'],
    ['the map of tables', '/data', '.react-flow__node'],
    ['a table', '/data/tables/cumeeira/hut', '[data-testid="rows"] tbody td'],
    ['a recipe', '/data/recipes/nights-by-hut-and-month', '[data-testid="rows"] tbody td'],
    ['a statement', '/data/recipes/new?sql=cumeeira', '.cm-content'],
    ['a sketch', '/sketches/new?from=table%20cumeeira%20stay', '[data-testid="lines"] [data-line="end"]'],
    ['relating rows', '/data/relate', 'main [role="combobox"]'],
    ['a new connection', '/data/connections/new', 'main button'],
    ['starting a report', '/start', '[data-testid="start"] button'],
    ['revisions', '/reports/warden-roster/revisions', 'section svg text'],
    ['a theme', '/house/themes/letters', '[aria-label="Live page"] svg text'],
    ['a picture of the library', '/house/pictures/mark', 'main img'],
    ['deliveries', '/deliveries', '[role="status"] button, [data-delivery]'],
    ['a delivery that is made', '/deliveries/new?report=radio-calls', '[aria-label="What it would send now"]'],
    ['the outbox', '/deliveries/outbox', '[role="status"] h2, article h2'],
    ['kept results', '/kept', '[role="status"] h2, [data-kept]'],
    ['what is registered', '/embedding', 'main section'],
    ['the playground', '/embedding/playground', 'gaveta-viewer iframe'],
    ['a look into a token', '/embedding/token', 'main textarea'],
  ])('no violations found on %s', async (_name, path, ready) => {
    await visit(`${path}`);
    await find(driver, ready);
    expect(await violations()).toEqual([]);
  });

  it('no violations found on a sketch with a field across, and a calendar over it', async () => {
    await visit('/sketches/new?from=table%20cumeeira%20stay');
    await find(driver, '[data-testid="lines"] [data-line="end"]');
    await (await find(driver, '[data-pick="across"]')).click();
    await (await find(driver, '.panel [cmdk-input]')).sendKeys('arrival', Key.ENTER);
    await find(driver, '[data-across="all"]');
    expect(await violations()).toEqual([]);
    await (await find(driver, '[data-word="across"]')).click();
    await (await button(driver, 'Keep only …')).click();
    await find(driver, '.panel [data-day]');
    expect(await violations()).toEqual([]);
    await press(driver, Key.ESCAPE);
  });

  it('no violations found on the designer by night, with an item and with a drawer selected', async () => {
    await driver.get(`${servers.gaveta}/reports/warden-roster/design`);
    await driver.executeScript(`localStorage.setItem('gaveta.night', 'night'); location.reload()`);
    for (const selected of [
      '[data-band="huts/detail"] [data-item][aria-label^="Field"]',
      '[data-drawer-line="huts"] button:nth-of-type(2)',
    ]) {
      await (await find(driver, selected)).click();
      expect(await violations()).toEqual([]);
    }
    await driver.executeScript(`localStorage.removeItem('gaveta.night')`);
  });

  it('no violations found while words are looked for in the viewer', async () => {
    await visit('/reports/warden-roster');
    await find(driver, '[data-page] text');
    await press(driver, Key.CONTROL, 'f');
    await (await find(driver, 'search input')).sendKeys('alminhas');
    await find(driver, '[data-found="shown"]');
    expect(await violations()).toEqual([]);
  });

  it('no violations found on any question of the guided start', async () => {
    await visit('/start');
    await (await find(driver, '[data-testid="start"] button')).click();
    await (await find(driver, 'input[type="search"]')).sendKeys('stays');
    await (await driver.findElement(By.xpath('//li/button[starts-with(normalize-space(),"Stays ")]'))).click();
    for (let step = 1; step <= 5; step++) {
      expect([step, await violations()]).toEqual([step, []]);
      if (step === 5) break;
      await (await button(driver, 'Next')).click();
      if (step === 1) await (await find(driver, 'fieldset input[type="checkbox"]')).click();
    }
  });

  it('no violations found on a blank report, and while rows are taken', async () => {
    await visit('/start');
    await (await find(driver, '[data-testid="start"] button:nth-of-type(2)')).click();
    await button(driver, 'Take rows of …');
    expect(await violations()).toEqual([]);
    await (await button(driver, 'Take rows of …')).click();
    await find(driver, '[cmdk-input]');
    expect(await violations()).toEqual([]);
  });

  it('no violations found on what opens over the board', async () => {
    await openNew({ ...HUTS, parameters: [{ name: 'season', label: 'Season', type: 'number' }] });
    const board = await find(driver, '[data-testid="board"]');
    const closed = async (name: string): Promise<void> => {
      expect([name, await violations()]).toEqual([name, []]);
      await press(driver, Key.ESCAPE);
    };
    await board.sendKeys('/');
    await find(driver, '[cmdk-input]');
    await closed('add');
    await board.sendKeys(Key.F1);
    await find(driver, '[role="dialog"] dl');
    await closed('keys');
    await (await button(driver, 'Band Hut detail')).click();
    await press(driver, Key.CONTROL, 'k');
    await (await find(driver, '[cmdk-input]')).sendKeys('hut');
    await closed('commands');
    for (const phrase of ['Hut: by name', 'Hut: filter', 'Hut: group', 'Hut: first N']) {
      await (await button(driver, phrase)).click();
      await find(driver, '[data-radix-popper-content-wrapper] h3');
      await closed(phrase);
    }
    await press(driver, Key.F8);
    await find(driver, '[data-problem="unused-parameter"]');
    await closed('problems');
    await (await button(driver, 'Report')).click();
    await (await driver.findElement(By.xpath('//summary[contains(., "Season")]'))).click();
    await closed('parameters');
  });

  it('no violations found while formulas, formats and text are edited', async () => {
    await openNew({
      ...HUTS,
      body: [
        {
          ...HUTS.body[0]!,
          detail: {
            height: 20,
            items: [
              ...HUTS.body[0]!.detail.items,
              { kind: 'text', id: 'a', x: 0, y: 9, width: 60, height: 5, content: ['Beds: ', { formula: 'beds' }] },
            ],
          },
        },
      ],
    });
    await live();
    await select('beds');
    await (await find(driver, '[data-testid="settings"] button[aria-label^="Shown as:"]')).click();
    await eventually(driver, 'the formats', () =>
      driver.findElement(By.xpath('//button[contains(., "two decimals")]')),
    );
    expect(await violations()).toEqual([]);
    await press(driver, Key.ESCAPE);
    await write('Formula', 'nane');
    await button(driver, '1 problem');
    expect(await violations()).toEqual([]);
    await press(driver, Key.CONTROL, 'z');
    await select('a');
    await press(driver, Key.ENTER);
    await find(driver, '[role="toolbar"]');
    await (await find(driver, '[data-item="a"] [data-formula]')).click();
    await find(driver, '[role="dialog"] .cm-content');
    expect(await violations()).toEqual([]);
  });
});
