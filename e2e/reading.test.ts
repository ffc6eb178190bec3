import type { Driver } from 'selenium-webdriver/chrome.js';
import { describe, expect, it } from 'vitest';
import { button, eventually, find, Key, textOf } from './browser.ts';
import { isDone, main, place, runOf } from './parts.ts';
import { driver, HUTS, servers, store, useSession, visit } from './session.ts';

useSession();

/** A text is in sight. */
const sees = (words: string) =>
  eventually(driver, `“${words}” in sight`, () =>
    driver.executeScript<boolean>(
      `const main = document.querySelector('main').getBoundingClientRect();
       return [...document.querySelectorAll('main [data-page] text')].some((text) => {
         const { top } = text.getBoundingClientRect();
         return text.textContent.includes(arguments[0]) && top >= main.top && top < main.bottom;
       })`,
      words,
    ),
  );
const count = (selector: string): Promise<number> =>
  driver.executeScript<number>('return document.querySelectorAll(arguments[0]).length', selector);
const tab = async (name: string): Promise<void> => {
  const words = `//nav//button[@role="tab"][normalize-space()="${name}"]`;
  await (await find(driver, 'nav [role="tablist"]')).isDisplayed();
  await driver.findElement({ xpath: words }).click();
};

const devTools = (command: string, parameters: object): Promise<void> =>
  (driver as unknown as Driver).sendDevToolsCommand(command, parameters);

const LEDGER = '/reports/season-ledger?region_name=Ilha+de+Pedra';

/** How far the pages are scrolled, once they have come to rest. */
const restingPlace = async (): Promise<number> => {
  const place = (): Promise<number> => driver.executeScript(`return document.querySelector('main').scrollTop`);
  let last = -1;
  await eventually(driver, 'the pages at rest', async () => {
    const now = await place();
    const isSame = now === last;
    last = now;
    return isSame;
  });
  return last;
};

describe('a reader', () => {
  it('goes to pages by their thumbnails, of which only those in sight are drawn', async () => {
    await runOf(LEDGER);
    await tab('Pages');
    await eventually(driver, 'the first pages, small', async () => (await count('[data-thumbnail] svg')) > 1);
    expect(await count('[data-thumbnail]')).toBeLessThan(10);
    // Nothing of the end was fetched before.
    await driver.executeScript(`document.querySelector('nav [role="tabpanel"] .overflow-auto').scrollTop = 1e9`);
    await (await button(driver, 'Page 126')).click();
    await eventually(driver, 'the last page', async () => (await place()) === 'Page 126 of 126');
    await tab('Outline');
  });

  it('goes through all matches in a list, on pages that were never loaded too', async () => {
    await runOf(LEDGER);
    await tab('Matches');
    await (await find(driver, 'nav [role="tabpanel"] button')).click();
    await (await find(driver, 'search input')).sendKeys('vale de urze');
    const match = await eventually(driver, 'the matches', async () => {
      const [first] = await driver.findElements({ css: 'nav [role="tabpanel"] li button' });
      return first && (await first.getText()).includes('Vale de Urze') && first;
    });
    await match.click();
    await sees('Vale de Urze');
    expect(await place()).not.toBe('Page 1 of 126');
    await (await find(driver, 'search input')).sendKeys(Key.ESCAPE);
    await tab('Outline');
  });

  it('reads in other modes and sizes, by keys alone, and stays where they read', async () => {
    await runOf(LEDGER);
    await (await main()).sendKeys(Key.END);
    await eventually(driver, 'the last page', async () => (await place()).startsWith('Page 126'));
    await (await main()).sendKeys('3');
    await eventually(driver, 'two pages side by side', () =>
      driver.executeScript<boolean>(
        `const [a, b] = document.querySelectorAll('main [data-page]');
         return a && b && a.getBoundingClientRect().top === b.getBoundingClientRect().top`,
      ),
    );
    await eventually(driver, 'the end', async () => Number((await place()).match(/\d+/)![0]) >= 125);
    await (await main()).sendKeys('2', 'h');
    await eventually(driver, 'one page', async () => (await count('main [data-page]')) === 1);
    await (await main()).sendKeys(Key.HOME);
    await eventually(driver, 'the first page', async () => (await place()) === 'Page 1 of 126');
    await (await main()).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await eventually(driver, 'the third page', async () => (await place()) === 'Page 3 of 126');
    const isWhole = await driver.executeScript<boolean>(
      `const main = document.querySelector('main').getBoundingClientRect();
       const page = document.querySelector('main [data-page]').getBoundingClientRect();
       return page.top >= main.top && page.bottom <= main.bottom`,
    );
    expect(isWhole).toBe(true);
    const seen = await textOf(driver, 'main [data-page="3"] text');
    await (await main()).sendKeys('4');
    await eventually(driver, 'one long page', async () => (await place()).startsWith('Part '));
    await sees(seen);
    await (await main()).sendKeys('1', '0');
    await isDone();
    expect(await textOf(driver, 'footer [role="toolbar"]')).toContain('100%');
  });

  it('types the page to go to, and presents pages alone', async () => {
    await runOf(LEDGER);
    await (await find(driver, '[data-testid="page-place"]')).click();
    await (await find(driver, 'input[aria-label="Go to page"]')).sendKeys('40', Key.ENTER);
    await eventually(driver, 'page 40', async () => (await place()) === 'Page 40 of 126');
    await (await main()).sendKeys('f');
    await eventually(driver, 'page 40 alone', async () =>
      (await textOf(driver, '[data-testid="presented-place"]')).startsWith('40 /'),
    );
    expect(await count('header')).toBe(0);
    await driver.actions().sendKeys(' ', Key.ARROW_DOWN, Key.BACK_SPACE).perform();
    await eventually(driver, 'page 41 alone', async () =>
      (await textOf(driver, '[data-testid="presented-place"]')).startsWith('41 /'),
    );
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await eventually(driver, 'page 41 among others', async () => (await place()) === 'Page 41 of 126');
  });

  it('copies a selection in columns as the cells of a table', async () => {
    await runOf(LEDGER);
    await driver.executeScript(`
      const texts = [...document.querySelectorAll('main [data-page="1"] text')];
      const from = texts.findIndex((text) => text.textContent === 'Iker Öztürk');
      const to = texts.findIndex((text, i) => i > from && text.textContent === '63.00');
      document.querySelector('main').focus();
      getSelection().setBaseAndExtent(texts[from].firstChild, 0, texts[to].firstChild, 5);
      document.addEventListener('copy', (event) => { window.copied = event.clipboardData.getData('text/plain'); }, { once: true });
    `);
    await driver.actions().keyDown(Key.CONTROL).sendKeys('c').keyUp(Key.CONTROL).perform();
    const copied = await eventually(driver, 'the copy', () => driver.executeScript<string>('return window.copied'));
    await driver.executeScript('getSelection().removeAllRanges()');
    const rows = copied.split('\n').map((line) => line.split('\t'));
    expect(rows.slice(-3).map((row) => [row[0], row.at(-2), row.at(-1)])).toEqual([
      ['bunk', '29.00', '58.00'],
      ['rescue levy', '1.50', '1.50'],
      ['half board', '31.50', '63.00'],
    ]);
  });

  it('comes back from a link to where they were', async () => {
    const link = { report: 'season-ledger', parameters: { region_name: '"Alto Norte"' } };
    const item = (id: string, y: number, more: object) => {
      return { kind: 'text', id, x: 0, y, width: 80, height: 5, content: [{ formula: 'name' }], ...more };
    };
    const detail = { height: 80, items: [item('name', 0, { link })] };
    const id = await store({ ...HUTS, name: 'Huts with a way', body: [{ ...HUTS.body[0], detail }] });
    await runOf(`/reports/${id}`);
    await (await main()).sendKeys('+', Key.END);
    await sees('Vale de Urze');
    const before = await restingPlace();
    await driver.executeScript(
      `[...document.querySelectorAll('main a[data-link] rect')].at(-1).dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))`,
    );
    await eventually(driver, 'the ledger', async () => (await textOf(driver, 'h1')) === 'Season ledger');
    await isDone();
    await (await button(driver, 'Huts with a way')).click();
    await eventually(driver, 'the huts', async () => (await textOf(driver, 'h1')) === 'Huts with a way');
    await sees('Vale de Urze');
    expect(await textOf(driver, 'footer [role="toolbar"]')).toContain('120%');
    await eventually(driver, 'where they were', async () => Math.abs((await restingPlace()) - before) < 3);
  });
});

it('what is read in a host’s page goes on in a window of its own, and comes back', async () => {
  await driver.get(`${servers.office}/?as=ines&report=nights-matrix`);
  const first = await driver.getWindowHandle();
  await driver.switchTo().frame(await find(driver, 'iframe'));
  await isDone();
  const choose = async (words: string): Promise<void> => {
    await (await button(driver, 'More')).click();
    const entry = { xpath: `//*[@role="menuitem"][normalize-space()="${words}"]` };
    await eventually(driver, words, async () => (await driver.findElements(entry)).length > 0);
    await driver.findElement(entry).click();
  };
  await choose('Open in a window of its own');
  const other = await eventually(driver, 'another window', async () =>
    (await driver.getAllWindowHandles()).find((handle) => handle !== first),
  );
  await driver.switchTo().window(other);
  await isDone();
  expect(await textOf(driver, 'h1')).toBe('Nights matrix');
  await choose('Close this window');
  await eventually(driver, 'one window', async () => (await driver.getAllWindowHandles()).length === 1);
  await driver.switchTo().window(first);
  await driver.switchTo().frame(await find(driver, 'iframe'));
  await isDone();
  await driver.switchTo().defaultContent();
});

describe('at a phone’s width', () => {
  it('one page at a time fits, a finger turns it, and values are in a sheet', async () => {
    await visit('/');
    await driver.executeScript('localStorage.clear()');
    await driver.manage().window().setRect({ width: 500, height: 860 });
    await devTools('Emulation.setDeviceMetricsOverride', {
      width: 390,
      height: 780,
      deviceScaleFactor: 1,
      mobile: false,
    });
    try {
      await driver.get((await driver.getCurrentUrl()).replace(/\/$/, LEDGER));
      await isDone();
      await find(driver, 'main [data-page="1"] text');
      expect(await count('main [data-page]')).toBe(1);
      const isInside = `const { left, right } = document.querySelector('main [data-page]').getBoundingClientRect();
        return left >= 0 && right <= innerWidth && document.documentElement.scrollWidth <= innerWidth`;
      expect(await driver.executeScript<boolean>(isInside)).toBe(true);
      const swipe = `const main = document.querySelector('main');
        const touch = (x) => new Touch({ identifier: 1, target: main, clientX: x, clientY: 300 });
        main.dispatchEvent(new TouchEvent('touchstart', { touches: [touch(300)], changedTouches: [touch(300)] }));
        main.dispatchEvent(new TouchEvent('touchend', { touches: [], changedTouches: [touch(120)] }));`;
      await driver.executeScript(swipe);
      await eventually(driver, 'page 2', async () => (await place()) === 'Page 2 of 126');
      await (await button(driver, 'All 3 values')).click();
      await (await find(driver, 'aside details summary')).click();
      const season = await find(driver, 'aside input[aria-label="Season"]');
      await season.sendKeys(Key.chord(Key.CONTROL, 'a'), '2024', Key.ENTER);
      await eventually(driver, 'what changed', async () =>
        (await textOf(driver, 'aside footer')).includes('1 value changed'),
      );
      expect(await driver.getCurrentUrl()).not.toContain('season=2024');
      await (await find(driver, 'aside footer button:last-of-type')).click();
      await eventually(driver, 'the run', async () => (await driver.getCurrentUrl()).includes('season=2024'));
      expect(await count('aside')).toBe(0);
      await (await button(driver, 'Show the outline and pages')).click();
      await find(driver, 'nav [role="tablist"]');
      const outline = await eventually(driver, 'the outline', async () => {
        const [, second] = await driver.findElements({ css: 'nav [role="tabpanel"] li button' });
        return second;
      });
      await outline.click();
      await eventually(driver, 'the wing to close', async () => (await count('nav [role="tablist"]')) === 0);
    } finally {
      await devTools('Emulation.clearDeviceMetricsOverride', {});
    }
  });
});
