import { phrase } from '@gaveta/core/internal';
import { ConnectionError, type RowsConnection } from '../connection/connection.ts';
import { type StreamedRow, type StreamRequest, streamConnection } from './stream.ts';

type Rows = AsyncIterable<StreamedRow> | Iterable<StreamedRow>;

/** Rows of entities that come with a call: lists, streams, or functions that make them. */
export type GivenRows = Readonly<Record<string, Rows | ((request: StreamRequest) => Rows)>>;

/** Whether something gives its rows once, as a generator does, and not anew each time as a list. */
const isOnce = (rows: Rows): boolean =>
  (Symbol.asyncIterator in rows ? rows[Symbol.asyncIterator]() : rows[Symbol.iterator]()) === (rows as unknown);

/** The connection of a model whose rows come with each call: `connections: { orders: rowsWithCall() }`, and `data` at the call. */
export const rowsWithCall = (): RowsConnection => ({
  kind: 'rows',
  // biome-ignore lint/correctness/useYield: it has none to give
  async *read(entity) {
    throw new ConnectionError(phrase('rows-not-given', { entity, open: '{', close: '}' }));
  },
});

/** A connection whose entities have the rows that were given; those of others come from where they come otherwise. */
export const givenConnection = (given: GivenRows, otherwise: RowsConnection | null): RowsConnection => {
  const read = new Set<string>();
  const streams = Object.entries(given).map(([entity, rows]) => [
    entity,
    (request: StreamRequest): Rows => {
      if (typeof rows === 'function') return rows(request);
      if (read.has(entity) && isOnce(rows)) throw new ConnectionError(phrase('rows-given-once', { entity }));
      read.add(entity);
      return rows;
    },
  ]);
  const own = streamConnection(Object.fromEntries(streams));
  return {
    kind: 'rows',
    read: (entity, request) => (Object.hasOwn(given, entity) || !otherwise ? own : otherwise).read(entity, request),
  };
};
