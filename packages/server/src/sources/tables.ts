import type { DataType, WireRow } from '@gaveta/core';
import type { ReadRequest, RowsConnection } from '../connection/connection.ts';
import { ConnectionError } from '../connection/connection.ts';
import { defineModel, type EntityInput, type FieldInput, type RegisteredModel } from '../model/define.ts';
import { fieldNames, inferType, type RawTable, SourceError, toWire, type Writing } from './raw.ts';

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
    const fields: [string, FieldInput][] = table.fields.map(({ name: field, column, type }) => [
      field,
      { label: titled(column), type, ...(FORMATS[type] ? { format: FORMATS[type] } : {}) },
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

/** Rows of tables that `load` reads whole. What it throws says what is wrong with the source. */
export const tableConnection = (
  tables: readonly SourceTable[],
  writing: Writing,
  load: (request: ReadRequest) => Promise<RawTable[]>,
): RowsConnection => ({
  kind: 'rows',
  async *read(entity, request): AsyncGenerator<WireRow[]> {
    const described = tables.find((t) => t.name === entity);
    if (!described) throw new ConnectionError(`it has no table “${entity}”`);
    let loaded: RawTable[];
    try {
      loaded = await load(request);
    } catch (error) {
      if (error instanceof SourceError) throw new ConnectionError(error.message);
      throw error;
    }
    const table = loaded.find((t) => t.name === described.label) ?? (loaded.length === 1 ? loaded[0] : undefined);
    if (!table) throw new ConnectionError(`“${described.label}” is not there any more`);
    const places = request.fields.map(({ name }) => {
      const field = described.fields.find((f) => f.name === name);
      return field ? table.columns.indexOf(field.column) : -1;
    });
    for (let from = 0; from < table.rows.length; from += BATCH) {
      yield table.rows
        .slice(from, from + BATCH)
        .map((cells, i) =>
          request.fields.map(({ name, type }, f) =>
            name === ROW ? from + i + 1 : toWire(cells[places[f]!] ?? null, type, writing),
          ),
        );
      // Lets others in.
      await new Promise(setImmediate);
      request.signal.throwIfAborted();
    }
  },
});
