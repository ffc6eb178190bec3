import type { Condition, Field, Operand, Parameter, Problem, Step } from '@gaveta/core';
import type { TFunction } from 'i18next';
import { problemWords } from '../i18n/words.ts';

/** A part of a step in words: plain, the name of a field, or that of a parameter. */
export type Word = string | { field: string } | { parameter: string } | { code: string };

interface Names {
  t: TFunction;
  fields: readonly Field[];
  parameters: readonly Parameter[];
  source: (from: NonNullable<Extract<Step, { step: 'take' }>['from']>) => string;
}

const labelOf = (fields: readonly Field[], name: string): string => fields.find((f) => f.name === name)?.label ?? name;

const operandWords = (to: Operand | undefined, field: Field | undefined, { fields, parameters, t }: Names): Word[] => {
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
export const conditionLines = (condition: Condition, names: Names, join = ''): Word[][] => {
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

/** What a step says behind its name, line by line. */
export const stepLines = (step: Step, names: Names): Word[][] => {
  const { t, fields } = names;
  const list = (items: readonly string[]): Word[] => [items.map((name) => labelOf(fields, name)).join(', ')];
  switch (step.step) {
    case 'take':
    case 'stack':
      return [[names.source(step.from)]];
    case 'sql':
      return [[{ code: step.text.trim().split('\n')[0] || '…' }]];
    case 'bring':
      return [[step.relation ?? (step.from ? names.source(step.from) : '…')], [t(`data.keep_${step.keep}`)]];
    case 'keep':
      return conditionLines(step.where, names);
    case 'add':
      return [[{ field: step.label ?? step.name }], [{ code: step.formula || '…' }]];
    case 'summarise': {
      const by = step.by.map((b) =>
        b.per
          ? t('data.perField', { per: t(`data.per_${b.per}`), field: labelOf(fields, b.field) })
          : labelOf(fields, b.field),
      );
      const totals = step.totals.map((x) =>
        x.of
          ? t('data.totalOfField', { total: t(`data.total_${x.total}`), field: labelOf(fields, x.of) })
          : t('data.rowsCounted'),
      );
      return [[by.join(', ') || t('data.everything')], [totals.join(', ')]];
    }
    case 'spread':
      return [[step.into.map((x) => x.label ?? String(x.value)).join(', ') || '…']];
    case 'sort':
      return [[step.by.map((b) => `${labelOf(fields, b.field)} ${b.descending ? '↓' : '↑'}`).join(', ')]];
    case 'first':
      return [[String(step.count), ...(step.per?.length ? [t('data.ofEach'), ...list(step.per)] : [])]];
    case 'distinct':
      return [step.by ? [t('data.alikeIn'), ...list(step.by)] : [t('data.alikeInAll')]];
    default:
      return step satisfies never;
  }
};

/** What is wrong with a step, once each. */
export const stepProblems = (problems: readonly Problem[]): string[] => [...new Set(problems.map(problemWords))];
