import { defineOutput } from '../output.ts';
import { type OdtOptions, odtOptions } from './options.ts';

/** What a report shows as a document to write on (OpenDocument 1.3, text). */
export const odtOutput = defineOutput<OdtOptions>({
  name: 'odt',
  label: 'Document (ODT)',
  mime: 'application/vnd.oasis.opendocument.text',
  extension: 'odt',
  takes: 'content',
  options: odtOptions,
  write: async (run, sink, signal) => (await import('./odt.ts')).writeOdt(run, sink, signal),
});
