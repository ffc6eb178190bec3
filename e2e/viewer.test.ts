import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, openBrowser, textOf, type WebDriver } from './browser.ts';
import { type Servers, startServers } from './servers.ts';

let servers: Servers;
let driver: WebDriver;

beforeAll(async () => {
  // Tokens that run out while the test goes on.
  servers = await startServers(3);
  ({ driver } = await openBrowser());
  await driver.get(`${servers.gaveta}/demo/sign-in`);
});
afterAll(async () => {
  await driver?.quit();
  await servers?.close();
});

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
    await (await button(driver, 'Season 2024')).click();
    await (await find(driver, 'input[aria-label="Season"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'soon', Key.ENTER);
    await eventually(driver, 'the reason', async () =>
      (await textOf(driver, 'main')).includes('“soon” is not a value for “Season”. Expected a number'),
    );
  });

  it('puts all pages into the print, and takes them out again', async () => {
    await driver.get(`${servers.gaveta}/reports/warden-roster`);
    await eventually(driver, 'the end of the run', async () => (await place()) === 'Page 1 of 9');
    await driver.executeScript(
      `window.print = () => { window.printed = document.querySelectorAll('#print-root svg').length; window.dispatchEvent(new Event('afterprint')); }`,
    );
    await (await button(driver, 'Print')).click();
    await eventually(driver, 'the print', () => driver.executeScript<boolean>('return window.printed === 9'));
    expect(await driver.findElements(By.css('#print-root'))).toHaveLength(0);
  });

  it('goes on when the host’s token runs out', async () => {
    await driver.get(`${servers.office}/?as=ines&report=warden-roster`);
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
    await (await button(driver, 'Change report')).click();
    await eventually(driver, 'the live page', async () =>
      (await textOf(driver, '[data-testid="live-state"]')).includes('laid out in'),
    );
    await driver.switchTo().defaultContent();
  });
});

describe('nobody is kept out', () => {
  const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
  it.each([
    ['the list of reports', '/', 'main a'],
    ['the viewer', '/reports/warden-roster', '[data-page] text'],
    ['the designer', '/reports/warden-roster/design', '[data-live-page] text'],
  ])('no violations found on %s', async (_name, path, ready) => {
    await driver.get(`${servers.gaveta}${path}`);
    await find(driver, ready);
    await driver.executeScript(axe);
    const violations = await driver.executeAsyncScript<{ id: string; nodes: { html: string }[] }[]>(
      `const done = arguments[0]; axe.run(document, { exclude: ['svg'] }).then((r) => done(r.violations.map((v) => ({ id: v.id, nodes: v.nodes.map((n) => ({ html: n.html.slice(0, 160) })) }))))`,
    );
    expect(violations).toEqual([]);
  });
});
