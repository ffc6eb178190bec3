import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, Key, Origin, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

/** How long a state is waited for, in milliseconds. */
const PATIENCE = 30_000;

/** How often a state is looked at, in milliseconds. */
const INTERVAL = 60;

interface Browser {
  driver: WebDriver;
  /** The folder that downloads go to. */
  downloads: string;
  /** Ends it and removes its folders. */
  close: () => Promise<void>;
}

/** Debian’s Chromium without a window, with an empty profile. */
export const openBrowser = async (): Promise<Browser> => {
  const folder = mkdtempSync(join(tmpdir(), 'gaveta-browser-'));
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
  // A page lives for minutes here: to compile its code for speed on further threads costs more than it saves.
  options.addArguments('--js-flags=--no-turbofan --single-threaded-gc');
  options.addArguments('--window-size=1280,943', `--user-data-dir=${join(folder, 'profile')}`);
  options.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false });
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  const close = async (): Promise<void> => {
    await driver.quit();
    rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  };
  return { driver, downloads, close };
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

export { By, Key, type WebDriver };
