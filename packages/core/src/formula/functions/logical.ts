import { CalendarDate, Moment } from '../../value/date.ts';
import { isNumeric } from '../../value/number.ts';
import { FormulaError, List } from '../../value/value.ts';
import { asks, define, type FunctionTable, momentSerial, serialOf } from './define.ts';

export const LOGICAL_FUNCTIONS: FunctionTable = {
  AND: define('condition:b*', 'boolean', 'TRUE when every condition is.', 'AND(1 < 2; 2 < 3) = TRUE', (values) =>
    values.every((v) => v === true),
  ),
  OR: define('condition:b*', 'boolean', 'TRUE when any condition is.', 'OR(1 > 2; 2 < 3) = TRUE', (values) =>
    values.some((v) => v === true),
  ),
  XOR: define(
    'condition:b*',
    'boolean',
    'TRUE when an odd number of conditions is.',
    'XOR(TRUE; TRUE) = FALSE',
    (values) => values.filter((v) => v === true).length % 2 === 1,
  ),
  NOT: define('condition:b', 'boolean', 'The opposite.', 'NOT(1 > 2) = TRUE', ([x]) => x !== true),
  TRUE: define('', 'boolean', 'Yes.', 'TRUE() = (1 = 1)', () => true),
  FALSE: define('', 'boolean', 'No.', 'FALSE() = (1 = 2)', () => false),
  NA: define('', 'any', 'The error “not available”.', 'IFNA(NA(); 5) = 5', () => new FormulaError('#N/A')),
  BLANK: define('', 'any', 'No value. (Gaveta’s own.)', 'ISBLANK(BLANK()) = TRUE', () => null),
  IFBLANK: define(
    'value:x otherwise:x',
    'common',
    'The first value that is not blank. (Gaveta’s own.)',
    'IFBLANK(""; "none") = ""',
    ([x, otherwise]) => x ?? otherwise ?? null,
  ),
  ISBLANK: asks('TRUE when there is no value.', 'ISBLANK("") = FALSE', (x) => x === null),
  ISNUMBER: asks('TRUE for a number.', 'ISNUMBER("5") = FALSE', isNumeric),
  ISNONTEXT: asks('TRUE for anything but a text.', 'ISNONTEXT(5) = TRUE', (x) => typeof x !== 'string'),
  ISNA: asks(
    'TRUE for the error “not available”.',
    'ISNA(NA()) = TRUE',
    (x) => x instanceof FormulaError && x.code === '#N/A',
  ),
  ISERR: asks(
    'TRUE for any error but “not available”.',
    'ISERR(1 / 0) = TRUE',
    (x) => x instanceof FormulaError && x.code !== '#N/A',
  ),
  N: define(
    'value:x',
    'number',
    'A number as it is, 1 for TRUE, and for a date its number of days since 1899-12-30; 0 for anything else.',
    'N(TRUE) = 1',
    ([x], { report }) => {
      if (isNumeric(x)) return x;
      if (x instanceof CalendarDate) return serialOf(x);
      return x instanceof Moment ? momentSerial(x, report.timeZone) : x === true ? 1 : 0;
    },
  ),
  T: define('value:x', 'text', 'A text as it is; an empty text for anything else.', 'T(5) = ""', ([x]) =>
    typeof x === 'string' ? x : '',
  ),
  ISTEXT: asks('TRUE for a text.', 'ISTEXT("5") = TRUE', (x) => typeof x === 'string'),
  ISLOGICAL: asks('TRUE for TRUE and FALSE.', 'ISLOGICAL(1 = 2) = TRUE', (x) => typeof x === 'boolean'),
  ISLIST: asks('TRUE for a list. (Gaveta’s own.)', 'ISLIST({1;2}) = TRUE', (x) => x instanceof List),
};
