import { phrase } from '../../problems/phrases.ts';
import { Decimal } from '../../value/decimal.ts';
import { compareNumeric } from '../../value/number.ts';
import type { Value } from '../../value/value.ts';
import { DIVISION_BY_ZERO, define, double, type FunctionTable, fromDouble, numeric, outOfRange } from './define.ts';

/** π to 34 digits. */
const PI = Decimal.parse('3.141592653589793238462643383279503')!;

/** A function of one number as doubles work it out; outside of what it is defined for it is `#NUM!`. */
const ofDouble =
  (work: (x: number) => number) =>
  ([x]: Value[]): Value => {
    const result = work(double(x));
    return Number.isNaN(result) ? outOfRange(phrase('e-no-number')) : fromDouble(result);
  };

/** As {@link ofDouble}, for what has no value where something below a line is 0. */
const overZero =
  (below: (x: number) => number, above: (x: number) => number = () => 1) =>
  ([x]: Value[]): Value => {
    const divisor = below(double(x));
    return divisor === 0 ? DIVISION_BY_ZERO : fromDouble(above(double(x)) / divisor);
  };

/** Functions of angles in radians, and of their kin (OpenFormula, section 6.16). */
export const TRIGONOMETRY: FunctionTable = {
  PI: define('', 'number', 'The ratio of a circle to its diameter.', 'ROUND(PI(); 4) = 3.1416', () => PI),
  SIN: define('angle:n', 'number', 'The sine of an angle in radians.', 'SIN(0) = 0', ofDouble(Math.sin)),
  COS: define('angle:n', 'number', 'The cosine of an angle in radians.', 'COS(0) = 1', ofDouble(Math.cos)),
  TAN: define('angle:n', 'number', 'The tangent of an angle in radians.', 'TAN(0) = 0', ofDouble(Math.tan)),
  COT: define(
    'angle:n',
    'number',
    'The cotangent of an angle in radians.',
    'ROUND(COT(PI() / 4); 9) = 1',
    overZero(Math.tan),
  ),
  SEC: define('angle:n', 'number', 'The secant of an angle in radians.', 'SEC(0) = 1', overZero(Math.cos)),
  CSC: define('angle:n', 'number', 'The cosecant of an angle in radians.', 'CSC(PI() / 2) = 1', overZero(Math.sin)),
  ASIN: define('value:n', 'number', 'The angle whose sine it is, in radians.', 'ASIN(0) = 0', ofDouble(Math.asin)),
  ACOS: define('value:n', 'number', 'The angle whose cosine it is, in radians.', 'ACOS(1) = 0', ofDouble(Math.acos)),
  ATAN: define('value:n', 'number', 'The angle whose tangent it is, in radians.', 'ATAN(0) = 0', ofDouble(Math.atan)),
  ACOT: define(
    'value:n',
    'number',
    'The angle whose cotangent it is, in radians, from 0 to π.',
    'ROUND(ACOT(1); 9) = ROUND(PI() / 4; 9)',
    ofDouble((x) => Math.PI / 2 - Math.atan(x)),
  ),
  ATAN2: define(
    'x:n y:n',
    'number',
    'The angle of a point from the x axis, in radians, above -π and up to π.',
    'ROUND(ATAN2(1; 1); 9) = ROUND(PI() / 4; 9)',
    ([x, y]) =>
      compareNumeric(numeric(x), 0) === 0 && compareNumeric(numeric(y), 0) === 0
        ? DIVISION_BY_ZERO
        : fromDouble(Math.atan2(double(y), double(x))),
  ),
  SINH: define('value:n', 'number', 'The hyperbolic sine.', 'SINH(0) = 0', ofDouble(Math.sinh)),
  COSH: define('value:n', 'number', 'The hyperbolic cosine.', 'COSH(0) = 1', ofDouble(Math.cosh)),
  TANH: define('value:n', 'number', 'The hyperbolic tangent.', 'TANH(0) = 0', ofDouble(Math.tanh)),
  COTH: define(
    'value:n',
    'number',
    'The hyperbolic cotangent.',
    'ROUND(COTH(1) * TANH(1); 9) = 1',
    overZero(Math.tanh),
  ),
  SECH: define('value:n', 'number', 'The hyperbolic secant.', 'SECH(0) = 1', overZero(Math.cosh)),
  CSCH: define('value:n', 'number', 'The hyperbolic cosecant.', 'ROUND(CSCH(1) * SINH(1); 9) = 1', overZero(Math.sinh)),
  ASINH: define('value:n', 'number', 'The number whose hyperbolic sine it is.', 'ASINH(0) = 0', ofDouble(Math.asinh)),
  ACOSH: define('value:n', 'number', 'The number whose hyperbolic cosine it is.', 'ACOSH(1) = 0', ofDouble(Math.acosh)),
  ATANH: define(
    'value:n',
    'number',
    'The number whose hyperbolic tangent it is.',
    'ATANH(0) = 0',
    ofDouble(Math.atanh),
  ),
  ACOTH: define(
    'value:n',
    'number',
    'The number whose hyperbolic cotangent it is.',
    'ROUND(ACOTH(2); 6) = 0.549306',
    ofDouble((x) => (Math.abs(x) > 1 ? Math.atanh(1 / x) : Number.NaN)),
  ),
  RADIANS: define(
    'degrees:n',
    'number',
    'Degrees as radians.',
    'ROUND(RADIANS(180); 6) = 3.141593',
    ofDouble((x) => (x * Math.PI) / 180),
  ),
  DEGREES: define(
    'radians:n',
    'number',
    'Radians as degrees.',
    'DEGREES(PI()) = 180',
    ofDouble((x) => (x * 180) / Math.PI),
  ),
  SQRTPI: define(
    'value:n',
    'number',
    'The square root of a number times π.',
    'ROUND(SQRTPI(1); 6) = 1.772454',
    ofDouble((x) => (x < 0 ? Number.NaN : Math.sqrt(x * Math.PI))),
  ),
};
