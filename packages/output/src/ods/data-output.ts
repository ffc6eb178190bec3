import { defineOutput } from '../output.ts';
import { type OdsDataOptions, odsDataOptions } from './options.ts';

/** Rows as typed cells of a spreadsheet of OpenDocument. */
export const odsDataOutput = defineOutput<OdsDataOptions>({
  name: 'ods-data',
  label: 'ODS, rows',
  mime: 'application/vnd.oasis.opendocument.spreadsheet',
  extension: 'ods',
  takes: 'rows',
  options: odsDataOptions,
  write: async (run, sink, signal) => (await import('./rows.ts')).writeRows(run, sink, signal),
});
