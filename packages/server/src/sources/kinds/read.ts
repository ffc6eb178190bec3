import { randomUUID } from 'node:crypto';
import type { SourceToRead } from '../load.ts';
import { sourceModel, tableConnection } from '../tables.ts';
import type { SourceContext, SourceRoom, StoredSource } from './kind.ts';

/** Settings of sources that are read whole, in a thread. */
type ReadSettings = SourceToRead['settings'];

/** As a thread reads it. */
const toRead = (
  { name, settings, secret, data }: StoredSource<ReadSettings>,
  { allowedAddresses, limits }: SourceContext,
): SourceToRead => {
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

/** What is no address leads nowhere that a secret could go. */
const originOf = (address: string): string => (URL.canParse(address) ? new URL(address).origin : address);

/** A file, uploaded or at an address, or a service that answers in JSON. */
export const readKind: SourceRoom<ReadSettings> = {
  target: ({ address }) => originOf(address ?? ''),
  find: async (source, context, signal) => {
    const { tables, looks } = await context.threads.describe(toRead(source, context), signal);
    return { found: { tables }, looks };
  },
  open: (source, found, context) => {
    if (!('tables' in found)) throw new Error('a model of a database is no tables of a file');
    const connection = tableConnection(found.tables, (table, { fields, signal }) =>
      context.threads.rows(toRead(source, context), table, fields, signal),
    );
    // A file that was uploaded is read from the database: it changes with its connection alone.
    const { settings, data } = source;
    const isUploaded = data !== null && settings.kind === 'file' && settings.address === undefined;
    return {
      connection: isUploaded ? { ...connection, version: randomUUID() } : connection,
      model: sourceModel(source.name, source.label, found.tables),
    };
  },
  openFor: null,
  asks: () => false,
};
