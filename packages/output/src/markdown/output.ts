import { defineOutput } from '../output.ts';
import { type MarkdownOptions, markdownOptions } from './options.ts';

/** What a report shows as Markdown (CommonMark with tables as GitHub’s published specification has them). */
export const markdownOutput = defineOutput<MarkdownOptions>({
  name: 'markdown',
  label: 'Markdown',
  mime: 'text/markdown',
  extension: 'md',
  takes: 'content',
  options: markdownOptions,
  write: async (run, sink, signal) => (await import('./markdown.ts')).writeMarkdown(run, sink, signal),
});
