import {
  formatValue,
  listingOf,
  listReport,
  Moment,
  type Page,
  type PlanContext,
  planReport,
  type Report,
  readDefinition,
  readParameters,
  runReport,
  type SetSource,
} from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { DEMO_TODAY, type DemoSources, demoRecipes, demoReports, openDemoSources } from '@gaveta-examples/cumeeira';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Workbench } from '../staging/workbench.ts';
import { openRows } from './row-source.ts';

const workbench = new Workbench();
const reports = new Map<string, Report>();
let sources: DemoSources;

beforeAll(async () => {
  sources = await openDemoSources('.data');
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
});
afterAll(async () => {
  await workbench.close();
  await sources.close();
});

const runAt = new Moment(DEMO_TODAY + 7.5 * 3_600_000);

const prepared = (report: Report) => {
  const context: PlanContext = {
    models: sources.models.map(({ model }) => model),
    report: (id) => reports.get(id) ?? null,
    recipe: (id) => demoRecipes.find((recipe) => recipe.id === id) ?? null,
    rowsFromDatabase: true,
  };
  const plan = planReport(report, context);
  const { values: parameters } = readParameters(report, {}, { now: runAt.ms });
  const open = () =>
    openRows(plan, {
      models: new Map(sources.models.map((model) => [model.model.name, model])),
      connections: new Map(Object.entries(sources.connections)),
      claims: { role: 'office' },
      parameters,
      maxRows: 1e6,
      workbench: () => workbench,
    });
  return { plan, parameters, open };
};

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
    const report = reports.get(id)!;
    const { plan, parameters, open } = prepared(report);
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
    const columns = fieldColumns(listingOf(plan));
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
  expect(compared).toBeGreaterThan(100_000);
}, 120_000);
