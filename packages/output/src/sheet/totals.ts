import {
  addNumbers,
  CalendarDate,
  compareNumeric,
  isNumeric,
  Moment,
  type Numeric,
  type PieceTotal,
  subtractNumbers,
  toNumber,
  type Value,
} from '@gaveta/core/internal';

/** A total of the cells of a column, between two rows. Rows and columns from 0. */
export interface RangeTotal {
  name: PieceTotal['name'];
  column: number;
  from: number;
  to: number;
}

/** What the cells of a column have come to, that are no totals themselves. */
interface Running {
  sum: Numeric;
  count: number;
  /** Days and times, which spreadsheets would add as numbers. */
  days: number;
}

interface Part {
  /** First row of it. */
  row: number;
  /** What columns had come to when it began. */
  before: Map<number, Running>;
  /** The least and the greatest number of columns since then. */
  extremes: Map<number, { least: Numeric; greatest: Numeric }>;
}

const NOTHING: Running = { sum: 0, count: 0, days: 0 };

/**
 * Finds which cells a total counts, so that it can be a formula. A formula is given only where all numbers of its range that are no
 * formulas themselves come to the value that the report shows.
 */
export class SheetTotals {
  private readonly parts: Part[] = [{ row: 0, before: new Map(), extremes: new Map() }];
  private readonly columns = new Map<number, Running>();
  /** Column of the values from each formula. */
  private readonly places = new Map<string, number>();

  constructor(readonly isWanted: boolean) {}

  begins(row: number): void {
    if (this.isWanted) this.parts.push({ row, before: new Map(this.columns), extremes: new Map() });
  }

  ends(): void {
    if (this.parts.length > 1) this.parts.pop();
  }

  /** Notes a cell; gives the formula that it can be. `source`: of its value. */
  cell(
    row: number,
    column: number,
    value: Value,
    source: string | undefined,
    total: PieceTotal | undefined,
  ): RangeTotal | null {
    if (!this.isWanted) return null;
    const before = this.columns.get(column) ?? NOTHING;
    if (value instanceof CalendarDate || value instanceof Moment)
      this.columns.set(column, { ...before, days: before.days + 1 });
    if (!isNumeric(value)) return null;
    const found = total ? this.find(value, total, row) : null;
    if (found) return found;
    this.columns.set(column, { ...before, sum: addNumbers(before.sum, value), count: before.count + 1 });
    for (const { extremes } of this.parts) {
      const known = extremes.get(column);
      if (!known) extremes.set(column, { least: value, greatest: value });
      else if (compareNumeric(value, known.least) < 0) known.least = value;
      else if (compareNumeric(value, known.greatest) > 0) known.greatest = value;
    }
    if (source) this.places.set(source, column);
    return null;
  }

  private find(value: Numeric, { name, of }: PieceTotal, row: number): RangeTotal | null {
    const column = this.places.get(of);
    if (column === undefined) return null;
    const now = this.columns.get(column)!;
    for (const part of this.parts.toReversed()) {
      const before = part.before.get(column) ?? NOTHING;
      const counted = now.count - before.count;
      if (counted === 0 || now.days !== before.days || row - 1 < part.row) continue;
      const found = { sum: subtractNumbers(now.sum, before.sum), count: counted, ...part.extremes.get(column)! };
      if (comesTo(value, name, found)) return { name, column, from: part.row, to: row - 1 };
    }
    return null;
  }
}

/** What the numbers of a range come to. */
interface Counted {
  sum: Numeric;
  count: number;
  least: Numeric;
  greatest: Numeric;
}

/** Whether numbers come to a value. An average is compared as precisely as spreadsheets calculate. */
const comesTo = (value: Numeric, name: PieceTotal['name'], { sum, count, least, greatest }: Counted): boolean => {
  switch (name) {
    case 'SUM':
      return compareNumeric(sum, value) === 0;
    case 'COUNT':
      return compareNumeric(count, value) === 0;
    case 'AVERAGE': {
      const average = toNumber(sum) / count;
      return Math.abs(average - toNumber(value)) <= Math.abs(average) * 1e-14;
    }
    case 'MIN':
      return compareNumeric(least, value) === 0;
    case 'MAX':
      return compareNumeric(greatest, value) === 0;
    default:
      return name satisfies never;
  }
};
