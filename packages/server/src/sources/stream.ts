import { type DataType, phrase, type WireRow, type WireValue } from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import { ConnectionError, type ReadRequest, type RowsConnection } from '../connection/connection.ts';

/** What the host's code is told about who asks for rows. */
export interface StreamRequest {
  claims: Claims;
  /** Values of the report's parameters, as they travel in JSON. */
  parameters: Readonly<Record<string, WireValue>>;
  /** Names of the fields that are wanted; others may be left out. */
  fields: readonly string[];
  /** Aborted when nobody waits for the rows any more. */
  signal: AbortSignal;
}

export type StreamedRow = Readonly<Record<string, WireValue | Date | undefined>>;

/** Rows by entity, each as the host's code makes them. */
export type Streams = Readonly<
  Record<string, (request: StreamRequest) => AsyncIterable<StreamedRow> | Iterable<StreamedRow>>
>;

const BATCH = 2000;

/** Rows that the host's own code makes, for the entities of a model. They are read when a report runs, never before. */
export const streamConnection = (streams: Streams): RowsConnection => ({
  kind: 'rows',
  async *read(entity, request): AsyncGenerator<WireRow[]> {
    const stream = Object.hasOwn(streams, entity) ? streams[entity]! : null;
    if (!stream) throw new ConnectionError(phrase('stream-missing', { entity }));
    let batch: WireRow[] = [];
    let count = 0;
    try {
      for await (const row of stream(asked(request))) {
        request.signal.throwIfAborted();
        count++;
        batch.push(request.fields.map(({ name, type }) => wireOf(row[name], type, name, count)));
        if (batch.length < BATCH) continue;
        yield batch;
        batch = [];
      }
    } catch (error) {
      if (request.signal.aborted || error instanceof ConnectionError) throw error;
      throw new ConnectionError(
        phrase('host-code-failed', { said: error instanceof Error ? error.message : String(error) }),
      );
    }
    if (batch.length > 0) yield batch;
  },
});

const asked = ({ claims, parameters, fields, signal }: ReadRequest): StreamRequest => ({
  claims,
  parameters,
  fields: fields.map((f) => f.name),
  signal,
});

const wireOf = (value: StreamedRow[string], type: DataType, name: string, row: number): WireValue => {
  if (value === undefined || value === null) return null;
  if (value instanceof Date) {
    if (Number.isNaN(value.getTime())) throw new ConnectionError(phrase('row-no-date', { row, name }));
    return type === 'date' ? value.toISOString().slice(0, 10) : value.toISOString();
  }
  if (type === 'number' && typeof value === 'number' && !Number.isFinite(value))
    throw new ConnectionError(phrase('row-no-number', { row, name }));
  if (type === 'number' && typeof value === 'number' && !Number.isSafeInteger(value)) return String(value);
  return value;
};
