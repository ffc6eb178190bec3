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
