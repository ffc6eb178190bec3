import { describe, expect, it } from 'vitest';
import { button, eventually, find, Key, press, textOf } from './browser.ts';
import { isDone, main, runOf } from './parts.ts';
import { driver, HUTS, store, useSession } from './session.ts';

useSession();

const shown = (words: string) =>
  eventually(driver, `“${words}”`, async () => {
    const [found] = await driver.findElements({ xpath: `//main//*[name()="text" and normalize-space()="${words}"]` });
    return found;
  });
const origin = () =>
  eventually(driver, 'the answer', async () => {
    const panel = await find(driver, '[data-testid="origin"][aria-busy="false"]');
    return panel.getText();
  });
/** Chooses from the menu on a text of a page. */
const choose = async (words: string, choice: string): Promise<void> => {
  await driver
    .actions()
    .contextClick(await shown(words))
    .perform();
  const entry = await eventually(driver, choice, async () => {
    const [found] = await driver.findElements({ xpath: `//*[@role="menuitem"][starts-with(., "${choice}")]` });
    return found;
  });
  await entry.click();
};
const column = (item: string): Promise<string[]> =>
  driver.executeScript<string[]>(
    `return [...document.querySelectorAll('main [data-item="${item}"]')].map((text) => text.textContent)`,
  );

const LEDGER = '/reports/season-ledger?region_name=Ilha+de+Pedra';

describe('where a number comes from', () => {
  it('is told in words, with the rows that lead on to where they stand', async () => {
    await runOf(LEDGER);
    await choose('135 stays, 15.0% of the whole', 'Where does this come from?');
    const words = await origin();
    expect(words).toContain('Region Ilha de Pedra › Hut Bico da Garça');
    expect(words).toMatch(/135 stays of this hut/);
    expect(words).toContain('YEAR(arrival) = season');
    expect(words).toContain('Season: 2025');
    const rows = await driver.findElements({ css: '[data-testid="origin"] tbody tr[tabindex]' });
    const text = await rows[9]!.getText();
    await rows[9]!.click();
    // The row is on a page that was not loaded.
    const name = text.match(/\d+ \w{3} (.+?) (?:stayed|booked|cancelled|no-show)/)![1]!;
    await shown(name);
    await driver.executeScript(`document.querySelector('[data-testid="origin"] details').open = true`);
    expect(await textOf(driver, '[data-testid="origin"] details pre')).toContain('select');
    await (await find(driver, 'aside')).sendKeys(Key.ESCAPE);
    expect(await driver.findElements({ css: '[data-testid="origin"]' })).toEqual([]);
  });

  it('is asked by keys alone, of a cell of a crosstab too, and adds up', async () => {
    await runOf('/reports/nights-matrix');
    await (await main()).sendKeys('q');
    await find(driver, '[data-testid="value-cursor"]');
    const said = () => textOf(driver, 'main [role="status"]');
    for (let i = 0; i < 12 && !(await said()).includes('Alto Norte'); i++)
      await (await main()).sendKeys(Key.ARROW_DOWN);
    await (await main()).sendKeys(Key.ARROW_RIGHT);
    const value = (await said()).match(/Value: ([\d,]+)/)![1]!;
    await (await main()).sendKeys(Key.ENTER);
    const words = await origin();
    expect(words).toContain(`\n${value}\n`);
    expect(words).toContain(`They come to ${value}.`);
    expect(words).toMatch(/sum of nights over \d+ stays for Alto Norte/);
  });

  it('opens by a press on a part of a chart, and says of words that no rows are behind them', async () => {
    await runOf('/reports/board-day');
    const tip = await driver.executeScript<string>(
      `const part = [...document.querySelectorAll('main [data-cell][data-tip]')].find((one) => one.tagName === 'rect');
       part.dispatchEvent(new MouseEvent('click', { bubbles: true }));
       return part.getAttribute('data-tip')`,
    );
    const number = tip.match(/([\d,]+)$/)![1]!;
    expect(await origin()).toContain(`They come to ${number}.`);
    await runOf('/reports/inspection-watchlist');
    await choose('Topic', 'Where does this come from?');
    await eventually(driver, 'what is said of words', async () =>
      (await origin()).includes('words of the report itself'),
    );
  });
});

describe('rows the reader’s way', () => {
  const WATCHLIST = '/reports/inspection-watchlist';

  it('are sorted by a press on a caption and turned by a second, which is said and undone', async () => {
    await runOf(WATCHLIST);
    const made = await column('field4');
    const strip = 'section[aria-label="Not as the report was made"]';
    await (await shown('Topic')).click();
    await eventually(driver, 'what differs', async () => (await textOf(driver, strip)).includes('Sorted by Topic'));
    await isDone();
    const inOrder = (topics: string[]): boolean => topics.slice(1, 8).every((topic, i) => topics[i]! <= topic);
    await eventually(driver, 'topics in order', async () => inOrder(await column('field4')));
    await (await shown('Topic')).click();
    await eventually(driver, 'topics turned', async () => {
      const topics = await column('field4');
      return topics.length > 8 && !inOrder(topics) && inOrder(topics.slice(0, 9).reverse());
    });
    expect(await textOf(driver, strip)).toContain('descending');
    expect(await driver.getCurrentUrl()).toContain('rows=');
    await (await button(driver, 'As the report was made')).click();
    await eventually(driver, 'the report as it was', async () => (await column('field4')).join() === made.join());
    expect(await driver.findElements({ css: strip })).toEqual([]);
  });

  it('are cut to a value, and go without columns', async () => {
    await runOf(WATCHLIST);
    const [topic] = await column('field4');
    await choose(topic!, 'Only rows with Topic');
    await eventually(driver, 'one topic', async () => {
      const topics = await column('field4');
      return topics.length > 0 && topics.every((one) => one === topic);
    });
    await isDone();
    await (await button(driver, 'Columns')).click();
    await (await find(driver, '[role="dialog"] label:last-of-type input')).click();
    await press(driver, Key.ESCAPE);
    await eventually(driver, 'no remarks', async () => (await column('field9')).length === 0);
    await isDone();
    await (await button(driver, 'As the report was made')).click();
    await eventually(driver, 'the remarks', async () => (await column('field9')).length > 0);
  });
});

it('values are kept under a name, chosen again and removed', async () => {
  await runOf(LEDGER);
  await (await button(driver, 'Saved values')).click();
  await (await find(driver, '[role="dialog"] [name="name"]')).sendKeys('Island huts', Key.ENTER);
  await eventually(driver, 'the name', async () => (await driver.getPageSource()).includes('Island huts'));
  await press(driver, Key.ESCAPE);
  await (await button(driver, 'Start over')).click();
  await eventually(driver, 'no value', async () => !(await driver.getCurrentUrl()).includes('region_name'));
  await (await button(driver, 'Saved values')).click();
  await (await button(driver, 'Island huts')).click();
  await eventually(driver, 'the value', async () =>
    (await driver.getCurrentUrl()).includes('region_name=Ilha+de+Pedra'),
  );
  await isDone();
  await (await button(driver, 'Island huts')).click();
  await (await button(driver, 'Remove Island huts')).click();
  await eventually(driver, 'the set to go', async () => !(await driver.getPageSource()).includes('Island huts'));
});

it('a report runs again by itself while it is seen, and stays where it is', async () => {
  const now = { ...HUTS.body[0]!.detail.items[0], id: 'now', formula: 'report.run_at', format: 'hh:mm:ss' };
  const body = [{ ...HUTS.body[0], detail: { height: 60, items: [now] } }];
  const id = await store({ ...HUTS, name: 'Moving', readers: { refresh: 5 }, body });
  await runOf(`/reports/${id}`);
  await driver.executeScript(`
    const main = document.querySelector('main');
    main.scrollTop = 1500;
    window.wasBlank = false;
    window.watching = new MutationObserver(() => {
      if (![...document.querySelectorAll('main [data-page]')].some((page) => page.querySelector('text'))) window.wasBlank = true;
    });
    window.watching.observe(main, { childList: true, subtree: true });
  `);
  const before = (await column('now'))[0];
  await eventually(driver, 'a later run', async () => {
    const [now] = await column('now');
    return now !== undefined && now !== before;
  });
  const [top, wasBlank] = await driver.executeScript<[number, boolean]>(
    `window.watching.disconnect(); return [document.querySelector('main').scrollTop, window.wasBlank]`,
  );
  expect([top, wasBlank]).toEqual([1500, false]);
  expect(await textOf(driver, 'header')).toContain('Refreshed at');
});
