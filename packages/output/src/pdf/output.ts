import { z } from 'zod';
import { defineOutput, type PagesRun } from '../output.ts';
import { isAsked, isInOrder, ORDER, pageRange } from '../pages.ts';

const options = z
  .strictObject({
    ...pageRange,
    author: z.string().max(200).optional().describe('whom the file names as its author'),
  })
  .refine(isInOrder, ORDER);

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
    const { author } = asked;
    const writer = createPdfWriter(sink, book, { title, pictures, ...(author ? { author } : {}) });
    try {
      for await (const one of pages) {
        signal.throwIfAborted();
        if (isAsked(one.number, asked)) await writer.page(one);
      }
      signal.throwIfAborted();
      await writer.end([...late()].filter((fill) => isAsked(fill.page, asked)));
    } finally {
      await writer.close();
    }
  },
});
