import { createWriteStream } from 'node:fs';
import { Readable, Writable } from 'node:stream';
import {
  type FoldState,
  type LateFill,
  type LayoutWork,
  listReport,
  planReport,
  type ReportPlan,
  type RowListener,
  readParameters,
  runReport,
  type Value,
} from '@gaveta/core/internal';
import {
  type Equipment,
  fileTypeOf,
  loadEquipment,
  type Output,
  PageChannel,
  type PagesRun,
  pictureFile,
  type RowsReader,
  writeReport,
} from '@gaveta/output';
import { type OpenRows, openRows, Workbench } from '@gaveta/server';
import { loadConfig } from './config.ts';
import { findDefinition, printProblems, readDefinitions } from './definitions.ts';

export interface RenderOptions {
  param: string[];
  option: string[];
  format: string;
  out?: string;
  /** What can be opened and closed. */
  folds: FoldState['base'];
  profile: boolean;
  config?: string;
}

/** Rows a run may bring for each drawer. */
const MAX_ROWS = 5_000_000;

export const render = async (given: string, options: RenderOptions): Promise<number> => {
  const equipment = await loadEquipment();
  const output = equipment.output(options.format);
  if (!output) {
    const names = equipment.outputs.map(({ name }) => name).join(', ');
    console.error(`gaveta: the format “${options.format}” is not known. There is: ${names}.`);
    return 2;
  }
  const outputOptions = pairsOf(options.option, '--option');
  const parameters = pairsOf(options.param, '--param');
  if (!outputOptions || !parameters) return 2;
  const fits = output.options.safeParse(outputOptions);
  if (!fits.success) {
    for (const { path, message } of fits.error.issues)
      console.error(`gaveta: --option ${path.join('.')}${path.length > 0 ? ': ' : ''}${message}`);
    return 2;
  }
  const config = await loadConfig(options.config);
  if (!config) {
    console.error(
      'gaveta: there is no gaveta.config.ts here, so it is not known which data to use. Name one with --config.',
    );
    return 2;
  }
  try {
    const definitions = await readDefinitions(config);
    const report = await findDefinition(given, definitions);
    if (!report) return 2;
    const read = readParameters(report, parameters);
    printProblems(read.problems);
    if (read.problems.length > 0) return 2;
    const plan = planReport(report, definitions.context);
    const bench: { workbench?: Workbench } = {};
    const out = options.out ?? `${report.name}.${fileTypeOf(output, outputOptions).extension}`;
    const open = () =>
      openRows(plan, {
        models: definitions.models,
        workbench: () => {
          bench.workbench ??= new Workbench();
          return bench.workbench;
        },
        connections,
        claims: config.claims,
        parameters: read.values,
        maxRows: MAX_ROWS,
      });
    const connections = new Map(Object.entries(await config.connections()));
    const started = performance.now();
    const task = { plan, parameters: read.values, open, options: outputOptions, equipment, folds: options.folds };
    const result =
      output.takes === 'pages' ? await renderPages(output, task, out) : await renderRows(output, task, out);
    await bench.workbench?.close();
    const problems = result.allProblems;
    printProblems(problems);
    const seconds = ((performance.now() - started) / 1000).toFixed(1);
    if (options.profile) printProfile(result.opened.queries, 'work' in result ? (result.work as LayoutWork) : null);
    const made = 'pages' in result ? `${result.pages} pages from ${result.rows} rows` : `${result.rows} rows`;
    console.log(`${out}: ${made} in ${seconds} s`);
    return problems.some((p) => p.severity === 'error') ? 1 : 0;
  } finally {
    await config.close();
  }
};

interface RenderTask {
  plan: ReportPlan;
  parameters: Record<string, Value>;
  open: () => Promise<OpenRows>;
  options: Record<string, string>;
  equipment: Equipment;
  folds: FoldState['base'];
}

type OutputTaking<T extends Output['takes']> = Extract<Output, { takes: T }>;

/** Lays the report out, and writes its pages as they come. */
const renderPages = async (
  output: OutputTaking<'pages'>,
  { plan, options, equipment, ...run }: RenderTask,
  out: string,
) => {
  const book = await equipment.book();
  const pictures = new Map<string, Uint8Array>();
  const pages = new PageChannel();
  let late: readonly LateFill[] = [];
  const task = {
    title: plan.report.name,
    language: plan.report.language,
    book,
    pages,
    late: () => late,
    pictures: async (hash: string) => {
      const file = pictures.get(hash) ?? null;
      // It is asked for once.
      pictures.delete(hash);
      return file;
    },
    options,
    ...attachedTo(output, { plan, options, equipment, ...run }),
  };
  const written = output.write(task, createWriteStream(out), new AbortController().signal).catch((error: unknown) => {
    pages.end(error);
    throw error;
  });
  // Heard below, when the run has ended.
  written.catch(() => {});
  const result = await runReport({
    plan,
    book,
    parameters: run.parameters,
    folds: { base: run.folds, turned: [] },
    open: run.open,
    // Files tell by them what belongs to which row.
    regions: true,
    onPage: (page) => pages.put(page),
    onPicture: (picture) => void pictures.set(picture.hash, pictureFile(picture)),
  }).catch((error: unknown) => {
    pages.end(error);
    throw error;
  });
  late = result.late;
  pages.end();
  await written;
  return result;
};

/** The file of rows that is to be attached, read in a run of its own. */
const attachedTo = (output: OutputTaking<'pages'>, report: RenderTask): Pick<PagesRun<unknown>, 'attached'> => {
  const choice = output.attaches?.(report.options);
  const inside = choice && report.equipment.output(choice.output);
  if (!choice || !inside || inside.takes === 'pages') return {};
  const { plan, open, parameters, equipment } = report;
  const book = () => equipment.book();
  return {
    attached: async () => {
      const chunks: Uint8Array[] = [];
      const sink = new Writable({
        write: (chunk: Uint8Array, _, done) => {
          chunks.push(chunk);
          done();
        },
      });
      await writeReport(inside, { plan, open, parameters, book, options: choice.options }, sink, NEVER);
      return { ...fileTypeOf(inside, choice.options), name: plan.report.name, data: Readable.from(chunks) };
    },
  };
};

/** The command goes on to its end. */
const NEVER = new AbortController().signal;

/** Writes what the report shows, without pages in between. */
const renderRows = async (
  output: RowsReader,
  { plan, open, parameters, options, equipment, folds }: RenderTask,
  out: string,
) => {
  const report = { plan, open, parameters, options, book: () => equipment.book(), folds: { base: folds, turned: [] } };
  const result = await writeReport(output, report, createWriteStream(out), new AbortController().signal);
  // One that writes no more than what sets there are never asks for a row.
  return result ?? listReport(plan).rows(SILENT, { open, parameters });
};

/** Hears of rows, and does nothing. */
const SILENT: RowListener = { begins: () => {}, row: () => {}, rowEnds: () => {}, ends: () => {} };

/** Values by name; null, with the reason printed, when a pair has no name. */
const pairsOf = (pairs: readonly string[], flag: string): Record<string, string> | null => {
  const values: Record<string, string> = {};
  for (const pair of pairs) {
    const at = pair.indexOf('=');
    if (at < 1) {
      console.error(`gaveta: ${flag} takes name=value, not “${pair}”.`);
      return null;
    }
    values[pair.slice(0, at)] = pair.slice(at + 1);
  }
  return values;
};

const printProfile = (queries: OpenRows['queries'], work: LayoutWork | null): void => {
  const ms = (value: number): string => `${Math.round(value)} ms`;
  for (const { report, level, rows, milliseconds, query } of queries) {
    console.log(`${report}, ${level.drawer.name}: ${rows} rows in ${ms(milliseconds)}\n${query.text}\n`);
  }
  if (!work) return;
  const { formulas, waiting, layout, writing } = work;
  console.log(
    `${formulas} formulas; waiting for rows ${ms(waiting)}, layout ${ms(layout)}, writing ${ms(writing)}; ${Math.round(process.memoryUsage.rss() / 1e6)} MB of memory`,
  );
};
