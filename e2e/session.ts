import type { Limits } from '@gaveta/server';
import { afterAll, beforeAll, inject } from 'vitest';
import {
  type Browser,
  By,
  eventually,
  find,
  Key,
  openBrowser,
  press,
  renewBrowser,
  textOf,
  type WebDriver,
} from './browser.ts';
import type { Servers } from './servers.ts';

/** Addresses of the servers that this file's tests talk to. */
export let servers: Omit<Servers, 'close'>;
/** The browser of this file's tests. */
export let driver: WebDriver;
/** The folder that the browser puts its downloads in. */
export let downloads: string;

interface Session {
  /** Whether the file changes or needs what other files would notice, and gets servers alone: false unless told otherwise. */
  alone?: boolean;
  limits?: Partial<Limits>;
  /** Whether the library makes pictures of first pages, which takes a run each; it does not unless told otherwise. */
  firstPages?: boolean;
}

/** The browser of this process, for one file after another: to start one, and to load the application into it anew, takes seconds. */
let kept: Browser | null = null;

const browserFor = async (origins: readonly string[]): Promise<Browser> => {
  try {
    if (kept) await renewBrowser(kept, origins);
  } catch {
    // One that has come to harm is of no use to anybody.
    await kept?.close().catch(() => {});
    kept = null;
  }
  kept ??= await openBrowser(inject('chromeDriver'));
  return kept;
};

/** Gives the tests of a file a browser that is as good as new, and servers of their own unless they are shared. */
export const useSession = ({ alone = false, limits, firstPages }: Session = {}): void => {
  let closeServers: (() => Promise<void>) | undefined;
  beforeAll(async () => {
    servers = inject('shared');
    if (alone) {
      const { close, ...own } = await (await import('./servers.ts')).startServers(limits, firstPages);
      closeServers = close;
      servers = own;
    }
    ({ driver, downloads } = await browserFor(Object.values(servers)));
    await driver.get(`${servers.gaveta}/demo/sign-in`);
  });
  afterAll(async () => {
    await closeServers?.();
  });
};

/** Stores a new report, and gives its id. */
export const store = async (definition: object): Promise<string> => {
  const answer = await driver.executeScript<{ id?: string }>(
    `const body = JSON.stringify({ definition: arguments[0] });
     return (await fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body })).json()`,
    definition,
  );
  if (answer.id === undefined) throw new Error(`It was not stored: ${JSON.stringify(answer)}`);
  return answer.id;
};

/** Stores a copy of a report of the demo, since others read the demo’s own; gives its id. */
export const copyOf = async (id: string): Promise<string> => {
  const { definition } = await driver.executeScript<{ definition: { name: string } }>(
    `return (await fetch('/api/reports/' + arguments[0])).json()`,
    id,
  );
  return store({ ...definition, name: `${definition.name} (copy)` });
};

/** Waits until the live page shows the report as it is. */
export const live = (): Promise<boolean> =>
  eventually(driver, 'the live page', () =>
    driver.executeScript<boolean>(
      `return document.querySelector('[data-testid="live-state"]')?.dataset.whole !== undefined`,
    ),
  );

const GO = `
  window.screenBefore = document.querySelector('#root').firstElementChild;
  history.pushState({}, '', arguments[0]);
  dispatchEvent(new PopStateEvent('popstate', { state: {} }));`;

/**
 * Goes to a screen as a link inside the application does, by way of one that keeps nothing of the screen before: loading
 * the application anew for each address takes most of a test's time.
 */
export const visit = async (path: string): Promise<void> => {
  const isLoaded = await driver.executeScript<boolean>(`return document.querySelector('#root > *') !== null`);
  if (!isLoaded) return driver.get(`${servers.gaveta}${path}`);
  const isRevisions = (await driver.getCurrentUrl()).includes('/revisions');
  await driver.executeScript(GO, isRevisions ? '/data/connections/-' : '/reports/-/revisions');
  await eventually(driver, 'the screen before to close', () =>
    driver.executeScript<boolean>('return !window.screenBefore.isConnected'),
  );
  await driver.executeScript(GO, path);
};

/** Opens a stored report in the designer. */
export const openDesigner = async (id: string): Promise<void> => {
  await visit(`/reports/${id}/design`);
  await live();
};

/** Stores a new report and opens it in the designer; gives its id. */
export const openNew = async (definition: object): Promise<string> => {
  const id = await store(definition);
  await openDesigner(id);
  return id;
};

export const liveText = (): Promise<string> =>
  driver.executeScript<string>(
    `return [...document.querySelectorAll('.live-pages svg')].map((page) => page.textContent).join('')`,
  );

/** Waits until the live page holds these words; what it shows instead is told where it never does. */
export const liveHas = async (words: string): Promise<void> => {
  let shown = '';
  await eventually(driver, `“${words}” on the live page`, async () => {
    shown = await liveText();
    return shown.includes(words);
  }).catch((error: Error) => {
    throw new Error(`${error.message}\nIt shows: ${shown.slice(0, 500)}`);
  });
};

/** Waits until one of the texts on the live page is exactly this. */
export const liveSays = (words: string): Promise<boolean> =>
  eventually(driver, `the text “${words}” on the live page`, () =>
    driver.executeScript<boolean>(
      `return [...document.querySelectorAll('.live-pages text')].some((t) => t.textContent === arguments[0])`,
      words,
    ),
  );

/** Picks a choice of a list by its words, once it is there; `within` is a selector of where the list stands. */
export const choose = async (label: string, words: string, within = ''): Promise<void> => {
  await eventually(driver, `${label}: ${words}`, async () => {
    const isOpen = (await driver.findElements(By.css('.select-list'))).length > 0;
    if (!isOpen) await driver.findElement(By.css(`${within} [role="combobox"][aria-label="${label}"]`)).click();
    const options = By.xpath(`//*[contains(@class, "select-list")]//*[@role="option"][normalize-space()="${words}"]`);
    const [choice] = await driver.findElements(options);
    if (choice) await choice.click();
    else await press(driver, Key.ESCAPE);
    return choice !== undefined;
  });
  await eventually(
    driver,
    'the list closed',
    async () => (await driver.findElements(By.css('.select-list'))).length === 0,
  );
};

/** Waits until the state of saving has these words. */
export const saveState = (words: string): Promise<boolean> =>
  eventually(driver, words, async () => (await textOf(driver, '[data-testid="save-state"]')).includes(words));

/** Saves what is open, which has a name already. */
export const saveByKeys = async (): Promise<void> => {
  await press(driver, Key.CONTROL, 's');
  await saveState('Saved, revision 2');
};

/** Runs a command by searching for it. */
export const command = async (words: string): Promise<void> => {
  await press(driver, Key.CONTROL, 'k');
  await (await find(driver, '[cmdk-input]')).sendKeys(words, Key.ENTER);
};

/** Adds something by searching for it, as `/` offers. */
export const add = async (words: string): Promise<void> => {
  await (await find(driver, '[data-testid="board"]')).sendKeys('/');
  await (await find(driver, '[cmdk-input]')).sendKeys(words, Key.ENTER);
  await eventually(driver, 'the panel to close', () =>
    driver.executeScript<boolean>(`return !document.querySelector('[cmdk-input]')`),
  );
};

/** Presses an item of the board and waits until the tray tells of it. */
export const select = async (item: string): Promise<void> => {
  await (await find(driver, `[data-item="${item}"]`)).click();
  await find(driver, '[data-testid="selected"]');
};

/** Writes a formula into an editor and takes it over. */
export const write = async (label: string, formula: string): Promise<void> => {
  const box = await find(driver, `.cm-content[aria-label="${label}"], [aria-label="${label}"] .cm-content`);
  await box.click();
  await box.sendKeys(Key.chord(Key.CONTROL, 'a'), formula, Key.ENTER);
};

/** Huts by name, each with the beds it has; a report to begin with. */
export const HUTS = {
  gaveta: 2,
  name: 'Huts',
  model: 'cumeeira',
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      sort: [{ by: 'name' }],
      detail: {
        height: 8,
        items: [
          { kind: 'field', id: 'name', x: 0, y: 1, width: 60, height: 5, formula: 'name' },
          { kind: 'field', id: 'beds', x: 62, y: 1, width: 40, height: 5, formula: 'beds' },
        ],
      },
    },
  ],
};

/** Huts in a column set, captions over values: `caption-name` over `value-name`, … */
export const columnsOf = (...names: string[]) => {
  const item = (name: string, i: number, what: object) => ({
    ...what,
    x: i * 42,
    y: 1,
    width: 40,
    height: 5,
    column: { set: 'columns', name },
  });
  const captions = names.map((n, i) => item(n, i, { kind: 'text', id: `caption-${n}`, content: [n] }));
  const values = names.map((n, i) => item(n, i, { kind: 'field', id: `value-${n}`, formula: n }));
  const set = { ...HUTS.body[0]!, header: { height: 7, items: captions }, detail: { height: 7, items: values } };
  return { ...HUTS, body: [set] };
};
