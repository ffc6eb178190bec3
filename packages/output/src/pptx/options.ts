import { z } from 'zod';
import { flag } from '../options.ts';
import { pageRange } from '../pages.ts';

export const pptxOptions = z.strictObject({
  ...pageRange,
  author: z.string().max(200).optional().describe('who made it; left out: who ran it'),
  slides: z
    .enum(['pages', 'groups'])
    .default('pages')
    .describe(
      'pages: a slide for each page; groups: each of the outermost groups, or of the outermost rows with drawers inside, begins on a slide of its own',
    ),
  tables: flag(true).describe('rows under captions become tables; otherwise each text stands by itself'),
});

export type PptxOptions = z.output<typeof pptxOptions>;
