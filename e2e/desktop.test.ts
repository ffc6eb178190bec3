import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  browserShell,
  type Desktop,
  type Shell,
  type ShellWindow,
  startDesktop,
  webkitShell,
} from '@gaveta-examples/desktop';
import { Builder, type WebDriver } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { button, eventually, find, Key, textOf } from './browser.ts';
import { type Display, openDisplay } from './display.ts';

let display: Display;
let folder: string;

beforeAll(async () => {
  display = await openDisplay();
  folder = mkdtempSync(join(tmpdir(), 'gaveta-desktop-'));
});
afterAll(() => {
  display.close();
  rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
});

/** A file with a report, as its person has it on the disk. */
const reportFile = (name: string): string => {
  const file = join(folder, `${name}.report.json`);
  writeFileSync(file, readFileSync('examples/cumeeira/reports/bunk-tags.json'));
  return file;
};

const until = <T>(what: () => T, wanted: (found: T) => boolean) =>
  expect.poll(() => wanted(what()), { timeout: 60_000, interval: 100 }).toBe(true);

/** Starts the application in a folder of its own, with the made-up rows that are packed already. */
const start = (name: string, shell: Shell, hosts: string[] = []): Promise<Desktop> => {
  const data = join(folder, name);
  cpSync('.data', join(data, 'packed'), {
    recursive: true,
    filter: (path) => path === '.data' || path.endsWith('.tar.gz'),
  });
  return startDesktop({ data, shell, hosts });
};

/** Whether a page asks its person before it is left. */
const asksToStay = (driver: WebDriver): Promise<boolean> =>
  driver.executeScript(
    `const leaving = new Event('beforeunload', { cancelable: true }); window.dispatchEvent(leaving); return leaving.defaultPrevented`,
  );

it('opens a file in a window of the machine’s browser, writes it back, and asks before it loses work', async () => {
  const profile = join(folder, 'browser-profile');
  const args = ['--no-sandbox', '--disable-gpu', '--remote-debugging-port=0'];
  const desktop = await start('browser', browserShell({ profile, args, env: display.env }));
  const file = reportFile('tags');
  let driver: WebDriver | null = null;
  try {
    desktop.open(file);
    await until(
      () => desktop.state.document,
      (id) => id !== null,
    );
    const [port] = readFileSync(join(profile, 'DevToolsActivePort'), 'utf8').split('\n');
    const options = new chrome.Options();
    options.debuggerAddress(`127.0.0.1:${port}`);
    driver = await new Builder()
      .forBrowser('chrome')
      .setChromeOptions(options)
      .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
      .build();
    expect(await driver.getTitle()).toBe('Bunk tags');
    await driver.switchTo().frame(await find(driver, 'gaveta-designer iframe'));
    await (await find(driver, 'input[value="Bunk tags"]')).sendKeys(Key.END, ' of the season', Key.TAB);
    await driver.switchTo().defaultContent();
    await until(
      () => desktop.state.isUnsaved,
      (isUnsaved) => isUnsaved,
    );
    expect(await driver.getTitle()).toContain('•');
    expect(await asksToStay(driver)).toBe(true);

    await (await button(driver, 'Save')).click();
    await until(
      () => readFileSync(file, 'utf8'),
      (text) => text.includes('"Bunk tags of the season"'),
    );
    await until(
      () => desktop.state.isUnsaved,
      (isUnsaved) => !isUnsaved,
    );
    expect(await asksToStay(driver)).toBe(false);
    await (await button(driver, 'Read')).click();
    await until(
      () => desktop.state.pages,
      (pages) => pages !== null && pages > 1,
    );
    expect(await textOf(driver, '#recent')).toContain('tags.report.json');

    // What is no report is said, and the one that is open stays.
    const wrong = join(folder, 'wrong.report.json');
    writeFileSync(wrong, '{"gaveta": 2}');
    desktop.open(wrong);
    await eventually(driver, 'what is wrong', async () => (await textOf(driver!, '#said')).includes('is no report'));
    expect(await driver.getTitle()).toBe('Bunk tags of the season');

    // Its window closes at once now, and the application hears of it.
    await driver.quit();
    driver = null;
    const [window] = display.hands('search', '--onlyvisible', '--class', 'chromium').trim().split('\n');
    display.hands('windowfocus', '--sync', window!, 'key', 'ctrl+w');
    await desktop.window.closed;
  } finally {
    await driver?.quit().catch(() => {});
    await desktop.close();
  }
});

it('reads, exports to the disk by the desktop’s own dialogue, and closes, in a window of WebKitGTK', async () => {
  const desktop = await start('webkit', webkitShell({ profile: join(folder, 'webkit-profile'), env: display.env }));
  try {
    desktop.open(reportFile('webkit'));
    await until(
      () => desktop.state.document,
      (id) => id !== null,
    );
    // “Read” stands near the right end of the menu; the element in front of it has the rest of the window.
    const read = async (): Promise<void> => {
      for (let x = 1260; x > 900 && desktop.state.pages === null; x -= 20) {
        display.hands('mousemove', String(x), '20', 'click', '1');
        await new Promise((done) => setTimeout(done, 150));
      }
    };
    await read();
    await until(
      () => desktop.state.pages,
      (pages) => pages !== null && pages > 1,
    );
    const out = join(folder, 'tags.pdf');
    const windows = (): string[] => display.hands('search', '--onlyvisible', '--class', 'gjs').trim().split('\n');
    const before = windows();
    display.hands('mousemove', '640', '20', 'click', '1', 'key', 'ctrl+e');
    await until(windows, (found) => found.length > before.length);
    const dialogue = windows().find((one) => !before.includes(one))!;
    display.hands('windowfocus', '--sync', dialogue, 'key', 'ctrl+a', 'type', out);
    display.hands('key', 'Return');
    await until(
      () => existsSync(out),
      (isThere) => isThere,
    );
    expect(readFileSync(out).subarray(0, 5).toString()).toBe('%PDF-');
  } finally {
    await desktop.close();
  }
});

it('shows a report in a page of a shell’s own scheme, and in one from a file', async () => {
  const heard: string[] = [];
  const ear = createServer((request, response) => {
    heard.push(decodeURIComponent(request.url ?? ''));
    response.setHeader('Access-Control-Allow-Origin', '*').end();
  });
  await new Promise<void>((ready) => ear.listen(0, '127.0.0.1', ready));
  const told = `http://127.0.0.1:${(ear.address() as AddressInfo).port}/`;
  const nothing: Shell = { open: () => ({ closed: new Promise(() => {}), focus: () => {}, close: () => {} }) };
  const desktop = await start('scheme', nothing, ['office:', 'file:']);
  const pages = join(folder, 'pages');
  mkdirSync(pages);
  const windows: ShellWindow[] = [];
  try {
    const { token } = (await (await fetch(`${desktop.address}token`)).json()) as { token: string };
    const opened = await fetch(`${desktop.address}documents`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ path: reportFile('scheme') }),
    });
    const { id } = (await opened.json()) as { id: string };
    writeFileSync(
      join(pages, 'index.html'),
      `<!doctype html><title>Own page</title><script type="module" src="${desktop.address}gaveta/embed.js"></script>
       <gaveta-viewer report="${id}" style="height: 90vh"></gaveta-viewer>
       <script>
         const viewer = document.querySelector('gaveta-viewer');
         viewer.fetchToken = async () => '${token}';
         for (const event of ['page-count', 'error'])
           viewer.addEventListener(event, ({ detail }) => fetch('${told}' + encodeURIComponent(location.protocol + ' ' + event + ' ' + JSON.stringify(detail))));
       </script>`,
    );
    const shell = (profile: string) =>
      webkitShell({ profile: join(folder, profile), env: display.env, scheme: { name: 'office', folder: pages } });
    for (const [address, protocol] of [
      ['office://app/index.html', 'office:'],
      [`file://${pages}/index.html`, 'file:'],
    ] as const) {
      windows.push(shell(protocol.replace(':', '')).open(address, 'Own page'));
      await until(
        () => heard.filter((one) => one.startsWith(`/${protocol} page-count`)),
        (found) => found.length > 0,
      );
      expect(heard.at(-1)).toContain(`${protocol} page-count {"report":"${id}","pages":`);
    }
  } finally {
    for (const window of windows) window.close();
    ear.close();
    await desktop.close();
  }
});
