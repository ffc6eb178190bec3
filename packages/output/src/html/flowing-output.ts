import { defineOutput } from '../output.ts';
import { type FlowingOptions, flowingOptions } from './flowing-options.ts';

/** What a report shows as one HTML document without pages, for the web and for mail. */
export const flowingHtmlOutput = defineOutput<FlowingOptions>({
  name: 'html',
  label: 'Web page, flowing',
  mime: 'text/html',
  extension: 'html',
  takes: 'content',
  options: flowingOptions,
  write: async (run, sink, signal) => (await import('./flowing.ts')).writeFlowing(run, sink, signal),
});
