import { defineOutput, type FileType } from '../output.ts';
import { type CsvOptions, csvOptions, tsvOptions } from './options.ts';

const CSV = { mime: 'text/csv', extension: 'csv' };
const TSV = { mime: 'text/tab-separated-values', extension: 'tsv' };

const zipOf =
  (type: FileType) =>
  ({ sets }: Pick<CsvOptions, 'sets'>): FileType =>
    sets === 'apart' ? { mime: 'application/zip', extension: 'zip' } : type;

/** Lines of cells (RFC 4180). */
export const csvOutput = defineOutput<CsvOptions>({
  name: 'csv',
  label: 'CSV',
  ...CSV,
  takes: 'rows',
  options: csvOptions,
  fileFor: zipOf(CSV),
  write: async (run, sink, signal) => (await import('./csv.ts')).writeCsv(run, sink, signal),
});

/** Lines of cells with tabs between them. */
export const tsvOutput = defineOutput<CsvOptions>({
  name: 'tsv',
  label: 'TSV',
  ...TSV,
  takes: 'rows',
  options: tsvOptions,
  fileFor: zipOf(TSV),
  write: async (run, sink, signal) => (await import('./csv.ts')).writeCsv(run, sink, signal),
});
