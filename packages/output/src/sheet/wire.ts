import {
  CalendarDate,
  type DataType,
  decodeValue,
  encodeValue,
  FormulaError,
  isNumeric,
  Moment,
  type Value,
  type WireValue,
} from '@gaveta/core/internal';

/** A value that waits in a file, with what it is. */
export type WaitingValue = [type: DataType | 'error', wire: WireValue];

const typeOf = (value: Value): DataType => {
  if (isNumeric(value)) return 'number';
  if (typeof value === 'boolean') return 'boolean';
  if (value instanceof CalendarDate) return 'date';
  return value instanceof Moment ? 'datetime' : 'text';
};

export const toWaiting = (value: Value): WaitingValue =>
  value instanceof FormulaError ? ['error', value.code] : [typeOf(value), encodeValue(value)];

export const fromWaiting = ([type, wire]: WaitingValue): Value =>
  type === 'error' ? new FormulaError(String(wire) as FormulaError['code']) : decodeValue(wire, type);
