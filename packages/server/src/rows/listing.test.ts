import { formatValue, listingOf, listReport, type Page, runReport, type SetSource } from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { expect, it } from 'vitest';
import { FEW_PAGES, openDemo, runAt } from './demo-runs.test-support.ts';

const demo = await openDemo();

const add = (to: Map<string, string[]>, item: string, text: string): void => {
  const found = to.get(item);
  if (found) found.push(text);
  else to.set(item, [text]);
};

/** What each item says on the pages, in their order, the lines of a text put together. */
const textsOf = (pages: readonly Page[]): Map<string, string[]> => {
  const texts = new Map<string, string[]>();
  for (const { marks } of pages) {
    for (const mark of marks) {
      if (mark.kind !== 'text' || mark.item === undefined) continue;
      add(texts, mark.item, mark.text);
    }
  }
  return texts;
};

/** Columns that are fields of rows, in the report itself. */
const fieldColumns = (sets: readonly SetSource[]): { set: SetSource; at: number; item: string }[] =>
  sets.flatMap((set) => [
    ...set.columns.flatMap(({ item: { item }, group }, at) =>
      item.kind === 'field' && group === null ? [{ set, at, item: item.id }] : [],
    ),
    ...fieldColumns(set.inner),
  ]);

/** Those that show rows in several ways: nested drawers, nested reports, groups, first ones, and rows of files. */
const REPORTS = [
  'season-ledger',
  'stay-folio',
  'inspection-watchlist',
  'roster-wardens',
  'roster-flights',
  'radio-calls',
];

it('rows that leave say what the pages say', async () => {
  let compared = 0;
  for (const id of REPORTS) {
    const { report, plan, parameters, open } = demo.prepared(id, FEW_PAGES[id]);
    const pages: Page[] = [];
    const book = await loadShippedFonts();
    await runReport({
      plan,
      book,
      parameters,
      open,
      runAt,
      folds: { base: 'open', turned: [] },
      onPage: (page) => void pages.push(page),
    });
    const texts = textsOf(pages);
    const listing = listReport(plan);
    const columns = fieldColumns(listingOf(plan).roots);
    const told = new Map<string, string[]>();
    const { name, timeZone, language } = report;
    const settings = { name, timeZone, language, runAt };
    await listing.rows(
      {
        begins: () => {},
        rowEnds: () => {},
        ends: () => {},
        row: (set, values) => {
          for (const { set: source, at, item } of columns) {
            if (source.set.name !== set.name || source.columns.length !== values.length) continue;
            const { format } = set.columns[at]!;
            const text = formatValue(values[at]!, format, settings);
            if (text !== '') add(told, item, text);
          }
        },
      },
      { open, parameters, runAt },
    );
    for (const { item } of columns) {
      const shown = (texts.get(item) ?? []).join('').replace(/\s/g, '');
      const listed = (told.get(item) ?? []).join('').replace(/\s/g, '');
      expect(listed, `${id}, ${item}`).toBe(shown);
      compared += listed.length;
    }
  }
  expect(compared).toBeGreaterThan(20_000);
}, 120_000);
