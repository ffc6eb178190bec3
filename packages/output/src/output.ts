import type { Writable } from 'node:stream';
import type { FontBook, LateFill, Page } from '@gaveta/core/internal';
import type { z } from 'zod';
import type { PictureFiles } from './writer.ts';

/** What makes an output known: in the address of the API's route, to the command line, in menus. */
export interface OutputFacts {
  /** Of letters, digits and `-`. */
  name: string;
  /** As menus show it. */
  label: string;
  /** Media type of the file. */
  mime: string;
  /** Without the dot. */
  extension: string;
}

/** A laid-out report on its way to a file. */
export interface PagesRun<O> {
  title: string;
  book: FontBook;
  /** In order; the next one is asked for when the writer is ready for it. */
  pages: AsyncIterable<Page>;
  /** What pages lacked because it shows the number of pages. Known once all of them have been taken. */
  late: () => Iterable<LateFill>;
  pictures: PictureFiles;
  options: O;
}

/** Writes laid-out pages to a file. */
export interface PagesOutput<O> extends OutputFacts {
  takes: 'pages';
  /** Every option has a default or may be left out; values come as the texts of an address as well. */
  options: z.ZodType<O>;
  /**
   * Writes the whole file to `sink` and ends it. Rejects with the signal's reason when it is aborted, and with what went wrong
   * otherwise; the file is not whole then.
   */
  write: (run: PagesRun<O>, sink: Writable, signal: AbortSignal) => Promise<void>;
}

/** An output of any kind, with options as they are given. Made by {@link defineOutput}. */
export interface Output extends OutputFacts {
  takes: 'pages';
  options: z.ZodType;
  /** Throws a ZodError when the options do not fit. */
  write: (run: PagesRun<unknown>, sink: Writable, signal: AbortSignal) => Promise<void>;
}

export const defineOutput = <O>(output: PagesOutput<O>): Output => ({
  ...output,
  write: async (run, sink, signal) => {
    const options = output.options.parse(run.options ?? {});
    await output.write({ ...run, options }, sink, signal);
  },
});
