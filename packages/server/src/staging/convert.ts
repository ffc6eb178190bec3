import {
  CalendarDate,
  type Conversion,
  decodeValue,
  encodeValue,
  Moment,
  type Operation,
  type Value,
  valueText,
  type WireRow,
  type WireValue,
} from '@gaveta/core/internal';
import { toWire } from '../sources/reading/column.ts';

type Convert = Extract<Operation, { kind: 'convert' }>;

/** Whether texts are read as something else, which no database does as files are read. */
export const readsTexts = ({ columns }: Convert): boolean => columns.some((column) => column?.from === 'text');

const DAY = 86_400_000;

/** When a wall clock in a zone shows a time, given as milliseconds of a clock in UTC. */
const momentOf = (wall: number, timeZone: string): Moment => {
  const off = (at: number): number => new Moment(at).wallClock(timeZone) - at;
  return new Moment(wall - off(wall - off(wall)));
};

const convertedValue = (value: Value, { from, to }: Conversion, timeZone: string): Value => {
  if (value === null) return null;
  switch (`${from} ${to}`) {
    case 'datetime text':
      return value instanceof Moment
        ? new Date(value.wallClock(timeZone)).toISOString().slice(0, 19).replace('T', ' ')
        : null;
    case 'number text':
    case 'date text':
    case 'boolean text':
      return valueText(value);
    case 'datetime date':
      return value instanceof Moment ? CalendarDate.at(Math.floor(value.wallClock(timeZone) / DAY)) : null;
    case 'date datetime':
      return value instanceof CalendarDate ? momentOf(value.day * DAY, timeZone) : null;
    case 'boolean number':
      return value === true ? 1 : 0;
    case 'number boolean':
      return !/^-?0(?:\.0*)?$/.test(valueText(value));
    default:
      return null;
  }
};

const convertedCell = (cell: WireValue, conversion: Conversion, timeZone: string): WireValue =>
  conversion.from === 'text'
    ? toWire(cell === null ? null : String(cell), conversion.to, conversion.writing)
    : encodeValue(convertedValue(decodeValue(cell, conversion.from), conversion, timeZone));

/** Rows with some of their columns as values of other types; what does not fit is blank. */
export async function* converted(
  rows: AsyncIterable<WireRow[]>,
  { columns }: Convert,
  timeZone: string,
): AsyncGenerator<WireRow[]> {
  for await (const batch of rows) {
    yield batch.map((row) =>
      row.map((cell, i) => {
        const conversion = columns[i];
        return conversion ? convertedCell(cell, conversion, timeZone) : cell;
      }),
    );
  }
}
