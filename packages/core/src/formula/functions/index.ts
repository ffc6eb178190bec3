import { CONDITIONAL_FUNCTIONS } from './conditional.ts';
import { DATE_FUNCTIONS } from './date.ts';
import type { FunctionDefinition } from './define.ts';
import { DISTRIBUTION_FUNCTIONS } from './distributions.ts';
import { FINANCE_FUNCTIONS } from './finance.ts';
import { LANGUAGE_FUNCTIONS } from './languages.ts';
import { LIST_FUNCTIONS } from './list.ts';
import { LOGICAL_FUNCTIONS } from './logical.ts';
import { NUMBER_FUNCTIONS } from './number.ts';
import { PATTERN_FUNCTIONS } from './pattern.ts';
import { PROBABILITY_FUNCTIONS } from './probabilities.ts';
import { STATISTICS_FUNCTIONS } from './statistics.ts';
import { TEXT_FUNCTIONS } from './text.ts';
import { TRIGONOMETRY } from './trigonometry.ts';

/** The function table by the sections of its reference page. */
export const FUNCTION_GROUPS = {
  Logic: LOGICAL_FUNCTIONS,
  Numbers: NUMBER_FUNCTIONS,
  Angles: TRIGONOMETRY,
  Text: TEXT_FUNCTIONS,
  Languages: LANGUAGE_FUNCTIONS,
  'Regular expressions': PATTERN_FUNCTIONS,
  'Dates and times': DATE_FUNCTIONS,
  Lists: LIST_FUNCTIONS,
  Criteria: CONDITIONAL_FUNCTIONS,
  Statistics: STATISTICS_FUNCTIONS,
  Distributions: { ...DISTRIBUTION_FUNCTIONS, ...PROBABILITY_FUNCTIONS },
  Money: FINANCE_FUNCTIONS,
} as const;

export const FUNCTIONS: Readonly<Record<string, FunctionDefinition>> = Object.assign(
  Object.create(null),
  ...Object.values(FUNCTION_GROUPS),
);

/** Functions that decide which of their arguments are worked out, with the words of the reference page. */
export const SPECIAL_FORMS = {
  IF: {
    signature: 'IF(condition; yes; no?)',
    help: 'The second value when the condition holds, otherwise the third.',
    example: 'IF(1 < 2; "yes"; "no") = "yes"',
  },
  IFS: {
    signature: 'IFS(condition; value; …)',
    help: 'The value behind the first condition that holds; #N/A when none does.',
    example: 'IFS(1 > 2; "a"; 2 > 1; "b") = "b"',
  },
  SWITCH: {
    signature: 'SWITCH(value; case; result; …; otherwise?)',
    help: 'The result behind the first case that equals the value; the last one alone is for all others.',
    example: 'SWITCH(2; 1; "one"; 2; "two"; "many") = "two"',
  },
  CHOOSE: {
    signature: 'CHOOSE(place; value; …)',
    help: 'The value at a place, 1 for the first.',
    example: 'CHOOSE(2; "a"; "b"; "c") = "b"',
  },
  IFERROR: {
    signature: 'IFERROR(value; otherwise)',
    help: 'The first value, or the second when the first is an error.',
    example: 'IFERROR(1 / 0; 5) = 5',
  },
  IFNA: {
    signature: 'IFNA(value; otherwise)',
    help: 'The first value, or the second when the first is #N/A.',
    example: 'IFNA(MATCH(9; {1;2}; 0); 0) = 0',
  },
  ISERROR: {
    signature: 'ISERROR(value)',
    help: 'TRUE when the value is an error.',
    example: 'ISERROR(1 / 0) = TRUE',
  },
  WITHIN: {
    signature: 'WITHIN(value; parameter)',
    help: 'TRUE when the value is what a parameter asks for: one of its choices, or in its stretch of days or time. A parameter without a value asks for everything. Takes a list as well. (Gaveta’s own.)',
    example: 'WITHIN("bunk"; {"bunk";"linen"}) = TRUE',
  },
  TEXT: {
    signature: 'TEXT(value; format)',
    help: 'A value as text, by a number-format code.',
    example: 'TEXT(1234.5; "#,##0.00") = "1,234.50"',
  },
  LABELOF: {
    signature: 'LABELOF(field)',
    help: 'What a coded value of a field or parameter means, by its choices, in the language of the report; the value itself where they do not have it. (Gaveta’s own.)',
    example: 'LABELOF("b") = "b"',
  },
} as const;

export type SpecialForm = keyof typeof SPECIAL_FORMS;
export const isSpecialForm = (name: string): name is SpecialForm => Object.hasOwn(SPECIAL_FORMS, name);

/** Functions of rows: what they give depends on where the formula stands among them. */
export const ROW_FUNCTIONS = {
  RUNNING: {
    signature: 'RUNNING(formula; scope?)',
    help: 'The sum so far, this row included. Starts anew with each set of rows, or with each of the scope named.',
  },
  ROWNUMBER: {
    signature: 'ROWNUMBER(scope?)',
    help: 'The number of the row, from 1. Starts anew as RUNNING does.',
  },
  RANK: {
    signature: 'RANK(formula; scope?)',
    help: 'The place of the row when the largest comes first; equal ones share a place. Among the set of rows, or the scope named.',
  },
  PREVIOUS: {
    signature: 'PREVIOUS(formula)',
    help: 'The formula’s value on the row before; blank on the first row of a set.',
  },
  VALUEOF: {
    signature: 'VALUEOF(field; key)',
    help: 'A field of the row of another table whose key is a field of this row: VALUEOF(course.title; course_id). It is brought with the rows.',
  },
  DEPTH: {
    signature: 'DEPTH()',
    help: 'How deep a row lies in a drawer of recursive rows; 1 at the top.',
  },
} as const;

export type RowFunction = keyof typeof ROW_FUNCTIONS;
export const isRowFunction = (name: string): name is RowFunction => Object.hasOwn(ROW_FUNCTIONS, name);

export { CONDITIONAL_TOTALS, type ConditionalTotal, isConditionalTotal } from './conditional.ts';
export { readCriterion } from './criteria.ts';
export { isPeriod, PERIODS, type Period } from './date.ts';
export {
  type ArgumentType,
  dayAt,
  type FunctionDefinition,
  type FunctionTable,
  momentAtWall,
  signatureOf,
} from './define.ts';
export { MAX_TEXT } from './text.ts';
export {
  Accumulator,
  emptyTotal,
  isCount,
  isTotal,
  TOTAL_STATES,
  TOTALS,
  type TotalName,
  totalFromState,
  totalOf,
} from './totals.ts';
export { hasWildcards } from './wildcards.ts';
