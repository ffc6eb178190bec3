import { Readable, Writable } from 'node:stream';
import {
  type FoldState,
  type LateFill,
  listReport,
  type Page,
  type Problem,
  type ReportPlan,
  type RowListener,
  runReport,
  type Value,
} from '@gaveta/core/internal';
import {
  type Equipment,
  fileTypeOf,
  type Output,
  PageChannel,
  type PagesRun,
  type PictureFiles,
  pictureFile,
  type RowsReader,
  writeReport,
} from '@gaveta/output';
import { joinedPage } from '@gaveta/output/join';
import { wholePages } from '@gaveta/output/pages';
import type { OpenRows } from '@gaveta/server';
import type { WantedFile } from './wanted.ts';

/** A planned report, and what its rows are read with. */
export interface RenderedReport {
  plan: ReportPlan;
  parameters: Record<string, Value>;
  open: () => Promise<OpenRows>;
  folds: FoldState['base'];
}

/** What came of writing a file. */
export interface RenderResult {
  rows: number;
  /** None where the file was written without them. */
  pages: number | null;
  allProblems: Problem[];
  queries: OpenRows['queries'];
  work: Awaited<ReturnType<typeof runReport<OpenRows>>>['work'] | null;
}

type OutputTaking<T extends Output['takes']> = Extract<Output, { takes: T }>;

/** The command goes on to its end. */
const NEVER = new AbortController().signal;

/** Writes a report to a file of any format. */
export const writeFile = (
  { output, options }: WantedFile,
  report: RenderedReport,
  equipment: Equipment,
  sink: Writable,
): Promise<RenderResult> =>
  output.takes === 'pages'
    ? writePages({ output, options }, report, equipment, sink)
    : writeRows({ output, options }, report, equipment, sink);

/** Pages of a run that goes on while they are taken, and what came of it. */
class PagesOfRun {
  readonly channel = new PageChannel();
  late: readonly LateFill[] = [];
  private readonly pictureFiles = new Map<string, Uint8Array>();
  readonly pictures: PictureFiles = async (hash) => {
    const file = this.pictureFiles.get(hash) ?? null;
    // It is asked for once.
    this.pictureFiles.delete(hash);
    return file;
  };

  async run({ plan, parameters, folds, open }: RenderedReport, equipment: Equipment): Promise<RenderResult> {
    try {
      const { late, rows, pages, allProblems, opened, work } = await runReport({
        plan,
        book: await equipment.book(),
        parameters,
        folds: { base: folds, turned: [] },
        open,
        // Files tell by them what belongs to which row.
        regions: true,
        onPage: (page) => this.channel.put(page),
        onPicture: (picture) => void this.pictureFiles.set(picture.hash, pictureFile(picture)),
      });
      this.late = late;
      this.channel.end();
      return { rows, pages, allProblems, queries: opened.queries, work };
    } catch (error) {
      this.channel.end(error);
      throw error;
    }
  }
}

/** What both come to; where one fails, what it failed with when the other has ended too. */
const together = async <T>(writing: Promise<void>, run: () => Promise<T>): Promise<T> => {
  // Heard below, when the run has ended.
  writing.catch(() => {});
  const result = await run();
  await writing;
  return result;
};

/** Lays the report out, and writes its pages as they come. */
const writePages = async (
  { output, options }: { output: OutputTaking<'pages'>; options: Record<string, string> },
  report: RenderedReport,
  equipment: Equipment,
  sink: Writable,
): Promise<RenderResult> => {
  const made = new PagesOfRun();
  const { name, language } = report.plan.report;
  const task = {
    title: name,
    language,
    book: await equipment.book(),
    pages: made.channel,
    late: () => made.late,
    pictures: made.pictures,
    options,
    ...attachedTo(output, options, report, equipment),
  };
  const writing = output.write(task, sink, NEVER).catch((error: unknown) => {
    made.channel.end(error);
    throw error;
  });
  return together(writing, () => made.run(report, equipment));
};

/** Lays reports out one after another, and writes all their pages to one file. */
export const writeJoined = async (
  { output, options }: { output: OutputTaking<'pages'>; options: Record<string, string> },
  reports: readonly RenderedReport[],
  { title, equipment, sink }: { title: string; equipment: Equipment; sink: Writable },
): Promise<RenderResult> => {
  const results: RenderResult[] = [];
  const runs: PagesOfRun[] = [];
  async function* pages(): AsyncGenerator<Page> {
    let offset = 0;
    for (const [index, report] of reports.entries()) {
      const made = new PagesOfRun();
      runs.push(made);
      const running = made.run(report, equipment);
      // Heard below; whoever takes its pages hears of it before.
      running.catch(() => {});
      try {
        const whole = wholePages({ pages: made.channel, late: () => made.late }, {}, NEVER);
        for await (const page of whole) yield joinedPage(page, { title: report.plan.report.name, index, offset });
      } finally {
        made.channel.end(new Error('its pages are not taken any more'));
      }
      const result = await running;
      results.push(result);
      offset += result.pages!;
    }
  }
  const { language } = reports[0]!.plan.report;
  const book = await equipment.book();
  const pictures: PictureFiles = async (hash) => {
    for (const one of runs) {
      const file = await one.pictures(hash);
      if (file) return file;
    }
    return null;
  };
  await output.write({ title, language, book, pages: pages(), late: () => [], pictures, options }, sink, NEVER);
  return {
    rows: results.reduce((sum, { rows }) => sum + rows, 0),
    pages: results.reduce((sum, one) => sum + one.pages!, 0),
    allProblems: results.flatMap(({ allProblems }) => allProblems),
    queries: results.flatMap(({ queries }) => queries),
    work: null,
  };
};

/** The file of rows that is to be attached, read in a run of its own. */
const attachedTo = (
  output: OutputTaking<'pages'>,
  given: Record<string, string>,
  { plan, open, parameters }: RenderedReport,
  equipment: Equipment,
): Pick<PagesRun<unknown>, 'attached'> => {
  const choice = output.attaches?.(given);
  const inside = choice && equipment.output(choice.output);
  if (!choice || !inside || inside.takes === 'pages') return {};
  const { options } = choice;
  return {
    attached: async () => {
      const chunks: Uint8Array[] = [];
      const sink = new Writable({
        write: (chunk: Uint8Array, _, done) => {
          chunks.push(chunk);
          done();
        },
      });
      await writeReport(inside, { plan, open, parameters, book: () => equipment.book(), options }, sink, NEVER);
      return { ...fileTypeOf(inside, options), name: plan.report.name, data: Readable.from(chunks) };
    },
  };
};

/** Writes what the report shows, without pages in between. */
const writeRows = async (
  { output, options }: { output: RowsReader; options: Record<string, string> },
  { plan, open, parameters, folds }: RenderedReport,
  equipment: Equipment,
  sink: Writable,
): Promise<RenderResult> => {
  const report = { plan, open, parameters, options, book: () => equipment.book(), folds: { base: folds, turned: [] } };
  const written = await writeReport(output, report, sink, NEVER);
  // One that writes no more than what sets there are never asks for a row.
  const { rows, allProblems, opened } = written ?? (await listReport(plan).rows(SILENT, { open, parameters }));
  return { rows, pages: null, allProblems, queries: opened.queries, work: null };
};

/** Hears of rows, and does nothing. */
const SILENT: RowListener = { begins: () => {}, row: () => {}, rowEnds: () => {}, ends: () => {} };
