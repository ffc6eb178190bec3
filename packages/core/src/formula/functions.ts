import { CalendarDate, Moment } from '../value/date.ts';
import {
  add,
  compareNumeric,
  isNumeric,
  multiply,
  type Numeric,
  negate,
  toDecimal,
  toNumber,
} from '../value/number.ts';
import { compareValues, type DataType, FormulaError, type Value, valueText } from '../value/value.ts';
import type { EvaluationContext } from './context.ts';

/** `any` accepts every type; `same` as a result means the type of the arguments from `sameFrom` on. */
export type ArgumentType = DataType | 'any';

/**
 * A function of the formula language. Names and meanings follow OASIS OpenFormula, section 6.
 * `run` gets values that are neither errors (they pass through by themselves) nor of another type than declared;
 * blank arguments arrive as null.
 */
export interface FunctionDefinition {
  /** Type of each argument; the last one repeats while `max` allows it. */
  takes: ArgumentType[];
  min: number;
  max: number;
  gives: DataType | { sameFrom: number };
  help: string;
  example: string;
  run: (values: Value[], context: EvaluationContext) => Value;
}

const numeric = (value: Value): Numeric => (isNumeric(value) ? value : 0);
const text = (value: Value): string => valueText(value);
const wrong = (detail: string): FormulaError => new FormulaError('#VALUE!', detail);

const calendar = (value: Value, context: EvaluationContext): Date | null => {
  if (value instanceof CalendarDate) return new Date(value.day * 86_400_000);
  if (value instanceof Moment) return new Date(value.wallClock(context.report.timeZone));
  return null;
};

const datePart =
  (part: (date: Date) => number) =>
  (values: Value[], context: EvaluationContext): Value => {
    const date = calendar(values[0]!, context);
    return date ? part(date) : null;
  };

const round = (value: Numeric, digits: Numeric): Numeric => {
  const rounded = toDecimal(value).round(Math.trunc(toNumber(digits)));
  return rounded.scale === 0 && typeof rounded.coefficient === 'number' ? rounded.coefficient : rounded;
};

const characters = (value: Value): string[] => Array.from(text(value));

const datelike: ArgumentType = 'any';

export const FUNCTIONS: Record<string, FunctionDefinition> = {
  ABS: {
    takes: ['number'],
    min: 1,
    max: 1,
    gives: 'number',
    help: 'The number without its sign.',
    example: 'ABS(-3) = 3',
    run: ([x]) => (compareNumeric(numeric(x!), 0) < 0 ? negate(numeric(x!)) : numeric(x!)),
  },
  ROUND: {
    takes: ['number', 'number'],
    min: 1,
    max: 2,
    gives: 'number',
    help: 'Rounds to a number of digits, halves away from zero.',
    example: 'ROUND(2.345; 2) = 2.35',
    run: ([x, digits]) => round(numeric(x!), numeric(digits ?? 0)),
  },
  INT: {
    takes: ['number'],
    min: 1,
    max: 1,
    gives: 'number',
    help: 'The next whole number downwards.',
    example: 'INT(-1.5) = -2',
    run: ([x]) => {
      const whole = toDecimal(numeric(x!)).truncate();
      const down = whole.compare(toDecimal(numeric(x!))) > 0 ? whole.add(toDecimal(-1)) : whole;
      return typeof down.coefficient === 'number' ? down.coefficient : down;
    },
  },
  MOD: {
    takes: ['number', 'number'],
    min: 2,
    max: 2,
    gives: 'number',
    help: 'The remainder of a division, with the sign of the divisor.',
    example: 'MOD(7; 3) = 1',
    run: ([a, b]) => {
      const quotient = toDecimal(numeric(a!)).divide(toDecimal(numeric(b!)));
      if (!quotient) return new FormulaError('#DIV/0!');
      const down = FUNCTIONS.INT!.run([quotient], null as never) as Numeric;
      return add(numeric(a!), negate(multiply(down, numeric(b!))));
    },
  },
  UPPER: {
    takes: ['text'],
    min: 1,
    max: 1,
    gives: 'text',
    help: 'In capital letters.',
    example: 'UPPER("hut") = "HUT"',
    run: ([x]) => text(x!).toUpperCase(),
  },
  LOWER: {
    takes: ['text'],
    min: 1,
    max: 1,
    gives: 'text',
    help: 'In small letters.',
    example: 'LOWER("Hut") = "hut"',
    run: ([x]) => text(x!).toLowerCase(),
  },
  TRIM: {
    takes: ['text'],
    min: 1,
    max: 1,
    gives: 'text',
    help: 'Without spaces at the ends and doubled spaces inside.',
    example: 'TRIM("  a   b ") = "a b"',
    run: ([x]) => text(x!).trim().replace(/ +/g, ' '),
  },
  LEN: {
    takes: ['text'],
    min: 1,
    max: 1,
    gives: 'number',
    help: 'The number of characters.',
    example: 'LEN("hut") = 3',
    run: ([x]) => characters(x!).length,
  },
  LEFT: {
    takes: ['text', 'number'],
    min: 1,
    max: 2,
    gives: 'text',
    help: 'The first characters.',
    example: 'LEFT("Brecha"; 3) = "Bre"',
    run: ([x, n]) =>
      characters(x!)
        .slice(0, Math.max(0, n === undefined ? 1 : toNumber(numeric(n))))
        .join(''),
  },
  RIGHT: {
    takes: ['text', 'number'],
    min: 1,
    max: 2,
    gives: 'text',
    help: 'The last characters.',
    example: 'RIGHT("Brecha"; 3) = "cha"',
    run: ([x, n]) => {
      const count = Math.max(0, n === undefined ? 1 : toNumber(numeric(n)));
      return count === 0 ? '' : characters(x!).slice(-count).join('');
    },
  },
  MID: {
    takes: ['text', 'number', 'number'],
    min: 3,
    max: 3,
    gives: 'text',
    help: 'Characters from a place (1 is the first), so many.',
    example: 'MID("Brecha"; 2; 3) = "rec"',
    run: ([x, from, n]) => {
      const start = toNumber(numeric(from!)) - 1;
      if (start < 0) return wrong('MID counts from 1');
      return characters(x!)
        .slice(start, start + Math.max(0, toNumber(numeric(n!))))
        .join('');
    },
  },
  YEAR: {
    takes: [datelike],
    min: 1,
    max: 1,
    gives: 'number',
    help: 'The year of a date.',
    example: 'YEAR(DATE(2025; 7; 12)) = 2025',
    run: datePart((d) => d.getUTCFullYear()),
  },
  MONTH: {
    takes: [datelike],
    min: 1,
    max: 1,
    gives: 'number',
    help: 'The month of a date, 1 to 12.',
    example: 'MONTH(DATE(2025; 7; 12)) = 7',
    run: datePart((d) => d.getUTCMonth() + 1),
  },
  DAY: {
    takes: [datelike],
    min: 1,
    max: 1,
    gives: 'number',
    help: 'The day of the month of a date.',
    example: 'DAY(DATE(2025; 7; 12)) = 12',
    run: datePart((d) => d.getUTCDate()),
  },
  DATE: {
    takes: ['number', 'number', 'number'],
    min: 3,
    max: 3,
    gives: 'date',
    help: 'The date of a year, month and day; months and days past the end run on.',
    example: 'DATE(2025; 7; 12) = DATE(2025; 6; 42)',
    run: ([y, m, d]) => {
      const date = new Date(0);
      date.setUTCFullYear(toNumber(numeric(y!)), toNumber(numeric(m!)) - 1, toNumber(numeric(d!)));
      const day = Math.floor(date.getTime() / 86_400_000);
      return Number.isFinite(day) ? new CalendarDate(day) : new FormulaError('#NUM!');
    },
  },
  DAYS: {
    takes: [datelike, datelike],
    min: 2,
    max: 2,
    gives: 'number',
    help: 'Days from the second date to the first.',
    example: 'DAYS(DATE(2025; 7; 14); DATE(2025; 7; 12)) = 2',
    run: ([end, start], context) => {
      const a = calendar(end!, context);
      const b = calendar(start!, context);
      return a && b ? Math.floor(a.getTime() / 86_400_000) - Math.floor(b.getTime() / 86_400_000) : null;
    },
  },
  TODAY: {
    takes: [],
    min: 0,
    max: 0,
    gives: 'date',
    help: 'The day on which the report runs.',
    example: 'TODAY() = TODAY()',
    run: (_, { report }) => new CalendarDate(Math.floor(report.runAt.wallClock(report.timeZone) / 86_400_000)),
  },
  ISBLANK: {
    takes: ['any'],
    min: 1,
    max: 1,
    gives: 'boolean',
    help: 'TRUE when there is no value.',
    example: 'ISBLANK("") = FALSE',
    run: ([x]) => x === null,
  },
  AND: {
    takes: ['boolean'],
    min: 1,
    max: 30,
    gives: 'boolean',
    help: 'TRUE when every condition is.',
    example: 'AND(1 < 2; 2 < 3) = TRUE',
    run: (values) => values.every((v) => v === true),
  },
  OR: {
    takes: ['boolean'],
    min: 1,
    max: 30,
    gives: 'boolean',
    help: 'TRUE when any condition is.',
    example: 'OR(1 > 2; 2 < 3) = TRUE',
    run: (values) => values.some((v) => v === true),
  },
  NOT: {
    takes: ['boolean'],
    min: 1,
    max: 1,
    gives: 'boolean',
    help: 'The opposite.',
    example: 'NOT(1 > 2) = TRUE',
    run: ([x]) => x !== true,
  },
  TRUE: { takes: [], min: 0, max: 0, gives: 'boolean', help: 'Yes.', example: 'TRUE() = (1 = 1)', run: () => true },
  FALSE: { takes: [], min: 0, max: 0, gives: 'boolean', help: 'No.', example: 'FALSE() = (1 = 2)', run: () => false },
};

/** Kinds of totals. A total adds up a formula over the rows of the scope it stands in. */
export const TOTALS = {
  SUM: { help: 'The sum over all rows in the scope.', numbersOnly: true },
  COUNT: { help: 'How many rows have a value; with a drawer’s name, how many rows.', numbersOnly: false },
  AVERAGE: { help: 'The mean of the values that are not blank.', numbersOnly: true },
  MIN: { help: 'The smallest value.', numbersOnly: false },
  MAX: { help: 'The largest value.', numbersOnly: false },
} as const;

export type TotalName = keyof typeof TOTALS;
export const isTotal = (name: string): name is TotalName => name in TOTALS;

/** Collects the values of one total. Blank values count for nothing; the first error stays. */
export class Accumulator {
  private sum: Numeric = 0;
  private count = 0;
  private extreme: Value = null;
  private error: FormulaError | null = null;

  constructor(private readonly name: TotalName) {}

  add(value: Value): void {
    if (value === null) return;
    if (value instanceof FormulaError) {
      this.error ??= value;
      return;
    }
    this.count++;
    switch (this.name) {
      case 'SUM':
      case 'AVERAGE':
        this.sum = add(this.sum, numeric(value));
        return;
      case 'COUNT':
        return;
      case 'MIN':
        if (this.extreme === null || compareValues(value, this.extreme as never) < 0) this.extreme = value;
        return;
      case 'MAX':
        if (this.extreme === null || compareValues(value, this.extreme as never) > 0) this.extreme = value;
        return;
      default:
        this.name satisfies never;
    }
  }

  /** An empty SUM or COUNT is 0; an empty AVERAGE, MIN or MAX is blank. */
  result(): Value {
    if (this.error) return this.error;
    switch (this.name) {
      case 'SUM':
        return this.sum;
      case 'COUNT':
        return this.count;
      case 'AVERAGE':
        return this.count === 0 ? null : toDecimal(this.sum).divide(toDecimal(this.count));
      case 'MIN':
      case 'MAX':
        return this.extreme;
      default:
        return this.name satisfies never;
    }
  }

  reset(): void {
    this.sum = 0;
    this.count = 0;
    this.extreme = null;
    this.error = null;
  }
}
