import { phrase } from '../../problems/phrases.ts';
import { type TextOrder, textOrderOf } from '../../text/text-order.ts';
import { CalendarDate, Moment } from '../../value/date.ts';
import { Decimal } from '../../value/decimal.ts';
import {
  add,
  compareNumeric,
  divide,
  isNumeric,
  multiply,
  type Numeric,
  toDecimal,
  toNumber,
} from '../../value/number.ts';
import {
  compareValues,
  type DataType,
  decodeValue,
  FormulaError,
  identityOf,
  List,
  type Value,
  type WireValue,
} from '../../value/value.ts';

/** Most values that a total which must keep them all (MEDIAN, COUNTDISTINCT, LIST) holds at once. */
export const MAX_KEPT = 1_000_000;

/**
 * Kinds of totals. A total works a formula out for every row of its scope. `gives`: type of the result, `same` for that
 * of the formula. Given a list, or several values, the same names work on those instead.
 */
export const TOTALS = {
  SUM: { help: 'The sum.', numbersOnly: true, gives: 'number', example: 'SUM({1;2;3}) = 6' },
  COUNT: {
    help: 'How many numbers and dates there are; with a drawer’s name, how many rows.',
    numbersOnly: false,
    gives: 'number',
    example: 'COUNT({1;"a";3}) = 2',
  },
  COUNTA: {
    help: 'How many values of any kind there are, texts and errors included.',
    numbersOnly: false,
    gives: 'number',
    example: 'COUNTA({1;"a";3}) = 3',
  },
  COUNTDISTINCT: {
    help: 'How many distinct values there are. (Gaveta’s own.)',
    numbersOnly: false,
    gives: 'number',
    example: 'COUNTDISTINCT({"a";"b";"a"}) = 2',
  },
  AVERAGE: { help: 'The mean.', numbersOnly: true, gives: 'number', example: 'AVERAGE({1;2;6}) = 3' },
  MIN: { help: 'The smallest value.', numbersOnly: false, gives: 'same', example: 'MIN(3; 1; 2) = 1' },
  MAX: { help: 'The largest value.', numbersOnly: false, gives: 'same', example: 'MAX(0; -5) = 0' },
  MEDIAN: {
    help: 'The median: the value in the middle, or the average of the two there.',
    numbersOnly: true,
    gives: 'number',
    example: 'MEDIAN({1;2;3;10}) = 2.5',
  },
  STDEV: {
    help: 'The standard deviation of a sample.',
    numbersOnly: true,
    gives: 'number',
    example: 'STDEV({2;4;4;4;5;5;7;9;1}) = SQRT(VAR({2;4;4;4;5;5;7;9;1}))',
  },
  STDEVP: {
    help: 'The standard deviation of a whole population.',
    numbersOnly: true,
    gives: 'number',
    example: 'STDEVP({2;4;4;4;5;5;7;9}) = 2',
  },
  VAR: { help: 'The variance of a sample.', numbersOnly: true, gives: 'number', example: 'VAR({1;2;3}) = 1' },
  VARP: {
    help: 'The variance of a whole population.',
    numbersOnly: true,
    gives: 'number',
    example: 'VARP({1;3}) = 1',
  },
  FIRST: {
    help: 'The first value in the order of the rows. (Gaveta’s own.)',
    numbersOnly: false,
    gives: 'same',
    example: 'FIRST({7;8;9}) = 7',
  },
  LAST: {
    help: 'The last value in the order of the rows. (Gaveta’s own.)',
    numbersOnly: false,
    gives: 'same',
    example: 'LAST({7;8;9}) = 9',
  },
  LIST: {
    help: 'All values as a list, for the functions that take one. (Gaveta’s own.)',
    numbersOnly: false,
    gives: 'list',
    example: 'LARGE(LIST(4; 9; 5); 2) = 5',
  },
} as const satisfies Record<
  string,
  { help: string; numbersOnly: boolean; gives: 'number' | 'same' | 'list'; example: string }
>;

/** Totals that say how many there are: a whole number, 0 when there are none. */
const COUNTS: ReadonlySet<string> = new Set(['COUNT', 'COUNTA', 'COUNTDISTINCT']);
export const isCount = (name: string): boolean => COUNTS.has(name);

export type TotalName = keyof typeof TOTALS;
export const isTotal = (name: string): name is TotalName => Object.hasOwn(TOTALS, name);

const TOO_MANY = new FormulaError('#NUM!', phrase('e-too-many-values', { count: MAX_KEPT }));

/** Numbers, and dates, which are numbers to the standard. */
const isCounted = (value: Value): boolean =>
  isNumeric(value) || value instanceof CalendarDate || value instanceof Moment;

/**
 * Collects the values of one total. Blank values count for nothing, and what is no number nothing for a total of
 * numbers; the first error stays.
 */
export class Accumulator {
  private count = 0;
  private sum: Numeric = 0;
  private squares: Numeric = 0;
  private single: Value = null;
  // Most totals keep no values, and an item that groups rows has one for each of its cells.
  private kept: Value[] | null = null;
  private seen: Set<string> | null = null;
  private error: FormulaError | null = null;

  /** `texts`: the order of the report’s language. */
  constructor(
    private readonly name: TotalName,
    private readonly texts: TextOrder,
  ) {}

  add(value: Value): void {
    if (value === null) return;
    if (this.name === 'COUNTA') {
      this.count++;
      return;
    }
    if (value instanceof FormulaError) {
      this.error ??= value;
      return;
    }
    switch (this.name) {
      case 'COUNT':
        if (isCounted(value)) this.count++;
        return;
      case 'SUM':
      case 'AVERAGE':
        if (!isNumeric(value)) return;
        this.count++;
        this.sum = add(this.sum, value);
        return;
      case 'VAR':
      case 'VARP':
      case 'STDEV':
      case 'STDEVP':
        if (!isNumeric(value)) return;
        this.count++;
        this.sum = add(this.sum, value);
        this.squares = add(this.squares, multiply(value, value));
        return;
      case 'MIN':
        if (this.single === null || compareValues(value, this.single as never, this.texts.sort) < 0)
          this.single = value;
        return;
      case 'MAX':
        if (this.single === null || compareValues(value, this.single as never, this.texts.sort) > 0)
          this.single = value;
        return;
      case 'FIRST':
        if (this.count++ === 0) this.single = value;
        return;
      case 'LAST':
        this.single = value;
        return;
      case 'COUNTDISTINCT':
        this.seen ??= new Set();
        if (this.seen.size > MAX_KEPT) this.error = TOO_MANY;
        else this.seen.add(identityOf(value));
        return;
      case 'MEDIAN':
      case 'LIST':
        this.kept ??= [];
        if (this.kept.length >= MAX_KEPT) this.error = TOO_MANY;
        else this.kept.push(value);
        return;
      default:
        this.name satisfies never;
    }
  }

  /** An empty SUM, COUNT, COUNTA or COUNTDISTINCT is 0 and an empty LIST has no values; every other empty total is blank. */
  result(): Value {
    if (this.error) return this.error;
    switch (this.name) {
      case 'SUM':
        return this.sum;
      case 'COUNT':
      case 'COUNTA':
        return this.count;
      case 'COUNTDISTINCT':
        return this.seen?.size ?? 0;
      case 'AVERAGE':
        return mean(this.sum, this.count);
      case 'VAR':
      case 'VARP':
      case 'STDEV':
      case 'STDEVP':
        return spread(this.name, this.count, this.sum, this.squares);
      case 'MIN':
      case 'MAX':
      case 'FIRST':
      case 'LAST':
        return this.single;
      case 'MEDIAN': {
        const sorted = (this.kept ?? []).filter(isNumeric).sort(compareNumeric);
        return middle(sorted[(sorted.length - 1) >> 1], sorted[sorted.length >> 1]);
      }
      case 'LIST':
        return new List([...(this.kept ?? [])]);
      default:
        return this.name satisfies never;
    }
  }

  /**
   * Adds rows that a database has counted: the state in which their total travels (see TOTAL_STATES), decoded; for a
   * total that needs each value (COUNTDISTINCT, MEDIAN) the value itself, which is there so many times.
   */
  addState(state: Value, times: number): void {
    if (state === null) return;
    if (state instanceof FormulaError) {
      this.error ??= state;
      return;
    }
    switch (this.name) {
      case 'COUNT':
      case 'COUNTA':
        this.count += isNumeric(state) ? toNumber(state) : 0;
        return;
      case 'AVERAGE':
      case 'VAR':
      case 'VARP':
      case 'STDEV':
      case 'STDEVP': {
        const parts = numbersIn(state);
        if (!parts) this.error ??= new FormulaError('#VALUE!', String(state));
        else {
          this.count += toNumber(parts[0] ?? 0);
          this.sum = add(this.sum, parts[1] ?? 0);
          this.squares = add(this.squares, parts[2] ?? 0);
        }
        return;
      }
      case 'MEDIAN':
        for (let i = 0; i < times; i++) this.add(state);
        return;
      case 'SUM':
      case 'MIN':
      case 'MAX':
      case 'COUNTDISTINCT':
      case 'FIRST':
      case 'LAST':
      case 'LIST':
        this.add(state);
        return;
      default:
        this.name satisfies never;
    }
  }

  /** Adds all that another total of the same kind has added, as if it came after what this one has. */
  merge(other: Accumulator): void {
    this.error ??= other.error;
    if (other.single !== null) {
      if (this.name === 'FIRST' && this.count > 0) return;
      if (this.name === 'FIRST' || this.name === 'LAST') this.single = other.single;
      else this.add(other.single);
    }
    this.count += other.count;
    this.sum = add(this.sum, other.sum);
    this.squares = add(this.squares, other.squares);
    for (const value of other.kept ?? []) this.add(value);
    if (other.seen) {
      this.seen ??= new Set();
      for (const value of other.seen) this.seen.add(value);
      if (this.seen.size > MAX_KEPT) this.error = TOO_MANY;
    }
  }

  /** What it adds up is complete, though more may be added before it starts anew. */
  over(): void {}

  reset(): void {
    this.count = 0;
    this.sum = 0;
    this.squares = 0;
    this.single = null;
    this.error = null;
    this.kept = null;
    this.seen = null;
  }
}

/** A total of values at hand. */
export const totalOf = (name: TotalName, values: Iterable<Value>, texts: TextOrder): Value => {
  const accumulator = new Accumulator(name, texts);
  for (const value of values) accumulator.add(value);
  return accumulator.result();
};

/** A total of no rows. */
export const emptyTotal = (name: TotalName): Value => totalOf(name, [], textOrderOf('en'));

const mean = (sum: Numeric, count: number): Value => (count === 0 ? null : toDecimal(sum).divide(toDecimal(count)));

const middle = (low: Numeric | undefined, high: Numeric | undefined): Value =>
  low === undefined || high === undefined ? null : divide(add(low, high), 2);

/** From exact sums: (n Σx² − (Σx)²) / (n (n − 1)), or / n² for a population. Blank for fewer values than it needs. */
const spread = (name: 'VAR' | 'VARP' | 'STDEV' | 'STDEVP', count: number, sum: Numeric, squares: Numeric): Value => {
  const whole = name.endsWith('P');
  if (count < (whole ? 1 : 2)) return null;
  const above = toDecimal(multiply(count, squares)).subtract(toDecimal(multiply(sum, sum)));
  const variance = above.divide(Decimal.of(count * (whole ? count : count - 1)))!;
  return name.startsWith('STDEV') ? variance.root().trim() : variance;
};

/**
 * Totals that a database can work out, by how their state travels: a plain value, or a text of numbers with a space
 * between them, from which the same code as for fetched rows makes the result, to the last digit.
 */
export const TOTAL_STATES: Partial<Record<TotalName, 'value' | 'sums' | 'middle'>> = {
  SUM: 'value',
  COUNT: 'value',
  COUNTA: 'value',
  COUNTDISTINCT: 'value',
  MIN: 'value',
  MAX: 'value',
  FIRST: 'value',
  LAST: 'value',
  AVERAGE: 'sums',
  VAR: 'sums',
  VARP: 'sums',
  STDEV: 'sums',
  STDEVP: 'sums',
  MEDIAN: 'middle',
};

/** The numbers of a state that has several; null when it is none. */
const numbersIn = (state: unknown): Numeric[] | null => {
  const parts = String(state)
    .split(' ')
    .map((part) => decodeValue(part, 'number'));
  return parts.every(isNumeric) ? parts : null;
};

/** The result of a total from its travelling state; `type` is that of the result. Blank is the state of no rows. */
export const totalFromState = (name: TotalName, state: WireValue, type: DataType): Value => {
  if (state === null) return emptyTotal(name);
  const kind = TOTAL_STATES[name];
  if (kind === 'value') return decodeValue(state, type);
  const parts = numbersIn(state);
  if (!parts) return new FormulaError('#VALUE!', String(state));
  if (kind === 'middle') return middle(parts[0], parts[1]);
  const [count, sum, squares] = parts;
  if (count === undefined || sum === undefined) return new FormulaError('#VALUE!', String(state));
  if (name === 'AVERAGE') return mean(sum, Number(count));
  return spread(name as 'VAR', Number(count), sum, squares ?? 0);
};
