import type { LateFill, Page } from '@gaveta/core/internal';
import { z } from 'zod';
import { NamelessFile } from './nameless-file.ts';

const page = z.coerce.number('a page number').int('a page number').min(1, 'a page number from 1');

/** Which pages are wanted, 1-based and inclusive. */
export const pageRange = {
  from: page.optional().describe('first page; left out: from the start'),
  to: page.optional().describe('last page; left out: to the end'),
};

interface Range {
  from?: number | undefined;
  to?: number | undefined;
}

/** For a schema that has a {@link pageRange}. */
export const isInOrder = ({ from = 1, to = from }: Range): boolean => from <= to;
export const ORDER = '“from” comes after “to”';

export const isAsked = (number: number, { from = 1, to = Number.POSITIVE_INFINITY }: Range): boolean =>
  number >= from && number <= to;

/** The name of a page’s file, so that names are in order. */
export const pageName = (number: number, extension: string): string =>
  `page-${String(number).padStart(4, '0')}.${extension}`;

/**
 * The pages that are wanted, each with everything on it. Those that wait for the number of pages, and all after them, wait in a
 * temporary file.
 */
export async function* wholePages(
  { pages, late }: { pages: AsyncIterable<Page>; late: () => Iterable<LateFill> },
  range: Range,
  signal: AbortSignal,
): AsyncGenerator<Page> {
  let file: NamelessFile | null = null;
  const places: { offset: number; length: number }[] = [];
  try {
    for await (const one of pages) {
      signal.throwIfAborted();
      if (!isAsked(one.number, range)) continue;
      if (!file && !one.late) {
        yield one;
        continue;
      }
      file ??= await NamelessFile.open();
      const data = Buffer.from(JSON.stringify(one));
      places.push({ offset: file.size, length: data.length });
      await file.append(data);
    }
    if (!file) return;
    const fills = new Map([...late()].map(({ page: number, marks }) => [number, marks]));
    for (const { offset, length } of places) {
      signal.throwIfAborted();
      const { late: _, ...read } = JSON.parse((await file.read(offset, length))!.toString()) as Page;
      yield { ...read, marks: [...read.marks, ...(fills.get(read.number) ?? [])] };
    }
  } finally {
    await file?.close();
  }
}
