import { defineOutput } from '../output.ts';
import { type PagedOptions, pagedOptions } from './options.ts';

/** Pages as the viewer shows them, in one HTML file that needs nothing else. */
export const pagedHtmlOutput = defineOutput<PagedOptions>({
  name: 'pages',
  label: 'Web page, as pages',
  mime: 'text/html',
  extension: 'html',
  takes: 'pages',
  options: pagedOptions,
  write: async (run, sink, signal) => (await import('./paged.ts')).writePaged(run, sink, signal),
});
