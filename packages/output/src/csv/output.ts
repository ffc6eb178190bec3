import { defineOutput, type RowsOutput } from '../output.ts';
import { type CsvOptions, csvOptions } from './options.ts';

const lines: Pick<RowsOutput<CsvOptions>, 'takes' | 'fileFor'> = {
  takes: 'rows',
  fileFor: ({ sets, separator }) =>
    sets === 'apart'
      ? { mime: 'application/zip', extension: 'zip' }
      : separator === '\t'
        ? { mime: 'text/tab-separated-values', extension: 'tsv' }
        : { mime: 'text/csv', extension: 'csv' },
};

/** Lines of cells (RFC 4180). */
export const csvOutput = defineOutput<CsvOptions>({
  ...lines,
  name: 'csv',
  label: 'CSV',
  mime: 'text/csv',
  extension: 'csv',
  takes: 'rows',
  options: csvOptions,
  write: async (run, sink, signal) => (await import('./csv.ts')).writeCsv(run, sink, signal),
});

/** Lines of cells with tabs between them. */
export const tsvOutput = defineOutput<CsvOptions>({
  ...lines,
  name: 'tsv',
  label: 'TSV',
  mime: 'text/tab-separated-values',
  extension: 'tsv',
  takes: 'rows',
  options: csvOptions,
  write: async ({ options, ...run }, sink, signal) => {
    const { writeCsv } = await import('./csv.ts');
    await writeCsv({ ...run, options: { ...options, separator: '\t' } }, sink, signal);
  },
});
