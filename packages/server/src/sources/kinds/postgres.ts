import { phrase } from '@gaveta/core/internal';
import { optionsByHand, readConnectionString } from '../../connection/by-hand.ts';
import { type Connection, ConnectionError, type RowStream } from '../../connection/connection.ts';
import { postgresConnection } from '../../connection/postgres.ts';
import { defineModel } from '../../model/define.ts';
import { introspectedModel } from '../../model/introspected.ts';
import { SourceError } from '../raw.ts';
import type { SettingsOf, SourceContext, SourceRoom, StoredSource } from './kind.ts';

const connectionOf = (
  { settings, secret }: StoredSource<SettingsOf<'postgres'>>,
  { allowedDatabases }: SourceContext,
): Connection => {
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

/** Connections that somebody uses under a name of their own, at most. */
const MOST_OF_ONE = 3;

/** A PostgreSQL server. */
export const postgresKind: SourceRoom<SettingsOf<'postgres'>> = {
  target: ({ host, port }) => `${host}:${port}`,
  find: async (source, context) => {
    const connection = connectionOf(source, context);
    if (connection.kind !== 'database') throw new Error('a database server gives rows alone');
    try {
      const found = await connection.tables();
      if (found.length === 0) throw new SourceError(phrase('no-readable-table'));
      return {
        found: { input: introspectedModel(source.name, source.label, source.name, found, source.settings.columns) },
        looks: [],
      };
    } finally {
      await connection.close?.();
    }
  },
  open: (source, found, context) => {
    if (!('input' in found)) throw new Error('tables of a file are no model of a database');
    const model = defineModel(found.input);
    try {
      return { connection: connectionOf(source, context), model };
    } catch (error) {
      if (!(error instanceof ConnectionError)) throw error;
      return { connection: unreachable(error), model };
    }
  },
  openFor: ({ host, port, database, ssl }, credential, { allowedDatabases }) => {
    const options = optionsByHand({ host, port, database, ssl, ...credential }, allowedDatabases);
    return postgresConnection({ ...options, most: MOST_OF_ONE });
  },
  asks: ({ asks }) => asks,
};
