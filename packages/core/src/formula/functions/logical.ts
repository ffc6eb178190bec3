import { isNumeric } from '../../value/number.ts';
import { FormulaError, List } from '../../value/value.ts';
import { asks, define, type FunctionTable } from './define.ts';

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
  IFBLANK: define(
    'value:x otherwise:x',
    { sameFrom: 0 },
    'The first value that is not blank. (Gaveta’s own.)',
    'IFBLANK(""; "none") = ""',
    ([x, otherwise]) => x ?? otherwise ?? null,
  ),
  ISBLANK: asks('TRUE when there is no value.', 'ISBLANK("") = FALSE', (x) => x === null),
  ISNUMBER: asks('TRUE for a number.', 'ISNUMBER("5") = FALSE', isNumeric),
  ISTEXT: asks('TRUE for a text.', 'ISTEXT("5") = TRUE', (x) => typeof x === 'string'),
  ISLOGICAL: asks('TRUE for TRUE and FALSE.', 'ISLOGICAL(1 = 2) = TRUE', (x) => typeof x === 'boolean'),
  ISLIST: asks('TRUE for a list. (Gaveta’s own.)', 'ISLIST({1;2}) = TRUE', (x) => x instanceof List),
};
