import type { Condition, Field, Operand, Parameter, Problem, Source } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { problemWords } from '../i18n/words.ts';

/** A part of a step in words: plain, the name of a field, or that of a parameter. */
export type Word = string | { field: string } | { parameter: string } | { code: string };

export interface StepNames {
  t: TFunction;
  fields: readonly Field[];
  parameters: readonly Parameter[];
  source: (from: Source) => string;
}

export const labelOf = (fields: readonly Field[], name: string): string =>
  fields.find((f) => f.name === name)?.label ?? name;

/** Labels of some fields, one after the other. */
export const labelsOf = (fields: readonly Field[], names: readonly string[]): string =>
  names.map((name) => labelOf(fields, name)).join(', ');

const operandWords = (
  to: Operand | undefined,
  field: Field | undefined,
  { fields, parameters, t }: StepNames,
): Word[] => {
  const shown = (value: string | number | boolean): string =>
    field?.choices?.find((c) => c.value === String(value))?.label ??
    (typeof value === 'boolean' ? t(value ? 'data.yes' : 'data.no') : String(value));
  if (to === undefined) return ['…'];
  if ('value' in to) return [{ field: shown(to.value) }];
  if ('values' in to) return [{ field: to.values.map(shown).join(', ') || '…' }];
  if ('from' in to) return [{ field: t('data.range', { from: shown(to.from), to: shown(to.to) }) }];
  if ('parameter' in to) return [{ parameter: parameters.find((p) => p.name === to.parameter)?.label ?? to.parameter }];
  return [{ field: labelOf(fields, to.field) }];
};

/** A condition in words, one line for each test. */
export const conditionLines = (condition: Condition, names: StepNames, join = ''): Word[][] => {
  const { t } = names;
  const end: Word[] = join === '' ? [] : [join];
  if ('formula' in condition) return [[{ code: condition.formula || '…' }, ...end]];
  if ('field' in condition) {
    const field = names.fields.find((f) => f.name === condition.field);
    const blank = condition.is === 'blank' || condition.is === 'notBlank';
    const operand = blank ? [] : operandWords(condition.to, field, names);
    return [[{ field: labelOf(names.fields, condition.field) }, t(`data.is_${condition.is}`), ...operand, ...end]];
  }
  const isAll = 'all' in condition;
  const list = isAll ? condition.all : condition.any;
  const word = t(isAll ? 'data.and' : 'data.or');
  return list.flatMap((part, i) => conditionLines(part, names, i < list.length - 1 ? word : join));
};

/** What is wrong with a step, once each. */
export const stepProblems = (problems: readonly Problem[]): string[] => [...new Set(problems.map(problemWords))];
