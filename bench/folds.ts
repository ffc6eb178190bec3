import { By } from 'selenium-webdriver';
import { button, eventually, openBrowser, textOf } from '../e2e/browser.ts';
import { startServers } from '../e2e/servers.ts';
import { median } from './measure.ts';

/**
 * Opening and closing parts of the season ledger (18,623 rows on 487 pages) in the viewer: from the press until the new page is
 * drawn, at places all over the report. The baseline is a new run of it, until its first page is drawn and until its end.
 */
const FOLDS = 30;

const servers = await startServers();
const { driver, close } = await openBrowser();

const isDone = async (): Promise<boolean> => / of /.test(await textOf(driver, '[data-testid="page-place"]'));

/** Presses a sign that is in sight; gives milliseconds until it is drawn turned, and by how many pixels it has moved. */
const PRESS = `
  const [closed, done] = arguments;
  const main = document.querySelector('main').getBoundingClientRect();
  const inSight = (sign) => {
    const { top, bottom } = sign.getBoundingClientRect();
    return top > main.top + 60 && bottom < main.bottom - 60;
  };
  const sign = [...document.querySelectorAll('[data-fold][aria-expanded="' + closed + '"]')].find(inSight);
  if (!sign) return done(null);
  const topOf = (one) => one.getBoundingClientRect().top;
  const before = topOf(sign);
  const begun = performance.now();
  const turned = '[data-fold="' + CSS.escape(sign.getAttribute('data-fold')) + '"][aria-expanded="' + !closed + '"]';
  const look = () => {
    const now = document.querySelector(turned);
    if (now) done({ milliseconds: performance.now() - begun, moved: Math.abs(topOf(now) - before) });
    else requestAnimationFrame(look);
  };
  sign.dispatchEvent(new MouseEvent('click', { bubbles: true }));
  requestAnimationFrame(look);`;

interface Pressed {
  milliseconds: number;
  moved: number;
}

const goTo = async (share: number): Promise<void> => {
  await driver.executeScript(
    `const main = document.querySelector('main'); main.scrollTop = main.scrollHeight * arguments[0];`,
    share,
  );
  await eventually(driver, 'signs in sight', async () =>
    driver.executeScript<boolean>(
      `const main = document.querySelector('main').getBoundingClientRect();
       return [...document.querySelectorAll('[data-fold]')].some((sign) => {
         const { top, bottom } = sign.getBoundingClientRect();
         return top > main.top + 60 && bottom < main.bottom - 60;
       })`,
    ),
  );
};

const say = (what: string, all: readonly Pressed[]): void => {
  const sorted = all.map(({ milliseconds }) => milliseconds).sort((a, b) => a - b);
  const late = sorted[Math.floor(sorted.length * 0.95)]!;
  const moved = Math.max(...all.map((one) => one.moved));
  console.log(
    `  ${what}: median ${median(sorted).toFixed(0)} ms, 95 of 100 in ${late.toFixed(0)} ms, slowest ${sorted.at(-1)!.toFixed(0)} ms; moved by ${moved.toFixed(1)} px at most`,
  );
};

try {
  await driver.get(`${servers.gaveta}/demo/sign-in`);
  await driver.get(`${servers.gaveta}/reports/season-ledger`);
  await eventually(driver, 'the end of the run', isDone);
  console.log(`Opening and closing parts of a ledger, ${await textOf(driver, '[data-testid="page-place"]')}`);
  const [closing, opening]: Pressed[][] = [[], []];
  for (let i = 0; i < FOLDS; i++) {
    // Places all over the report, in no order.
    await goTo(((i * 7919) % 1000) / 1000);
    for (const closed of [true, false]) {
      const pressed = await driver.executeAsyncScript<Pressed | null>(PRESS, closed);
      if (pressed) (closed ? closing : opening)!.push(pressed);
      await eventually(driver, 'the end of the run', isDone);
    }
  }
  say('closed', closing!);
  say('opened', opening!);
  await goTo(0.5);
  for (const name of ['Close all', 'Open all']) {
    await (await button(driver, 'Open or close all')).click();
    const begun = performance.now();
    await (await driver.findElement(By.xpath(`//*[@role="menuitem"][text()="${name}"]`))).click();
    const wanted = name === 'Open all';
    await eventually(driver, name, () =>
      driver.executeScript<boolean>(
        `const signs = [...document.querySelectorAll('[data-fold]')];
         return signs.length > 0 && signs.every((sign) => sign.getAttribute('aria-expanded') === arguments[0])`,
        String(wanted),
      ),
    );
    console.log(`  ${name}: ${(performance.now() - begun).toFixed(0)} ms, the driver’s own time included`);
    await eventually(driver, 'the end of the run', isDone);
  }
  const whole: number[] = [];
  for (const season of [2024, 2023, 2025]) {
    const begun = performance.now();
    await driver.get(`${servers.gaveta}/reports/season-ledger?season=${season}`);
    await eventually(driver, 'the end of the run', isDone);
    whole.push(performance.now() - begun);
  }
  const ratio = median(closing!.map(({ milliseconds }) => milliseconds)) / median(whole);
  console.log(
    `  a new run to its end: ${median(whole).toFixed(0)} ms; a fold takes ${ratio.toFixed(2)} times that; aim: median under 300 ms`,
  );
} finally {
  await close();
  await servers.close();
}
process.exit(0);
