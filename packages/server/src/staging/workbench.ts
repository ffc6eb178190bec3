import type { DataType, WireRow } from '@gaveta/core';
import type { DatabaseConnection } from '../connection/connection.ts';
import { EmbeddedThread } from '../connection/embedded-thread.ts';
import { threadConnection } from '../connection/pglite.ts';
import { SQL_TYPES } from '../sql/expression.ts';
import { identifier } from '../sql/identifiers.ts';

export interface StageColumn {
  name: string;
  type: DataType;
}

/** Seconds that copying one batch, or a statement over copied rows, may take. */
const PATIENCE = 120;

/** Rows of one CSV text that are copied at once. */
const BATCH = 20_000;

/**
 * An embedded PostgreSQL in which rows of different sources come together: tables are filled for one run and dropped
 * after it. Statements over them are the same as over a database of the host's.
 */
export class Workbench {
  private readonly thread = new EmbeddedThread(null);
  private made = 0;
  readonly connection: DatabaseConnection = threadConnection(this.thread);

  /** Makes a table and fills it with rows; gives its name. Rows past `most` are an error that `tooMany` makes. */
  async fill(
    columns: readonly StageColumn[],
    rows: AsyncIterable<WireRow[]>,
    { most, tooMany, signal }: { most: number; tooMany: () => Error; signal?: AbortSignal | undefined },
  ): Promise<string> {
    const name = `stage_${++this.made}`;
    const limits = { seconds: PATIENCE, signal };
    const shape = columns.map((c) => `${identifier(c.name)} ${c.type === 'picture' ? 'text' : SQL_TYPES[c.type]}`);
    await this.thread.run({ kind: 'exec', text: `create temp table ${name} (${shape.join(', ')})` }, limits);
    let lines: string[] = [];
    let count = 0;
    const flush = async (): Promise<void> => {
      if (lines.length === 0) return;
      const csv = lines.join('\n');
      lines = [];
      await this.thread.run({ kind: 'copy', table: name, csv }, limits);
    };
    try {
      for await (const batch of rows) {
        for (const row of batch) lines.push(csvLine(row));
        count += batch.length;
        if (count > most) throw tooMany();
        if (lines.length >= BATCH) await flush();
      }
      await flush();
      await this.thread.run({ kind: 'exec', text: `analyze ${name}` }, limits);
    } catch (error) {
      await this.drop([name]);
      throw error;
    }
    return name;
  }

  async drop(tables: readonly string[]): Promise<void> {
    if (tables.length === 0) return;
    const text = `drop table if exists ${tables.join(', ')}`;
    await this.thread.run({ kind: 'exec', text }, { seconds: PATIENCE }).catch(() => {});
  }

  close(): Promise<void> {
    return this.thread.close();
  }
}

/** A row as CSV that COPY reads back exactly: a blank is empty, every text stands in quotes. */
const csvLine = (row: WireRow): string => {
  let line = '';
  for (let i = 0; i < row.length; i++) {
    const value = row[i];
    if (i > 0) line += ',';
    if (value === null || value === undefined) continue;
    if (typeof value === 'string') line += `"${value.includes('"') ? value.replace(/"/g, '""') : value}"`;
    else line += String(value);
  }
  return line;
};
