import { type ColumnSettings, type DataType, phrase, type WireRow } from '@gaveta/core/internal';
import type { ReadRequest, RowsConnection, WantedField } from '../connection/connection.ts';
import { ConnectionError } from '../connection/connection.ts';
import { defineModel, type EntityInput, type FieldInput, type RegisteredModel } from '../model/define.ts';
import { fieldNames } from '../model/field-names.ts';
import { occurrences, type RawTable, SourceError } from './raw.ts';
import type { RawCell } from './reading/cell.ts';
import { type ColumnFacts, describeAs, describeColumn, isMisfit, toWire, type Writing } from './reading/column.ts';

/** What is known of a table of a file or service: the names it goes by, and the types of its columns. */
export interface SourceTable {
  /** Name of the entity. */
  name: string;
  /** What the source calls it. */
  label: string;
  fields: SourceField[];
}

export interface SourceField {
  name: string;
  /** What the source calls the column. */
  column: string;
  type: DataType;
  /** Left out: made from the column’s name. */
  label?: string;
  /** How its cells are written; left out: as the source’s settings say. */
  writing?: Writing;
  format?: string;
  /** It is no field of the model. */
  leftOut?: true;
}

/** What a table was found to hold, for whoever sets its source up. */
export interface TableLook {
  fields: Pick<ColumnFacts, 'misfits' | 'doubt'>[];
  /** The first rows as they are written, and whether each cell fits its column. */
  rows: { text: string; fits: boolean }[][];
  /** As of RawTable. */
  short: RawTable['short'] | null;
}

/** Rows that are shown of a table, and characters of a cell. */
const ROWS_SHOWN = 20;
const CELL_SHOWN = 120;

/** Rows of one table carry their number, which tells them apart. */
export const ROW = 'row_number';

export const describeTables = (
  tables: readonly RawTable[],
  writing: Writing,
  settings: readonly ColumnSettings[] = [],
): { tables: SourceTable[]; looks: TableLook[] } => {
  const names = fieldNames(tables.map((t) => t.name));
  const described = tables.map((table, i) => {
    const which = occurrences(table.columns);
    const said = table.columns.map((column, c) => {
      const own = settings.filter((s) => s.column === column && s.which === which[c]);
      // The only table of a source is called after it, which may have another name by now.
      return own.find((s) => s.table === table.name) ?? (tables.length === 1 ? own.at(-1) : undefined);
    });
    const found = fieldNames(table.columns).map((name) => (name === ROW ? `${ROW}_2` : name));
    const chosen = found.map((name, c) => said[c]?.name ?? name);
    const twice = chosen.find((name, c) => chosen.indexOf(name) !== c || name === ROW);
    if (twice !== undefined) throw new SourceError(phrase('columns-same-name', { table: table.name, name: twice }));
    const alone = table.columns.map((column, c) => factsOf(table, column, c, writing, said[c]));
    const usual = usualWriting(alone, writing);
    const facts = alone.map((own, c) =>
      own.doubt === null ? own : withoutDoubt(factsOf(table, table.columns[c]!, c, usual.writing, said[c]), usual),
    );
    const fields = facts.map(({ type, writing: own, format }, c): SourceField => {
      const label = said[c]?.label;
      const field = { name: chosen[c]!, column: table.columns[c]!, type, writing: own };
      return {
        ...field,
        ...(label === undefined ? {} : { label }),
        ...(format === null ? {} : { format }),
        ...(said[c]?.leftOut ? { leftOut: true } : {}),
      };
    });
    return { table: { name: names[i]!, label: table.name, fields }, look: lookAt(table, facts) };
  });
  return { tables: described.map(({ table }) => table), looks: described.map(({ look }) => look) };
};

const factsOf = (
  table: RawTable,
  column: string,
  at: number,
  writing: Writing,
  said: ColumnSettings | undefined,
): ColumnFacts => {
  const cells = (): Iterable<RawCell> => columnCells(table, at);
  const asked = { decimal: said?.decimal ?? writing.decimal, dates: said?.dates ?? writing.dates };
  const found = describeColumn(column, cells, asked);
  if (!said || (said.type === undefined && said.decimal === undefined && said.dates === undefined)) return found;
  const decimals = said.decimal ? [said.decimal] : ([asked.decimal, '.', ','] as const);
  const orders = said.dates ? [said.dates] : ([asked.dates, 'dmy', 'mdy', 'ymd'] as const);
  const type = said.type ?? found.type;
  const writings =
    type === 'number'
      ? decimals.map((decimal) => ({ ...asked, decimal }))
      : type === 'date' || type === 'datetime'
        ? orders.map((dates) => ({ ...asked, dates }))
        : [asked];
  // What was not said is as most of the values are written.
  return writings
    .map((own) => describeAs(column, cells, type, own))
    .reduce((best, next) => (next.misfits < best.misfits ? next : best));
};

interface UsualWriting {
  writing: Writing;
  /** What the other columns of the table settle. */
  settles: ReadonlySet<NonNullable<ColumnFacts['doubt']>>;
}

/** A file is written by one hand: where some columns can be read in one way alone, and agree, the others are read so too. */
const usualWriting = (facts: readonly ColumnFacts[], asked: Writing): UsualWriting => {
  const told = facts.filter((f) => f.isTold);
  const decimals = new Set(told.flatMap(({ type, writing }) => (type === 'number' ? [writing.decimal] : [])));
  const isDay = (type: DataType): boolean => type === 'date' || type === 'datetime';
  const orders = new Set(told.flatMap(({ type, writing }) => (isDay(type) ? [writing.dates] : [])));
  const [decimal = asked.decimal] = decimals;
  const [dates = asked.dates] = orders;
  const settles = new Set<NonNullable<ColumnFacts['doubt']>>();
  if (decimals.size === 1) settles.add('decimal');
  if (orders.size === 1) settles.add('day-month');
  return {
    writing: {
      decimal: decimals.size === 1 ? decimal : asked.decimal,
      dates: orders.size === 1 ? dates : asked.dates,
    },
    settles,
  };
};

const withoutDoubt = (facts: ColumnFacts, { settles }: UsualWriting): ColumnFacts =>
  facts.doubt !== null && settles.has(facts.doubt) ? { ...facts, doubt: null } : facts;

const lookAt = (table: RawTable, facts: readonly ColumnFacts[]): TableLook => ({
  fields: facts.map(({ misfits, doubt }) => ({ misfits, doubt })),
  short: table.short ?? null,
  rows: table.rows.slice(0, ROWS_SHOWN).map((row) =>
    facts.map(({ type, writing }, c) => {
      const cell = row[c] ?? null;
      const text = cell instanceof Date ? cell.toISOString().replace('T00:00:00.000Z', '') : String(cell ?? '');
      return { text: text.slice(0, CELL_SHOWN), fits: !isMisfit(cell, type, writing) };
    }),
  ),
});

function* columnCells(table: RawTable, column: number): Iterable<RawCell> {
  for (const row of table.rows) yield row[column] ?? null;
}

const TITLES = /[_-]+/g;

const titled = (column: string): string => {
  const words = column.trim().replace(TITLES, ' ');
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : column;
};

const FORMATS: Partial<Record<DataType, string>> = { date: 'd mmm yyyy', datetime: 'd mmm yyyy hh:mm' };

const formatOf = (type: DataType, own: string | undefined): { format?: string } => {
  const format = own ?? FORMATS[type];
  return format === undefined ? {} : { format };
};

/** A data model with an entity for each table. */
export const sourceModel = (name: string, label: string, tables: readonly SourceTable[]): RegisteredModel => {
  const entities = tables.map((table): [string, EntityInput] => {
    const which = occurrences(table.fields.map((f) => f.column));
    const fields = table.fields.flatMap(({ name: field, column, type, ...own }, i): [string, FieldInput][] => {
      if (own.leftOut) return [];
      const usual = which[i] === 0 ? titled(column) : `${titled(column)} ${which[i]! + 1}`;
      return [[field, { label: own.label ?? usual, type, ...formatOf(type, own.format) }]];
    });
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

/** Where the number of a row comes from, and a column that is not there any more: no place among the cells. */
const ROW_PLACE = -1;
const GONE_PLACE = -2;

/**
 * Rows of a table as they travel, in batches, with the fields asked for. Columns of one name are told apart by their
 * order. Throws SourceError when a column that is needed is not there any more: rows that lack it would pass for others.
 */
export function* wireRows(
  table: RawTable,
  described: SourceTable,
  fields: readonly WantedField[],
  writing: Writing,
): Iterable<WireRow[]> {
  const key = (column: string, which: number): string => `${which} ${column}`;
  const columns = new Map(occurrences(table.columns).map((which, i) => [key(table.columns[i]!, which), i]));
  const known = occurrences(described.fields.map((f) => f.column));
  const places = fields.map(({ name, mayBeGone }) => {
    if (name === ROW) return { place: ROW_PLACE, writing };
    const at = described.fields.findIndex((f) => f.name === name);
    const place = at < 0 ? undefined : columns.get(key(described.fields[at]!.column, known[at]!));
    if (place === undefined && mayBeGone) return { place: GONE_PLACE, writing };
    if (place === undefined)
      throw new SourceError(phrase('column-gone', { name: described.fields[at]?.column ?? name }));
    return { place, writing: described.fields[at]!.writing ?? writing };
  });
  for (let from = 0; from < table.rows.length; from += BATCH) {
    yield table.rows.slice(from, from + BATCH).map((cells, i) =>
      fields.map(({ type }, f) => {
        const { place, writing: own } = places[f]!;
        return place === ROW_PLACE ? from + i + 1 : toWire(cells[place] ?? null, type, own);
      }),
    );
  }
}

/** The table that was described as such: by its name, or the only one. Throws SourceError when there is none. */
export const findTable = (loaded: readonly RawTable[], described: SourceTable): RawTable => {
  const table = loaded.find((t) => t.name === described.label) ?? (loaded.length === 1 ? loaded[0] : undefined);
  if (!table) throw new SourceError(phrase('table-gone', { name: described.label }));
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
    if (!described) throw new ConnectionError(phrase('table-unknown', { name: entity }));
    try {
      yield* open(described, request);
    } catch (error) {
      if (error instanceof SourceError) throw new ConnectionError(error.said);
      throw error;
    }
  },
});
