import { phrase } from '../../problems/phrases.ts';
import { textOrderOf } from '../../text/text-order.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import type { EvaluationContext } from './context.ts';
import { criterionOf } from './criteria.ts';
import { define, type FunctionTable, listOf, opened, wrong } from './define.ts';
import { type TotalName, totalOf } from './totals.ts';

type Test = { list: readonly Value[]; holds: (value: Value) => boolean };

/** A total of the values in whose places all lists are as their criteria say. */
const totalWhere = (
  name: TotalName,
  values: readonly Value[],
  tests: readonly Test[],
  { report }: EvaluationContext,
): Value => {
  if (tests.some(({ list }) => list.length !== values.length)) return wrong(phrase('e-lengths'));
  const chosen = values.filter((_, i) => tests.every(({ list, holds }) => holds(list[i] ?? null)));
  return totalOf(name, name === 'COUNTA' ? chosen.map(() => 1) : chosen, textOrderOf(report.language));
};

/** Lists and criteria that stand one after another. */
const testsOf = (given: readonly Value[], context: EvaluationContext): Test[] | FormulaError => {
  if (given.length % 2 === 1) return wrong(phrase('e-lengths'));
  return Array.from({ length: given.length / 2 }, (_, i) => ({
    list: listOf(given[2 * i]),
    holds: criterionOf(given[2 * i + 1] ?? null, context),
  }));
};

const where =
  (name: TotalName) =>
  ([list, criterion, sums]: Value[], context: EvaluationContext): Value => {
    const test = { list: listOf(list), holds: criterionOf(criterion ?? null, context) };
    return totalWhere(name, sums === undefined ? test.list : listOf(sums), [test], context);
  };

const whereAll =
  (name: TotalName) =>
  ([values, ...given]: Value[], context: EvaluationContext): Value => {
    const tests = testsOf(given, context);
    return tests instanceof FormulaError ? tests : totalWhere(name, listOf(values), tests, context);
  };

/** What a total of chosen values is: of one list, or of rows in a scope; `name`: which total. */
export const CONDITIONAL_TOTALS = {
  COUNTBLANK: { name: 'COUNTA', values: false, several: false },
  COUNTIF: { name: 'COUNTA', values: false, several: false },
  SUMIF: { name: 'SUM', values: true, several: false },
  AVERAGEIF: { name: 'AVERAGE', values: true, several: false },
  COUNTIFS: { name: 'COUNTA', values: false, several: true },
  SUMIFS: { name: 'SUM', values: true, several: true },
  AVERAGEIFS: { name: 'AVERAGE', values: true, several: true },
  MINIFS: { name: 'MIN', values: true, several: true },
  MAXIFS: { name: 'MAX', values: true, several: true },
} as const satisfies Record<string, { name: TotalName; values: boolean; several: boolean }>;

export type ConditionalTotal = keyof typeof CONDITIONAL_TOTALS;
export const isConditionalTotal = (name: string): name is ConditionalTotal => Object.hasOwn(CONDITIONAL_TOTALS, name);

/** Totals of what is as criteria say (OpenFormula, section 6.13 and 6.16). Of rows they are worked out as totals of rows are. */
export const CONDITIONAL_FUNCTIONS: FunctionTable = {
  MEETS: define(
    'value:x criterion:x',
    'boolean',
    'TRUE when a value is as a criterion says: equal to it, or as a comparison in a text such as ">=5"; * and ? stand for anything and for one character. (Gaveta’s own.)',
    'MEETS(7; ">=5") = TRUE',
    ([value, criterion], context) => criterionOf(criterion ?? null, context)(value ?? null),
  ),
  COUNTBLANK: define(
    'values:x scope:x?',
    'number',
    'How many values are blank or empty texts: of a list, or of a field of rows.',
    'COUNTBLANK({1;"";3}) = 1',
    ([list]) => opened([list ?? null]).filter((value) => value === null || value === '').length,
  ),
  COUNTIF: define(
    'values:x criterion:x scope:x?',
    'number',
    'How many values meet a criterion, such as 5, "stayed", ">=5" or "Lago*": of a list, or of a field of rows.',
    'COUNTIF({1;5;9}; ">=5") = 2',
    where('COUNTA'),
  ),
  SUMIF: define(
    'values:x criterion:x sum:x? scope:x?',
    'number',
    'The sum of what stands beside the values that meet a criterion, or of these values.',
    'SUMIF({"a";"b";"a"}; "a"; {1;2;3}) = 4',
    where('SUM'),
  ),
  AVERAGEIF: define(
    'values:x criterion:x average:x? scope:x?',
    'number',
    'The average of what stands beside the values that meet a criterion, or of these values.',
    'AVERAGEIF({"a";"b";"a"}; "a"; {1;2;3}) = 2',
    where('AVERAGE'),
  ),
  COUNTIFS: define(
    'values:x criterion:x more:x?*',
    'number',
    'How often all criteria are met, each by the values before it.',
    'COUNTIFS({1;5;9}; ">1"; {"a";"a";"b"}; "a") = 1',
    (values, context) => {
      const tests = testsOf(values, context);
      if (tests instanceof FormulaError) return tests;
      return totalWhere('COUNTA', tests[0]?.list ?? [], tests, context);
    },
  ),
  SUMIFS: define(
    'sum:x values:x criterion:x more:x?*',
    'number',
    'The sum where all criteria are met, each by the values before it.',
    'SUMIFS({1;2;3}; {"a";"a";"b"}; "a") = 3',
    whereAll('SUM'),
  ),
  AVERAGEIFS: define(
    'average:x values:x criterion:x more:x?*',
    'number',
    'The average where all criteria are met, each by the values before it.',
    'AVERAGEIFS({1;2;3}; {"a";"a";"b"}; "a") = 1.5',
    whereAll('AVERAGE'),
  ),
  MINIFS: define(
    'minimum:x values:x criterion:x more:x?*',
    'any',
    'The smallest value where all criteria are met, each by the values before it.',
    'MINIFS({1;2;3}; {"a";"b";"b"}; "b") = 2',
    whereAll('MIN'),
  ),
  MAXIFS: define(
    'maximum:x values:x criterion:x more:x?*',
    'any',
    'The largest value where all criteria are met, each by the values before it.',
    'MAXIFS({1;2;3}; {"a";"a";"b"}; "a") = 2',
    whereAll('MAX'),
  ),
};
