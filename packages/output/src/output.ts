import type { Writable } from 'node:stream';
import type { ContentListener, FontBook, LateFill, ListedSet, Look, Page, RowListener } from '@gaveta/core/internal';
import type { z } from 'zod';
import type { PictureFiles } from './writer.ts';

/** What a file is called and known as. */
export interface FileType {
  /** Media type of the file. */
  mime: string;
  /** Without the dot. */
  extension: string;
}

/** What makes an output known: in the address of the API's route, to the command line, in menus. */
export interface OutputFacts extends FileType {
  /** Of letters, digits and `-`. */
  name: string;
  /** As menus show it. */
  label: string;
}

/** What every output gets of the run that becomes a file. */
interface AnyRun<O> {
  title: string;
  /** BCP 47 tag. */
  language: string;
  options: O;
}

/** A laid-out report on its way to a file. */
export interface PagesRun<O> extends AnyRun<O> {
  book: FontBook;
  /** In order; the next one is asked for when the writer is ready for it. */
  pages: AsyncIterable<Page>;
  /** What pages lacked because it shows the number of pages. Known once all of them have been taken. */
  late: () => Iterable<LateFill>;
  pictures: PictureFiles;
  /** Who ran it, where that is known. */
  author?: string;
  /** The file that {@link AnyOutput.attaches} asks for. */
  attached?: () => Promise<AttachedFile>;
}

/** A file in another. */
export interface AttachedFile extends FileType {
  /** Without its extension. */
  name: string;
  data: AsyncIterable<Uint8Array>;
}

/** An output of rows with its options, as one that is attached to pages. */
export interface OutputChoice {
  output: string;
  options: Record<string, unknown>;
}

/** The rows that a report shows on their way to a file. */
export interface RowsRun<O> extends AnyRun<O> {
  /** IANA name. */
  timeZone: string;
  /** The sets of rows that it shows, the outermost ones. */
  sets: readonly ListedSet[];
  /** Goes through all rows, once. Rejects with what the listener or the run threw. */
  rows: (listener: RowListener) => Promise<void>;
}

/** A report on its way to a document that goes on living: its bands before they are put on pages, with the value behind each text. */
export interface ContentRun<O> extends AnyRun<O> {
  /** IANA name. */
  timeZone: string;
  /** By name, each with what it takes from those that it is based on. */
  styles: Readonly<Record<string, Look>>;
  /** Goes through all of it, once. Rejects with what the listener or the run threw. */
  content: (listener: ContentListener) => Promise<void>;
  /** Each is there once what shows it is told of, and is asked for once. */
  pictures: PictureFiles;
  book: FontBook;
}

interface AnyOutput<O, R> extends OutputFacts {
  /** Every option has a default or may be left out; values come as the texts of an address as well. */
  options: z.ZodType<O>;
  /** What the file is in these options, where that is not always the same. */
  fileFor?: (options: O) => FileType;
  /** The file of rows that is to be attached in these options; null when none is. */
  attaches?: (options: O) => OutputChoice | null;
  /**
   * Writes the whole file to `sink` and ends it. Rejects with the signal's reason when it is aborted, and with what went wrong
   * otherwise; the file is not whole then.
   */
  write: (run: R, sink: Writable, signal: AbortSignal) => Promise<void>;
}

/** Writes laid-out pages to a file. */
export interface PagesOutput<O> extends AnyOutput<O, PagesRun<O>> {
  takes: 'pages';
}

/** Writes rows to a file, as values. */
export interface RowsOutput<O> extends AnyOutput<O, RowsRun<O>> {
  takes: 'rows';
}

/** Writes documents that go on living. */
export interface ContentOutput<O> extends AnyOutput<O, ContentRun<O>> {
  takes: 'content';
}

type Defined<T extends string, R> = OutputFacts & {
  takes: T;
  options: z.ZodType;
  /** Throws a ZodError when the options do not fit. */
  fileFor?: (options: unknown) => FileType;
  /** Throws a ZodError when the options do not fit. */
  attaches?: (options: unknown) => OutputChoice | null;
  write: (run: R, sink: Writable, signal: AbortSignal) => Promise<void>;
};

/** An output of any kind, with options as they are given. Made by {@link defineOutput}. */
export type Output =
  | Defined<'pages', PagesRun<unknown>>
  | Defined<'rows', RowsRun<unknown>>
  | Defined<'content', ContentRun<unknown>>;

/** Makes an output of what it says of itself: whoever calls it may give options as they came. */
export const defineOutput = <O>(output: PagesOutput<O> | RowsOutput<O> | ContentOutput<O>): Output => {
  const { fileFor, attaches } = output;
  const parsed = <R extends AnyRun<unknown>>(run: R) => ({ ...run, options: output.options.parse(run.options ?? {}) });
  const facts = {
    ...output,
    fileFor: (options: unknown): FileType => fileFor?.(output.options.parse(options ?? {})) ?? output,
    attaches: (options: unknown): OutputChoice | null => attaches?.(output.options.parse(options ?? {})) ?? null,
  };
  switch (output.takes) {
    case 'pages':
      return { ...facts, takes: 'pages', write: async (run, sink, signal) => output.write(parsed(run), sink, signal) };
    case 'rows':
      return { ...facts, takes: 'rows', write: async (run, sink, signal) => output.write(parsed(run), sink, signal) };
    case 'content':
      return {
        ...facts,
        takes: 'content',
        write: async (run, sink, signal) => output.write(parsed(run), sink, signal),
      };
    default:
      return output satisfies never;
  }
};

/** What the file of an output is in the options that are given. Throws a ZodError when they do not fit. */
export const fileTypeOf = (output: Output, options: unknown): FileType => {
  const { mime, extension } = output.fileFor?.(options) ?? output;
  return { mime, extension };
};
