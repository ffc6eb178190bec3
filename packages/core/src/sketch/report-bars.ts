import type { Step, StepOf } from '../definition/recipe.ts';
import { freeName } from '../edit/ids.ts';
import { writtenName } from '../formula/tokens.ts';

/** What counts rows in formulas of a report, and each row alone in those of steps. */
const ROWS_COUNTED = 'COUNT(row)';
const EACH = 'bar_each';

/** How long the longest bar of a column is, worked out along the rows, so that each bar of a report is a part of it. */
export class BarSteps {
  readonly steps: Step[] = [];
  private readonly taken: Set<string>;

  constructor(taken: Iterable<string>) {
    this.taken = new Set(taken);
  }

  /** The formula of the longest among rows that have something in a field. */
  ofRows(column: string, formula: string): string {
    return writtenName(this.add(`bar_${column}`, `MAX(ABS(${formula}))`));
  }

  /** The formula of the longest among groups that are told apart by keys, for a total by its formula in a report. */
  ofGroups(column: string, total: string, keys: readonly string[]): string {
    const isCounted = total.includes(ROWS_COUNTED);
    if (isCounted && !this.taken.has(EACH)) this.add(EACH, '1');
    const own = this.add(`bar_${column}`, total.replaceAll(ROWS_COUNTED, `SUM(${EACH})`), keys);
    return `MAX(${writtenName(this.add(`bar_${column}`, `MAX(ABS(${writtenName(own)}))`))})`;
  }

  private add(wanted: string, formula: string, per?: readonly string[]): string {
    const name = freeName(wanted, this.taken);
    this.taken.add(name);
    const step: StepOf<'add'> = { step: 'add', name, formula, ...(per ? { per: [...per] } : {}) };
    this.steps.push(step);
    return name;
  }
}
