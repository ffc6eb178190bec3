import { defineOutput } from '../output.ts';
import { type TextOptions, textOptions } from './options.ts';

/** What a report shows in characters of one width, with its columns below one another. */
export const textOutput = defineOutput<TextOptions>({
  name: 'text',
  label: 'Text',
  mime: 'text/plain',
  extension: 'txt',
  takes: 'content',
  options: textOptions,
  write: async (run, sink, signal) => (await import('./text.ts')).writeText(run, sink, signal),
});
