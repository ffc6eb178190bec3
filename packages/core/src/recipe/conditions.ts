import type { Comparison, Condition, Operand } from '../definition/recipe.ts';
import { writtenName, writtenText } from '../formula/tokens.ts';
import type { Field } from '../model/model.ts';
import type { DataType } from '../value/value.ts';

/** Comparisons that are offered for fields of a type, the likeliest first. */
export const comparisonsFor = (type: DataType): readonly Comparison[] => {
  switch (type) {
    case 'text':
      return [
        'equal',
        'notEqual',
        'oneOf',
        'notOneOf',
        'contains',
        'startsWith',
        'endsWith',
        'within',
        'blank',
        'notBlank',
      ];
    case 'number':
      return [
        'equal',
        'notEqual',
        'greater',
        'greaterOrEqual',
        'less',
        'lessOrEqual',
        'between',
        'oneOf',
        'notOneOf',
        'within',
        'blank',
        'notBlank',
      ];
    case 'date':
    case 'datetime':
      return ['within', 'equal', 'less', 'lessOrEqual', 'greater', 'greaterOrEqual', 'between', 'blank', 'notBlank'];
    case 'boolean':
      return ['equal', 'blank', 'notBlank'];
    case 'picture':
      return ['blank', 'notBlank'];
    default:
      return type satisfies never;
  }
};

/** A value as a formula writes it, for comparing with a field of a type. */
const literalFormula = (value: string | number | boolean, type: DataType): string => {
  if (type === 'boolean') return value === true || value === 'true' ? 'TRUE()' : 'FALSE()';
  if (type === 'number') {
    const number = String(value).trim();
    // What is no number stays a text, which the check of the formula then reports.
    return /^-?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(number) ? number : writtenText(number);
  }
  if (type === 'date' || type === 'datetime') {
    const match = /^(\d{1,6})-(\d{2})-(\d{2})(?:[T ](\d{2}):(\d{2})(?::(\d{2}))?)?/.exec(String(value));
    if (!match) return writtenText(String(value));
    const [, year, month, day, hour, minute, second] = match;
    const date = `DATE(${Number(year)};${Number(month)};${Number(day)})`;
    return hour === undefined ? date : `DATETIME(${date};${Number(hour)};${Number(minute)};${Number(second ?? 0)})`;
  }
  return writtenText(String(value));
};

/** The condition as a formula. Fields that are not there keep their name, so that the check names them. */
export const conditionFormula = (condition: Condition, fields: readonly Field[]): string => {
  if ('formula' in condition) return condition.formula.trim() === '' ? 'TRUE()' : `(${condition.formula})`;
  if ('all' in condition || 'any' in condition) {
    const list = 'all' in condition ? condition.all : condition.any;
    const parts = list.map((part) => conditionFormula(part, fields));
    if (parts.length === 0) return 'TRUE()';
    return parts.length === 1 ? parts[0]! : `${'all' in condition ? 'AND' : 'OR'}(${parts.join(';')})`;
  }
  const name = pathName(condition.field);
  const type = fields.find((f) => f.name === condition.field)?.type ?? 'text';
  const { is, to } = condition;
  if (is === 'blank') return type === 'text' ? `OR(ISBLANK(${name});${name} = "")` : `ISBLANK(${name})`;
  if (is === 'notBlank') return `NOT(${conditionFormula({ field: condition.field, is: 'blank' }, fields)})`;
  if (to === undefined) return 'TRUE()';
  return comparison(name, type, is, to);
};

const SIGNS: Partial<Record<Comparison, string>> = {
  equal: '=',
  notEqual: '<>',
  less: '<',
  lessOrEqual: '<=',
  greater: '>',
  greaterOrEqual: '>=',
};

const TEXT_TESTS: Partial<Record<Comparison, string>> = {
  contains: 'CONTAINS',
  startsWith: 'STARTSWITH',
  endsWith: 'ENDSWITH',
};

const comparison = (name: string, type: DataType, is: Comparison, to: Operand): string => {
  if (!('parameter' in to)) return comparedWith(name, type, is, to);
  const parameter = parameterName(to.parameter);
  const within = `WITHIN(${name};${parameter})`;
  if (is === 'within' || is === 'oneOf' || is === 'between') return within;
  const test = is === 'notOneOf' ? `NOT(${within})` : comparedWith(name, type, is, to);
  return to.evenBlank ? test : `OR(ISBLANK(${parameter});${test})`;
};

const comparedWith = (name: string, type: DataType, is: Comparison, to: Operand): string => {
  if ('from' in to) return `AND(${name} >= ${literalFormula(to.from, type)};${name} <= ${literalFormula(to.to, type)})`;
  const list = 'values' in to ? to.values : 'value' in to ? [to.value] : null;
  if (is === 'oneOf' || is === 'notOneOf' || is === 'within') {
    if (!list || list.length === 0) return 'TRUE()';
    const one = `ONEOF(${name};${list.map((v) => literalFormula(v, type)).join(';')})`;
    return is === 'notOneOf' ? `NOT(${one})` : one;
  }
  const operand =
    'parameter' in to
      ? parameterName(to.parameter)
      : 'field' in to
        ? pathName(to.field)
        : literalFormula(list?.[0] ?? '', type);
  const test = TEXT_TESTS[is];
  return test ? `${test}(${name};${operand})` : `${name} ${SIGNS[is] ?? '='} ${operand}`;
};

const parameterName = (name: string): string => `parameters.${writtenName(name)}`;

/** A field, or the path to one of a related row, as formulas name it. */
const pathName = (path: string): string => path.split('.').map(writtenName).join('.');

/** Whether a test says what it compares with, or needs nothing to. */
const isComplete = ({ is, to }: Extract<Condition, { field: string }>): boolean => {
  if (is === 'blank' || is === 'notBlank') return true;
  if (to === undefined) return false;
  if ('values' in to) return to.values.length > 0;
  if ('value' in to) return to.value !== '';
  return !('from' in to) || (to.from !== '' && to.to !== '');
};

/** A condition without the parts that are still being put together; null when nothing is left. */
export const completePart = (condition: Condition): Condition | null => {
  if ('formula' in condition) return condition.formula.trim() === '' ? null : condition;
  if ('all' in condition || 'any' in condition) {
    const list = 'all' in condition ? condition.all : condition.any;
    const parts = list.flatMap((part) => completePart(part) ?? []);
    if (parts.length === 0) return null;
    return 'all' in condition ? { all: parts } : { any: parts };
  }
  return isComplete(condition) ? condition : null;
};
