import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import type { FileKind } from '@gaveta/core';
import type { RowsConnection } from '../connection/connection.ts';
import type { RegisteredModel } from '../model/define.ts';
import { readFileTables } from './files.ts';
import { describeTables, sourceModel, tableConnection } from './tables.ts';

export interface FileSourceOptions {
  /** Name of the connection and of its data model. */
  name: string;
  label: string;
  format: FileKind;
  /** Path of the file. It is read at each run, so that a report shows what it holds then. */
  file: string;
  /** Of CSV; found out when left out. */
  delimiter?: string;
  /** Of JSON and XML: where the rows lie, as `result.items`; found out when left out. */
  rowsAt?: string;
  /** How numbers and days are written where they are texts. */
  decimal?: '.' | ',';
  dates?: 'ymd' | 'dmy' | 'mdy';
}

/** A file as a connection with a data model made from its columns. Fails with words when it cannot be read. */
export const fileSource = async (
  options: FileSourceOptions,
): Promise<{ connection: RowsConnection; model: RegisteredModel }> => {
  const { name, label, format, file, delimiter, rowsAt, decimal = '.', dates = 'ymd' } = options;
  const load = async () =>
    readFileTables(format, basename(file).replace(/\.[a-z]+$/i, ''), await readFile(file), { delimiter, rowsAt });
  const writing = { decimal, dates };
  const tables = describeTables(await load(), writing);
  return { connection: tableConnection(tables, writing, load), model: sourceModel(name, label, tables) };
};
