import { z } from 'zod';
import { defineOutput, type PagesRun } from '../output.ts';

const page = z.coerce.number('a page number').int('a page number').min(1, 'a page number from 1');
const options = z
  .strictObject({
    /** 1-based and inclusive. */
    from: page.optional().describe('first page; left out: from the start'),
    to: page.optional().describe('last page; left out: to the end'),
    author: z.string().max(200).optional().describe('whom the file names as its author'),
  })
  .refine(({ from = 1, to = from }) => from <= to, '“from” comes after “to”');

type PdfOptions = z.infer<typeof options>;

/** A PDF (ISO 32000-1). The writer is loaded when a first file is written. */
export const pdfOutput = defineOutput<PdfOptions>({
  name: 'pdf',
  label: 'PDF',
  mime: 'application/pdf',
  extension: 'pdf',
  takes: 'pages',
  options,
  write: async ({ title, book, pages, late, pictures, options: asked }: PagesRun<PdfOptions>, sink, signal) => {
    const { createPdfWriter } = await import('./pdf.ts');
    const { from = 1, to = Number.POSITIVE_INFINITY, author } = asked;
    const isAsked = (number: number): boolean => number >= from && number <= to;
    const writer = createPdfWriter(sink, book, { title, pictures, ...(author ? { author } : {}) });
    try {
      for await (const one of pages) {
        signal.throwIfAborted();
        if (isAsked(one.number)) await writer.page(one);
      }
      signal.throwIfAborted();
      await writer.end([...late()].filter((fill) => isAsked(fill.page)));
    } finally {
      await writer.close();
    }
  },
});
