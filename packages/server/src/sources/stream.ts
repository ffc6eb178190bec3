import {
  CalendarDate,
  type DataType,
  Moment,
  parseNumeric,
  phrase,
  type WireRow,
  type WireValue,
} from '@gaveta/core/internal';
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

/** A value as it travels, held to the type of its field: what is none of that type is refused with its row. */
const wireOf = (value: StreamedRow[string], type: DataType, name: string, row: number): WireValue => {
  if (value === undefined || value === null) return null;
  const refuse = (why: 'row-no-date' | 'row-no-number' | 'row-no-truth' | 'row-no-text'): never => {
    throw new ConnectionError(phrase(why, { row, name }));
  };
  switch (type) {
    case 'number':
      if (typeof value === 'number') {
        if (!Number.isFinite(value)) return refuse('row-no-number');
        return Number.isSafeInteger(value) ? value : String(value);
      }
      if (typeof value === 'string' && (value.trim() === '' || parseNumeric(value.trim()) !== null)) return value;
      return refuse('row-no-number');
    case 'date':
    case 'datetime':
      if (value instanceof Date) {
        if (Number.isNaN(value.getTime())) return refuse('row-no-date');
        return type === 'date' ? value.toISOString().slice(0, 10) : value.toISOString();
      }
      if (typeof value === 'string' && (type === 'date' ? CalendarDate.parse(value) : Moment.parse(value)) !== null)
        return value;
      return refuse('row-no-date');
    case 'boolean':
      return typeof value === 'boolean' ? value : refuse('row-no-truth');
    case 'text':
    case 'picture':
      if (typeof value === 'string') return value;
      return typeof value === 'number' || typeof value === 'boolean' ? String(value) : refuse('row-no-text');
    default:
      return type satisfies never;
  }
};
