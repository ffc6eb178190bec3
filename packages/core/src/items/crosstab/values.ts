import type { CrosstabCell } from '../../definition/schema.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { CellContext, CellTable, GroupNode } from '../../shape/summary.ts';
import { add, compareNumeric, divide, isNumeric, type Numeric, subtract, toNumber } from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import type { AxisLine, Grid } from './grid.ts';

/** What one value of the cells shows. */
export interface CellValue {
  shows: NonNullable<CrosstabCell['shows']>;
  evaluate: Compiled;
}

const isSameKind = (a: AxisLine, b: AxisLine): boolean => a.kind === b.kind && a.group === b.group;

const DIVIDED_BY_ZERO = new FormulaError('#DIV/0!');

const ratio = (value: Value, whole: Value): Value => {
  if (!isNumeric(value) || !isNumeric(whole)) return value instanceof FormulaError ? value : null;
  return divide(value, whole) ?? DIVIDED_BY_ZERO;
};

/** The values of a crosstab’s cells, worked out when they are asked for. */
export class GridValues {
  /** Place of the column before that is of the same kind; -1 for the first. */
  private readonly before: number[];
  /** Values of the rows of one kind in a column, greatest first, by value, kind of row and column. */
  private readonly ranked = new Map<string, Numeric[]>();

  constructor(
    private readonly table: CellTable,
    private readonly cell: CellContext,
    private readonly grid: Grid,
    private readonly values: readonly CellValue[],
  ) {
    this.before = grid.columns.map((column, i) =>
      grid.columns.findLastIndex((other, j) => j < i && isSameKind(column, other)),
    );
  }

  private plain(value: number, down: GroupNode, across: GroupNode): Value {
    // Most cells of a wide crosstab have no rows.
    if (!down.cells.has(across.id)) return null;
    this.cell.at(down, across);
    return this.values[value]!.evaluate(this.cell.context);
  }

  /** What the cells of a row show of one value, by column. While `seen` is told of one, formulas see that cell. */
  row(line: AxisLine, value: number): Value[] {
    const { grid, table } = this;
    const { node } = line;
    const at = (across: GroupNode): Value => this.plain(value, node, across);
    const { shows } = this.values[value]!;
    switch (shows) {
      case 'value':
        return grid.columns.map((column) => at(column.node));
      case 'row-share': {
        const whole = at(table.across);
        return grid.columns.map((column) => ratio(at(column.node), whole));
      }
      case 'column-share':
        return grid.columns.map((column) => ratio(at(column.node), this.plain(value, table.down, column.node)));
      case 'whole-share': {
        const whole = this.plain(value, table.down, table.across);
        return grid.columns.map((column) => ratio(at(column.node), whole));
      }
      case 'difference':
      case 'ratio': {
        const all = grid.columns.map((column) => at(column.node));
        return all.map((one, i) => {
          const last = this.before[i]! < 0 ? null : all[this.before[i]!]!;
          if (shows === 'ratio') return ratio(one, last);
          return isNumeric(one) && isNumeric(last) ? subtract(one, last) : one instanceof FormulaError ? one : null;
        });
      }
      case 'running': {
        let sum: Numeric = 0;
        return grid.columns.map((column) => {
          const one = at(column.node);
          if (column.kind !== 'leaf' || !isNumeric(one)) return one;
          sum = add(sum, one);
          return sum;
        });
      }
      case 'rank':
        return grid.columns.map((column, i) => {
          const one = at(column.node);
          if (!isNumeric(one) || line.kind === 'whole') return one instanceof FormulaError ? one : null;
          return 1 + greaterThan(one, this.inColumn(value, line, i));
        });
      default:
        return shows satisfies never;
    }
  }

  private inColumn(value: number, line: AxisLine, column: number): Numeric[] {
    const key = `${value} ${line.kind} ${line.group} ${column}`;
    let found = this.ranked.get(key);
    if (!found) {
      const { rows, columns } = this.grid;
      found = rows
        .filter((row) => isSameKind(row, line) && row.hasValues)
        .map((row) => this.plain(value, row.node, columns[column]!.node))
        .filter(isNumeric)
        .sort((a, b) => compareNumeric(b, a));
      this.ranked.set(key, found);
    }
    return found;
  }

  /** The smallest and the largest value of the innermost cells, for their colours; null where there are no numbers. */
  extent(value: number): [number, number] | null {
    const { rows, columns } = this.grid;
    const inner = columns.flatMap(({ kind }, i) => (kind === 'leaf' || columns.length === 1 ? [i] : []));
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const row of rows) {
      if (row.kind !== 'leaf') continue;
      const shown = this.row(row, value);
      for (const i of inner) {
        const one = shown[i]!;
        if (!isNumeric(one)) continue;
        const number = toNumber(one);
        low = Math.min(low, number);
        high = Math.max(high, number);
      }
    }
    return low <= high ? [low, high] : null;
  }
}

/** How many of the numbers, greatest first, are greater. */
const greaterThan = (value: Numeric, sorted: readonly Numeric[]): number => {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compareNumeric(sorted[middle]!, value) > 0) low = middle + 1;
    else high = middle;
  }
  return low;
};
