import { readFileSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { eventually, find, openBrowser, press } from '../e2e/browser.ts';
import { startServers } from '../e2e/servers.ts';
import { median } from './measure.ts';

/** Relayout in the designer's worker, after each of a row of edits. */
const EDITS = 40;

const example = (name: string) => JSON.parse(readFileSync(`examples/cumeeira/reports/${name}.json`, 'utf8'));

const ledger = example('season-ledger');
ledger.name = 'Twenty pages';
ledger.body[0].first = 1;
ledger.body[0].drawers[0].first = 1;

const servers = await startServers();
const { driver, close } = await openBrowser();

const state = async () =>
  driver.executeScript<{ job: number; whole: number | null; words: string }>(
    `const s = document.querySelector('[data-testid="live-state"]');
     return { job: Number(s.dataset.job), whole: s.dataset.whole === undefined ? null : Number(s.dataset.whole), words: s.textContent }`,
  );

/** Stores a report, moves one of its items to and fro, and tells how long each layout took. */
const measure = async (definition: object, item: string, aim: string): Promise<void> => {
  const id = await driver.executeAsyncScript<string>(
    `const [definition, done] = arguments;
     fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition }) })
       .then((r) => r.json()).then((r) => done(r.id), (e) => done(String(e)))`,
    definition,
  );
  await driver.get(`${servers.gaveta}/reports/${id}/design`);
  await eventually(driver, 'the live page', async () => (await state()).whole !== null);
  const { words } = await state();
  await (await find(driver, item)).click();
  await press(driver, Key.ESCAPE);
  await (await find(driver, item)).click();
  const seen: number[] = [];
  for (let i = 0; i < EDITS; i++) {
    const before = (await state()).job;
    await (await find(driver, '[data-testid="board"]')).sendKeys(i % 2 === 0 ? Key.ARROW_RIGHT : Key.ARROW_LEFT);
    const after = await eventually(driver, 'the new layout', async () => {
      const now = await state();
      return now.job > before && now.whole !== null && now;
    });
    seen.push(after.whole!);
  }
  const sorted = [...seen].sort((a, b) => a - b);
  const late = sorted[Math.floor(sorted.length * 0.95)];
  console.log(`  ${words}`);
  console.log(
    `    all pages in ${median(seen)} ms (median of ${EDITS}), 95 of 100 in ${late} ms, slowest ${sorted.at(-1)} ms; aim: ${aim}`,
  );
};

try {
  await driver.get(`${servers.gaveta}/demo/sign-in`);
  console.log('Relayout in the designer’s worker after an edit');
  await measure(ledger, '[data-band$="/detail"] [data-item][aria-label^="Field"]', 'median under 50 ms');
  const matrix = { ...example('nights-matrix'), name: 'A crosstab' };
  await measure(matrix, '[data-item="matrix"]', '95 of 100 under 100 ms');
  await measure(matrix, '[data-item="shares"]', 'a chart beside it, 95 of 100 under 100 ms');
  const board = { ...example('board-day'), name: 'Charts' };
  await measure(board, '[data-item="months"]', 'a page of 36 figures and 48 more in its table');
} finally {
  await close();
  await servers.close();
}
process.exit(0);
