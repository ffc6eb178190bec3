import { defineOutput } from '../output.ts';
import { type OdsOptions, odsOptions } from './options.ts';

/** What a report shows as a workbook that looks like it, with the numbers behind its texts (OpenDocument 1.3, spreadsheet). */
export const odsOutput = defineOutput<OdsOptions>({
  name: 'ods',
  label: 'ODS, as seen',
  mime: 'application/vnd.oasis.opendocument.spreadsheet',
  extension: 'ods',
  takes: 'content',
  options: odsOptions,
  write: async (run, sink, signal) => (await import('./ods.ts')).writeOds(run, sink, signal),
});
