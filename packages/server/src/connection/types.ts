import type { DataType } from '@gaveta/core/internal';

/** Our type for PostgreSQL's types, by OID (its catalogue pg_type). Whatever is not here is shown as text. */
const BY_OID: Record<number, DataType> = {
  16: 'boolean',
  17: 'picture',
  20: 'number',
  21: 'number',
  23: 'number',
  26: 'number',
  700: 'number',
  701: 'number',
  1082: 'date',
  1114: 'datetime',
  1184: 'datetime',
  1700: 'number',
};

export const dataTypeOf = (oid: number): DataType => BY_OID[oid] ?? 'text';

/**
 * How a column is read whose own type is none of ours, so that it is compared, grouped and sorted as what it is shown as: `text`;
 * `list`, the members of an array with commas; `number`; `digits`, a number by the digits that are written of it; `bytes`, as
 * hexadecimal digits.
 */
export const COLUMN_CASTS = ['text', 'list', 'number', 'digits', 'bytes'] as const;
export type ColumnCast = (typeof COLUMN_CASTS)[number];

const CASTS: Readonly<Record<ColumnCast, (column: string) => string>> = {
  text: (column) => `${column}::text`,
  list: (column) => `array_to_string(${column}, ', ')`,
  number: (column) => `${column}::numeric`,
  digits: (column) => `${column}::text::numeric`,
  bytes: (column) => `encode(${column}, 'hex')`,
};

export const castSql = (column: string, cast: ColumnCast): string => CASTS[cast](column);

/** text, varchar and char: compared with texts as they are. */
const TEXTS = new Set([25, 1042, 1043]);
const MONEY = 790;
/** real, double precision, and the numbers of the catalogue. */
const BY_DIGITS = new Set([700, 701, 26]);
const FLOATS = new Set([700, 701]);

/** What a column of a table is to us. `category`: of its type, as PostgreSQL's catalogue has it. */
export const columnType = (
  oid: number,
  category: string,
): { type: DataType; cast: ColumnCast | null; inexact: boolean } => {
  const inexact = FLOATS.has(oid);
  if (oid === MONEY) return { type: 'number', cast: 'number', inexact };
  if (BY_DIGITS.has(oid)) return { type: 'number', cast: 'digits', inexact };
  const type = dataTypeOf(oid);
  if (type !== 'text' || TEXTS.has(oid)) return { type, cast: null, inexact };
  return { type, cast: category === 'A' ? 'list' : 'text', inexact };
};
