import { describe, expect, it } from 'vitest';
import { CalendarDate } from '../value/date.ts';
import { FormulaError, type Value, valueText } from '../value/value.ts';
import { functionNames } from './check.ts';
import { checked, worked } from './formulas.test-support.ts';
import { FUNCTIONS, SPECIAL_FORMS, TOTALS } from './functions/index.ts';

const value = worked;
const shown = (formula: string, row: Value[] = []): string => valueText(value(formula, row));
const problems = (formula: string) => {
  const result = checked(formula);
  return result.ok ? [] : result.problems;
};

describe('formulas', () => {
  const examples: [string, string][] = Object.entries({ ...FUNCTIONS, ...SPECIAL_FORMS, ...TOTALS }).map(
    ([name, { example }]) => [name, example],
  );
  it.each(examples)('%s gives what its example says', (name, example) => {
    expect(example).toContain(`${name}(`);
    expect(value(example)).toBe(true);
  });

  it('are at least eighty', () => {
    expect(functionNames().length).toBeGreaterThanOrEqual(80);
    expect(new Set(functionNames()).size).toBe(functionNames().length);
  });

  it('follow the standard’s precedence', () => {
    expect(shown('1 + 2 * 3')).toBe('7');
    expect(shown('-2 ^ 2')).toBe('4');
    expect(shown('2 ^ 3 ^ 2')).toBe('64');
    expect(shown('1 & 2 + 3')).toBe('15');
    expect(shown('50% * 8')).toBe('4');
    expect(shown('10 - 4 - 3')).toBe('3');
    expect(shown('1 + 1 = 2')).toBe('TRUE');
  });

  it('compute decimals exactly', () => {
    expect(shown('0.1 + 0.2')).toBe('0.3');
    expect(shown('1.005 * 1000')).toBe('1005');
    expect(shown('ROUND(2.675; 2)')).toBe('2.68');
    expect(shown('99999999999999999.99 + 0.01')).toBe('100000000000000000');
  });

  it('take a comma for a semicolon and a leading equals sign', () => {
    expect(shown('=IF(1 < 2, "yes", "no")')).toBe('yes');
  });

  it('count blank as 0 and as empty text', () => {
    expect(shown('amount + 1', [null])).toBe('1');
    expect(shown('amount = 0', [null])).toBe('TRUE');
    expect(shown('"[" & note & "]"', [null, null])).toBe('[]');
    expect(shown('ISBLANK(note)', [null, null])).toBe('TRUE');
  });

  it('carry error values on, and IFERROR catches them', () => {
    expect(value('1 / 0')).toBeInstanceOf(FormulaError);
    expect(shown('1 / 0 + 1')).toBe('#DIV/0!');
    expect(shown('IFERROR(1 / amount; "none")', [0])).toBe('none');
  });

  it('work on lists, and refuse them where one value is needed', () => {
    expect(shown('SUM({1; 2.5}; 3)')).toBe('6.5');
    expect(shown('COUNT({1;amount;3})', [null])).toBe('2');
    expect(shown('TEXTJOIN("-"; TRUE; {"a"; {"b"; "c"}})')).toBe('a-b-c');
    expect(problems('{1;2} + 1')[0]).toMatchObject({ code: 'wrong-type', place: { from: 0, to: 5 } });
    expect(problems('MATCH(1; 2)')[0]).toMatchObject({ code: 'wrong-type', place: { from: 9 } });
    expect(problems('{1;2')[0]).toMatchObject({ code: 'formula-syntax' });
  });

  it('work out only the argument that is chosen', () => {
    expect(shown('IFS(amount = 0; 0; TRUE; 1 / amount)', [0])).toBe('0');
    expect(shown('SWITCH(note; "a"; 1; "b"; 1 / 0; 3)', [0, 'a'])).toBe('1');
    expect(shown('CHOOSE(2; 1 / 0; "second")')).toBe('second');
    expect(shown('IFNA(1 / 0; 5)')).toBe('#DIV/0!');
    expect(shown('IFS(amount > 1; "more")', [0])).toBe('#N/A');
  });

  it('may start with a sign of equality, which is no part of them; a text of that sign is', () => {
    expect([shown('=1 + 2'), shown('"=" & 3')]).toEqual(['3', '=3']);
  });

  it('cannot run away', () => {
    expect(shown('REPT("ab"; 10000000)')).toBe('#VALUE!');
    expect(shown('SUBSTITUTE(REPT("a"; 100000); "a"; REPT("b"; 100000))')).toBe('#VALUE!');
    expect(shown('((((1.23456789^60)^60)^60)^60)')).toBe('#NUM!');
    expect(shown('WORKDAY(arrival; 1E+15)', [null, null, CalendarDate.parse('2025-01-01')])).toBe('#NUM!');
    expect(shown('FACT(100000)')).toBe('#NUM!');
    const busy = Array.from({ length: 600 }, () => 'LEN(REPT("a";999999))').join('+');
    const started = performance.now();
    expect(value(busy)).toMatchObject({ code: '#NUM!', detail: { phrase: 'e-too-much-work' } });
    expect(performance.now() - started).toBeLessThan(10_000);
    expect(shown('LEN(REPT("a"; 999999))')).toBe('999999');
  });

  it('say what is wrong and where', () => {
    expect(problems('1 +')[0]).toMatchObject({ code: 'formula-syntax', place: { from: 3 } });
    expect(problems('amuont * 2')[0]).toMatchObject({ code: 'unknown-name', place: { from: 0, to: 6 } });
    expect(problems('2 * SUMM(amount)')[0]).toMatchObject({
      code: 'unknown-function',
      place: { from: 4 },
      data: { hint: { phrase: 'did-you-mean', data: { name: 'SUM' } } },
    });
    expect(problems('amount * note')[0]).toMatchObject({ code: 'wrong-type', place: { from: 9, to: 13 } });
    expect(problems('ROUND()')[0]).toMatchObject({ code: 'wrong-arguments' });
    expect(problems('"open')[0]).toMatchObject({ code: 'formula-syntax' });
    expect(problems(`${'('.repeat(200)}1${')'.repeat(200)}`)[0]).toMatchObject({ code: 'formula-too-deep' });
    expect(problems(`${'-'.repeat(5000)}1`)[0]).toMatchObject({ code: 'formula-too-deep' });
  });
});
