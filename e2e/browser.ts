import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, Key, Origin, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import chrome, { type Driver } from 'selenium-webdriver/chrome.js';

const CHROMEDRIVER = '/usr/bin/chromedriver';

/** How long a state is waited for, in milliseconds. */
const PATIENCE = 30_000;

/** How often a state is looked at, in milliseconds. */
const INTERVAL = 60;

export interface Browser {
  driver: Driver;
  /** The folder that downloads go to. */
  downloads: string;
  /** Ends it and removes its folders. */
  close: () => Promise<void>;
}

/** Where a window stands, and how large it is. */
const WINDOW = { x: 0, y: 0, width: 1280, height: 943 };

/** Debian’s Chromium without a window, with an empty profile. `by`: the ChromeDriver of the tests; left out: one of its own. */
export const openBrowser = async (by?: ChromeDriver): Promise<Browser> => {
  const folder = mkdtempSync(join(by?.folder ?? tmpdir(), 'gaveta-browser-'));
  const downloads = join(folder, 'downloads');
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
  );
  // A page of a test lives for minutes: to compile its code for speed on further threads costs more than it saves.
  if (by) options.addArguments('--js-flags=--no-turbofan --single-threaded-gc');
  options.addArguments(`--window-size=${WINDOW.width},${WINDOW.height}`, `--user-data-dir=${join(folder, 'profile')}`);
  options.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false });
  const builder = new Builder().forBrowser('chrome').setChromeOptions(options);
  if (by) builder.usingServer(by.address);
  else builder.setChromeService(new chrome.ServiceBuilder(CHROMEDRIVER));
  const driver = (await builder.build()) as Driver;
  const close = async (): Promise<void> => {
    await driver.quit();
    rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  };
  return { driver, downloads, close };
};

/** Makes a browser as if it were new, but for what it has fetched: nothing stays of these origins, nor of downloads. */
export const renewBrowser = async ({ driver, downloads }: Browser, origins: readonly string[]): Promise<void> => {
  const before = await driver.getAllWindowHandles();
  await driver.switchTo().window(before[0]!);
  await driver.switchTo().newWindow('tab');
  const own = await driver.getWindowHandle();
  for (const handle of before) {
    await driver.switchTo().window(handle);
    await driver.close();
  }
  await driver.switchTo().window(own);
  await driver.manage().window().setRect(WINDOW);
  await driver.sendDevToolsCommand('Network.clearBrowserCookies', {});
  for (const origin of origins)
    await driver.sendDevToolsCommand('Storage.clearDataForOrigin', { origin, storageTypes: 'all' });
  if (existsSync(downloads)) for (const file of readdirSync(downloads)) rmSync(join(downloads, file));
};

/** A ChromeDriver that several processes open browsers by. */
export interface ChromeDriver {
  address: string;
  /** What its browsers keep is in here. */
  folder: string;
}

/** Starts a ChromeDriver; `close` ends all browsers that were opened by it, and removes what they kept. */
export const startChromeDriver = async (): Promise<ChromeDriver & { close: () => Promise<void> }> => {
  const folder = mkdtempSync(join(tmpdir(), 'gaveta-browsers-'));
  const service = new chrome.ServiceBuilder(CHROMEDRIVER).build();
  const address = await service.start();
  return {
    address,
    folder,
    close: async () => {
      const { value } = (await (await fetch(`${address}sessions`)).json()) as { value: { id: string }[] };
      for (const { id } of value) await fetch(`${address}session/${id}`, { method: 'DELETE' });
      await service.kill();
      rmSync(folder, { recursive: true, force: true, maxRetries: 10 });
    },
  };
};

export const find = (driver: WebDriver, css: string): Promise<WebElement> =>
  driver.wait(until.elementLocated(By.css(css)), PATIENCE, css, INTERVAL);

export const button = (driver: WebDriver, name: string): Promise<WebElement> =>
  driver.wait(
    until.elementLocated(
      By.xpath(`//*[self::button or self::a][normalize-space()="${name}" or @aria-label="${name}"]`),
    ),
    PATIENCE,
    name,
    INTERVAL,
  );

/** Waits until `read` gives a value that is not empty. */
export const eventually = async <T>(
  driver: WebDriver,
  what: string,
  read: () => Promise<T | null | undefined | false>,
): Promise<T> =>
  driver.wait(
    async () => {
      try {
        return (await read()) || null;
      } catch {
        // The page may be changing under the reader.
        return null;
      }
    },
    PATIENCE,
    what,
    INTERVAL,
  ) as Promise<T>;

/** Waits until the designer’s trays show what the board does: they are drawn after it. */
export const settled = async (driver: WebDriver): Promise<void> => {
  await driver.wait(
    async () => (await driver.findElements(By.css('[data-testid="trays"][aria-busy="true"]'))).length === 0,
    PATIENCE,
    'the trays',
    INTERVAL,
  );
};

export const textOf = async (driver: WebDriver, css: string): Promise<string> =>
  (await driver.findElement(By.css(css))).getText();

/** The middle of an element, in CSS pixels of the window. */
export const middleOf = async (element: WebElement): Promise<{ x: number; y: number }> => {
  const { x, y, width, height } = await element.getRect();
  return { x: Math.round(x + width / 2), y: Math.round(y + height / 2) };
};

/**
 * Drags from the middle of one element by pixels, as a hand does; `held` is a key that goes down once the element moves
 * and up after it is let go of. Each move starts where the pointer is, as the element itself moves along.
 */
export const dragBy = async (
  driver: WebDriver,
  from: WebElement,
  dx: number,
  dy: number,
  held?: string,
): Promise<void> => {
  const half = { x: Math.round(dx / 2), y: Math.round(dy / 2) };
  const actions = driver
    .actions()
    .move({ origin: from })
    .press()
    .move({ origin: Origin.POINTER, ...half });
  if (held) actions.keyDown(held);
  actions.move({ origin: Origin.POINTER, x: dx - half.x, y: dy - half.y }).release();
  if (held) actions.keyUp(held);
  await actions.perform();
};

export const press = (driver: WebDriver, ...keys: string[]): Promise<void> => {
  const modifiers = keys.slice(0, -1);
  const actions = driver.actions();
  for (const key of modifiers) actions.keyDown(key);
  actions.sendKeys(keys.at(-1)!);
  for (const key of modifiers) actions.keyUp(key);
  return actions.perform();
};

export { By, Key, type WebDriver, type WebElement };
