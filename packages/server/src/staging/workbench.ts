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
  /**
   * Makes an empty table; gives its name. `apart`: where statements that somebody wrote run (`byHand`), so that one that is ended
   * at its limit takes nobody else's rows with it.
   */
  make(columns: readonly StageColumn[], signal?: AbortSignal, apart?: boolean): Promise<string>;
  /** Adds rows, given as CSV. */
  copy(table: string, csv: string, signal?: AbortSignal): Promise<void>;
  /** All rows are there. */
  ready(table: string, signal?: AbortSignal): Promise<void>;
  drop(tables: readonly string[]): Promise<void>;
  /** A table that stays for a while, in milliseconds, for whoever needs the same rows next; left out where none do. */
  lease?: (key: string, fill: () => Promise<string>, keptFor?: number) => Promise<Lease>;
}

/** A kept table, until it is let go. */
export interface Lease {
  table: string;
  release: () => void;
}

interface Kept {
  table: Promise<string>;
  /** The life of the thread that it was made in. */
  life: number;
  users: number;
  timer: NodeJS.Timeout | null;
}

/** Tables that are kept at once, and for how many milliseconds after their last use. */
const MOST_KEPT = 8;
const KEPT_FOR = 60_000;

/** Seconds that copying one batch, or a statement over copied rows, may take. */
const PATIENCE = 120;

/** What the names of tables begin with over which statements run that somebody wrote. */
const APART = 'apart_';

/** Rows of one CSV text that are copied at once. */
const BATCH = 20_000;

/**
 * An embedded PostgreSQL in which rows of different sources come together: tables are filled for one run and dropped
 * after it. Statements over them are the same as over a database of the host's.
 */
export class Workbench implements Bench {
  private readonly thread = new EmbeddedThread(null);
  /** For statements that somebody wrote; it is started when there is one. */
  private readonly apart = new EmbeddedThread(null);
  private made = 0;
  readonly connection: DatabaseConnection = threadConnection(this.thread, this.apart);

  private threadOf(table: string): EmbeddedThread {
    return table.startsWith(APART) ? this.apart : this.thread;
  }

  /** Opens its database ahead: the first report over rows of a file or a service need not wait for that. */
  keepReady(): void {
    this.thread.keepReady();
  }

  async make(columns: readonly StageColumn[], signal?: AbortSignal, apart = false): Promise<string> {
    const name = `${apart ? APART : 'stage_'}${++this.made}`;
    const shape = columns.map((c) => `${identifier(c.name)} ${c.type === 'picture' ? 'text' : SQL_TYPES[c.type]}`);
    await this.exec(name, `create temp table ${name} (${shape.join(', ')})`, signal);
    return name;
  }

  async copy(table: string, csv: string, signal?: AbortSignal): Promise<void> {
    await this.threadOf(table).run({ kind: 'copy', table, csv }, { seconds: PATIENCE, signal });
  }

  async ready(table: string, signal?: AbortSignal): Promise<void> {
    await this.exec(table, `analyze ${table}`, signal);
  }

  async drop(tables: readonly string[]): Promise<void> {
    for (const isApart of [false, true]) {
      const own = tables.filter((table) => table.startsWith(APART) === isApart);
      if (own.length > 0) await this.exec(own[0]!, `drop table if exists ${own.join(', ')}`).catch(() => {});
    }
  }

  private readonly kept = new Map<string, Kept>();

  async lease(key: string, fill: () => Promise<string>, keptFor = KEPT_FOR): Promise<Lease> {
    const { life } = this.thread;
    let kept = this.kept.get(key);
    const isOwn = !kept || kept.life !== life;
    if (!kept || isOwn) {
      this.forgetOldest();
      kept = { table: fill(), life, users: 0, timer: null };
      this.kept.set(key, kept);
    }
    const own = kept;
    own.users++;
    if (own.timer) clearTimeout(own.timer);
    try {
      const table = await own.table;
      let isReleased = false;
      const release = (): void => {
        if (isReleased) return;
        isReleased = true;
        own.users--;
        if (own.users > 0) return;
        own.timer = setTimeout(() => this.forget(key, own), keptFor);
        own.timer.unref();
      };
      return { table, release };
    } catch (error) {
      own.users--;
      if (this.kept.get(key) === own) this.kept.delete(key);
      // Whoever began to fill it may have given up: that is theirs alone.
      if (!isOwn) return this.lease(key, fill, keptFor);
      throw error;
    }
  }

  private forgetOldest(): void {
    for (const [key, kept] of this.kept) {
      if (this.kept.size < MOST_KEPT) return;
      if (kept.users === 0) this.forget(key, kept);
    }
  }

  private forget(key: string, kept: Kept): void {
    if (kept.timer) clearTimeout(kept.timer);
    if (this.kept.get(key) === kept) this.kept.delete(key);
    // A table of an earlier life is gone already.
    if (kept.life === this.thread.life)
      void kept.table.then(
        (table) => this.drop([table]),
        () => {},
      );
  }

  private async exec(table: string, text: string, signal?: AbortSignal): Promise<void> {
    await this.threadOf(table).run({ kind: 'exec', text }, { seconds: PATIENCE, signal });
  }

  async close(): Promise<void> {
    for (const { timer } of this.kept.values()) if (timer) clearTimeout(timer);
    this.kept.clear();
    await Promise.all([this.thread.close(), this.apart.close()]);
  }
}

/** The same bench, whose tables are made where statements run that somebody wrote. */
export const apartOf = (bench: Bench): Bench => ({
  connection: bench.connection,
  make: (columns, signal) => bench.make(columns, signal, true),
  copy: (table, csv, signal) => bench.copy(table, csv, signal),
  ready: (table, signal) => bench.ready(table, signal),
  drop: (tables) => bench.drop(tables),
});

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
