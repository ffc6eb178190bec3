import { readFileSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { eventually, find, openBrowser, press } from '../e2e/browser.ts';
import { startServers } from '../e2e/servers.ts';
import { median } from './measure.ts';

/** Relayout of a report of about twenty pages in the designer's worker, after each of a row of edits. */
const EDITS = 30;

const definition = JSON.parse(readFileSync('examples/cumeeira/reports/season-ledger.json', 'utf8'));
definition.name = 'Twenty pages';
definition.body.first = 1;
definition.body.drawers[0].first = 1;

const servers = await startServers();
const { driver, close } = await openBrowser();
try {
  await driver.get(`${servers.gaveta}/demo/sign-in`);
  const id = await driver.executeAsyncScript<string>(
    `const [definition, done] = arguments;
     fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition }) })
       .then((r) => r.json()).then((r) => done(r.id), (e) => done(String(e)))`,
    definition,
  );
  await driver.get(`${servers.gaveta}/reports/${id}/design`);
  const state = async () =>
    driver.executeScript<{ job: number; whole: number | null; first: string }>(
      `const s = document.querySelector('[data-testid="live-state"]').dataset;
       return { job: Number(s.job), whole: s.whole === undefined ? null : Number(s.whole) }`,
    );
  await eventually(driver, 'the live page', async () => (await state()).whole !== null);
  const pages = await driver.executeScript<string>(
    `return document.querySelector('[data-testid="live-state"]').textContent`,
  );
  await (await find(driver, '[data-band$="/detail"] [data-item][aria-label^="Field"]')).click();
  const seen: number[] = [];
  for (let i = 0; i < EDITS; i++) {
    const before = (await state()).job;
    await press(driver, i % 2 === 0 ? Key.ARROW_RIGHT : Key.ARROW_LEFT);
    const after = await eventually(driver, 'the new layout', async () => {
      const now = await state();
      return now.job > before && now.whole !== null && now;
    });
    seen.push(after.whole!);
  }
  const sorted = [...seen].sort((a, b) => a - b);
  console.log(`Relayout in the designer’s worker after an edit: ${pages}`);
  console.log(`  All pages in ${median(seen)} ms (median of ${EDITS}; slowest ${sorted.at(-1)} ms; aim: under 50 ms)`);
} finally {
  await close();
  await servers.close();
}
process.exit(0);
