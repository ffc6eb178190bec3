import type { Writable } from 'node:stream';
import {
  type ContentListener,
  type ContentReportOptions,
  contentReport,
  type FontBook,
  listReport,
  type OpenedRows,
  type Problem,
  type RowListener,
  styleLook,
} from '@gaveta/core/internal';
import type { Output } from './output.ts';
import { pictureFile } from './writer.ts';

/** An output that is written while its rows are read, without pages in between. */
export type RowsReader = Exclude<Output, { takes: 'pages' }>;

/** A planned report on its way to a file. */
export interface WrittenReport<R extends OpenedRows>
  extends Omit<ContentReportOptions<R>, 'book' | 'listener' | 'onPicture' | 'signal'> {
  book: () => Promise<FontBook>;
  /** Those of the output, as they were given. */
  options: Record<string, unknown>;
}

export interface WrittenResult<R> {
  rows: number;
  /** False when a limit ended it early. */
  complete: boolean;
  allProblems: Problem[];
  /** As they were opened; closed by now. */
  opened: R;
}

/**
 * Writes what a report shows to a file. Gives what came of reading it; null where the writer asked for nothing of it. Rejects with
 * the signal’s reason, or with what went wrong.
 */
export const writeReport = async <R extends OpenedRows>(
  output: RowsReader,
  { book, options, ...report }: WrittenReport<R>,
  sink: Writable,
  signal: AbortSignal,
): Promise<WrittenResult<R> | null> => {
  const { plan, limits } = report;
  const { name: title, language, timeZone, styles } = plan.report;
  const facts = { title, language, timeZone, options };
  let result: WrittenResult<R> | null = null;
  if (output.takes === 'rows') {
    const listing = listReport(plan);
    const ahead = limits?.maxAhead === undefined ? {} : { maxAhead: limits.maxAhead };
    const rows = async (listener: RowListener): Promise<void> => {
      result = await listing.rows(listener, { ...report, ...ahead, signal });
    };
    await output.write({ ...facts, sets: listing.sets, rows }, sink, signal);
    return result;
  }
  const fonts = await book();
  const pictures = new Map<string, Uint8Array>();
  const content = async (listener: ContentListener): Promise<void> => {
    result = await contentReport({
      ...report,
      book: fonts,
      listener,
      onPicture: (picture) => void pictures.set(picture.hash, pictureFile(picture)),
      signal,
    });
  };
  const run = {
    ...facts,
    book: fonts,
    styles: Object.fromEntries(Object.keys(styles).map((name) => [name, styleLook(styles, name)])),
    content,
    pictures: async (hash: string) => {
      const file = pictures.get(hash) ?? null;
      // It is asked for once.
      pictures.delete(hash);
      return file;
    },
  };
  await output.write(run, sink, signal);
  return result;
};
