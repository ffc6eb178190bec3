import { basename } from 'node:path';
import { CONNECTIONS, type Encoding, type FileKind } from '@gaveta/core/internal';
import { type Limits, limitsWith } from '../base/limits.ts';
import type { RowsConnection } from '../connection/connection.ts';
import type { RegisteredModel } from '../model/define.ts';
import type { SourceToRead } from './load.ts';
import { SourceThreads } from './source-threads.ts';
import { sourceModel, tableConnection } from './tables.ts';

export interface FileSourceOptions {
  /** Name of the connection and of its data model. */
  name: string;
  label: string;
  format: FileKind;
  /**
   * Path of the file, or of a folder whose files of the format become one table, with a column for the file that each row
   * is from. It is read at each run, so that a report shows what it holds then.
   */
  file: string;
  /** Of text; found out when left out. */
  encoding?: Encoding;
  /** Of CSV and sheets: the line with the headings, 1 for the first; 0 for none. Left out: the first one. */
  headings?: number;
  /** Of spreadsheets: the one sheet that is read, and its cells, as `B3:F40`; all when left out. */
  sheet?: string;
  range?: string;
  /** Of CSV; found out when left out. */
  delimiter?: string;
  /** Of JSON and XML: where the rows lie, as `result.items`; found out when left out. */
  rowsAt?: string;
  /** How numbers and days are written where they are texts. */
  decimal?: '.' | ',';
  dates?: 'ymd' | 'dmy' | 'mdy';
  /** Those of files; see Limits. */
  limits?: Partial<Limits>;
}

/**
 * A file as a connection with a data model made from its columns. Fails with words when it cannot be read. It is read in
 * a thread, which ends by itself when it has nothing to do.
 */
export const fileSource = async (
  options: FileSourceOptions,
): Promise<{ connection: RowsConnection; model: RegisteredModel }> => {
  const { name, label, file, limits = {}, decimal = '.', dates = 'ymd', ...reading } = options;
  const threads = new SourceThreads();
  const source: SourceToRead = {
    name,
    settings: CONNECTIONS.file.parse({ kind: 'file', fileName: basename(file), ...reading, decimal, dates }),
    headers: {},
    data: null,
    path: file,
    allowed: [],
    limits: limitsWith(limits),
  };
  const { tables } = await threads.describe(source, new AbortController().signal);
  const connection = tableConnection(tables, (table, { fields, signal }) =>
    threads.rows(source, table, fields, signal),
  );
  return { connection, model: sourceModel(name, label, tables) };
};
