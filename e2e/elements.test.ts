import { existsSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { describe, expect, inject, it } from 'vitest';
import { By, button, eventually, find, Key, textOf } from './browser.ts';
import { downloads, driver, servers, store, useSession } from './session.ts';

useSession();

interface Told {
  kind: string;
  detail: Record<string, unknown>;
}

const EVENTS = [
  'opened',
  'run-started',
  'run-ended',
  'page-count',
  'page-shown',
  'parameters-changed',
  'exported',
  'saved',
  'unsaved',
  'connection',
  'action',
  'close',
  'error',
];

/** A page of the office, of another origin than Gaveta's, with what the test puts there. */
const hostPage = async (html: string, style = ''): Promise<void> => {
  await driver.switchTo().defaultContent();
  await driver.get(`${servers.office}/token?as=ines`);
  await driver.executeScript(
    `window.told = [];
     for (const kind of ${JSON.stringify(EVENTS)}) addEventListener(kind, (e) => { if (e.detail !== undefined) told.push({ kind, detail: e.detail }); });
     document.head.innerHTML = '<style>body { margin: 20px; font: 15px serif }' + arguments[1] + '</style>';
     document.body.innerHTML = arguments[0];
     const script = document.createElement('script');
     script.type = 'module';
     script.src = arguments[2];
     document.head.append(script);`,
    html,
    style,
    `${servers.gaveta}/embed.js`,
  );
};
const told = (kind: string): Promise<Told[]> =>
  driver.executeScript<Told[]>('return told.filter(({ kind }) => kind === arguments[0])', kind);
const toldOf = (kind: string, least = 1): Promise<Told> =>
  eventually(driver, `the event ${kind}`, async () => {
    const all = await told(kind);
    return all.length >= least && all.at(-1)!;
  });
/** Calls a method of the element; gives what it gave, or what it was refused with. */
const ask = <T>(method: string, ...given: unknown[]): Promise<T> =>
  driver.executeAsyncScript<T>(
    `const done = arguments[arguments.length - 1];
     const element = document.querySelector('[report], gaveta-library');
     element[arguments[0]](...arguments[1]).then(
       async (value) => done(value instanceof Blob ? { name: value.name, type: value.type, text: (await value.text()).slice(0, 400) } : value ?? null),
       (error) => done({ code: error.code, message: error.message }));`,
    method,
    given,
  );
const inFrame = async <T>(act: () => Promise<T>): Promise<T> => {
  await driver.switchTo().frame(await find(driver, 'iframe'));
  const found = await act();
  await driver.switchTo().defaultContent();
  return found;
};
/** One region’s: the whole ledger has hundreds of pages. */
const LEDGER = `report="season-ledger" parameters='{"season": 2025, "region_name": "Ilha de Pedra"}'`;
const viewer = (attributes = '', shows = LEDGER) =>
  `<button id="before">Before</button>
   <gaveta-viewer ${shows} token-url="/token?as=ines" style="height: 600px" ${attributes}></gaveta-viewer>
   <button id="after">After</button>`;
const BOARD_DAY = 'report="board-day"';

describe('a viewer in a page of another origin', () => {
  it('tells what happens in it, and does what the page asks', async () => {
    await hostPage(viewer());
    expect((await toldOf('opened')).detail).toEqual({ report: 'season-ledger', screen: 'viewer' });
    const { detail } = await toldOf('run-ended');
    expect(detail).toMatchObject({ report: 'season-ledger', status: 'done', problems: 0 });
    const pages = detail.pages as number;
    expect(pages).toBeGreaterThan(2);
    expect((await toldOf('page-count')).detail.pages).toBe(pages);

    expect(await ask('goTo', pages)).toBe(true);
    await eventually(driver, 'the last page', async () =>
      (await told('page-shown')).some((e) => e.detail.page === pages),
    );
    expect(await ask('goTo', pages + 1)).toBe(false);
    const found = await ask<{ count: number; pages: number[] }>('find', 'ILHA DE PEDRA');
    expect(found.count).toBeGreaterThan(0);
    expect(found.pages[0]).toBeGreaterThan(0);
    expect(await ask('find', 'no such words anywhere')).toEqual({ count: 0, pages: [] });

    const file = await ask<{ name: string; type: string; text: string }>('export', 'csv', {
      options: { separator: 'tab' },
    });
    expect(file).toMatchObject({ type: expect.stringContaining('csv') });
    expect(file.text.split('\n')[0]).toContain('\t');
    expect((await toldOf('exported')).detail).toMatchObject({ format: 'csv', name: file.name });

    const runs = (await told('run-ended')).length;
    expect(await ask('setParameters', { season: 2024, region_name: 'Ilha de Pedra' })).toBeNull();
    await toldOf('run-ended', runs + 1);
    expect((await told('parameters-changed')).at(-1)!.detail.values).toMatchObject({ season: '2024' });
    expect(await ask('setParameters', { seson: 2024 })).toMatchObject({
      code: 'unknown-parameter',
      message: expect.stringContaining('season'),
    });
    expect(await ask('setParameters', { season: 'soon' })).toMatchObject({ code: 'wrong-parameter' });
    expect(await ask('export', 'parquet')).toMatchObject({ code: 'unknown-output' });
  });

  it('has the look of the page, read live, and the parts and words that the page wants', async () => {
    await hostPage(
      viewer('hide="print outline title find"'),
      'gaveta-viewer { --gaveta-action: rgb(122, 31, 92); --gaveta-font: serif }',
    );
    await toldOf('run-ended');
    await driver.executeScript(
      `const viewer = document.querySelector('gaveta-viewer');
       viewer.words = { 'export.title': 'Take away' };
       viewer.actions = [{ id: 'mail', label: 'Mail it', onPress: (pressed) => { window.pressed = pressed; } }];`,
    );
    const look = () =>
      inFrame(async () => {
        const shown = await button(driver, 'Take away');
        return {
          color: await shown.getCssValue('background-color'),
          family: await shown.getCssValue('font-family'),
        };
      });
    expect(await look()).toMatchObject({ color: expect.stringContaining('122, 31, 92'), family: 'serif' });
    const header = await inFrame(() => textOf(driver, 'header'));
    expect(header).not.toContain('Print');
    expect(header).not.toContain('Season ledger');
    expect(await inFrame(() => driver.findElements(By.css('button[aria-label="Find"]')))).toEqual([]);
    await driver.executeScript(
      `document.querySelector('gaveta-viewer').style.setProperty('--gaveta-action', 'rgb(20, 40, 160)')`,
    );
    await eventually(driver, 'the new colour', async () => (await look()).color.includes('20, 40, 160'));
    await inFrame(async () => (await button(driver, 'Mail it')).click());
    await eventually(driver, 'the press', () => driver.executeScript<boolean>('return window.pressed?.id === "mail"'));
    expect(await driver.executeScript('return pressed')).toMatchObject({ report: 'season-ledger', page: 1 });
  });

  it('is as high as what it shows, lets the keyboard in and out, and does not move the page', async () => {
    await hostPage(viewer('height="auto"', BOARD_DAY), '');
    await toldOf('run-ended');
    const height = await eventually(driver, 'the height', async () => {
      const found = await driver.executeScript<number>(`return document.querySelector('iframe').offsetHeight`);
      return found > 700 && found;
    });
    await inFrame(async () => {
      const hidden = await driver.executeScript<number>(
        `const main = document.querySelector('main'); return main.scrollHeight - main.clientHeight`,
      );
      expect(Math.abs(hidden)).toBeLessThan(4);
    });
    expect(height).toBeLessThan(3000);
    expect(await driver.executeScript('return scrollY')).toBe(0);
    const focused = (what: string) =>
      eventually(driver, what, () =>
        driver.executeScript<boolean>(
          'const now = document.activeElement; return now.id === arguments[0] || now.tagName === arguments[0]',
          what,
        ),
      );
    await driver.executeScript(`document.querySelector('#before').focus()`);
    await driver.actions().sendKeys(Key.TAB).perform();
    await focused('IFRAME');
    await driver.actions().keyDown(Key.SHIFT).sendKeys(Key.TAB).keyUp(Key.SHIFT).perform();
    await focused('before');
  });

  it('opens over the page and in a window of its own, each with a way back', async () => {
    await hostPage(viewer());
    await toldOf('run-ended');
    await driver.executeScript(`document.querySelector('gaveta-viewer').openAs('panel')`);
    const rect = await (await find(driver, 'iframe')).getRect();
    expect(rect.height).toBeGreaterThan(600);
    await (await find(driver, 'button[aria-label="Close"]')).click();
    await toldOf('close');
    expect(await driver.executeScript(`return document.querySelector('gaveta-viewer').matches(':popover-open')`)).toBe(
      false,
    );
    expect((await told('run-started')).length).toBe(1);

    const own = await driver.getWindowHandle();
    await driver.executeScript(`document.querySelector('gaveta-viewer').openAs('window')`);
    await toldOf('run-ended', 2);
    const other = (await driver.getAllWindowHandles()).find((handle) => handle !== own)!;
    await driver.switchTo().window(other);
    await eventually(
      driver,
      'the pages',
      async () => (await driver.findElements(By.css('[data-page="1"] text'))).length > 0,
    );
    await driver.close();
    await driver.switchTo().window(own);
    await toldOf('run-ended', 3);
    expect(await driver.findElements(By.css('gaveta-viewer iframe'))).toHaveLength(1);
  });
});

it('speaks the language that the page asks for, and runs all the same', async () => {
  await hostPage(viewer('language="pt-PT"', BOARD_DAY));
  expect((await toldOf('run-ended')).detail).toMatchObject({ status: 'done' });
  expect(await inFrame(() => textOf(driver, 'header'))).toContain('Exportar');
  expect((await told('parameters-changed')).at(-1)!.detail.values).not.toHaveProperty('language');
  expect(await told('error')).toEqual([]);
});

it('speaks a language that the page brings, written from right to left, and goes back', async () => {
  await hostPage(`<gaveta-viewer report="board-day" token-url="/token?as=ines" style="height: 700px"></gaveta-viewer>`);
  await toldOf('run-ended');
  const say = (words: object) =>
    driver.executeScript(`document.querySelector('gaveta-viewer').words = arguments[0]`, words);
  const page = () =>
    driver.executeScript<[string, string]>(`return [document.documentElement.lang, document.documentElement.dir]`);
  await say({ $language: 'ar', $direction: 'rtl', 'export.title': 'تصدير', 'viewer.print': 'طباعة' });
  await inFrame(async () => {
    const out = await button(driver, 'تصدير');
    expect(await page()).toEqual(['ar', 'rtl']);
    // The end of the strip is its left.
    expect((await out.getRect()).x).toBeLessThan(200);
    // A page stays as it was laid out: its title begins at its left edge.
    const title = await find(driver, '.page-paper svg text');
    expect(await title.getCssValue('direction')).toBe('ltr');
    const [left, paper] = [(await title.getRect()).x, (await (await find(driver, '.page-paper')).getRect()).x];
    expect(left - paper).toBeGreaterThan(20);
    expect(left - paper).toBeLessThan(100);
  });
  await say({});
  await inFrame(async () => {
    await button(driver, 'Export');
    expect(await page()).toEqual(['en', 'ltr']);
  });
});

it('several on one page stand side by side and fetch their scripts once', async () => {
  await hostPage(
    [LEDGER, 'report="warden-roster"', BOARD_DAY]
      .map((shows) => `<gaveta-viewer ${shows} token-url="/token?as=ines" style="height: 300px"></gaveta-viewer>`)
      .join(''),
  );
  await toldOf('run-ended', 3);
  expect(new Set((await told('run-ended')).map((e) => e.detail.report))).toEqual(
    new Set(['season-ledger', 'warden-roster', 'board-day']),
  );
  // Bytes that came over the wire for the application's first script, in each of the frames.
  const fetched: number[] = [];
  for (const frame of await driver.findElements(By.css('iframe'))) {
    await driver.switchTo().frame(frame);
    fetched.push(
      await driver.executeScript<number>(
        `return performance.getEntriesByType('resource').find(({ name }) => /assets\\/index-.*js$/.test(name)).transferSize`,
      ),
    );
    await driver.switchTo().defaultContent();
  }
  expect(fetched).toHaveLength(3);
  expect(fetched.filter((bytes) => bytes > 0).length).toBeLessThanOrEqual(1);
});

it('stands as a block, unless it is hidden or the page’s style says otherwise', async () => {
  await hostPage(`<style>.away { display: none }</style>
    <gaveta-viewer id="shown" report="board-day" token-url="/token?as=ines"></gaveta-viewer>
    <gaveta-viewer id="hidden" hidden report="board-day" token-url="/token?as=ines"></gaveta-viewer>
    <gaveta-export-button id="button" hidden report="board-day" token-url="/token?as=ines">PDF</gaveta-export-button>
    <gaveta-library id="away" class="away" token-url="/token?as=ines"></gaveta-library>`);
  await toldOf('opened');
  const shown = await driver.executeScript(
    `return ['shown', 'hidden', 'button', 'away'].map((id) => getComputedStyle(document.getElementById(id)).display)`,
  );
  expect(shown).toEqual(['block', 'none', 'none', 'none']);
});

it('a button makes a file of a report that is nowhere shown', async () => {
  await hostPage(
    `<gaveta-export-button report="board-day" format="pdf" token-url="/token?as=ines">Board day as PDF</gaveta-export-button>`,
  );
  const label = await find(driver, 'gaveta-export-button');
  await eventually(driver, 'the element', () =>
    driver.executeScript<boolean>('return !!arguments[0].shadowRoot', label),
  );
  await label.click();
  const file = join(downloads, 'Board day.pdf');
  await eventually(driver, 'the file', async () => existsSync(file));
});

it('a designer tells of work that is not saved, saves it when the page asks, and leaves out what the page hides', async () => {
  await driver.switchTo().defaultContent();
  await driver.get(servers.gaveta);
  const id = await store({ gaveta: 2, name: 'Of the page' });
  await hostPage(
    `<gaveta-designer report="${id}" token-url="/token?as=ines" hide="export revisions" style="height: 700px"></gaveta-designer>`,
  );
  expect((await toldOf('opened')).detail).toEqual({ report: id, screen: 'designer' });
  await inFrame(async () => {
    const name = await find(driver, 'input[value="Of the page"]');
    await name.sendKeys(Key.END, ', changed', Key.TAB);
    expect(await driver.findElements(By.css('[aria-label="Run and export"]'))).toEqual([]);
  });
  await eventually(driver, 'unsaved work', async () =>
    (await told('unsaved')).some(({ detail }) => detail.report === id && detail.isUnsaved === true),
  );
  expect(await driver.executeScript(`return document.querySelector('gaveta-designer').isUnsaved`)).toBe(true);
  expect(await ask('save', 'A longer name')).toBeNull();
  expect((await toldOf('saved')).detail).toEqual({ report: id, revision: 2 });
  await eventually(driver, 'nothing unsaved', async () => (await told('unsaved')).at(-1)!.detail.isUnsaved === false);
});

it('the list of reports opens one, with a way back', async () => {
  await hostPage(`<gaveta-library token-url="/token?as=ines" style="height: 600px"></gaveta-library>`);
  expect((await toldOf('opened')).detail).toEqual({ report: null, screen: 'library' });
  await inFrame(async () => (await find(driver, 'a[href$="/reports/warden-roster"]')).click());
  await eventually(driver, 'the report', async () =>
    (await told('opened')).some((e) => e.detail.report === 'warden-roster' && e.detail.screen === 'viewer'),
  );
  await inFrame(async () => (await button(driver, 'Reports')).click());
  await toldOf('opened', 3);
  expect((await told('opened')).at(-1)!.detail.screen).toBe('library');
});

it('a page whose policy allows what the documentation asks for, and nothing else, shows it', async () => {
  await driver.switchTo().defaultContent();
  await driver.manage().logs().get('browser');
  await driver.get(servers.strict);
  await driver.executeScript(
    `window.pages = 0; addEventListener('page-count', (e) => { window.pages = e.detail.pages; });`,
  );
  await eventually(driver, 'the pages', () => driver.executeScript<boolean>('return window.pages > 0'));
  const color = await inFrame(async () => (await button(driver, 'Export')).getCssValue('background-color'));
  expect(color).toContain('122, 31, 92');
  const files = (): number =>
    existsSync(downloads) ? readdirSync(downloads).filter((name) => name.endsWith('.pdf')).length : 0;
  const before = files();
  await (await find(driver, 'gaveta-export-button')).click();
  await eventually(driver, 'the file', async () => files() > before);
  const complaints = (await driver.manage().logs().get('browser')).map(({ message }) => message);
  expect(complaints.filter((message) => /Content Security Policy|violates/.test(message))).toEqual([]);
});

it('a lost connection is said on the page and to the host, and mended by itself', async () => {
  await hostPage(viewer('', BOARD_DAY));
  await toldOf('run-ended');
  /** The frame's way to the server, cut and joined again. */
  const network = (isCut: boolean) =>
    inFrame(() =>
      driver.executeScript(
        `window.uncut ??= window.fetch;
         window.fetch = arguments[0] ? () => Promise.reject(new TypeError('Failed to fetch')) : window.uncut;`,
        isCut,
      ),
    );
  await network(true);
  try {
    expect(await ask('export', 'csv')).toMatchObject({ code: 'network' });
    expect((await toldOf('connection')).detail).toEqual({ isOnline: false });
    expect(await inFrame(() => textOf(driver, '[role=alert]'))).toContain('The connection to Gaveta’s server is lost');
  } finally {
    await network(false);
  }
  expect((await toldOf('connection', 2)).detail).toEqual({ isOnline: true });
  expect(await ask('export', 'csv')).toMatchObject({ type: expect.stringContaining('csv') });
});

it('a page from a file shows it too', async () => {
  const { token } = (await (await fetch(`${servers.office}/token?as=ines`)).json()) as { token: string };
  const file = join(mkdtempSync(join(tmpdir(), 'gaveta-page-')), 'page.html');
  writeFileSync(
    file,
    `<!doctype html><title>A file</title>
     <script type="module" src="${servers.gaveta}/embed.js"></script>
     <gaveta-viewer report="board-day" style="height: 90vh"></gaveta-viewer>
     <script>
       // Before the element is known: it is kept.
       document.querySelector('gaveta-viewer').fetchToken = async () => '${token}';
       addEventListener('page-count', (e) => { document.title = 'pages: ' + e.detail.pages; });
     </script>`,
  );
  await driver.get(pathToFileURL(file).href);
  await eventually(driver, 'the pages', async () => (await driver.getTitle()) === 'pages: 2');
});

describe('what an integrator may get wrong', () => {
  it('is said on the page and in an event, with the line to change', async () => {
    const wrong: [string, string, string][] = [
      [`token-url="/no-such-address"`, 'no-token', 'answered 404 instead of a token'],
      [`token-url="/"`, 'no-token', 'It must answer { "token": "…" }'],
      [`token-url="/token?as=ines" server="http://localhost:9/"`, 'server-away', 'Check that it runs there, its port'],
      [`token-url="/token?as=ines" parameters="season=2025"`, 'wrong-parameters', 'Write it as parameters='],
      [`token-url="/token?as=ines" parameters='{"seson": 2025}'`, 'unknown-parameter', 'season'],
      [`token-url="/token?as=ines" parameters='{"season": "soon"}'`, 'wrong-parameter', 'Season'],
    ];
    for (const [attributes, code, words] of wrong) {
      await hostPage(`<gaveta-viewer report="season-ledger" style="height: 300px" ${attributes}></gaveta-viewer>`);
      const { detail } = await eventually(driver, code, async () =>
        (await told('error')).find((e) => e.detail.code === code),
      );
      expect(detail.detail).toContain(words);
    }
    await hostPage(`<gaveta-viewer ${LEDGER} style="height: 300px"></gaveta-viewer>`);
    await driver.executeScript(
      `document.querySelector('gaveta-viewer').fetchToken = async () => arguments[0]`,
      inject('strangeToken'),
    );
    expect(
      await inFrame(() =>
        eventually(driver, 'the words', async () => {
          const text = await textOf(driver, '#root');
          return text.includes('Give signToken and createGaveta the same') && text;
        }),
      ),
    ).toContain('Token not accepted');
    expect((await toldOf('error')).detail).toMatchObject({ code: 'token-invalid' });
  });
});
