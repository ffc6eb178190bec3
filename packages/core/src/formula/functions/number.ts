import { phrase } from '../../problems/phrases.ts';
import { Decimal, MAX_DIGITS } from '../../value/decimal.ts';
import {
  add,
  compareNumeric,
  isTooLong,
  multiply,
  type Numeric,
  negate,
  plainNumeric,
  power,
  toDecimal,
  toNumber,
} from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import {
  DIVISION_BY_ZERO,
  define,
  double,
  type FunctionTable,
  fromDouble,
  numbersGiven,
  numeric,
  outOfRange,
  whole,
} from './define.ts';

const sign = (value: Numeric): number => compareNumeric(value, 0);

const roundTo = (value: Numeric, digits: number): Numeric => plainNumeric(toDecimal(value).round(digits));

/** Towards zero (`up` false) or away from it, to a number of digits. */
const roundTowards = (value: Numeric, digits: number, up: boolean): Value =>
  digits < -MAX_DIGITS && up ? outOfRange(phrase('e-many-digits')) : plainNumeric(toDecimal(value).cut(digits, up));

const floor = (value: Numeric): Numeric => {
  const cut = toDecimal(value).truncate();
  return plainNumeric(cut.compare(toDecimal(value)) > 0 ? cut.add(toDecimal(-1)) : cut);
};

/** The remainder of a division, with the sign of the divisor; null when that is 0. */
const modulo = (value: Numeric, divisor: Numeric): Numeric | null => {
  const rest = toDecimal(value).remainder(toDecimal(divisor));
  if (!rest) return null;
  const turned = rest.sign() !== 0 && rest.sign() !== sign(divisor) ? rest.add(toDecimal(divisor)) : rest;
  return plainNumeric(turned.trim());
};

/** Rounded up or down to a multiple as the standard says (OpenFormula, section 6.17.1 and 6.17.3): by the step’s sign, and away from zero with a mode. */
const toStep = (value: Numeric, given: Value | undefined, mode: Value | undefined, up: boolean): Value => {
  const step = given === undefined ? (sign(value) < 0 ? -1 : 1) : numeric(given);
  if (sign(value) === 0 || sign(step) === 0) return 0;
  if (sign(value) > 0 && sign(step) < 0) return outOfRange(phrase('e-no-number'));
  const isAway = mode !== undefined && sign(numeric(mode)) !== 0;
  return toMultiple(value, step, sign(value) < 0 && isAway ? !up : up);
};

/** The multiple of `step` at or below (`up` false: towards minus infinity) or at or above. */
const toMultiple = (value: Numeric, step: Numeric, up: boolean): Value => {
  const width = sign(step) < 0 ? negate(step) : step;
  const rest = modulo(value, width);
  if (rest === null) return 0;
  const lower = add(value, negate(rest));
  return up && sign(rest) !== 0 ? add(lower, width) : lower;
};

const greatestCommon = (a: bigint, b: bigint): bigint => {
  let [x, y] = [a, b];
  while (y !== 0n) [x, y] = [y, x % y];
  return x;
};

/** Whole numbers without their signs, put together two by two. */
const together = (values: readonly Value[], first: bigint, join: (a: bigint, b: bigint) => bigint): Value => {
  const given = numbersGiven(values);
  if (given instanceof FormulaError) return given;
  let result = first;
  for (const value of given) {
    const whole = BigInt(toDecimal(value).truncate().coefficient);
    result = join(result, whole < 0n ? -whole : whole);
    if (result > LARGEST) return outOfRange(phrase('e-too-large'));
  }
  return plainNumeric(Decimal.of(result));
};

const LARGEST = 10n ** BigInt(MAX_DIGITS);

/** To the next even (`rest` 0) or odd (`rest` 1) whole number away from zero. */
const awayTo = (value: Numeric, rest: 0 | 1): Numeric => {
  const up = toDecimal(value).cut(0, true);
  const isRight = Math.abs(up.remainder(Decimal.of(2))!.toNumber()) === rest;
  return plainNumeric(isRight ? up : up.add(Decimal.of(sign(value) < 0 ? -1 : 1)));
};

/** Of what is not positive there is none. */
const logarithm = (value: Numeric, work: (value: number) => number): Value =>
  compareNumeric(value, 0) <= 0 ? outOfRange(phrase('e-positive', { name: 'LOG' })) : fromDouble(work(toNumber(value)));

const isEven = (value: Numeric): boolean => toDecimal(value).truncate().remainder(Decimal.of(2))!.sign() === 0;

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
    'value:n step:n? away:n?',
    'number',
    'The next multiple of a step upwards; with a third value that is not 0, away from zero.',
    'CEILING(7.2; 0.5) = 7.5',
    ([x, step, mode]) => toStep(numeric(x), step, mode, true),
  ),
  FLOOR: define(
    'value:n step:n? towards:n?',
    'number',
    'The next multiple of a step downwards; with a third value that is not 0, towards zero.',
    'FLOOR(1240; 500) = 1000',
    ([x, step, mode]) => toStep(numeric(x), step, mode, false),
  ),
  RANGESTART: define(
    'value:n width:n',
    'number',
    'The start of the range, of a width and counted from 0, that a number lies in; blank stays blank. (Gaveta’s own.)',
    'RANGESTART(1240; 500) = 1000',
    ([x, width]) => (x === null ? null : toMultiple(numeric(x), numeric(width), false)),
  ),
  MROUND: define('value:n step:n', 'number', 'The nearest multiple of a step.', 'MROUND(13; 5) = 15', ([x, step]) => {
    const [value, width] = [toDecimal(numeric(x)), toDecimal(numeric(step))];
    const rest = value.remainder(width);
    if (!rest) return 0;
    if (value.sign() * width.sign() < 0) return outOfRange(phrase('e-no-number'));
    const doubled = rest.add(rest);
    const isFar =
      (doubled.sign() < 0 ? doubled.negate() : doubled).compare(width.sign() < 0 ? width.negate() : width) >= 0;
    const lower = value.subtract(rest);
    const away = width.sign() === rest.sign() ? width : width.negate();
    return plainNumeric((isFar && rest.sign() !== 0 ? lower.add(away) : lower).trim());
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
      return modulo(numeric(a), numeric(b)) ?? DIVISION_BY_ZERO;
    },
  ),
  QUOTIENT: define('value:n divisor:n', 'number', 'The whole part of a division.', 'QUOTIENT(7; 2) = 3', ([a, b]) => {
    const divisor = toDecimal(numeric(b));
    return divisor.sign() === 0 ? DIVISION_BY_ZERO : plainNumeric(toDecimal(numeric(a)).quotient(divisor));
  }),
  PRODUCT: define('value:x*', 'number', 'All values multiplied.', 'PRODUCT(2; 3; 4) = 24', (values) => {
    const given = numbersGiven(values);
    if (given instanceof FormulaError) return given;
    let product: Numeric = 1;
    for (const value of given) {
      product = multiply(product, value);
      if (isTooLong(product)) return outOfRange(phrase('e-many-digits'));
    }
    return product;
  }),
  POWER: define(
    'base:n exponent:n',
    'number',
    'A number to a power.',
    'POWER(2; 10) = 1024',
    ([a, b]) =>
      power(numeric(a), numeric(b)) ?? (sign(numeric(a)) === 0 ? DIVISION_BY_ZERO : outOfRange(phrase('e-no-number'))),
  ),
  SQRT: define('value:n', 'number', 'The square root.', 'SQRT(2.25) = 1.5', ([x]) =>
    sign(numeric(x)) < 0 ? outOfRange(phrase('e-negative-root')) : plainNumeric(toDecimal(numeric(x)).root().trim()),
  ),
  EXP: define('value:n', 'number', 'e to a power.', 'EXP(0) = 1', ([x]) => fromDouble(Math.exp(double(x)))),
  LN: define('value:n', 'number', 'The natural logarithm.', 'ROUND(LN(EXP(2)); 9) = 2', ([x]) =>
    logarithm(numeric(x), Math.log),
  ),
  LOG10: define('value:n', 'number', 'The logarithm to base 10.', 'LOG10(1000) = 3', ([x]) =>
    logarithm(numeric(x), Math.log10),
  ),
  LOG: define('value:n base:n?', 'number', 'The logarithm to a base, 10 if left out.', 'LOG(8; 2) = 3', ([x, base]) => {
    if (base === undefined) return logarithm(numeric(x), Math.log10);
    if (compareNumeric(numeric(base), 0) <= 0) return outOfRange(phrase('e-positive', { name: 'LOG' }));
    if (compareNumeric(numeric(base), 1) === 0) return DIVISION_BY_ZERO;
    return logarithm(numeric(x), (value) => Math.log2(value) / Math.log2(double(base)));
  }),
  FACTDOUBLE: define(
    'value:n',
    'number',
    'The double factorial: every other number only.',
    'FACTDOUBLE(7) = 105',
    ([x]) => {
      const n = whole(x);
      if (n < -1 || n > 300) return outOfRange(phrase('e-takes', { name: 'FACTDOUBLE', values: '-1…300' }));
      let result: Numeric = 1;
      for (let i = n; i > 1; i -= 2) result = multiply(result, i);
      return result;
    },
  ),
  FACT: define('value:n', 'number', 'The factorial.', 'FACT(5) = 120', ([x]) => {
    const n = whole(x);
    if (n < 0 || n > 170) return outOfRange(phrase('e-takes', { name: 'FACT', values: '0…170' }));
    let result: Numeric = 1;
    for (let i = 2; i <= n; i++) result = multiply(result, i);
    return result;
  }),
  GCD: define('value:x*', 'number', 'The greatest common divisor of whole numbers.', 'GCD(12; 18) = 6', (values) =>
    together(values, 0n, greatestCommon),
  ),
  LCM: define('value:x*', 'number', 'The least common multiple of whole numbers.', 'LCM(4; 6) = 12', (values) =>
    together(values, 1n, (a, b) => (a === 0n || b === 0n ? 0n : (a / greatestCommon(a, b)) * b)),
  ),
  ISEVEN: define('value:n', 'boolean', 'TRUE when the whole part is even.', 'ISEVEN(4.7) = TRUE', ([x]) =>
    isEven(numeric(x)),
  ),
  ISODD: define(
    'value:n',
    'boolean',
    'TRUE when the whole part is odd.',
    'ISODD(3) = TRUE',
    ([x]) => !isEven(numeric(x)),
  ),
};
