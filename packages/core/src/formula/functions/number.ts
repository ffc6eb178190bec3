import { Decimal } from '../../value/decimal.ts';
import { add, compareNumeric, divide, multiply, type Numeric, negate, toDecimal } from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import { define, double, type FunctionTable, fromDouble, numbers, numeric, outOfRange, whole } from './define.ts';

const DIVISION_BY_ZERO = new FormulaError('#DIV/0!');

/** A whole Decimal as a plain number where it is one. */
const plain = (value: Decimal): Numeric =>
  value.scale === 0 && typeof value.coefficient === 'number' ? value.coefficient : value;

const sign = (value: Numeric): number => compareNumeric(value, 0);

const roundTo = (value: Numeric, digits: number): Numeric => plain(toDecimal(value).round(digits));

/** Towards zero (`up` false) or away from it, to a number of digits. */
const roundTowards = (value: Numeric, digits: number, up: boolean): Numeric => {
  const factor = toDecimal(1).divide(toDecimal(powerOfTen(digits)))!;
  const cut = divide(value, factor)!;
  const truncated = toDecimal(cut).truncate();
  const step = up && truncated.compare(toDecimal(cut)) !== 0 ? sign(value) : 0;
  return plain(truncated.add(toDecimal(step)).multiply(factor).trim());
};

const powerOfTen = (digits: number): Decimal =>
  Decimal.parse(`1e${Math.max(-300, Math.min(300, digits))}`) ?? Decimal.of(1);

const floor = (value: Numeric): Numeric => {
  const cut = toDecimal(value).truncate();
  return plain(cut.compare(toDecimal(value)) > 0 ? cut.add(toDecimal(-1)) : cut);
};

/** The multiple of `step` at or below (`up` false: towards minus infinity) or at or above. */
const toMultiple = (value: Numeric, step: Numeric, up: boolean): Value => {
  if (sign(step) === 0) return 0;
  const width = sign(step) < 0 ? negate(step) : step;
  const quotient = divide(value, width)!;
  const lower = floor(quotient);
  const count = up && compareNumeric(lower, quotient) !== 0 ? add(lower, 1) : lower;
  return multiply(count, width);
};

const greatestCommon = (a: number, b: number): number => (b === 0 ? a : greatestCommon(b, a % b));

const wholeNumbers = (values: readonly Value[]): number[] => numbers(values).map((v) => Math.abs(whole(v)));

/** To the next even (`rest` 0) or odd (`rest` 1) whole number away from zero. */
const awayTo = (value: Numeric, rest: 0 | 1): Numeric => {
  const up = toDecimal(roundTowards(value, 0, true)).toNumber();
  return Math.abs(up % 2) === rest ? up : up + (sign(value) < 0 ? -1 : 1);
};

export const NUMBER_FUNCTIONS: FunctionTable = {
  ABS: define('value:n', 'number', 'The number without its sign.', 'ABS(-3) = 3', ([x]) =>
    sign(numeric(x)) < 0 ? negate(numeric(x)) : numeric(x),
  ),
  SIGN: define('value:n', 'number', '1, 0 or -1.', 'SIGN(-7.5) = -1', ([x]) => sign(numeric(x))),
  ROUND: define(
    'value:n digits:n?',
    'number',
    'Rounds to a number of digits, halves away from zero.',
    'ROUND(2.345; 2) = 2.35',
    ([x, digits]) => roundTo(numeric(x), whole(digits)),
  ),
  ROUNDUP: define('value:n digits:n?', 'number', 'Rounds away from zero.', 'ROUNDUP(2.341; 2) = 2.35', ([x, digits]) =>
    roundTowards(numeric(x), whole(digits), true),
  ),
  ROUNDDOWN: define(
    'value:n digits:n?',
    'number',
    'Rounds towards zero.',
    'ROUNDDOWN(-2.349; 2) = -2.34',
    ([x, digits]) => roundTowards(numeric(x), whole(digits), false),
  ),
  TRUNC: define('value:n digits:n?', 'number', 'Cuts digits off, towards zero.', 'TRUNC(-2.9) = -2', ([x, digits]) =>
    roundTowards(numeric(x), whole(digits), false),
  ),
  INT: define('value:n', 'number', 'The next whole number downwards.', 'INT(-1.5) = -2', ([x]) => floor(numeric(x))),
  CEILING: define(
    'value:n step:n?',
    'number',
    'The next multiple of a step upwards.',
    'CEILING(7.2; 0.5) = 7.5',
    ([x, step]) => toMultiple(numeric(x), step === undefined ? 1 : numeric(step), true),
  ),
  FLOOR: define(
    'value:n step:n?',
    'number',
    'The next multiple of a step downwards.',
    'FLOOR(1240; 500) = 1000',
    ([x, step]) => toMultiple(numeric(x), step === undefined ? 1 : numeric(step), false),
  ),
  RANGESTART: define(
    'value:n width:n',
    'number',
    'The start of the range, of a width and counted from 0, that a number lies in; blank stays blank. (Gaveta’s own.)',
    'RANGESTART(1240; 500) = 1000',
    ([x, width]) => (x === null ? null : toMultiple(numeric(x), numeric(width), false)),
  ),
  MROUND: define('value:n step:n', 'number', 'The nearest multiple of a step.', 'MROUND(13; 5) = 15', ([x, step]) => {
    const quotient = divide(numeric(x), numeric(step));
    return quotient === null ? 0 : multiply(roundTo(quotient, 0), numeric(step));
  }),
  EVEN: define('value:n', 'number', 'The next even number away from zero.', 'EVEN(1.2) = 2', ([x]) =>
    awayTo(numeric(x), 0),
  ),
  ODD: define('value:n', 'number', 'The next odd number away from zero.', 'ODD(-2) = -3', ([x]) =>
    awayTo(numeric(x), 1),
  ),
  MOD: define(
    'value:n divisor:n',
    'number',
    'The remainder of a division, with the sign of the divisor.',
    'MOD(-7; 3) = 2',
    ([a, b]) => {
      const quotient = divide(numeric(a), numeric(b));
      if (quotient === null) return DIVISION_BY_ZERO;
      return add(numeric(a), negate(multiply(floor(quotient), numeric(b))));
    },
  ),
  QUOTIENT: define('value:n divisor:n', 'number', 'The whole part of a division.', 'QUOTIENT(7; 2) = 3', ([a, b]) => {
    const quotient = divide(numeric(a), numeric(b));
    return quotient === null ? DIVISION_BY_ZERO : plain(toDecimal(quotient).truncate());
  }),
  PRODUCT: define('value:x*', 'number', 'All values multiplied.', 'PRODUCT(2; 3; 4) = 24', (values) =>
    numbers(values).reduce<Numeric>(multiply, 1),
  ),
  POWER: define('base:n exponent:n', 'number', 'A number to a power.', 'POWER(2; 10) = 1024', ([a, b]) =>
    fromDouble(double(a) ** double(b)),
  ),
  SQRT: define('value:n', 'number', 'The square root.', 'SQRT(2.25) = 1.5', ([x]) =>
    sign(numeric(x)) < 0 ? outOfRange('square root of a negative number') : plain(toDecimal(numeric(x)).root().trim()),
  ),
  EXP: define('value:n', 'number', 'e to a power.', 'EXP(0) = 1', ([x]) => fromDouble(Math.exp(double(x)))),
  LN: define('value:n', 'number', 'The natural logarithm.', 'ROUND(LN(EXP(2)); 9) = 2', ([x]) =>
    fromDouble(Math.log(double(x))),
  ),
  LOG: define('value:n base:n?', 'number', 'The logarithm to a base, 10 if left out.', 'LOG(8; 2) = 3', ([x, base]) =>
    fromDouble(base === undefined ? Math.log10(double(x)) : Math.log2(double(x)) / Math.log2(double(base))),
  ),
  PI: define('', 'number', 'The ratio of a circle to its diameter.', 'ROUND(PI(); 4) = 3.1416', () => Math.PI),
  SIN: define('angle:n', 'number', 'The sine of an angle in radians.', 'SIN(0) = 0', ([x]) =>
    fromDouble(Math.sin(double(x))),
  ),
  COS: define('angle:n', 'number', 'The cosine of an angle in radians.', 'COS(0) = 1', ([x]) =>
    fromDouble(Math.cos(double(x))),
  ),
  RADIANS: define('degrees:n', 'number', 'Degrees as radians.', 'ROUND(RADIANS(180); 6) = 3.141593', ([x]) =>
    fromDouble((double(x) * Math.PI) / 180),
  ),
  FACT: define('value:n', 'number', 'The factorial.', 'FACT(5) = 120', ([x]) => {
    const n = whole(x);
    if (n < 0 || n > 170) return outOfRange('FACT takes 0 to 170');
    let result: Numeric = 1;
    for (let i = 2; i <= n; i++) result = multiply(result, i);
    return result;
  }),
  GCD: define('value:x*', 'number', 'The greatest common divisor of whole numbers.', 'GCD(12; 18) = 6', (values) =>
    wholeNumbers(values).reduce(greatestCommon, 0),
  ),
  LCM: define('value:x*', 'number', 'The least common multiple of whole numbers.', 'LCM(4; 6) = 12', (values) => {
    const list = wholeNumbers(values);
    return fromDouble(list.reduce((a, b) => (a === 0 || b === 0 ? 0 : (a / greatestCommon(a, b)) * b), 1));
  }),
  ISEVEN: define(
    'value:n',
    'boolean',
    'TRUE when the whole part is even.',
    'ISEVEN(4.7) = TRUE',
    ([x]) => whole(x) % 2 === 0,
  ),
  ISODD: define(
    'value:n',
    'boolean',
    'TRUE when the whole part is odd.',
    'ISODD(3) = TRUE',
    ([x]) => whole(x) % 2 !== 0,
  ),
};
