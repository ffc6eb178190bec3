import { defineOutput } from '../output.ts';
import { type XlsxOptions, xlsxOptions } from './seen-options.ts';

/** What a report shows as a workbook that looks like it, with the numbers behind its texts (ECMA-376). */
export const xlsxOutput = defineOutput<XlsxOptions>({
  name: 'xlsx',
  label: 'XLSX, as seen',
  mime: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  takes: 'content',
  options: xlsxOptions,
  write: async (run, sink, signal) => (await import('./seen.ts')).writeSeen(run, sink, signal),
});
