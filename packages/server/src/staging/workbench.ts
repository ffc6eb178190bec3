import type { DataType, WireRow } from '@gaveta/core/internal';
import type { DatabaseConnection, ReportDatabase } from '../connection/connection.ts';
import { EmbeddedThread } from '../connection/embedded-thread.ts';
import { threadConnection } from '../connection/pglite.ts';
import { SQL_TYPES } from '../sql/expression.ts';
import { identifier } from '../sql/identifiers.ts';

export interface StageColumn {
  name: string;
  type: DataType;
}

/** Where rows of different sources come together, as far as a run goes. */
export interface Bench {
  /** Reads what was copied. */
  connection: ReportDatabase;
  /** Makes an empty table; gives its name. */
  make(columns: readonly StageColumn[], signal?: AbortSignal): Promise<string>;
  /** Adds rows, given as CSV. */
  copy(table: string, csv: string, signal?: AbortSignal): Promise<void>;
  /** All rows are there. */
  ready(table: string, signal?: AbortSignal): Promise<void>;
  drop(tables: readonly string[]): Promise<void>;
}

/** Seconds that copying one batch, or a statement over copied rows, may take. */
const PATIENCE = 120;

/** Rows of one CSV text that are copied at once. */
const BATCH = 20_000;

/**
 * An embedded PostgreSQL in which rows of different sources come together: tables are filled for one run and dropped
 * after it. Statements over them are the same as over a database of the host's.
 */
export class Workbench implements Bench {
  private readonly thread = new EmbeddedThread(null);
  private made = 0;
  readonly connection: DatabaseConnection = threadConnection(this.thread);

  /** Opens its database ahead: the first report over rows of a file or a service need not wait for that. */
  keepReady(): void {
    this.thread.keepReady();
  }

  async make(columns: readonly StageColumn[], signal?: AbortSignal): Promise<string> {
    const name = `stage_${++this.made}`;
    const shape = columns.map((c) => `${identifier(c.name)} ${c.type === 'picture' ? 'text' : SQL_TYPES[c.type]}`);
    await this.exec(`create temp table ${name} (${shape.join(', ')})`, signal);
    return name;
  }

  async copy(table: string, csv: string, signal?: AbortSignal): Promise<void> {
    await this.thread.run({ kind: 'copy', table, csv }, { seconds: PATIENCE, signal });
  }

  async ready(table: string, signal?: AbortSignal): Promise<void> {
    await this.exec(`analyze ${table}`, signal);
  }

  async drop(tables: readonly string[]): Promise<void> {
    if (tables.length === 0) return;
    await this.exec(`drop table if exists ${tables.join(', ')}`).catch(() => {});
  }

  private async exec(text: string, signal?: AbortSignal): Promise<void> {
    await this.thread.run({ kind: 'exec', text }, { seconds: PATIENCE, signal });
  }

  close(): Promise<void> {
    return this.thread.close();
  }
}

/** Makes a table and fills it with rows; gives its name. Rows past `most` are an error that `tooMany` makes. */
export const fillTable = async (
  bench: Bench,
  columns: readonly StageColumn[],
  rows: AsyncIterable<WireRow[]>,
  { most, tooMany, signal }: { most: number; tooMany: () => Error; signal?: AbortSignal | undefined },
): Promise<string> => {
  const name = await bench.make(columns, signal);
  let lines: string[] = [];
  let count = 0;
  const flush = async (): Promise<void> => {
    if (lines.length === 0) return;
    const csv = lines.join('\n');
    lines = [];
    await bench.copy(name, csv, signal);
  };
  try {
    for await (const batch of rows) {
      for (const row of batch) lines.push(csvLine(row));
      count += batch.length;
      if (count > most) throw tooMany();
      if (lines.length >= BATCH) await flush();
    }
    await flush();
    await bench.ready(name, signal);
  } catch (error) {
    await bench.drop([name]);
    throw error;
  }
  return name;
};

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
