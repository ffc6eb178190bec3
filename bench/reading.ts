import type { Driver } from 'selenium-webdriver/chrome.js';
import { eventually, openBrowser, textOf } from '../e2e/browser.ts';
import { startServers } from '../e2e/servers.ts';
import { manyPages } from './many-pages.ts';
import { median } from './measure.ts';

/**
 * Reading a run of 10,000 pages in the viewer: until its first page is drawn, jumps to pages that were never loaded, scrolling, and
 * the browser's memory after 1,000 pages. Baselines: the same report with ten rows, frames of a page at rest, memory after 100 pages.
 */
const PAGES = 10_000;
const WALKED = 1000;

const servers = await startServers({ maxPages: PAGES + 1000 });
const { driver, close } = await openBrowser();

const store = async (rows: number): Promise<string> => {
  const { id } = await driver.executeScript<{ id: string }>(
    `return (await fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition: arguments[0] }) })).json()`,
    manyPages(rows),
  );
  return id;
};

/** Goes to an address inside the application; gives milliseconds until the first page is drawn. */
const OPEN = `
  const [path, done] = arguments;
  history.pushState({}, '', '/reports/-/revisions');
  dispatchEvent(new PopStateEvent('popstate', { state: {} }));
  const gone = () => {
    if (document.querySelector('main [data-page]')) return requestAnimationFrame(gone);
    const begun = performance.now();
    history.pushState({}, '', path);
    dispatchEvent(new PopStateEvent('popstate', { state: {} }));
    const look = () => document.querySelector('main [data-page="1"] text') ? done(performance.now() - begun) : requestAnimationFrame(look);
    requestAnimationFrame(look);
  };
  requestAnimationFrame(gone);`;

/** Goes to a page by its number, typed into the box at the foot; gives milliseconds until it is drawn. */
const JUMP = `
  const [page, done] = arguments;
  document.querySelector('[data-testid="page-place"]').click();
  const typed = () => {
    const box = document.querySelector('form > input[inputmode="numeric"]');
    if (!box) return requestAnimationFrame(typed);
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(box, String(page));
    box.dispatchEvent(new Event('input', { bubbles: true }));
    const begun = performance.now();
    box.form.requestSubmit();
    const look = () => document.querySelector('main [data-page="' + page + '"] text') ? done(performance.now() - begun) : requestAnimationFrame(look);
    requestAnimationFrame(look);
  };
  requestAnimationFrame(typed);`;

/** Milliseconds of each of so many frames, each scrolled by so many pixels. */
const SCROLL = `
  const [frames, pixels, done] = arguments;
  const main = document.querySelector('main');
  const taken = [];
  let last = performance.now();
  const next = (now) => {
    taken.push(now - last);
    last = now;
    main.scrollTop += pixels;
    if (taken.length < frames) requestAnimationFrame(next);
    else done(taken.slice(1));
  };
  requestAnimationFrame(next);`;

/** Scrolls from a page to another, and waits on each until it is drawn. Pages are all of one size here. */
const WALK = `
  const [from, to, done] = arguments;
  const main = document.querySelector('main');
  const [above, below] = main.querySelectorAll('[data-page]');
  const height = below.getBoundingClientRect().top - above.getBoundingClientRect().top;
  let page = from;
  const step = () => {
    if (!document.querySelector('main [data-page="' + page + '"] text')) return requestAnimationFrame(step);
    if (page >= to) return done();
    main.scrollTop = page * height;
    page++;
    requestAnimationFrame(step);
  };
  main.scrollTop = (from - 1) * height;
  requestAnimationFrame(step);`;

const place = (): Promise<string> => textOf(driver, '[data-testid="page-place"]');
const isDone = (): Promise<boolean> => eventually(driver, 'the end of the run', async () => / of /.test(await place()));

/** Bytes that the page's scripts hold, and its nodes, after what is no longer needed was let go. */
const memory = async (): Promise<{ heap: number; nodes: number }> => {
  const tools = driver as unknown as Driver;
  await tools.sendDevToolsCommand('HeapProfiler.collectGarbage', {});
  const { metrics } = (await tools.sendAndGetDevToolsCommand('Performance.getMetrics', {})) as unknown as {
    metrics: { name: string; value: number }[];
  };
  const of = (name: string): number => metrics.find((one) => one.name === name)?.value ?? 0;
  return { heap: of('JSHeapUsedSize'), nodes: of('Nodes') };
};

const shareBelow = (taken: readonly number[], limit: number): number =>
  (taken.filter((one) => one <= limit).length / taken.length) * 100;

try {
  await driver.get(`${servers.gaveta}/demo/sign-in`);
  await (driver as unknown as Driver).sendDevToolsCommand('Performance.enable', {});
  await driver.manage().setTimeouts({ script: 600_000 });
  const [small, large] = [await store(10), await store(PAGES)];
  await driver.get(`${servers.gaveta}/reports/${small}`);
  await isDone();
  const opened: Record<string, number[]> = { small: [], large: [] };
  for (let turn = 0; turn < 5; turn++) {
    opened.small!.push(await driver.executeAsyncScript<number>(OPEN, `/reports/${small}`));
    await isDone();
    opened.large!.push(await driver.executeAsyncScript<number>(OPEN, `/reports/${large}`));
    await isDone();
  }
  console.log(`Reading a run, ${await place()}`);
  const [first, baseline] = [median(opened.large!), median(opened.small!)];
  console.log(
    `  its first page ${first.toFixed(0)} ms after it was opened (aim 300), ${(first / baseline).toFixed(2)} times as long as of a report of ten pages (${baseline.toFixed(0)} ms)`,
  );
  const jumps: number[] = [];
  for (const page of [PAGES, 5000, 7777, 2500, 9000, 1234, PAGES - 10])
    jumps.push(await driver.executeAsyncScript<number>(JUMP, page));
  console.log(
    `  the last page ${jumps[0]!.toFixed(0)} ms after it was asked for (aim 300), others ${median(jumps.slice(1)).toFixed(0)} ms`,
  );

  await driver.executeScript(`document.querySelector('main').scrollTop = 0`);
  const rest = await driver.executeAsyncScript<number[]>(SCROLL, 120, 0);
  const scrolled = await driver.executeAsyncScript<number[]>(SCROLL, 600, 60);
  console.log(
    `  scrolling 60 pixels a frame: ${(1000 / median(scrolled)).toFixed(0)} frames a second (aim 50; at rest ${(1000 / median(rest)).toFixed(0)}), ${shareBelow(scrolled, 20).toFixed(0)} of 100 frames within 20 ms`,
  );

  const walk = (from: number, to: number) => driver.executeAsyncScript(WALK, from, to);
  await walk(1, 100);
  const before = await memory();
  await walk(100, WALKED);
  const after = await memory();
  console.log(
    `  memory after ${WALKED} pages: ${(after.heap / 1e6).toFixed(1)} MB in ${after.nodes} nodes, ${(after.heap / before.heap).toFixed(2)} times as much as after 100 (${(before.heap / 1e6).toFixed(1)} MB in ${before.nodes} nodes; aim: flat)`,
  );
} finally {
  await close();
  await servers.close();
}
