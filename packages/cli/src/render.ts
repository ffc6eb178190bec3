import { createWriteStream } from 'node:fs';
import { type LayoutWork, planReport, readParameters, runReport } from '@gaveta/core';
import { createPdfWriter, loadShippedFonts, pictureFile } from '@gaveta/output';
import { type OpenRows, openRows, Workbench } from '@gaveta/server';
import { loadConfig } from './config.ts';
import { findDefinition, printProblems, readDefinitions } from './definitions.ts';

interface RenderOptions {
  param: string[];
  format: string;
  out?: string;
  profile: boolean;
  config?: string;
}

/** Rows a run may bring for each drawer. */
const MAX_ROWS = 5_000_000;

export const render = async (given: string, options: RenderOptions): Promise<number> => {
  if (options.format !== 'pdf') {
    console.error(`gaveta: the format “${options.format}” is not known. There is pdf.`);
    return 2;
  }
  const parameters: Record<string, string> = {};
  for (const pair of options.param) {
    const at = pair.indexOf('=');
    if (at < 1) {
      console.error(`gaveta: --param takes name=value, not “${pair}”.`);
      return 2;
    }
    parameters[pair.slice(0, at)] = pair.slice(at + 1);
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
    const book = await loadShippedFonts();
    const connections = new Map(Object.entries(await config.connections()));
    const bench: { workbench?: Workbench } = {};
    const out = options.out ?? `${report.name}.pdf`;
    const pictures = new Map<string, Uint8Array>();
    const writer = createPdfWriter(createWriteStream(out), book, {
      title: report.name,
      pictures: async (hash) => {
        const file = pictures.get(hash) ?? null;
        // It is asked for once.
        pictures.delete(hash);
        return file;
      },
    });
    const started = performance.now();
    const result = await runReport({
      plan,
      book,
      parameters: read.values,
      open: () =>
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
        }),
      onPage: (page) => writer.page(page),
      onPicture: (picture) => void pictures.set(picture.hash, pictureFile(picture)),
    });
    await writer.end(result.late);
    await bench.workbench?.close();
    const problems = result.allProblems;
    printProblems(problems);
    const seconds = ((performance.now() - started) / 1000).toFixed(1);
    if (options.profile) printProfile(result.opened.queries, result.work);
    console.log(`${out}: ${result.pages} pages from ${result.rows} rows in ${seconds} s`);
    return problems.some((p) => p.severity === 'error') ? 1 : 0;
  } finally {
    await config.close();
  }
};

const printProfile = (queries: OpenRows['queries'], work: LayoutWork): void => {
  const ms = (value: number): string => `${Math.round(value)} ms`;
  for (const { report, level, rows, milliseconds, query } of queries) {
    console.log(`${report}, ${level.drawer.name}: ${rows} rows in ${ms(milliseconds)}\n${query.text}\n`);
  }
  const { formulas, waiting, layout, writing } = work;
  console.log(
    `${formulas} formulas; waiting for rows ${ms(waiting)}, layout ${ms(layout)}, writing ${ms(writing)}; ${Math.round(process.memoryUsage.rss() / 1e6)} MB of memory`,
  );
};
