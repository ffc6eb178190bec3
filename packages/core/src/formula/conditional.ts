import { CalendarDate } from '../value/date.ts';
import { isNumeric } from '../value/number.ts';
import type { Value } from '../value/value.ts';
import { bound, type Checked, type CheckedType } from './checked.ts';
import { hasWildcards, readCriterion } from './functions/index.ts';

const call = (name: string, list: Checked[], type: CheckedType = 'boolean'): Checked => ({
  kind: 'call',
  name,
  arguments: list,
  type,
});

/** A value that a text wrote, as part of a formula; null where there is no such part. */
const literal = (value: Value): Checked | null => {
  if (typeof value === 'string') return { kind: 'literal', value, type: 'text' };
  if (typeof value === 'boolean') return call(value ? 'TRUE' : 'FALSE', []);
  if (value instanceof CalendarDate) {
    const { year, month, day } = value.parts();
    const part = (number: number): Checked => ({ kind: 'literal', value: number, type: 'number' });
    return call('DATE', [part(year), part(month), part(day)], 'date');
  }
  return isNumeric(value) ? { kind: 'literal', value, type: 'number' } : null;
};

/**
 * The condition that a value meets a criterion: a comparison that databases know as well, where it is written in the formula and its
 * type is that of the value; else it is told for each value as it comes.
 */
export const meeting = (value: Checked, criterion: Checked): Checked => {
  const dynamic = call('MEETS', [value, criterion]);
  if (criterion.kind !== 'literal') {
    // A number, a day or a condition is what the value must be; a text may say anything.
    const isPlain = criterion.type === value.type && ['number', 'date', 'boolean'].includes(value.type);
    return isPlain ? present(value, (read) => compared('=', read, criterion)) : dynamic;
  }
  const { operator, operand } = readCriterion(criterion.value);
  if ((operand === '' || operand === null) && (operator === '=' || operator === '<>') && value.type !== 'any') {
    // A blank text is equal to an empty one.
    const isText = value.type === 'text';
    const empty = isText
      ? compared('=', value, { kind: 'literal', value: '', type: 'text' })
      : call('ISBLANK', [value]);
    return operator === '=' ? empty : call('NOT', [empty]);
  }
  const other = literal(operand);
  if (!other || other.type !== value.type || operand === '' || value.type === 'any') return dynamic;
  if (typeof operand === 'string' && hasWildcards(operand)) return dynamic;
  if (operator === '<>')
    return bound(value, (read) => call('OR', [call('ISBLANK', [read]), compared('<>', read, other)]));
  return present(value, (read) => compared(operator, read, other));
};

const compared = (operator: '=' | '<>' | '<' | '>' | '<=' | '>=', left: Checked, right: Checked): Checked => ({
  kind: 'binary',
  ...{ operator, left, right },
  type: 'boolean',
});

/** A blank value meets nothing but a criterion for blank ones. */
const present = (value: Checked, holds: (read: Checked) => Checked): Checked =>
  bound(value, (read) => call('AND', [call('NOT', [call('ISBLANK', [read])]), holds(read)]));

/** A value where a condition holds, and none where it does not. */
export const valueWhere = (conditions: readonly Checked[], value: Checked): Checked => {
  const [first, ...rest] = conditions;
  const condition = rest.length === 0 ? first! : call('AND', [...conditions]);
  const no: Checked = call('BLANK', [], value.type);
  return { kind: 'if', condition, yes: value, no, type: value.type, ...(value.format ? { format: value.format } : {}) };
};
