import type { DataType, WireRow } from '@gaveta/core';
import type { ReadRequest, RowsConnection } from '../connection/connection.ts';
import { ConnectionError } from '../connection/connection.ts';
import { defineModel, type EntityInput, type FieldInput, type RegisteredModel } from '../model/define.ts';
import { fieldNames, inferType, occurrences, type RawTable, SourceError, toWire, type Writing } from './raw.ts';

/** What is known of a table of a file or service: the names it goes by, and the types of its columns. */
export interface SourceTable {
  /** Name of the entity. */
  name: string;
  /** What the source calls it. */
  label: string;
  fields: { name: string; column: string; type: DataType }[];
}

/** Rows of one table carry their number, which tells them apart. */
export const ROW = 'row_number';

export const describeTables = (tables: readonly RawTable[], writing: Writing): SourceTable[] => {
  const names = fieldNames(tables.map((t) => t.name));
  return tables.map((table, i) => {
    const fields = fieldNames(table.columns).map((name, c) => ({
      name: name === ROW ? `${ROW}_2` : name,
      column: table.columns[c]!,
      type: inferType(columnCells(table, c), writing),
    }));
    return { name: names[i]!, label: table.name, fields };
  });
};

function* columnCells(table: RawTable, column: number) {
  for (const row of table.rows) yield row[column] ?? null;
}

const TITLES = /[_-]+/g;

const titled = (column: string): string => {
  const words = column.trim().replace(TITLES, ' ');
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : column;
};

const FORMATS: Partial<Record<DataType, string>> = { date: 'd mmm yyyy', datetime: 'd mmm yyyy hh:mm' };

/** A data model with an entity for each table. */
export const sourceModel = (name: string, label: string, tables: readonly SourceTable[]): RegisteredModel => {
  const entities = tables.map((table): [string, EntityInput] => {
    const which = occurrences(table.fields.map((f) => f.column));
    const fields: [string, FieldInput][] = table.fields.map(({ name: field, column, type }, i) => [
      field,
      {
        label: which[i] === 0 ? titled(column) : `${titled(column)} ${which[i]! + 1}`,
        type,
        ...(FORMATS[type] ? { format: FORMATS[type] } : {}),
      },
    ]);
    const key: [string, FieldInput] = [ROW, { label: 'Row', type: 'number', hidden: true }];
    return [
      table.name,
      {
        label: titled(table.label),
        plural: titled(table.label),
        key: ROW,
        fields: Object.fromEntries([...fields, key]),
      },
    ];
  });
  return defineModel({ name, label, connection: name, entities: Object.fromEntries(entities) });
};

const BATCH = 2000;

/**
 * Rows of a table as they travel, in batches, with the fields asked for. Columns of one name are told apart by their
 * order. Throws SourceError when a column is not there any more: rows that lack it would pass for others.
 */
export function* wireRows(
  table: RawTable,
  described: SourceTable,
  fields: readonly { name: string; type: DataType }[],
  writing: Writing,
): Iterable<WireRow[]> {
  const key = (column: string, which: number): string => `${which} ${column}`;
  const columns = new Map(occurrences(table.columns).map((which, i) => [key(table.columns[i]!, which), i]));
  const known = occurrences(described.fields.map((f) => f.column));
  const places = fields.map(({ name }) => {
    if (name === ROW) return -1;
    const at = described.fields.findIndex((f) => f.name === name);
    const place = at < 0 ? undefined : columns.get(key(described.fields[at]!.column, known[at]!));
    if (place === undefined)
      throw new SourceError(
        `it has no column “${described.fields[at]?.column ?? name}” any more; refresh the connection on the Data screen, and mend what uses the column`,
      );
    return place;
  });
  for (let from = 0; from < table.rows.length; from += BATCH) {
    yield table.rows
      .slice(from, from + BATCH)
      .map((cells, i) =>
        fields.map(({ type }, f) => (places[f]! < 0 ? from + i + 1 : toWire(cells[places[f]!] ?? null, type, writing))),
      );
  }
}

/** The table that was described as such: by its name, or the only one. Throws SourceError when there is none. */
export const findTable = (loaded: readonly RawTable[], described: SourceTable): RawTable => {
  const table = loaded.find((t) => t.name === described.label) ?? (loaded.length === 1 ? loaded[0] : undefined);
  if (!table) throw new SourceError(`“${described.label}” is not there any more`);
  return table;
};

/** Rows of tables that stand in a file or service, each read by `open` in a thread of its own. */
export const tableConnection = (
  tables: readonly SourceTable[],
  open: (described: SourceTable, request: ReadRequest) => AsyncIterable<WireRow[]>,
): RowsConnection => ({
  kind: 'rows',
  async *read(entity, request): AsyncGenerator<WireRow[]> {
    const described = tables.find((t) => t.name === entity);
    if (!described) throw new ConnectionError(`it has no table “${entity}”`);
    try {
      yield* open(described, request);
    } catch (error) {
      if (error instanceof SourceError) throw new ConnectionError(error.message);
      throw error;
    }
  },
});
