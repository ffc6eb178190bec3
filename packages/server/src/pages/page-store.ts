import type { LateFill } from '@gaveta/core/internal';
import type { FoundOnPage } from './page-words.ts';

/** What is known of a written page without reading it. */
export interface PageHeader {
  /** Bytes. */
  length: number;
  /** Bytes of its words. */
  words: number;
  /** Points. */
  width: number;
  height: number;
  /** Something on it waits for the number of pages. */
  late: boolean;
}

/** The pages of one run, as JSON. */
export interface PageStore {
  readonly count: number;
  /** Pages as `writePage` wrote them, behind one another, their words as `writeWords` did, and the pictures that come with them. */
  add(
    data: Uint8Array,
    words: Uint8Array,
    pages: readonly PageHeader[],
    pictures?: readonly { hash: string; data: Uint8Array }[],
  ): Promise<void>;
  /** Takes what waited for the number of pages. */
  fill(late: Iterable<LateFill>): void;
  /** A page by its 1-based number, with what waited for the number of pages once that is known; null when there is none. */
  page(number: number): Promise<Buffer | null>;
  /** The pages on which words stand, and how often; null once they are gone. */
  find(sought: string): Promise<FoundOnPage[] | null>;
  /** The 1-based number of the first page whose JSON has these bytes in it; null when none does. */
  pageWith(bytes: Uint8Array): Promise<number | null>;
  /** The file of a picture that a page shows, by its hash; null when none does. */
  picture(hash: string): Promise<Buffer | null>;
  /** Takes the first `count` pages of another store as they are there, without what waits for the number of pages. Comes first. */
  take(before: PageStore, count: number): Promise<void>;
  /** What the run noted for one that is laid out anew after it; null when it noted nothing. */
  keepTrace(data: Uint8Array): Promise<void>;
  trace(): Promise<Buffer | null>;
  close(): Promise<void>;
}
