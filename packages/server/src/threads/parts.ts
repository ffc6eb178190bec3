import type { Writable } from 'node:stream';
import {
  type GivenParameters,
  type LateFill,
  linkedTexts,
  Moment,
  type Page,
  type PartRows,
  PartTooLarge,
  type PlanContext,
  type Problem,
  planSplit,
  type Report,
  readParameters,
  runReport,
  type Split,
  SplitRows,
} from '@gaveta/core/internal';
import { type Equipment, inMemory, type Output, pictureFile, writeReport } from '@gaveta/output';
import type { OpenRows } from '../rows/row-source.ts';
import type { MadePart, PartCalls, PartsTask, ReportJob } from './job.ts';

/** Bytes of the rows of one part that are held. */
const MOST_HELD = 64 * 1024 * 1024;

/** Parts that are on their way to whoever keeps them. */
const AT_ONCE = 32;

interface Making {
  job: ReportJob;
  context: PlanContext;
  equipment: Equipment;
  signal: AbortSignal;
  /** Opens the rows of a plan that reads all parts. */
  open: (split: Split) => Promise<OpenRows>;
  part: PartCalls['part'];
}

/** Makes the files of one part after another, over rows that are read together. Gives how many rows were gone through. */
export const makeParts = async (task: PartsTask, making: Making): Promise<number> => {
  const { job, context, open, part } = making;
  const { steps, links, values } = task;
  const split = planSplit({ report: job.report, steps, links, values }, context);
  if (!split) return 0;
  const opened = await open(split);
  const rows = new SplitRows(split, opened.source, MOST_HELD);
  let place = 0;
  const handed = new Handing(part);
  try {
    for (; place < task.parts.length; place++) {
      const next = await rows.next();
      const wanted = task.parts[place];
      if (!next || (wanted && !isExpected(split, next, wanted, job))) break;
      if (wanted) await handed.add(await madePart(task, { place, wanted }, split, next, making));
    }
    await handed.all();
    return place;
  } catch (error) {
    if (!(error instanceof PartTooLarge)) throw error;
    // It is read by itself.
    await handed.all();
    return place;
  } finally {
    rows.close();
    await opened.close?.();
  }
};

/** Parts that are handed over while others are made. */
class Handing {
  private readonly running = new Set<Promise<void>>();
  private failure: unknown = null;

  constructor(private readonly part: PartCalls['part']) {}

  async add(made: MadePart): Promise<void> {
    const running: Promise<void> = this.part(made)
      .catch((error: unknown) => {
        this.failure ??= error;
      })
      .finally(() => this.running.delete(running));
    this.running.add(running);
    while (this.running.size >= AT_ONCE) await Promise.race(this.running);
    if (this.failure) throw this.failure;
  }

  /** Waits until all are taken. */
  async all(): Promise<void> {
    await Promise.all(this.running);
    if (this.failure) throw this.failure;
  }
}

/** Whether a row gives the values that its part is expected to be read with: rows may have changed since they were told. */
const isExpected = (split: Split, { row }: PartRows, expected: GivenParameters, job: ReportJob): boolean => {
  const { name, language, timeZone } = split.own.report;
  const given = linkedTexts(split, row, { name, language, timeZone, runAt: new Moment(job.now) });
  return Object.entries(given).every(([key, text]) => text === String(expected[key] ?? ''));
};

const madePart = async (
  task: PartsTask,
  { place, wanted }: { place: number; wanted: GivenParameters },
  split: Split,
  { source, rows }: PartRows,
  making: Making,
): Promise<MadePart> => {
  const { job, equipment, signal } = making;
  const { limits } = task;
  const parameters = readParameters(split.own.report, wanted, { host: job.host, now: job.now }).values;
  const about = { parameters, host: job.host, runAt: new Moment(job.now) };
  const shared = {
    ...about,
    plan: split.own,
    open: () => ({ source }),
    maxSeconds: limits.maxSeconds,
    limits: limits.layout,
  };
  const pages: Page[] = [];
  const pictures = new Map<string, Uint8Array>();
  const run = await runReport({
    ...shared,
    book: await equipment.book(),
    regions: true,
    signal,
    maxPages: limits.maxPages,
    onPage: (page) => void pages.push(page),
    onPicture: (picture) => void pictures.set(picture.hash, pictureFile(picture)),
  });
  const made = { place, pages: run.pages, rows, problems: run.allProblems, files: [] as Uint8Array[] };
  if (made.problems.some(({ severity }) => severity === 'error')) return made;
  const laid = { pages, late: run.late, pictures };
  for (const { output: name, options } of task.files) {
    const output = equipment.output(name);
    if (!output) throw new Error(`there is no output ${name}`);
    const { sink, bytes } = inMemory();
    if (output.takes === 'pages')
      await writePages(output, options, laid, { author: task.author, of: split.own.report }, making, sink);
    else {
      const report = { ...shared, book: () => equipment.book(), options, folds: undefined };
      const { folds: _, ...plain } = report;
      const written = await writeReport(output, plain, sink, signal);
      if (written && !written.complete)
        return { ...made, problems: [...made.problems, ...errorsOf(written.allProblems)] };
    }
    made.files.push(bytes());
  }
  return made;
};

const errorsOf = (problems: readonly Problem[]): Problem[] => problems.filter(({ severity }) => severity === 'error');

const writePages = async (
  output: Extract<Output, { takes: 'pages' }>,
  options: Record<string, unknown>,
  {
    pages,
    late,
    pictures,
  }: { pages: readonly Page[]; late: readonly LateFill[]; pictures: ReadonlyMap<string, Uint8Array> },
  { author, of }: { author: string; of: Report },
  { equipment, signal }: Making,
  sink: Writable,
): Promise<void> => {
  async function* each(): AsyncGenerator<Page> {
    yield* pages;
  }
  const { name: title, language } = of;
  const book = await equipment.book();
  const picture = async (hash: string) => pictures.get(hash) ?? null;
  await output.write(
    { title, language, book, pages: each(), late: () => late, pictures: picture, options: options as never, author },
    sink,
    signal,
  );
};
