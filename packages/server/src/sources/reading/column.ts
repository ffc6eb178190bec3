import type { DataType, WireValue } from '@gaveta/core/internal';
import type { RawCell } from './cell.ts';
import { type DayOrder, readDate } from './dates.ts';
import { type DecimalSign, readNumber, readWritten, type WrittenNumber } from './numbers.ts';
import { isBlankText, isPair, readBoolean } from './words.ts';

/** How numbers and dates are written where they are texts. */
export interface Writing {
  decimal: DecimalSign;
  dates: DayOrder;
}

/** What a column was found to be. */
export interface ColumnFacts {
  type: DataType;
  writing: Writing;
  /** Number format that suits its values; null where none is needed. */
  format: string | null;
  /** Cells that are not blank and do not fit the type; they become blank. */
  misfits: number;
  /** What cannot be told from the values: which number is the day, or what a sign in numbers means. */
  doubt: 'day-month' | 'decimal' | null;
  /** The values can be read in this one way alone, which tells something of other columns of the file. */
  isTold: boolean;
}

const isMidnight = (date: Date): boolean => date.getTime() % 86_400_000 === 0;

const isBlank = (cell: RawCell, type: DataType): boolean =>
  cell === null || (typeof cell === 'string' && isBlankText(cell, type === 'text' || type === 'picture'));

/** A cell as a value of its column's type travels. A cell that does not fit is blank, which the caller counts. */
export const toWire = (cell: RawCell, type: DataType, writing: Writing): WireValue => {
  if (cell === null || isBlank(cell, type)) return null;
  switch (type) {
    case 'text':
      return cell instanceof Date ? cell.toISOString() : String(cell);
    case 'picture':
      return typeof cell === 'string' ? cell : null;
    case 'number':
      if (typeof cell === 'number') return Number.isSafeInteger(cell) ? cell : String(cell);
      return typeof cell === 'string' ? readNumber(cell, writing.decimal) : null;
    case 'boolean':
      return typeof cell === 'boolean' ? cell : typeof cell === 'string' ? readBoolean(cell) : null;
    case 'date':
      if (cell instanceof Date) return cell.toISOString().slice(0, 10);
      return typeof cell === 'string' ? (readDate(cell, writing.dates)?.day ?? null) : null;
    case 'datetime': {
      if (cell instanceof Date) return cell.toISOString();
      const found = typeof cell === 'string' ? readDate(cell, writing.dates) : null;
      return found && `${found.day}T${found.time ?? '00:00:00Z'}`;
    }
    default:
      return type satisfies never;
  }
};

/** Whether a cell is not blank and lost in a column of the type. */
export const isMisfit = (cell: RawCell, type: DataType, writing: Writing): boolean =>
  !isBlank(cell, type) && toWire(cell, type, writing) === null;

/** A way to read a column: a type, with the writing that it takes. */
interface Candidate {
  type: DataType;
  writing: Writing;
  fits: (cell: Exclude<RawCell, null>) => boolean;
}

/** From the narrowest to the widest; of two writings the one that was asked for comes first. */
const candidatesFor = (asked: Writing): Candidate[] => {
  const decimals: DecimalSign[] = asked.decimal === '.' ? ['.', ','] : [',', '.'];
  const orders: DayOrder[] = asked.dates === 'mdy' ? ['mdy', 'dmy', 'ymd'] : ['dmy', 'mdy', 'ymd'];
  const dated = (dates: DayOrder, type: 'date' | 'datetime'): Candidate => ({
    type,
    writing: { ...asked, dates },
    fits: (cell) => {
      if (cell instanceof Date) return type === 'datetime' || isMidnight(cell);
      const found = typeof cell === 'string' ? readDate(cell, dates) : null;
      return found !== null && (type === 'datetime' || found.time === null);
    },
  });
  return [
    {
      type: 'boolean',
      writing: asked,
      fits: (cell) => typeof cell === 'boolean' || (typeof cell === 'string' && readBoolean(cell) !== null),
    },
    ...decimals.map(
      (decimal): Candidate => ({
        type: 'number',
        writing: { ...asked, decimal },
        fits: (cell) => typeof cell === 'number' || (typeof cell === 'string' && readWritten(cell, decimal) !== null),
      }),
    ),
    ...orders.map((order) => dated(order, 'date')),
    ...orders.map((order) => dated(order, 'datetime')),
  ];
};

/**
 * The narrowest type that every cell of a column fits, and how its cells are written; text when none does or when all are
 * blank. `asked`: the writing where the values leave a choice.
 */
export const describeColumn = (name: string, cells: () => Iterable<RawCell>, asked: Writing): ColumnFacts => {
  let left = candidatesFor(asked);
  const words = new Set<string>();
  let seen = false;
  for (const cell of cells()) {
    if (cell === null || isBlank(cell, 'number')) continue;
    seen = true;
    left = left.filter(({ fits }) => fits(cell));
    if (left[0]?.type === 'boolean' && typeof cell === 'string') words.add(cell.trim().toLowerCase());
    if (left.length === 0) break;
  }
  if (left[0]?.type === 'boolean' && words.size > 0 && !isPair(words)) left.shift();
  const [found] = left;
  if (!seen || !found) return { type: 'text', writing: asked, format: null, misfits: 0, doubt: null, isTold: false };
  const { type, writing } = found;
  const others = left.slice(1).filter((other) => other.type === type);
  return {
    type,
    writing,
    format: type === 'number' ? numberFormat(name, cells(), writing.decimal) : null,
    misfits: 0,
    doubt: doubtOf(found, others, cells),
    isTold: others.length === 0,
  };
};

/** What the facts of a column are when somebody has said what it is. */
export const describeAs = (
  name: string,
  cells: () => Iterable<RawCell>,
  type: DataType,
  writing: Writing,
): ColumnFacts => {
  let misfits = 0;
  for (const cell of cells()) if (isMisfit(cell, type, writing)) misfits++;
  const format = type === 'number' ? numberFormat(name, cells(), writing.decimal) : null;
  return { type, writing, format, misfits, doubt: null, isTold: false };
};

/** Whether another way to read the column gives other values. */
const doubtOf = (
  { type, writing }: Candidate,
  others: readonly Candidate[],
  cells: () => Iterable<RawCell>,
): ColumnFacts['doubt'] => {
  for (const other of others) {
    for (const cell of cells()) {
      if (toWire(cell, type, writing) !== toWire(cell, type, other.writing))
        return type === 'number' ? 'decimal' : 'day-month';
    }
  }
  return null;
};

/** Columns whose numbers name something: nobody adds them up or reads them in thousands. */
const NAMES =
  /(?:^|[\s_.-])(?:id|no|nr|num|number|code|year|zip|phone|ano|ano|año|jahr|année|código|codigo)$|[a-z]Id$|ID$/i;

/** Most decimals that a format shows. */
const MOST_DECIMALS = 2;

const numberFormat = (name: string, cells: Iterable<RawCell>, decimal: DecimalSign): string | null => {
  let largest = 0;
  let decimals = 0;
  let isYears = true;
  let beside: Pick<WrittenNumber, 'isPercent' | 'currency' | 'leads'> | null = null;
  let isAlike = true;
  for (const cell of cells) {
    const written =
      typeof cell === 'string'
        ? readWritten(cell, decimal)
        : typeof cell === 'number'
          ? { value: String(cell), isPercent: false, currency: null, leads: false }
          : null;
    if (!written) continue;
    const { value, isPercent, currency, leads } = written;
    const number = Math.abs(Number(value));
    largest = Math.max(largest, number);
    decimals = Math.max(decimals, value.includes('e') ? 0 : (value.split('.')[1]?.length ?? 0));
    isYears &&= Number.isInteger(number) && number >= 1800 && number <= 2200;
    isAlike &&= !beside || (beside.isPercent === isPercent && beside.currency === currency && beside.leads === leads);
    beside ??= { isPercent, currency, leads };
  }
  if (!beside) return null;
  if (isAlike && beside.isPercent)
    return decimals > 2 ? `0.${'0'.repeat(Math.min(decimals - 2, MOST_DECIMALS))}%` : '0%';
  if (isYears || NAMES.test(name.trim())) return null;
  const fraction = decimals > 0 && decimals <= MOST_DECIMALS ? `.${'0'.repeat(decimals)}` : '';
  if (decimals > MOST_DECIMALS) return null;
  const plain = largest >= 1000 ? `#,##0${fraction}` : fraction && `0${fraction}`;
  if (!isAlike || beside.currency === null) return plain || null;
  const sign = `"${beside.currency}"`;
  return beside.leads ? `${sign} ${plain || '0'}` : `${plain || '0'} ${sign}`;
};
