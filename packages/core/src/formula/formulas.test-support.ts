import { problem, problemText } from '../problems/problem.ts';
import { Moment } from '../value/date.ts';
import type { Value } from '../value/value.ts';
import { type CheckResult, checkFormula, type FormulaScope } from './check.ts';
import { compileFormula } from './compile.ts';
import { type EvaluationContext, NO_PAGE } from './functions/context.ts';

const FIELDS: Record<string, { column: number; type: 'number' | 'text' | 'date' }> = {
  amount: { column: 1, type: 'number' },
  note: { column: 2, type: 'text' },
  arrival: { column: 3, type: 'date' },
};

/** Formulas over a row of an amount, a note and an arrival; without totals. */
export const rowFields: FormulaScope = {
  name: ([name = '']) => {
    const field = Object.hasOwn(FIELDS, name) ? FIELDS[name]! : null;
    return field
      ? { kind: 'field', level: 0, column: field.column, type: field.type }
      : problem('unknown-name', {}, { name, hint: '' });
  },
  rows: () => problem('total-in-query'),
  previous: () => problem('total-in-query'),
  depth: () => problem('total-in-query'),
  isRowScope: () => false,
  suggestions: () => Object.keys(FIELDS),
};

export const rowContext = (row: Value[] = []): EvaluationContext => ({
  rows: [[1, ...row]],
  parameters: {},
  before: [],
  totals: { value: () => null },
  page: NO_PAGE,
  report: { name: 'Test', runAt: new Moment(0), timeZone: 'UTC', language: 'en' },
});

export const checked = (formula: string): CheckResult => checkFormula(formula, rowFields);

/** The value of a formula. Throws when it is wrong. */
export const worked = (formula: string, row: Value[] = []): Value => {
  const result = checked(formula);
  if (!result.ok) throw new Error(result.problems.map(problemText).join(' '));
  return compileFormula(result.formula)(rowContext(row));
};
