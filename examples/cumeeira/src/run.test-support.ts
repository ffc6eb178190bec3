import type { PGlite } from '@electric-sql/pglite';
import {
  type FoldState,
  type Moment,
  type Page,
  type PagePicture,
  planReport,
  type Report,
  type ReportPlan,
  type RunResult,
  readDefinition,
  readParameters,
  runReport,
  type TextMark,
} from '@gaveta/core';
import { loadShippedFonts } from '@gaveta/output';
import {
  type Claims,
  type Connection,
  type OpenRows,
  openRows,
  pgliteConnection,
  type RegisteredModel,
  type Workbench,
} from '@gaveta/server';
import { cumeeiraModel, demoRecipes, openDemoDatabase } from './index.ts';

/** How many times as many random definitions are tried: `GAVETA_LONGER=4 npm test` takes its time. */
export const LONGER = Number(process.env.GAVETA_LONGER ?? 1);

/**
 * The demo's database with nine of its huts, the one without stays among them, for tests that compare many reports. No
 * row refers to one that is gone, but those of weather and signals, which no such test reads.
 */
export const openFewHuts = async (): Promise<PGlite> => {
  const database = await openDemoDatabase('.data');
  await database.exec(`set session_replication_role = replica;
    delete from hut where id % 3 <> 0;
    delete from stay where hut_id % 3 <> 0;
    delete from charge where not exists (select from stay where stay.id = stay_id);
    delete from payment where not exists (select from stay where stay.id = stay_id);
    set session_replication_role = origin;
    analyze`);
  return database;
};

export const OFFICE: Claims = { role: 'office' };

export interface RunOptions {
  given?: Record<string, string | number>;
  claims?: Claims;
  nested?: ReadonlyMap<string, Report>;
  connections?: ReadonlyMap<string, Connection>;
  folds?: FoldState;
  /** False: totals before their rows are worked out from fetched rows, not in the database. */
  rowsFromDatabase?: boolean;
}

export interface RunForTest {
  plan: ReportPlan;
  rows: OpenRows;
  pages: Page[];
  result: RunResult<OpenRows>;
  marks: TextMark[];
  texts: string[];
}

/** What a report takes rows from, and how it is run. */
export interface RunWith extends RunOptions {
  models: readonly RegisteredModel[];
  connections: ReadonlyMap<string, Connection>;
  workbench?: Workbench;
  runAt?: Moment;
  regions?: boolean;
  onPicture?: (picture: PagePicture) => void;
}

/** Runs a report, as the server does. */
export const runWith = async (report: Report, options: RunWith): Promise<RunForTest> => {
  const { models, connections, workbench, nested, given = {}, claims = OFFICE, rowsFromDatabase = true } = options;
  const plan = planReport(report, {
    models: models.map(({ model }) => model),
    report: (id) => nested?.get(id) ?? null,
    recipe: (id) => demoRecipes.find((recipe) => recipe.id === id) ?? null,
    rowsFromDatabase,
  });
  const { runAt, regions = false, onPicture, folds } = options;
  const { values } = readParameters(report, given, runAt ? { now: runAt.ms } : {});
  const pages: Page[] = [];
  const result = await runReport({
    plan,
    book: await loadShippedFonts(),
    parameters: values,
    open: () =>
      openRows(plan, {
        models: new Map(models.map((model) => [model.model.name, model])),
        connections,
        claims,
        parameters: values,
        maxRows: 1e6,
        ...(workbench ? { workbench: () => workbench } : {}),
      }),
    regions,
    ...(folds ? { folds } : {}),
    ...(runAt ? { runAt } : {}),
    ...(onPicture ? { onPicture } : {}),
    onPage: (p) => void pages.push(p),
  });
  for (const { page, marks } of result.late) pages[page - 1]!.marks.push(...marks);
  const marks = pages.flatMap((p) => p.marks).filter((m): m is TextMark => m.kind === 'text');
  return { plan, rows: result.opened, pages, result, marks, texts: marks.map((m) => m.text) };
};

/** Runs a report over the demo's database. */
export const runOver = (database: PGlite, report: Report, options: RunOptions = {}): Promise<RunForTest> =>
  runWith(report, {
    models: [cumeeiraModel],
    connections: new Map([['cumeeira', pgliteConnection(database)]]),
    ...options,
  });

export const definition = (json: Record<string, unknown>): Report => {
  const read = readDefinition({ gaveta: 2, name: 'Test', model: 'cumeeira', ...json });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};

/** A band with one formula under the other, each on a line of its own. */
export const lines = (id: string, ...formulas: string[]) => ({
  height: formulas.length * 5,
  items: formulas.map((formula, i) => ({
    kind: 'field',
    id: `${id}_${i}`,
    x: 0,
    y: i * 5,
    width: 180,
    height: 5,
    formula,
    format: '',
  })),
});
