import { allBands, contentReport, type Page, runReport } from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { expect, it } from 'vitest';
import { FEW_PAGES, openDemo, runAt } from './demo-runs.test-support.ts';

const demo = await openDemo();

const book = await loadShippedFonts();

/** Signs of texts without the spaces, in an order of their own: lines may be broken anywhere, and run to either side. */
const signs = (text: string): string => [...text.replace(/\s/g, '')].sort().join('');

/** What each item says on pages, its texts put together. */
const saidOnPages = (pages: readonly Page[]): Map<string, string> => {
  const said = new Map<string, string>();
  for (const { marks } of pages)
    for (const mark of marks)
      if (mark.kind === 'text' && mark.item !== undefined) said.set(mark.item, (said.get(mark.item) ?? '') + mark.text);
  return said;
};

/** Whether all signs of one text, in order, are among those of another. */
const isWithin = (inner: string, outer: string): boolean => {
  let at = 0;
  for (const sign of inner) {
    at = outer.indexOf(sign, at) + 1;
    if (at === 0) return false;
  }
  return true;
};

it('a document says what the pages say, item by item', async () => {
  let compared = 0;
  for (const id of demo.reports) {
    const { report, plan, parameters, open } = demo.prepared(id, FEW_PAGES[id]);
    const items = [...allBands(report)].flatMap(({ band }) => band.items);
    // Their captions stand again at the top of pages.
    const crosstabs = new Set(items.flatMap((item) => (item.kind === 'crosstab' ? [item.id] : [])));
    const run = { plan, book, parameters, open, runAt, folds: { base: 'open' as const, turned: [] } };
    const pages: Page[] = [];
    const { prepared } = await runReport({ ...run, onPage: (page) => void pages.push(page) });
    const onPages = saidOnPages(pages);
    const inDocument = new Map<string, string>();
    const again = new Set<string>();
    await contentReport({
      ...run,
      listener: (event) => {
        if (event.kind !== 'block') return;
        for (const { item, content } of event.parts) {
          if (item === undefined || content.kind !== 'text') continue;
          if (event.repeats) again.add(item);
          const mark = content.listed?.mark ?? '';
          const text = mark + content.runs.map((run) => run.text).join('');
          inDocument.set(item, (inDocument.get(item) ?? '') + text);
        }
      },
    });
    expect(inDocument.size > 0, id).toBe(onPages.size > 0);
    for (const [item, said] of inDocument) {
      // Texts that were cut off by their boxes are whole in a document, and those at the top of each page are there once.
      if (again.has(item) || prepared.cutOff.has(item)) continue;
      const shown = signs(onPages.get(item) ?? '');
      if (crosstabs.has(item)) expect(isWithin(signs(said), shown), `${id}, ${item}`).toBe(true);
      else expect(signs(said), `${id}, ${item}`).toBe(shown);
      compared += said.length;
    }
  }
  expect(compared).toBeGreaterThan(150_000);
}, 240_000);
