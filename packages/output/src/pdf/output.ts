import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { flag } from '../options.ts';
import { defineOutput, type PagesRun } from '../output.ts';
import { isAsked, isInOrder, ORDER, pageRange } from '../pages.ts';
import type { PdfLock } from './kit.ts';

const options = z
  .strictObject({
    ...pageRange,
    author: z.string().max(200).optional().describe('whom the file names as its author; left out: who ran it'),
    tagged: flag(true).describe(
      'says what everything on its pages is, to be read aloud and taken out, and kept (PDF/UA-1 and, without a password, PDF/A)',
    ),
    attach: z.enum(['none', 'csv', 'json']).default('none').describe('attaches what it shows as data'),
    opens: z
      .enum(['reader', 'page', 'width'])
      .default('reader')
      .describe('how much of a page is seen when it is opened'),
    layout: z
      .enum(['reader', 'one', 'continuous', 'two'])
      .default('reader')
      .describe('how pages stand when it is opened; left out: as readers have it'),
    password: z.string().max(32).optional().describe('asked for when the file is opened'),
    ownerPassword: z
      .string()
      .max(32)
      .optional()
      .describe('lifts what is not allowed; left out: one that nobody is told'),
    printing: flag(true).describe('readers may print it'),
    copying: flag(true).describe('readers may copy text and pictures; programs that read aloud may in any case'),
    changing: flag(true).describe('readers may change and fill it in'),
  })
  .refine(isInOrder, ORDER);

type PdfOptions = z.infer<typeof options>;

/** What keeps a file closed, or keeps something of it from its readers; null when nothing does. */
const lockOf = ({ password, ownerPassword, printing, copying, changing }: PdfOptions): PdfLock | null => {
  if (!password && !ownerPassword && printing && copying && changing) return null;
  return { password: password ?? '', ownerPassword: ownerPassword || randomUUID(), printing, copying, changing };
};

/** A PDF (ISO 32000-1). The writer is loaded when a first file is written. */
export const pdfOutput = defineOutput<PdfOptions>({
  name: 'pdf',
  label: 'PDF',
  mime: 'application/pdf',
  extension: 'pdf',
  takes: 'pages',
  options,
  attaches: ({ attach }) => (attach === 'none' ? null : { output: attach, options: {} }),
  write: async (run: PagesRun<PdfOptions>, sink, signal) => {
    const { title, language, book, pages, late, pictures, options: asked } = run;
    const { createPdfWriter } = await import('./pdf.ts');
    const { tagged, opens, layout } = asked;
    const author = asked.author || run.author;
    const lock = lockOf(asked);
    const attached = run.attached && (await run.attached());
    const writer = createPdfWriter(sink, book, {
      title,
      language,
      pictures,
      tagged,
      opens,
      layout,
      ...(attached ? { attached } : {}),
      ...(author ? { author } : {}),
      ...(lock ? { lock } : {}),
    });
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
