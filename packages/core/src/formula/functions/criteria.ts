import { textOrderOf } from '../../text/text-order.ts';
import { CalendarDate, Moment } from '../../value/date.ts';
import { isNumeric } from '../../value/number.ts';
import { compareValues, FormulaError, type Value } from '../../value/value.ts';
import type { EvaluationContext } from './context.ts';
import { hasWildcards, matchesWildcards, readWildcards } from './wildcards.ts';
import { writtenNumber } from './written-number.ts';

export type CriterionOperator = '=' | '<>' | '<' | '>' | '<=' | '>=';

/** What a criterion compares with: a text such as `>=5` in its parts, anything else as it is. */
export const readCriterion = (criterion: Value): { operator: CriterionOperator; operand: Value } => {
  if (typeof criterion !== 'string') return { operator: '=', operand: criterion };
  const [, operator = '', rest = ''] = /^(<=|>=|<>|=|<|>|)(.*)$/s.exec(criterion)!;
  const operand = valueIn(rest);
  return { operator: (operator || '=') as CriterionOperator, operand: operator === '' || rest !== '' ? operand : null };
};

/** What a text stands for beside a comparison: a number, a day, TRUE or FALSE, or itself. */
const valueIn = (text: string): Value => {
  const trimmed = text.trim();
  if (trimmed === '') return text;
  if (/^true$/i.test(trimmed)) return true;
  if (/^false$/i.test(trimmed)) return false;
  return writtenNumber(trimmed, '.', ',') ?? CalendarDate.parse(trimmed) ?? text;
};

/** Values of one kind are compared with each other, and with no others. */
export const kindOf = (value: Value): string =>
  isNumeric(value) ? 'number' : value instanceof CalendarDate || value instanceof Moment ? 'date' : typeof value;

/**
 * Whether values are as a criterion says (OpenFormula, section 4.11.8): equal to it, or as the comparison at its beginning says.
 * Capitals do not matter; `*` and `?` stand for anything and for one character. `value`: it is a value alone, without a comparison.
 */
export const criterionOf = (
  criterion: Value,
  { report }: EvaluationContext,
  as: 'criterion' | 'value' = 'criterion',
): ((value: Value) => boolean) => {
  const texts = textOrderOf(report.language);
  const { operator, operand } =
    as === 'value' ? { operator: '=' as const, operand: criterion } : readCriterion(criterion);
  if (operand instanceof FormulaError) return () => false;
  if (operand === null || operand === '') {
    // Nothing behind the sign: blank or not.
    if (operator === '=') return (value) => value === null || (as === 'criterion' && value === '');
    if (operator === '<>') return (value) => value !== null && value !== '';
    return () => false;
  }
  const isEqual = equalTo(operand, texts);
  if (operator === '=') return isEqual;
  if (operator === '<>') return (value) => !isEqual(value);
  return (value) => {
    if (value === null || value instanceof FormulaError || kindOf(value) !== kindOf(operand)) return false;
    const order = compareValues(value, operand, texts.compare);
    return operator === '<' ? order < 0 : operator === '>' ? order > 0 : operator === '<=' ? order <= 0 : order >= 0;
  };
};

const equalTo = (operand: Exclude<Value, null>, { fold, same }: ReturnType<typeof textOrderOf>) => {
  if (typeof operand === 'string' && hasWildcards(operand)) {
    const wanted = readWildcards(fold(operand));
    return (value: Value): boolean => typeof value === 'string' && matchesWildcards(wanted, Array.from(fold(value)));
  }
  return (value: Value): boolean => {
    if (value === null || value instanceof FormulaError) return false;
    if (typeof value === 'string' && typeof operand === 'string') return same(value, operand);
    return kindOf(value) === kindOf(operand) && compareValues(value, operand, () => 1) === 0;
  };
};
