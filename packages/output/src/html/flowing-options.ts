import { z } from 'zod';
import { flag } from '../options.ts';

export const flowingOptions = z.strictObject({
  looks: z
    .enum(['sheet', 'inline'])
    .default('sheet')
    .describe('sheet: looks stand in a style sheet; inline: at each element, as programs for mail need them'),
  bands: flag(true).describe('shows the header and footer of pages once, at the start and at the end'),
  whole: flag(true).describe('a document of its own; otherwise what stands inside its body'),
});

export type FlowingOptions = z.output<typeof flowingOptions>;
