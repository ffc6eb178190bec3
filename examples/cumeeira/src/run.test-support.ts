import { Writable } from 'node:stream';
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
import { loadEquipment, loadShippedFonts, writeReport } from '@gaveta/output';
import {
  type Claims,
  type Connection,
  type OpenRows,
  openRows,
  pgliteConnection,
  type RegisteredModel,
  Workbench,
} from '@gaveta/server';
import { cumeeiraModel, demoRecipes, openDemoDatabase, openDemoSources } from './index.ts';

/** How many times as many random definitions are tried: `GAVETA_LONGER=4 npm test` takes its time. */
export const LONGER = Number(process.env.GAVETA_LONGER ?? 1);

/** Opens something once for all files that run one after another, which only read it; it is gone with their process. */
const once = <T>(open: () => Promise<T>): (() => Promise<T>) => {
  let opened: Promise<T> | null = null;
  return () => {
    opened ??= open();
    return opened;
  };
};

/** The demo's database. */
export const demoDatabase = once(() => openDemoDatabase('.data'));

/** Everything that the demo’s reports take rows from. */
export const demoSources = once(async (): Promise<Pick<RunWith, 'models' | 'connections' | 'workbench'>> => {
  const { models, connections } = await openDemoSources('.data');
  return { models, connections: new Map(Object.entries(connections)), workbench: new Workbench() };
});

/**
 * The demo's database with nine of its huts, the one without stays among them, for tests that compare many reports. No
 * row refers to one that is gone, but those of weather and signals, which no such test reads.
 */
export const fewHuts = once(async (): Promise<PGlite> => {
  const database = await openDemoDatabase('.data');
  await database.exec(`set session_replication_role = replica;
    delete from hut where id % 3 <> 0;
    delete from stay where hut_id % 3 <> 0;
    delete from charge where not exists (select from stay where stay.id = stay_id);
    delete from payment where not exists (select from stay where stay.id = stay_id);
    set session_replication_role = origin;
    analyze`);
  return database;
});

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

/** A report over the demo’s data, planned. */
export const planOver = (report: Report): ReportPlan =>
  planReport(report, { models: [cumeeiraModel.model], report: () => null, rowsFromDatabase: true });

/** The rows of every set of a name that a report shows, in their order: as texts, blanks as ones without letters. */
export const rowsShown = async (database: PGlite, plan: ReportPlan, name: string): Promise<string[][]> => {
  const equipment = await loadEquipment();
  const output = equipment.output('json')!;
  if (output.takes === 'pages') throw new Error('JSON is made of rows');
  const chunks: Buffer[] = [];
  const sink = new Writable({
    write: (chunk: Buffer, _, done) => {
      chunks.push(chunk);
      done();
    },
  });
  const { values: parameters } = readParameters(plan.report, {});
  const open = () =>
    openRows(plan, {
      models: new Map([['cumeeira', cumeeiraModel]]),
      connections: new Map([['cumeeira', pgliteConnection(database)]]),
      claims: OFFICE,
      parameters,
      maxRows: 1e6,
    });
  const task = { plan, open, parameters, options: { numbers: 'text' }, book: () => equipment.book() };
  await writeReport(output, task, sink, new AbortController().signal);
  const found: string[][] = [];
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) for (const one of value) visit(one);
    else if (typeof value === 'object' && value !== null)
      for (const [key, inner] of Object.entries(value)) {
        if (key === name) for (const row of inner as object[]) found.push(Object.values(row).map(textOf));
        else visit(inner);
      }
  };
  visit(JSON.parse(Buffer.concat(chunks).toString()));
  return found;
};

const textOf = (value: unknown): string =>
  value === null ? '' : typeof value === 'boolean' ? String(value).toUpperCase() : String(value);
