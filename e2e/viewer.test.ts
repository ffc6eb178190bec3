import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf } from './browser.ts';
import { driver, HUTS, servers, store, useSession, visit } from './session.ts';

useSession();

const place = (): Promise<string> => textOf(driver, '[data-testid="page-place"]');
const shows = (page: number, words: string) =>
  eventually(driver, words, () =>
    driver.executeScript<boolean>(
      `return document.querySelector('[data-page="${page}"]')?.textContent.includes(arguments[0])`,
      words,
    ),
  );

describe('the viewer', () => {
  it('shows continuous pages, goes through them and zooms', async () => {
    await driver.get(`${servers.gaveta}/reports/season-ledger?region_name=Ilha+de+Pedra`);
    await eventually(driver, 'the end of the run', async () => /Page 1 of \d+/.test(await place()));
    const count = Number((await place()).match(/of (\d+)/)![1]);
    await shows(1, 'Ilha de Pedra');
    await (await button(driver, 'Next page')).click();
    await eventually(driver, 'page 2', async () => (await place()) === `Page 2 of ${count}`);
    await shows(2, `Page 2 of ${count}`);
    const width = async (): Promise<number> => (await (await find(driver, '[data-page]')).getRect()).width;
    const before = await width();
    await (await button(driver, 'Zoom in')).click();
    await eventually(driver, 'a larger page', async () => (await width()) > before * 1.1);
    await driver.executeScript(`document.querySelector('main').scrollTop = 1e9`);
    await eventually(driver, 'the last page', async () => (await place()) === `Page ${count} of ${count}`);
    await shows(count, `Page ${count} of ${count}`);
  });

  it('takes parameters in chips, keeps them in the address, and says which value is wrong', async () => {
    await driver.get(`${servers.gaveta}/reports/season-ledger?region_name=Ilha+de+Pedra`);
    await (await button(driver, 'Season 2025')).click();
    const box = await find(driver, 'input[aria-label="Season"]');
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), '2024', Key.ENTER);
    await shows(1, 'Season 2024, Ilha de Pedra');
    expect(await driver.getCurrentUrl()).toContain('season=2024');
    await driver.get(`${servers.gaveta}/reports/season-ledger?season=soon`);
    await eventually(driver, 'the reason', async () =>
      (await textOf(driver, 'main')).includes('“soon” is not a value for “Season”. Expected a number'),
    );
  });

  it('puts all pages, or those that are named, into the print, and takes them out again', async () => {
    await driver.get(`${servers.gaveta}/reports/warden-roster`);
    await eventually(driver, 'the end of the run', async () => (await place()) === 'Page 1 of 8');
    await driver.executeScript(
      `window.print = () => { window.printed = document.querySelectorAll('#print-root svg').length; window.dispatchEvent(new Event('afterprint')); }`,
    );
    await (await button(driver, 'Print')).click();
    await (await button(driver, 'Print 8 pages')).click();
    await eventually(driver, 'the print', () => driver.executeScript<boolean>('return window.printed === 8'));
    // The browser’s own key opens it as well.
    await press(driver, Key.CONTROL, 'p');
    await (await find(driver, '[role="dialog"] label:last-of-type input')).click();
    const numbers = await find(driver, 'input[aria-label="Pages to print"]');
    await numbers.sendKeys('9');
    await eventually(driver, 'what is wrong', async () =>
      (await textOf(driver, '[role="dialog"] [role="alert"]')).includes('from 1 to 8'),
    );
    await numbers.sendKeys(Key.BACK_SPACE, '2-3, 5', Key.ENTER);
    await eventually(driver, 'the pages', () => driver.executeScript<boolean>('return window.printed === 3'));
    expect(await driver.findElements(By.css('#print-root'))).toHaveLength(0);
  });

  it('leads from what is wrong to the item that it is about, and says there what to do', async () => {
    const [huts] = HUTS.body;
    const wrong = { ...huts!.detail.items[0], id: 'wrong', formula: 'altitud' };
    const set = { ...huts, detail: { ...huts!.detail, height: 60 }, footer: { height: 10, items: [wrong] } };
    await driver.get(`${servers.gaveta}/reports/${await store({ ...HUTS, name: 'Wrong', body: [set] })}`);
    await eventually(driver, 'the end of the run', async () => / of 6$/.test(await place()));
    await (await button(driver, '1 problem')).click();
    await (await button(driver, 'Show on the page')).click();
    const words = await find(driver, '[data-testid="pointed-words"]');
    expect(await words.getText()).toContain('“altitud” is not a field');
    // It stands on the last page, which had not been loaded.
    expect(await place()).toBe('Page 6 of 6');
    await press(driver, Key.ESCAPE);
    await eventually(
      driver,
      'no words',
      async () => (await driver.findElements(By.css('[data-testid="pointed-words"]'))).length === 0,
    );
    const shown = await find(driver, 'main [data-item="wrong"]');
    await driver.actions().move({ origin: shown }).perform();
    await eventually(driver, 'the words', async () => (await textOf(driver, '[role="tooltip"]')).includes('altitud'));
  });

  it('goes on when the host’s token runs out', async () => {
    await driver.get(`${servers.hasty}/?as=ines&report=warden-roster`);
    await driver.switchTo().frame(await find(driver, 'iframe'));
    await shows(1, 'Alminhas');
    // Until the server itself says that the first token is no longer good.
    await driver.switchTo().defaultContent();
    const token = await driver.executeScript<string>(`return (await (await fetch('/token?as=ines')).json()).token`);
    await eventually(
      driver,
      'the expiry',
      async () =>
        (await fetch(`${servers.gaveta}/api/session`, { headers: { Authorization: `Bearer ${token}` } })).status ===
        401,
    );
    await driver.switchTo().frame(await find(driver, 'iframe'));
    await (await button(driver, 'Edit report')).click();
    await eventually(driver, 'the live page', async () =>
      (await textOf(driver, '[data-testid="live-state"]')).includes('laid out in'),
    );
    await driver.switchTo().defaultContent();
  });
});

describe('what a run offers', () => {
  it('an outline to go through, and what it did', async () => {
    await driver.get(`${servers.gaveta}/reports/season-ledger?region_name=Ilha+de+Pedra`);
    await eventually(driver, 'the end of the run', async () => /Page 1 of \d+/.test(await place()));
    const entry = await driver.findElement(
      By.xpath(`//nav[@aria-label="Outline, pages and matches"]//button[contains(., "Sino Quebrado")]`),
    );
    const page = Number((await entry.getText()).match(/\d+$/)![0]);
    expect(page).toBeGreaterThan(5);
    await entry.click();
    await eventually(driver, 'the page of the heading', async () => (await place()).startsWith(`Page ${page} of`));
    await shows(page, 'Sino Quebrado');
    await (await button(driver, 'Hide the outline and pages')).click();
    expect(await driver.findElements(By.css('nav[aria-label="Outline, pages and matches"]'))).toEqual([]);
    await driver.findElement(By.xpath(`//button[contains(., 'rows in')]`)).click();
    const profile = await eventually(driver, 'the profile', async () => {
      const text = await textOf(driver, '[role="dialog"]');
      return text.includes('Queries') && text;
    });
    expect(profile).toMatch(/charge\s+Season ledger\s+[\d,]+ rows in \d+ ms/);
    await driver.findElement(By.xpath(`//summary[contains(., 'charge')]`)).click();
    expect(await textOf(driver, '[role="dialog"] details[open] pre')).toContain('with l0_0 as');
  });

  it('links to places in it, and to other reports with values', async () => {
    const text = (id: string, y: number, content: unknown, more: object) => ({
      kind: 'text',
      id,
      x: 0,
      y,
      width: 80,
      height: 5,
      content: [content],
      ...more,
    });
    const definition = {
      gaveta: 2,
      name: 'Links',
      model: 'cumeeira',
      header: {
        height: 20,
        items: [
          text('a', 0, 'to the last hut', { link: { anchor: '"Três Irmãos"' } }),
          text('b', 8, 'to the tags', {
            link: { report: 'bunk-tags', parameters: { hut_name: '"Alminhas"', from: 'DATE(2025;7;1)' } },
          }),
        ],
      },
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          sort: [{ by: 'name' }],
          detail: { height: 60, items: [text('n', 0, { formula: 'name' }, { anchor: 'name' })] },
        },
      ],
    };
    const id = await driver.executeAsyncScript<string>(
      `const [definition, done] = arguments;
       fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition }) })
         .then((r) => r.json()).then((r) => done(r.id))`,
      definition,
    );
    await driver.get(`${servers.gaveta}/reports/${id}`);
    await eventually(driver, 'the end of the run', async () => /Page 1 of \d+/.test(await place()));
    const click = (item: string) =>
      driver.executeScript(
        `document.querySelector('a[data-link] [data-item="${item}"]').dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))`,
      );
    await find(driver, 'a[data-link]');
    await click('a');
    await eventually(driver, 'the anchor’s page', async () => /Page [5-9] of/.test(await place()));
    await driver.executeScript(`document.querySelector('main').scrollTo(0, 0)`);
    await find(driver, '[data-page="1"] a[data-link]');
    await click('b');
    await eventually(driver, 'the other report', async () =>
      decodeURIComponent(await driver.getCurrentUrl()).endsWith('/reports/bunk-tags?from=2025-07-01&hut_name=Alminhas'),
    );
    await shows(1, 'Alminhas');
  });
});

describe('one layout', () => {
  /** Words and places of every text on each page, in the order of the page. */
  const marksOf = (root: string) =>
    driver.executeScript<string[]>(
      `return [...document.querySelectorAll(arguments[0])].map((svg) =>
         [...svg.querySelectorAll('text,rect:not([data-band]),line')].map((t) => [t.tagName, ...['x', 'y', 'x1', 'y1', 'width', 'height', 'font-size', 'fill', 'transform'].map((a) => t.getAttribute(a)), t.textContent].join(' ')).join('\\n'))`,
      root,
    );
  it.each([
    'inspection-watchlist',
    'warden-roster',
  ])('gives the same pages of %s in the worker and on the server', async (id) => {
    await visit(`/reports/${id}/design`);
    await eventually(driver, 'the live page', async () =>
      driver.executeScript<boolean>(
        `return document.querySelector('[data-testid="live-state"]')?.dataset.whole !== undefined`,
      ),
    );
    const live = await marksOf('.live-pages svg');
    await driver.get(`${servers.gaveta}/reports/${id}`);
    await eventually(driver, 'the end of the run', async () => /of \d+/.test(await place()));
    for (const [i, page] of live.entries()) {
      if (i > 0) await (await button(driver, 'Next page')).click();
      await find(driver, `[data-page="${i + 1}"] text`);
      const [served] = await eventually(driver, `page ${i + 1}`, async () => {
        const found = await marksOf(`[data-page="${i + 1}"] svg`);
        return found[0]?.split('\n').length === page.split('\n').length && found;
      });
      expect(served).toBe(page);
    }
    expect(live.length).toBeGreaterThan(1);
  });

  it('keeps every space of words that are written in different ways, and lists the headings with their pages', async () => {
    await visit('/reports/hut-handbook');
    const lost = await eventually(driver, 'the notice of a hut', () =>
      driver.executeScript<string[] | null>(
        `const texts = [...document.querySelectorAll('svg text')];
         if (!texts.some((text) => text.textContent.startsWith('closed by'))) return null;
         return texts.filter((text) => text.getNumberOfChars() !== text.textContent.length).map((text) => text.textContent);`,
      ),
    );
    expect(lost).toEqual([]);
    // A line of the contents leads to the page that it names, which is known when all pages are there.
    await eventually(driver, 'the numbers of pages', async () => (await place()) === 'Page 1 of 25');
    await eventually(driver, 'the number of the line', () =>
      driver.executeScript<boolean>(
        `return [...document.querySelectorAll('text[data-item="contents"]')].some(({ textContent }) => textContent === '8')`,
      ),
    );
    await (await driver.findElements(By.css('[data-link*="contents entry 9"]'))).at(-1)!.click();
    await eventually(driver, 'the page of the hut', async () =>
      (await textOf(driver, '[data-testid="page-place"]')).includes('Page 8 of 25'),
    );
  });
});
