import { createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { finished } from 'node:stream/promises';
import {
  bestLanguage,
  type FoldState,
  languageOfRun,
  languagesOf,
  planReport,
  type Report,
  readParameters,
} from '@gaveta/core/internal';
import { type Equipment, fileTypeOf, loadEquipment } from '@gaveta/output';
import { Archive } from '@gaveta/output/archive';
import { fileName } from '@gaveta/output/file-name';
import { openRows } from '@gaveta/server';
import { loadConfig } from './config.ts';
import { findDefinition, printProblems, readDefinitions } from './definitions.ts';
import { workbenchOf } from './own-workbench.ts';
import { type RenderedReport, type RenderResult, writeFile, writeJoined } from './report-file.ts';
import { pairsOf, type WantedFile, wantedFiles } from './wanted.ts';

export interface RenderOptions {
  param: string[];
  option: string[];
  /** Several become a zip. */
  format: string[];
  out?: string;
  /** Of a file in which several reports are joined. */
  title?: string;
  /** Of its reader; where the report decides on it by itself, nothing. */
  language?: string;
  /** What can be opened and closed. */
  folds: FoldState['base'];
  profile: boolean;
  config?: string;
}

/** Rows a run may bring for each drawer. */
const MAX_ROWS = 5_000_000;

/** Runs reports and writes them to a file; gives the exit code. */
export const render = async (given: readonly string[], options: RenderOptions): Promise<number> => {
  const equipment = await loadEquipment();
  const wanted = wantedFiles(equipment, options.format, options.option);
  const parameters = pairsOf(options.param, '--param');
  if (!wanted || !parameters || !canBeJoined(given, wanted)) return 2;
  const config = await loadConfig(options.config);
  if (!config) {
    console.error(
      'gaveta: there is no gaveta.config.ts here, so it is not known which data to use. Name one with --config.',
    );
    return 2;
  }
  const workbench = workbenchOf(config);
  try {
    const definitions = await readDefinitions(config);
    const found: Report[] = [];
    for (const one of given) {
      const report = await findDefinition(one, definitions);
      if (!report) return 2;
      found.push(report);
    }
    const values = parametersOf(found, parameters);
    if (!values || !speakIt(found, options.language)) return 2;
    const connections = new Map(Object.entries(await config.connections()));
    const sources = {
      models: definitions.models,
      workbench: workbench.open,
      connections,
      claims: config.claims,
      maxRows: MAX_ROWS,
    };
    const reports = found.map((report, i): RenderedReport => {
      const read = values[i]!;
      const reader = options.language === undefined ? [] : [options.language];
      const language = languageOfRun(report, { values: read, reader });
      const plan = planReport(report, { ...definitions.context, language });
      return {
        plan,
        parameters: read,
        folds: options.folds,
        open: () => openRows(plan, { ...sources, parameters: read }),
      };
    });
    const title = options.title ?? found.map(({ name }) => name).join(', ');
    const started = performance.now();
    const out = options.out ?? `${fileName(title, 'report')}.${extensionOf(wanted)}`;
    const results = await intoFile(out, { reports, wanted, title, equipment });
    // Each file says the same of the report.
    const problems = results[0]!.allProblems;
    printProblems(problems);
    const seconds = ((performance.now() - started) / 1000).toFixed(1);
    if (options.profile) for (const result of results) printProfile(result);
    const rows = results[0]!.rows;
    const pages = results.find((one) => one.pages !== null)?.pages ?? null;
    console.log(`${out}: ${pages === null ? '' : `${pages} pages from `}${rows} rows in ${seconds} s`);
    return problems.some((p) => p.severity === 'error') ? 1 : 0;
  } finally {
    await workbench.close();
    await config.close();
  }
};

/** Whether what is wanted can be of several reports, if it is; says why not. */
const canBeJoined = (reports: readonly string[], [first, second]: readonly WantedFile[]): boolean => {
  if (reports.length < 2) return true;
  if (second) console.error('gaveta: several reports are joined in one format. Give one --format.');
  else if (first!.output.takes !== 'pages')
    console.error(`gaveta: reports are joined page after page, which “${first!.output.name}” has none of.`);
  else return true;
  return false;
};

/** Whether reports speak a language that is asked for; says which ones they do speak. */
const speakIt = (reports: readonly Report[], language: string | undefined): boolean => {
  const silent = reports.find((report) => language !== undefined && !bestLanguage([language], languagesOf(report)));
  if (silent)
    console.error(`gaveta: “${silent.name}” does not speak ${language}, but ${languagesOf(silent).join(', ')}.`);
  return !silent;
};

const extensionOf = ([first, second]: readonly WantedFile[]): string =>
  second ? 'zip' : fileTypeOf(first!.output, first!.options).extension;

/** The values of each report’s parameters; null, with the reason printed, where one does not fit or none of them has it. */
const parametersOf = (
  reports: readonly Report[],
  given: Record<string, string>,
): RenderedReport['parameters'][] | null => {
  const of = (report: Report): Record<string, string> =>
    reports.length === 1
      ? given
      : Object.fromEntries(
          Object.entries(given).filter(([name]) => report.parameters.some((one) => one.name === name)),
        );
  const stray = Object.keys(given).find((name) => reports.length > 1 && reports.every((one) => !(name in of(one))));
  if (stray !== undefined) {
    console.error(`gaveta: none of the reports has a parameter “${stray}”.`);
    return null;
  }
  const read = reports.map((report) => readParameters(report, of(report)));
  const problems = read.flatMap((one) => one.problems);
  printProblems(problems);
  return problems.length > 0 ? null : read.map(({ values }) => values);
};

interface FileContent {
  reports: readonly RenderedReport[];
  wanted: readonly WantedFile[];
  title: string;
  equipment: Equipment;
}

/** Writes a file that is there only when all of it is. What is no file, as a device or a pipe, is written to as it is. */
const intoFile = async (out: string, content: FileContent): Promise<RenderResult[]> => {
  const there = await stat(out).catch(() => null);
  const part = there && !there.isFile() ? out : `${out}.part`;
  const sink = createWriteStream(part);
  try {
    const results = await writeAll(content, sink);
    await finished(sink);
    if (part !== out) await rename(part, out);
    return results;
  } catch (error) {
    sink.destroy();
    if (part !== out) await rm(part, { force: true });
    throw error;
  }
};

const writeAll = async (
  { reports, wanted, title, equipment }: FileContent,
  sink: ReturnType<typeof createWriteStream>,
): Promise<RenderResult[]> => {
  const [report] = reports as [RenderedReport];
  const [first] = wanted as [WantedFile];
  const { output, options } = first;
  if (reports.length > 1 && output.takes === 'pages')
    return [await writeJoined({ output, options }, reports, { title, equipment, sink })];
  if (wanted.length === 1) return [await writeFile(first, report, equipment, sink)];
  const archive = new Archive(sink);
  const results: RenderResult[] = [];
  for (const one of wanted) {
    const { extension } = fileTypeOf(one.output, one.options);
    const { stream, done } = archive.begin(`${fileName(title, 'report')}.${extension}`);
    results.push(await writeFile(one, report, equipment, stream));
    await archive.taken(done);
  }
  await archive.end();
  return results;
};

const printProfile = ({ queries, work }: RenderResult): void => {
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
