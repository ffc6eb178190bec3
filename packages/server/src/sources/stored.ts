import type { ConnectionSettings, SourceChange } from '@gaveta/core';
import { z } from 'zod';
import { optionsByHand, readConnectionString } from '../connection/by-hand.ts';
import { type Connection, ConnectionError, type RowStream } from '../connection/connection.ts';
import { postgresConnection } from '../connection/postgres.ts';
import { defineModel, type ModelInput, type RegisteredModel } from '../model/define.ts';
import { introspectedModel } from '../model/introspected.ts';
import type { FileLimits } from './files.ts';
import type { SourceToRead } from './load.ts';
import { SourceError } from './raw.ts';
import type { SourceThreads } from './source-threads.ts';
import { type SourceTable, sourceModel, type TableLook, tableConnection } from './tables.ts';

/** What is secret of a connection: never sent out again. */
export const secretSchema = z.strictObject({
  password: z.string().max(2000).optional(),
  /** Instead of host, port, database, user and password. */
  connectionString: z.string().max(4000).optional(),
  headers: z.record(z.string().max(200), z.string().max(4000)).optional(),
});

export type ConnectionSecret = z.infer<typeof secretSchema>;

/** Tables and fields as they were found: of a database as a model, of anything else as tables of cells. */
export type FoundModel = { tables: SourceTable[] } | { input: ModelInput };

export interface StoredSource {
  name: string;
  label: string;
  settings: ConnectionSettings;
  secret: ConnectionSecret;
  data: Uint8Array | null;
}

export interface SourceContext {
  /** Addresses that files and services may be asked at: each the start of one. */
  allowedAddresses: readonly string[];
  /** Database servers that may be reached, as `host:port`. */
  allowedDatabases: readonly string[];
  limits: FileLimits;
  threads: SourceThreads;
}

/** A stored file or service as a thread reads it. */
const toRead = (
  { name, settings, secret, data }: StoredSource,
  { allowedAddresses, limits }: SourceContext,
): SourceToRead => {
  if (settings.kind === 'postgres') throw new Error('a database is not read whole');
  const { maxUpload, fileRows, fileColumns, fileCells, fileDepth, fileUnpacked, fileSeconds, fileMemory } = limits;
  return {
    name,
    settings,
    headers: secret.headers ?? {},
    data,
    path: null,
    allowed: [...allowedAddresses],
    limits: { maxUpload, fileRows, fileColumns, fileCells, fileDepth, fileUnpacked, fileSeconds, fileMemory },
  };
};

const postgresOf = ({ settings, secret }: StoredSource, { allowedDatabases }: SourceContext): Connection => {
  if (settings.kind !== 'postgres') throw new Error('not a database');
  const { host, port, database, user, ssl } = settings;
  const given = secret.connectionString
    ? readConnectionString(secret.connectionString, ssl)
    : { host, port, database, user, password: secret.password ?? '', ssl };
  return postgresConnection(optionsByHand(given, allowedDatabases));
};

/** A database that cannot be reached as its settings are; whoever asks it for something is told why. */
const unreachable = (error: ConnectionError): Connection => {
  const fail = (): never => {
    throw error;
  };
  const failing = async (): Promise<never> => fail();
  const stream: RowStream = {
    // biome-ignore lint/correctness/useYield: it fails before it gives anything
    async *[Symbol.asyncIterator]() {
      fail();
    },
    close: async () => {},
  };
  const open = async (queries: readonly unknown[]): Promise<RowStream[]> => queries.map(() => stream);
  return { kind: 'database', open, textOrder: async () => null, describe: failing, tables: failing };
};

/** Looks what a source holds now. Throws SourceError or ConnectionError with words for the one who set it up. */
export const findModel = async (
  source: StoredSource,
  context: SourceContext,
  signal: AbortSignal,
): Promise<{ found: FoundModel; looks: TableLook[] }> => {
  if (source.settings.kind !== 'postgres') {
    const { tables, looks } = await context.threads.describe(toRead(source, context), signal);
    return { found: { tables }, looks };
  }
  const connection = postgresOf(source, context);
  try {
    const found = connection.kind === 'database' ? await connection.tables() : [];
    if (found.length === 0) throw new SourceError('The user may not read any table of this database.');
    return { found: { input: introspectedModel(source.name, source.label, source.name, found) }, looks: [] };
  } finally {
    if (connection.kind === 'database') await connection.close?.();
  }
};

/** A stored source as a connection with its data model. */
export const openSource = (
  source: StoredSource,
  found: FoundModel,
  context: SourceContext,
): { connection: Connection; model: RegisteredModel } => {
  if ('input' in found) {
    const model = defineModel(found.input);
    try {
      return { connection: postgresOf(source, context), model };
    } catch (error) {
      if (!(error instanceof ConnectionError)) throw error;
      return { connection: unreachable(error), model };
    }
  }
  const connection = tableConnection(found.tables, (table, { fields, signal }) =>
    context.threads.rows(toRead(source, context), table, fields, signal),
  );
  return { connection, model: sourceModel(source.name, source.label, found.tables) };
};

const shape = (found: FoundModel): Map<string, Map<string, string>> =>
  'tables' in found
    ? new Map(found.tables.map((t) => [t.name, new Map(t.fields.map((f) => [f.name, f.type]))]))
    : new Map(
        Object.entries(found.input.entities).map(([name, entity]) => [
          name,
          new Map(Object.entries(entity.fields).map(([field, { type }]) => [field, type])),
        ]),
      );

export const sourceChanges = (before: FoundModel, after: FoundModel): SourceChange[] => {
  const [old, now] = [shape(before), shape(after)];
  const changes: SourceChange[] = [];
  for (const [table, fields] of old) {
    const current = now.get(table);
    if (!current) {
      changes.push({ table, field: null, change: 'gone' });
      continue;
    }
    for (const [field, type] of fields) {
      const found = current.get(field);
      if (found === undefined) changes.push({ table, field, change: 'gone' });
      else if (found !== type) changes.push({ table, field, change: 'type', from: type, to: found });
    }
    for (const field of current.keys()) if (!fields.has(field)) changes.push({ table, field, change: 'added' });
  }
  for (const table of now.keys()) if (!old.has(table)) changes.push({ table, field: null, change: 'added' });
  return changes;
};
