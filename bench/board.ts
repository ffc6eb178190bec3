import { eventually, find, openBrowser } from '../e2e/browser.ts';
import { startServers } from '../e2e/servers.ts';

/** The designer’s board with 300 items in 12 drawers: frames while an item is dragged, and the live page after edits. */
const ITEMS = 300;
const FRAMES = 180;
const EDITS = 60;

/** Each drawer’s relation, and what lies inside it. */
interface Nest {
  relation: string;
  name: string;
  field: string;
  first?: number;
  inner?: Nest[];
}

const NEST: Nest = {
  relation: '',
  name: 'region',
  field: 'name',
  first: 2,
  inner: [
    {
      relation: 'huts',
      name: 'hut',
      field: 'name',
      first: 3,
      inner: [
        {
          relation: 'stays',
          name: 'stay',
          field: 'arrival',
          first: 4,
          inner: [
            { relation: 'charges', name: 'charge', field: 'amount' },
            { relation: 'payments', name: 'payment', field: 'amount' },
          ],
        },
        {
          relation: 'wardens',
          name: 'warden',
          field: 'name',
          inner: [{ relation: 'certificates', name: 'certificate', field: 'passed_on' }],
        },
        { relation: 'flights', name: 'flight', field: 'cost', first: 5 },
        {
          relation: 'inspections',
          name: 'inspection',
          field: 'inspected_on',
          first: 2,
          inner: [{ relation: 'findings', name: 'finding', field: 'topic' }],
        },
        { relation: 'flights', name: 'flight2', field: 'kg', first: 3 },
        { relation: 'wardens', name: 'warden2', field: 'name' },
      ],
    },
  ],
};

let made = 0;
const drawerOf = ({ relation, name, field, first, inner }: Nest): object => {
  const items = Array.from({ length: ITEMS / 12 }, (_, i) => ({
    kind: 'field',
    id: `i${made++}`,
    x: (i % 5) * 36,
    y: Math.floor(i / 5) * 5,
    width: 34,
    height: 4.5,
    formula: field,
    look: { size: 7 },
  }));
  return {
    id: name,
    name,
    rows: relation === '' ? { entity: name } : { relation },
    ...(first ? { first } : {}),
    detail: { height: 25, items },
    ...(inner ? { drawers: inner.map(drawerOf) } : {}),
  };
};
const definition = { gaveta: 2, name: 'Three hundred items', model: 'cumeeira', body: [drawerOf(NEST)] };

const percentile = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))]!;

const servers = await startServers();
const { driver, close } = await openBrowser();
try {
  await driver.manage().setTimeouts({ script: 120_000 });
  await driver.get(`${servers.gaveta}/demo/sign-in`);
  const id = await driver.executeAsyncScript<string>(
    `const [definition, done] = arguments;
     fetch('/api/reports', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition }) })
       .then((r) => r.json()).then((r) => done(r.id ?? JSON.stringify(r)), (e) => done(String(e)))`,
    definition,
  );
  await driver.get(`${servers.gaveta}/reports/${id}/design`);
  await eventually(driver, 'the live page', () =>
    driver.executeScript<boolean>(
      `return document.querySelector('[data-testid="live-state"]')?.dataset.whole !== undefined`,
    ),
  );
  const pages = await driver.executeScript<string>(
    `return document.querySelector('[data-testid="live-state"]').textContent`,
  );
  await find(driver, '[data-item="i40"]');
  /** Gaps between frames, in milliseconds: idle, and while what `dragged` selects follows the pointer. */
  const frames = (dragged: string | null): Promise<number[]> =>
    driver.executeAsyncScript<number[]>(
      `const [dragged, count, done] = arguments;
       const isDragging = dragged !== null;
       const item = document.querySelector(dragged ?? 'body');
       const box = item.getBoundingClientRect();
       const at = (type, dx, dy) => (type === 'pointerdown' ? item : window).dispatchEvent(new PointerEvent(type, {
         bubbles: true, cancelable: true, pointerId: 1, button: 0, buttons: 1, clientX: box.left + 3 + dx, clientY: box.top + 3 + dy }));
       const gaps = [];
       let last = performance.now();
       let n = 0;
       if (isDragging) at('pointerdown', 0, 0);
       const step = (now) => {
         gaps.push(now - last);
         last = now;
         if (n++ >= count) {
           if (isDragging) at('pointerup', 0, 0);
           done(gaps.slice(2));
           return;
         }
         if (isDragging) at('pointermove', Math.sin(n / 9) * 120, Math.cos(n / 7) * 60);
         requestAnimationFrame(step);
       };
       requestAnimationFrame(step);`,
      dragged,
      FRAMES,
    );
  const idle = await frames(null);
  const dragged = await frames('[data-item="i40"]');
  const rate = (gaps: readonly number[]): number => 1000 / (gaps.reduce((a, b) => a + b, 0) / gaps.length);
  console.log(`Designer’s board, ${made} items in 12 drawers; ${pages}`);
  console.log(
    `  Dragging an item: ${rate(dragged).toFixed(0)} frames a second, ${(rate(dragged) / rate(idle)).toFixed(2)} times those of an idle page; slowest twentieth ${percentile(dragged, 0.95).toFixed(0)} ms a frame (aim: at least 50 frames)`,
  );
  const onPage = '[data-live-page="1"] text[data-item="i40"]';
  await (await find(driver, onPage)).click();
  await find(driver, '[data-chosen="i40"] [data-handle="e"]');
  for (const [what, css] of [
    ['Moving it on the live page', onPage],
    ['Resizing it there', '[data-chosen="i40"] [data-handle="e"]'],
  ] as const) {
    const gaps = await frames(css);
    console.log(
      `  ${what}: ${rate(gaps).toFixed(0)} frames a second, ${(rate(gaps) / rate(idle)).toFixed(2)} times those of an idle page; slowest twentieth ${percentile(gaps, 0.95).toFixed(0)} ms a frame (aim: at least 50 frames)`,
    );
  }
  const refreshed = await driver.executeAsyncScript<number[]>(
    `const [count, done] = arguments;
     const state = document.querySelector('[data-testid="live-state"]');
     const board = document.querySelector('[data-testid="board"]');
     document.querySelector('[data-item="i40"]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, pointerId: 1, button: 0 }));
     window.dispatchEvent(new PointerEvent('pointerup', { pointerId: 1 }));
     const times = [];
     const next = (n) => {
       if (n >= count) return done(times);
       const job = state.dataset.job;
       const started = performance.now();
       const watch = new MutationObserver(() => {
         if (state.dataset.job === job) return;
         watch.disconnect();
         requestAnimationFrame(() => { times.push(performance.now() - started); setTimeout(() => next(n + 1), 150); });
       });
       watch.observe(state, { attributes: true });
       board.focus();
       board.dispatchEvent(new KeyboardEvent('keydown', { bubbles: true, key: n % 2 ? 'ArrowLeft' : 'ArrowRight' }));
     };
     setTimeout(() => next(0), 500);`,
    EDITS,
  );
  console.log(
    `  Live page after an edit: ${percentile(refreshed, 0.5).toFixed(0)} ms (median of ${EDITS}), 95th percentile ${percentile(refreshed, 0.95).toFixed(0)} ms (aim: under 50 ms)`,
  );
} finally {
  await close();
  await servers.close();
}
process.exit(0);
