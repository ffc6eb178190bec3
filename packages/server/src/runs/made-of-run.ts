import { AS_STARTED, type AskedValue, phrase, type Report } from '@gaveta/core/internal';
import { fileTypeOf } from '@gaveta/output/output';
import { ApiError } from '../base/api-error.ts';
import type { RowSpool } from '../pages/row-spool.ts';
import type { KeptRows, ListCalls, ReportTask, RunLimits, TaskAnswers } from '../threads/job.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import { FileRefused, TookTooLong } from '../threads/thread-pool.ts';
import type { RunFile, WriteFile } from './run-file.ts';
import { type FileOfOutput, GRACE, type OutputAsked, type RunRequest } from './run-request.ts';

/** What can be made of a run: of its pages, or of its rows once more. */
export interface MadeRun {
  readonly report: Report;
  readonly request: RunRequest;
  readonly pageCount: number;
  readonly rowCount: number;
  page(number: number): Promise<Uint8Array | null>;
  picture(hash: string): Promise<Uint8Array | null>;
  /** What it was asked for, and its rows, held until they are let go; null when they are not all there. */
  again(): { request: RunRequest; rows: RowSpool | null };
}

/** Where it is made, and how much it may take. */
interface Over {
  threads: ReportThreads;
  limits: RunLimits;
}

/** Writes the pages of a run to a file. `inside`: the file of rows that goes with it. */
export const pagesTo =
  (
    run: MadeRun,
    asked: OutputAsked,
    inside: { of: FileOfOutput; file: () => RunFile } | null,
    { threads, limits }: Over,
  ): WriteFile =>
  async (write, signal, progress) => {
    const file = inside?.file();
    const letGo = file?.hold() ?? (() => {});
    const page = async (_: number, number: number): Promise<Uint8Array> => {
      const written = await run.page(number);
      if (!written) throw new Error(`page ${number} of the run is gone`);
      progress(number, run.pageCount);
      return written;
    };
    const picture = (hash: string): Promise<Uint8Array | null> => run.picture(hash);
    const { name, language } = run.report;
    try {
      const data = file && (await file.whole(signal))?.chunks();
      const attached = async (): Promise<Uint8Array | null> => (await data?.next())?.value ?? null;
      const task = {
        ...asked,
        title: name,
        language,
        parts: [{ title: name, pages: run.pageCount }],
        author: run.request.user,
        ...(inside ? { attached: { name, ...fileTypeOf(inside.of.output, inside.of.options) } } : {}),
      };
      await threads.file(task, { page, picture, write, attached }, signal, limits.maxSeconds);
    } finally {
      letGo();
    }
  };

/** Does a task over the rows of a run: those that were kept, or else read again. */
const overItsRows = async <T extends Extract<ReportTask, { kind: 'list' | 'explain' }>>(
  run: MadeRun,
  task: (rows: KeptRows | null) => T,
  heard: Omit<ListCalls, 'kept'> | Record<string, never>,
  { threads, limits }: Over,
  signal: AbortSignal,
): Promise<TaskAnswers[T['kind']]> => {
  const { rows } = run.again();
  const { job, rows: from, isSignedIn } = run.request;
  try {
    // Connections that were opened with somebody’s password are gone with the run.
    if (!rows && isSignedIn) throw new ApiError('rows-gone');
    const kept = async (level: number, place: number) => (await rows?.batch(level, place)) ?? null;
    const asked = { job, rows: from, signal, seconds: limits.maxSeconds + GRACE };
    return await threads.work(task(rows && { id: rows.id, bytes: rows.bytes }), asked, { ...heard, kept });
  } finally {
    await rows?.letGo();
  }
};

const foldsOf = ({ request }: MadeRun) => request.again?.folds ?? AS_STARTED;

/** Writes the rows of a run to a file. */
export const rowsTo =
  (run: MadeRun, asked: OutputAsked, over: Over): WriteFile =>
  async (write, signal, progress) => {
    const { limits } = over;
    const heard = { write, progress: async (read: number) => progress(read, run.rowCount) };
    const task = (rows: KeptRows | null) => ({ kind: 'list' as const, ...asked, limits, folds: foldsOf(run), rows });
    const { complete, refused } = await overItsRows(run, task, heard, over, signal);
    if (refused !== null) throw new FileRefused(refused);
    if (!complete) throw new TookTooLong(phrase('took-long', { seconds: limits.maxSeconds }));
  };

/** Where a value of a run comes from; null when no page has it. */
export const explainedOf = (
  run: MadeRun,
  asked: AskedValue,
  over: Over,
  signal: AbortSignal,
): Promise<TaskAnswers['explain']> => {
  const { limits } = over;
  const task = (rows: KeptRows | null) => ({ kind: 'explain' as const, asked, limits, folds: foldsOf(run), rows });
  return overItsRows(run, task, {}, over, signal);
};
