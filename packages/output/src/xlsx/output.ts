import { defineOutput } from '../output.ts';
import { type XlsxDataOptions, xlsxDataOptions } from './options.ts';

/** Rows as typed cells of a workbook (ECMA-376). */
export const xlsxDataOutput = defineOutput<XlsxDataOptions>({
  name: 'xlsx-data',
  label: 'XLSX, rows',
  mime: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  takes: 'rows',
  options: xlsxDataOptions,
  write: async (run, sink, signal) => (await import('./rows.ts')).writeRows(run, sink, signal),
});
