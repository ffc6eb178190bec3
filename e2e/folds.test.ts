import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, settled, textOf } from './browser.ts';
import { chooseFormat } from './parts.ts';
import { choose, driver, HUTS, liveHas, liveText, openNew, servers, store, useSession, visit } from './session.ts';

useSession();

/** Huts by region. */
const GROUPED = {
  ...HUTS,
  body: [
    {
      ...HUTS.body[0]!,
      groups: [
        {
          name: 'region_name',
          by: 'region.name',
          header: {
            height: 8,
            items: [{ kind: 'field', id: 'gh', x: 0, y: 1, width: 60, height: 6, formula: 'region_name' }],
          },
        },
      ],
    },
  ],
};

const place = (): Promise<string> => textOf(driver, '[data-testid="page-place"]');
const runOf = async (address: string): Promise<void> => {
  await driver.get(`${servers.gaveta}${address}`);
  await isDone();
};
const isDone = (): Promise<boolean> =>
  eventually(driver, 'the end of the run', async () => / of \d/.test(await place()));

const SIGN = (label: string, within = '[data-page]') => `${within} [data-fold][role="button"][aria-label^="${label}"]`;
const isOpen = (label: string, open: boolean, within?: string): Promise<boolean> =>
  eventually(
    driver,
    `${label} to be ${open ? 'open' : 'closed'}`,
    async () => (await (await find(driver, SIGN(label, within))).getAttribute('aria-expanded')) === String(open),
  );
const words = (): Promise<string> =>
  driver.executeScript<string>(
    `return [...document.querySelectorAll('[data-page]')].map((p) => p.textContent).join(' ')`,
  );
const item = async (name: string): Promise<void> =>
  (await driver.findElement(By.xpath(`//*[@role="menuitem"][normalize-space()="${name}"]`))).click();

describe('a reader', () => {
  it('closes and opens parts of the ledger where they are, by pointer and by key', async () => {
    await runOf('/reports/season-ledger?region_name=Ilha+de+Pedra');
    const before = await place();
    const top = async (label: string): Promise<number> =>
      driver.executeScript<number>(
        `return document.querySelector(arguments[0]).getBoundingClientRect().top`,
        SIGN(label),
      );
    await isOpen('Bico da Garça', true);
    await driver.executeScript(
      'document.querySelector(arguments[0]).scrollIntoView({ block: "center" })',
      SIGN('Bico da Garça'),
    );
    const at = await top('Bico da Garça');
    await (await find(driver, SIGN('Bico da Garça'))).click();
    await isOpen('Bico da Garça', false);
    expect(Math.abs((await top('Bico da Garça')) - at)).toBeLessThan(2);
    await isDone();
    expect(await place()).not.toBe(before);
    // The hut below follows at once, and the outline as well.
    expect(await words()).toContain('Cabeço do Ouro');
    const sign = await find(driver, SIGN('Bico da Garça'));
    await driver.executeScript('arguments[0].focus()', sign);
    await press(driver, Key.ENTER);
    await isOpen('Bico da Garça', true);
    expect(await driver.executeScript<string>(`return document.activeElement.getAttribute('aria-label')`)).toContain(
      'Bico',
    );
    await isDone();
    expect(await place()).toBe(before);
  });

  it('closes all and opens all, and takes the file and the print as shown or all open', async () => {
    await runOf('/reports/season-ledger?region_name=Ilha+de+Pedra');
    const before = Number((await place()).match(/of (\d+)/)![1]);
    await (await button(driver, 'Open or close all')).click();
    await item('Close all');
    await eventually(driver, 'one page', async () => (await place()) === 'Page 1 of 1');
    expect(await words()).toContain('All regions');
    expect(await words()).not.toContain('Bico da Garça');
    await driver.executeScript(
      `window.print = () => { window.printed = document.querySelectorAll('#print-root svg').length; window.dispatchEvent(new Event('afterprint')); }`,
    );
    const printed = async (isOpen: boolean, pages: number): Promise<void> => {
      await (await button(driver, 'Print')).click();
      const panel = '[role="dialog"][aria-label="Print"]';
      const open = await find(driver, `${panel} input[type="checkbox"]`);
      if (isOpen) await open.click();
      await (await find(driver, `${panel} [type="submit"]`)).click();
      await eventually(driver, `${pages} printed`, () =>
        driver.executeScript<boolean>(`return window.printed === ${pages}`),
      );
    };
    await printed(false, 1);
    await printed(true, before);
    // Pages can be taken with everything open; rows are whole in any case.
    const openWords = By.xpath('//*[contains(@class, "panel")]//label[normalize-space()="With everything open"]');
    await chooseFormat('pdf');
    expect(await driver.findElements(openWords)).toHaveLength(1);
    await (await find(driver, '[data-output="csv"]')).click();
    expect(await driver.findElements(openWords)).toHaveLength(0);
    await press(driver, Key.ESCAPE);
    await (await button(driver, 'Open or close all')).click();
    await item('Open all');
    await eventually(driver, 'all pages', async () => (await place()).endsWith(`of ${before}`));
  });

  it('opens and closes levels of a crosstab on both axes', async () => {
    await runOf('/reports/nights-matrix');
    // The season before starts closed.
    await isOpen('2024', false);
    await isOpen('2025', true);
    await (await find(driver, SIGN('Alto Norte'))).click();
    await isOpen('Alto Norte', false);
    expect(await words()).not.toContain('Casa da Brecha');
    expect(await words()).toContain('Corga Funda');
    await (await find(driver, SIGN('2024'))).click();
    await isOpen('2024', true);
    await isOpen('Alto Norte', false);
  });

  it('follows a link into something closed, which opens', async () => {
    const [group] = GROUPED.body[0]!.groups;
    const [name] = HUTS.body[0]!.detail.items;
    const link = {
      kind: 'text',
      id: 'to',
      x: 0,
      y: 0,
      width: 60,
      height: 5,
      content: ['To the tower'],
      link: { anchor: '"Torre Caída"' },
    };
    await visit(
      `/reports/${await store({
        ...GROUPED,
        header: { height: 8, items: [link] },
        body: [
          {
            ...GROUPED.body[0]!,
            groups: [{ ...group!, fold: { closed: true } }],
            detail: { height: 60, items: [{ ...name!, anchor: 'name' }] },
          },
        ],
      })}`,
    );
    await isDone();
    expect(await words()).not.toContain('Torre Caída');
    await (await find(driver, '[data-link*="Torre Caída"]')).click();
    await eventually(driver, 'the tower in sight', () =>
      driver.executeScript<boolean>(
        `const main = document.querySelector('main').getBoundingClientRect();
         return [...document.querySelectorAll('[data-page] text')].some((text) => {
           const { top } = text.getBoundingClientRect();
           return text.textContent === 'Torre Caída' && top > main.top && top < main.bottom;
         })`,
      ),
    );
  });
});

describe('a maker', () => {
  const LIVE = '.live-pages';

  it('makes a group foldable and closed at first, and tries it on the live page', async () => {
    await openNew(GROUPED);
    await (await find(driver, '[data-drawer-line="huts"] button + button')).click();
    await settled(driver);
    await choose('Fold', 'Closed at first', '[data-section="content"]');
    await isOpen('Alto Norte', false, LIVE);
    expect(await liveText()).not.toContain('Casa da Brecha');
    await (await find(driver, SIGN('Alto Norte', LIVE))).click();
    await isOpen('Alto Norte', true, LIVE);
    await liveHas('Casa da Brecha');
    await isOpen('Encosta Sul', false, LIVE);
    await press(driver, Key.CONTROL, 'z');
    await eventually(
      driver,
      'no signs',
      async () => (await driver.findElements(By.css(`${LIVE} [data-fold]`))).length === 0,
    );
  });

  it('is told where a fold has no heading, and adds one', async () => {
    await openNew(HUTS);
    await (await find(driver, '[data-drawer-line="huts"] button + button')).click();
    await settled(driver);
    await choose('Fold', 'Open at first', '[data-section="paging"]');
    await (await find(driver, '[data-problems]')).click();
    await (await button(driver, 'Add a header')).click();
    await isOpen('Hut', true, LIVE);
  });
});
