import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cpuTime } from '../cpu-time.test-support.ts';
import { formatValue, isFormatCode } from '../text/format.ts';
import { textOrderOf } from '../text/text-order.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { Decimal } from '../value/decimal.ts';
import { parseNumeric } from '../value/number.ts';
import { FormulaError, List, Picture, type Value, valueText } from '../value/value.ts';
import type { Checked } from './checked.ts';
import { compileFormula } from './compile.ts';
import { checked, rowContext, worked } from './formulas.test-support.ts';
import { FUNCTIONS, TOTALS, type TotalName, totalOf } from './functions/index.ts';

const shown = (formula: string): string => valueText(worked(formula));

const anyValue: fc.Arbitrary<Value> = fc.oneof(
  fc.constantFrom<Value>(null, '', true, false, 0, -1, 1, 2.5, 1e308, -1e308, 5e-324, Number.MAX_SAFE_INTEGER),
  fc.integer(),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.string({ maxLength: 20 }),
  fc.constantFrom<Value>(
    '2025-07-12',
    '1e999',
    '-0',
    'NaN',
    'Infinity',
    '\u0000',
    '\ud800',
    'يوسف',
    'y',
    'month',
    '0.00',
  ),
  fc.bigInt({ min: -(10n ** 990n), max: 10n ** 990n }).map((n) => Decimal.of(n)),
  fc.tuple(fc.bigInt(), fc.integer({ min: 0, max: 900 })).map(([n, scale]) => Decimal.of(n, scale)),
  fc.integer({ min: -719_162, max: 2_932_896 }).map((day) => CalendarDate.at(day)),
  fc.integer({ min: -62_135_596_800_000, max: 253_402_300_799_999 }).map((ms) => Moment.at(ms)),
  fc.constant(new Picture('image/png', 'AAAA')),
);
const anyGiven = fc.oneof(
  { weight: 6, arbitrary: anyValue },
  { weight: 1, arbitrary: fc.array(anyValue, { maxLength: 5 }).map((values) => new List(values)) },
  { weight: 1, arbitrary: fc.constant(new FormulaError('#N/A')) },
);

const isSound = (value: Value): boolean => {
  if (value === undefined) return false;
  if (typeof value === 'number') return Number.isFinite(value);
  if (value instanceof CalendarDate) return CalendarDate.at(value.day) !== null;
  if (value instanceof Moment) return Moment.at(value.ms) !== null;
  return value instanceof List ? value.values.every(isSound) : true;
};

describe('whatever a function is given', () => {
  it.each(Object.entries(FUNCTIONS))('%s gives a value or an error', (name, { min, max }) => {
    const given = fc.array(anyGiven, { minLength: min, maxLength: Math.min(max, min + 3) });
    fc.assert(
      fc.property(given, (values) => {
        const column = (_: Value, i: number): Checked => ({ kind: 'field', level: 0, column: i + 1, type: 'any' });
        const call = compileFormula({ kind: 'call', name, arguments: values.map(column), type: 'any' });
        expect(isSound(call(rowContext(values))), `${name}(${values.map(valueText).join('; ')})`).toBe(true);
      }),
      { numRuns: 150, seed: 7 },
    );
  });
  it.each(Object.keys(TOTALS))('%s gives a value or an error', (name) => {
    fc.assert(
      fc.property(fc.array(anyValue, { maxLength: 8 }), (values) => {
        expect(isSound(totalOf(name as TotalName, values, textOrderOf('en')))).toBe(true);
      }),
      { numRuns: 150, seed: 7 },
    );
  });
  it('formats show it', () => {
    const codes = [
      '',
      '0',
      '#,##0.00',
      '0.0%',
      'd mmm yyyy',
      'hh:mm:ss.000',
      '@',
      '[Red]0;[Blue]-0',
      '0.00E+00',
      '# ?/?',
      '"',
      '\\',
    ];
    fc.assert(
      fc.property(anyGiven, fc.oneof(fc.constantFrom(...codes), fc.string({ maxLength: 40 })), (value, code) => {
        expect(typeof formatValue(value, code, { language: 'en', timeZone: 'UTC' })).toBe('string');
      }),
      { numRuns: 1500, seed: 7 },
    );
  });
});

describe('formulas that would run away', () => {
  it('SWITCH, CHOOSE and WITHIN work their value out once, however deep they are nested', () => {
    let nested = 'amount';
    for (let i = 0; i < 30; i++) nested = `SWITCH(${nested}; 1; 2; 2; 1; 3; 4; 0)`;
    let chosen = '1';
    for (let i = 0; i < 30; i++) chosen = `CHOOSE(${chosen}; 2; 1; 3; 4)`;
    const time = cpuTime(() => {
      expect(valueText(worked(nested, [1]))).toBe('1');
      expect(shown(chosen)).toBe('1');
    });
    expect(time).toBeLessThan(500);
  });
  it('numbers keep to a length', () => {
    const time = cpuTime(() => {
      expect(shown('ROUND(5; -100000000)')).toBe('0');
      expect(shown('ROUNDUP(5; -100000000)')).toBe('#NUM!');
      expect(shown('ROUNDDOWN(5.5; -100000000)')).toBe('0');
      expect(shown('ROUND(2.5; 100000000)')).toBe('2.5');
      expect(shown('TRUNC(1.23456789012345678901234567890123456789; 36)')).toBe(
        '1.234567890123456789012345678901234567',
      );
      expect(shown('ROUNDUP(1.00000000000000000000000000000000000001; 36)')).toBe(
        '1.000000000000000000000000000000000001',
      );
      expect(shown('GCD(1e309; 4)')).toBe('4');
      expect(shown('REPT(""; 1e999)')).toBe('');
      expect(shown('MOD(10^40 + 6; 7)')).toBe(String((10n ** 40n + 6n) % 7n));
      expect(shown('FLOOR(10^40 + 6; 7)')).toBe(String(10n ** 40n + 6n - ((10n ** 40n + 6n) % 7n)));
    });
    expect(time).toBeLessThan(500);
    expect(checked('1e9999')).toMatchObject({ ok: false, problems: [{ code: 'number-too-long', place: { from: 0 } }] });
    expect(parseNumeric('9'.repeat(100_000))).toBeNull();
  });
  it('long rows of operators have a place where they become too long', () => {
    for (const formula of [`1${'+1'.repeat(3000)}`, `1${'%'.repeat(9000)}`])
      expect(checked(formula)).toMatchObject({ ok: false, problems: [{ code: 'formula-too-deep' }] });
    expect(shown(`1${'+1'.repeat(700)}`)).toBe('701');
    expect(checked(`${'(1'.repeat(60)}${`${'+1'.repeat(80)})`.repeat(60)}`)).toMatchObject({ ok: false });
  });
  it('formats are read and numbers shown in a time that goes with their length', () => {
    const time = cpuTime(() => {
      expect(isFormatCode('";'.repeat(5000))).toBe(false);
      expect(formatValue(1, `${';'.repeat(150)}"${';'.repeat(40)}`, { language: 'en', timeZone: 'UTC' })).toBeTypeOf(
        'string',
      );
      const long = parseNumeric('9'.repeat(1000))!;
      expect(formatValue(long, '#,##0', { language: 'en', timeZone: 'UTC' })).toHaveLength(1333);
    });
    expect(time).toBeLessThan(300);
  });
  it('dates end with the year 9999', () => {
    for (const formula of [
      'DATE(9999; 12; 32)',
      'arrival + 9999999',
      'EDATE(arrival; 1e15)',
      'DATETIME(arrival; 1e15)',
      'DATE(0; 1; 1)',
    ])
      expect(valueText(worked(formula, [null, null, CalendarDate.parse('2025-01-01')])), formula).toBe('#NUM!');
    expect(CalendarDate.parse('10000-01-01')).toBeNull();
    expect(valueText(worked('DATE(9999; 12; 31)'))).toBe('9999-12-31');
    expect(shown('DAYSINMONTH(DATE(4; 2; 1)) & " " & ISOWEEKNUM(DATE(4; 1; 5))')).toBe('29 2');
  });
  it('names that every object has mean nothing', () => {
    for (const name of ['__proto__', 'constructor', 'toString', 'hasOwnProperty'])
      for (const formula of [name, `${name}(1)`]) expect(checked(formula).ok, formula).toBe(false);
  });
});

describe('a text where a number is needed', () => {
  it.each([
    ['ROUND(IF(amount > 10; amount; "n/a"); 2)', '#VALUE!'],
    ['SUM(IF(amount > 10; "abc"; "x" & 1); 5)', null],
    ['SUM(IF(amount > 10; 1; "abc"); 5)', '#VALUE!'],
    ['AVERAGE({1;"a";3})', '2'],
    ['AVERAGE(IFERROR(1/0; "-"); 5)', '#VALUE!'],
    ['AND(IF(amount > 10; TRUE; "abc"); TRUE)', '#VALUE!'],
    ['PRODUCT(2; "3")', '#VALUE!'],
    ['PRODUCT(2; IF(amount > 10; 1; "3"))', '#VALUE!'],
    ['PRODUCT({2;"3";4})', '8'],
    ['IF(IF(amount > 10; TRUE; "abc"); 1; 2)', '#VALUE!'],
    ['YEAR(IF(amount > 10; arrival; "abc"))', '#VALUE!'],
    ['COUNT({1;"a";TRUE})', '1'],
    ['COUNTA({1;"a";TRUE})', '3'],
    ['MEDIAN({1;"a";3})', '2'],
    ['STDEVP({2;4;4;4;5;5;7;9;"x"})', '2'],
    ['ISTEXT(1/0)', 'FALSE'],
    ['ISNUMBER(1/0)', 'FALSE'],
    ['ISBLANK(1/0)', 'FALSE'],
    ['ISLOGICAL(1/0)', 'FALSE'],
    ['IF(3; "yes"; "no")', null],
  ])('%s', (formula, expected) => {
    const result = checked(formula);
    if (expected === null) expect(result.ok).toBe(false);
    else expect(valueText(worked(formula, [1, 'note', CalendarDate.at(0)]))).toBe(expected);
  });
  it('is told of before the formula runs', () => {
    const result = checked('1 + IF(amount > 10; amount; "n/a")');
    expect(result).toMatchObject({ ok: true, warnings: [{ code: 'can-be-text', place: { from: 4, to: 34 } }] });
    expect(checked('1 + IF(amount > 10; amount; 0)')).toMatchObject({ ok: true, warnings: [] });
  });
});
