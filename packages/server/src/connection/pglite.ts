import type { PGlite } from '@electric-sql/pglite';
import type { WireRow } from '@gaveta/core/internal';
import {
  ConnectionError,
  type DatabaseConnection,
  type OpenOptions,
  type RowStream,
  StatementEnded,
  StatementError,
} from './connection.ts';
import { type EmbeddedData, EmbeddedThread, TaskFailure } from './embedded-thread.ts';
import { findTables } from './introspect.ts';
import { type Done, type Task, work } from './pglite-work.ts';
import type { Statement } from './statement.ts';
import { dataTypeOf } from './types.ts';

const BATCH = 2000;

/** PostgreSQL's code for a cursor that is not there (its documentation, appendix A). */
const CURSOR_GONE = '34000';

/** Seconds that a statement may take when nothing else is said. */
const PATIENCE = 60;

/** Does tasks one after the other; `life` changes when its cursors are gone. */
interface TaskRunner {
  readonly life: number;
  run(task: Task, options: { seconds: number; signal?: AbortSignal | undefined }): Promise<Done>;
}

const isDatabaseError = (error: unknown): error is { message: string; code: string; position?: string | null } =>
  error instanceof Error && 'code' in error && typeof error.code === 'string' && /^[0-9A-Z]{5}$/.test(error.code);

const asError = (error: unknown): Error => {
  if (error instanceof StatementEnded || error instanceof ConnectionError) return error;
  if (isDatabaseError(error)) {
    const { position } = error;
    return new StatementError(error.message, position ? Number(position) - 1 : null);
  }
  const message = error instanceof Error ? error.message : String(error);
  return error instanceof TaskFailure ? new StatementError(message) : new ConnectionError(message);
};

let cursors = 0;

/** Statements become cursors that outlive their transaction, so that other people's statements go between their batches. */
const connectionOver = (
  place: (options: OpenOptions) => TaskRunner,
  close: () => Promise<void>,
): DatabaseConnection => {
  const query = async (text: string): Promise<Done['rows']> => {
    try {
      return (await place({}).run({ kind: 'query', text, values: [] }, { seconds: PATIENCE })).rows;
    } catch (error) {
      throw asError(error);
    }
  };
  return {
    kind: 'database',
    async textOrder() {
      try {
        return (await query("select 1 from pg_collation where collname = 'unicode'")).length > 0 ? '"unicode"' : null;
      } catch {
        // Without a connection there are no rows to put in order either, which is said then.
        return null;
      }
    },
    async open(queries, options = {}) {
      const where = place(options);
      try {
        return await declare(where, queries, options);
      } catch (error) {
        if (!isDatabaseError(error))
          return queries.map(() => new Cursor(null, queries[0]!, '', options, asError(error)));
        // A statement may fail as late as the commit, and takes the others with it: each gets a try of its own.
        const alone = queries.map(async (one) => {
          try {
            return (await declare(where, [one], options))[0]!;
          } catch (failure) {
            return new Cursor(null, one, '', options, asError(failure));
          }
        });
        return Promise.all(alone);
      }
    },
    async describe({ text, values, before = [] }, options = {}) {
      try {
        const task: Task = { kind: 'describe', text: `select * from (${text}\n) q limit 0`, values, before };
        const { columns } = await place(options).run(task, { ...options, seconds: options.seconds ?? PATIENCE });
        return columns.map(({ name, type }) => ({ name, type: dataTypeOf(type) }));
      } catch (error) {
        const failure = asError(error);
        if (failure instanceof StatementError && failure.position !== null && !(failure instanceof StatementEnded))
          throw new StatementError(failure.said, Math.max(0, failure.position - 'select * from ('.length));
        throw failure;
      }
    },
    tables: () => findTables(query),
    close,
  };
};

const declare = async (place: TaskRunner, queries: readonly Statement[], options: OpenOptions): Promise<Cursor[]> => {
  const list = queries.map(({ text, values, before = [] }) => ({ name: `gaveta_${++cursors}`, text, values, before }));
  await place.run({ kind: 'declare', cursors: list }, { signal: options.signal, seconds: options.seconds ?? PATIENCE });
  return list.map(({ name }, i) => new Cursor(place, queries[i]!, name, options, null));
};

class Cursor implements RowStream {
  private life: number;
  private taken = 0;

  constructor(
    private place: TaskRunner | null,
    private readonly query: Statement,
    private readonly name: string,
    private readonly options: OpenOptions,
    private readonly failure: Error | null,
  ) {
    this.life = place?.life ?? 0;
  }

  async *[Symbol.asyncIterator](): AsyncIterator<WireRow[]> {
    if (this.failure) throw this.failure;
    try {
      while (this.place) {
        let rows: WireRow[];
        try {
          rows = await this.fetch(this.place);
        } catch (error) {
          throw asError(error);
        }
        this.taken += rows.length;
        if (rows.length > 0) yield rows;
        if (rows.length < BATCH) return;
      }
    } finally {
      await this.close();
    }
  }

  private get limits() {
    const { signal, seconds = PATIENCE } = this.options;
    return { signal, seconds };
  }

  private async fetch(place: TaskRunner): Promise<WireRow[]> {
    const { life } = this;
    try {
      if (place.life === life) return await this.next(place, 0);
    } catch (error) {
      // Somebody else's statement ended the thread while this one waited for its turn.
      if (!isDatabaseError(error) || error.code !== CURSOR_GONE || place.life === life) throw error;
    }
    const { text, values, before = [] } = this.query;
    await place.run({ kind: 'declare', cursors: [{ name: this.name, text, values, before }] }, this.limits);
    this.life = place.life;
    return this.next(place, this.taken);
  }

  private async next(place: TaskRunner, skip: number): Promise<WireRow[]> {
    return (await place.run({ kind: 'fetch', name: this.name, count: BATCH, skip }, this.limits)).rows;
  }

  async close(): Promise<void> {
    const { place } = this;
    this.place = null;
    if (!place || this.failure || place.life !== this.life) return;
    await place.run({ kind: 'close', name: this.name }, { seconds: PATIENCE }).catch(() => {});
  }
}

/** An open PGlite. Its own declarations need settings that not every project has, so that these name what tells one. */
export interface OpenPGlite {
  readonly ready: boolean;
  readonly closed: boolean;
  readonly waitReady: Promise<void>;
  close(): Promise<void>;
}

/**
 * A PGlite of the host's own as a connection. It works in the process that it was opened in, and nothing ends its
 * statements: prefer {@link embeddedConnection} where people write SQL by hand or tables are large.
 */
export const pgliteConnection = (
  database: OpenPGlite | (() => OpenPGlite | Promise<OpenPGlite>),
): DatabaseConnection => {
  const place: TaskRunner = {
    life: 0,
    run: async (task) => work((typeof database === 'function' ? await database() : database) as PGlite, task),
  };
  return connectionOver(
    () => place,
    async () => {},
  );
};

/** Threads' databases as a connection, `byHand` for statements that somebody wrote; whoever made the threads closes them. */
export const threadConnection = (thread: EmbeddedThread, byHand: EmbeddedThread): DatabaseConnection =>
  connectionOver(
    (options) => (options.byHand ? byHand : thread),
    async () => {},
  );

export interface EmbeddedOptions {
  /** A packed data directory, unpacked into memory, or a folder that no other process has open. */
  data: EmbeddedData | (() => Promise<EmbeddedData>);
  /** Statements run at each start. */
  prepare?: string;
}

/**
 * An embedded PostgreSQL that works in threads of its own: one for what Gaveta asks, and one for what people write by
 * hand, so that a runaway statement of theirs holds up nobody's report. Statements are ended at their limit. A folder
 * has one thread only, since only one may open it.
 */
export const embeddedConnection = ({ data, prepare = '' }: EmbeddedOptions): DatabaseConnection => {
  const prepared = `${prepare};${MAKE_READER}`;
  const own = new EmbeddedThread(data, prepared);
  const isFolder = typeof data === 'object' && data !== null && 'folder' in data;
  const byHand = isFolder ? own : new EmbeddedThread(data, prepared);
  const connection = connectionOver(
    (options) => (options.byHand ? byHand : own),
    async () => {
      await own.close();
      await byHand.close();
    },
  );
  return { ...connection, reader: ['set local role gaveta_reader'] };
};

/** A role that may read tables and nothing else. */
const MAKE_READER = `
do $$ declare s text; begin
  if not exists (select 1 from pg_roles where rolname = 'gaveta_reader') then create role gaveta_reader nologin; end if;
  for s in select nspname from pg_namespace where nspname not like 'pg\\_%' and nspname <> 'information_schema' loop
    execute format('grant usage on schema %I to gaveta_reader', s);
    execute format('grant select on all tables in schema %I to gaveta_reader', s);
  end loop;
end $$;`;
