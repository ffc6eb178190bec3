import {
  type Checked,
  compileFormula,
  decodeValue,
  encodeValue,
  type Field,
  FormulaError,
  List,
  type Operation,
  plainContext,
  type WireRow,
} from '@gaveta/core/internal';
import type { RowSettings, TotalsOfRows } from './totals-of-rows.ts';

/** Rows with what a step works out: a column more, or only those for which its condition holds. An error is a blank. */
export async function* workedOut(
  rows: AsyncIterable<WireRow[]>,
  operation: Operation,
  checked: Checked,
  before: readonly Field[],
  { report, parameters }: RowSettings,
  totals: TotalsOfRows | null = null,
): AsyncGenerator<WireRow[]> {
  const formula = compileFormula(checked);
  for await (const batch of rows) {
    const out: WireRow[] = [];
    for (const wire of batch) {
      const row = [null, ...before.map((f, i) => decodeValue(wire[i] ?? null, f.type))];
      const context = plainContext(report, parameters, row);
      const value = formula(totals ? { ...context, totals: totals.at(wire) } : context);
      if (operation.kind === 'keep') {
        if (value === true) out.push(wire);
      } else out.push([...wire, value instanceof FormulaError || value instanceof List ? null : encodeValue(value)]);
    }
    yield out;
  }
}
