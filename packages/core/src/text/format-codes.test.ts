import { describe, expect, it } from 'vitest';
import { CalendarDate } from '../value/date.ts';
import { parseNumeric } from '../value/number.ts';
import { formatValue, isFormatCode } from './format.ts';

const day = CalendarDate.parse('2025-07-12')!;
const shown = (value: string, code: string, language = 'en'): string =>
  formatValue(value === 'day' ? day : (parseNumeric(value) ?? value), code, { language, timeZone: 'UTC' });

describe('number-format codes (ECMA-376, part 1, section 18.8.31)', () => {
  it.each([
    // Fractions.
    ['0.99', '# ?/?', '1    '],
    ['1.5', '# ?/?', '1 1/2'],
    ['0.333', '# ?/?', ' 1/3'],
    ['-2.25', '# ??/??', '-2  1/4 '],
    ['0.5', '?/?', '1/2'],
    ['1.25', '?/?', '5/4'],
    ['3.14159265', '# ???/???', '3  16/113'],
    ['2.3', '# ?/8', '2 2/8'],
    ['2.97', '# ?/8', '3    '],
    ['0', '0 ?/?', '0    '],
    // Thousands that are left out.
    ['1234567.891', '#,##0,.00', '1,234.57'],
    ['1234567', '#,##0,', '1,235'],
    ['1234567', '0.0,,', '1.2'],
    // Sections.
    ['5', ';;;', ''],
    ['day', ';;;', ''],
    ['hut', ';;;', ''],
    ['-5', '0;;', ''],
    ['0', '0;;', ''],
    ['hut', '0;-0;0;', ''],
    ['hut', '0;-0;0;"<"@">"', '<hut>'],
    ['hut', '"x"@', 'xhut'],
    ['hut', '0.00', 'hut'],
    ['-3', '0;(0)', '(3)'],
    ['150', '[>100]"many";[>10]"some";0', 'many'],
    ['50', '[>100]"many";[>10]"some";0', 'some'],
    ['-7', '[>100]"many";[>10]"some";0', '-7'],
    ['-0.001', '0.00', '0.00'],
    // Exponents.
    ['12345', '0.00E+00', '1.23E+04'],
    ['12345', '0.00e+00', '1.23e+04'],
    ['12345', '##0.0E+0', '12.3E+3'],
    // Places without digits.
    ['1.5', '0.0??', '1.5  '],
    ['5', '???', '  5'],
    ['1234567890123456789012', '[Red]#,##0', '1,234,567,890,123,456,789,012'],
  ])('%s by %s is “%s”', (value, code, expected) => {
    expect(isFormatCode(code)).toBe(true);
    expect(shown(value, code)).toBe(expected);
  });
  it.each([
    'en',
    'pt-PT',
    'de',
    'fr',
    'de-CH',
    'sv',
  ])('one sign parts thousands in %s, whatever else a code says', (language) => {
    const number = shown('1234567.5', '#,##0.00', language);
    expect(shown('1234567.5', '[$€-816]#,##0.00', language)).toBe(`€${number}`);
    expect(shown('1234567.5', '#,##0.00 [$€-407]', language)).toBe(`${number} €`);
    expect(shown('1234567.5', '[Blue]#,##0.00', language)).toBe(number);
    expect(shown('1234567.5', '_-* #,##0.00_-', language).trim()).toBe(number);
    expect(shown('1234567.5', '#,##0.0?', language).trim()).toBe(number.slice(0, -1));
  });
  it('letters that mean nothing are told of', () => {
    for (const code of ['q', 'ww', '0 kg', 'yyyy"Q"q', 'dddddd'])
      expect([code, isFormatCode(code)]).toEqual([code, false]);
    for (const code of ['yyyy', 'd mmm yyyy', 'hh:mm AM/PM', '0 "kg"', 'General', '[h]:mm:ss', '0.0E+0'])
      expect([code, isFormatCode(code)]).toEqual([code, true]);
  });
  it('months have names in languages that number them, too', () => {
    expect(shown('day', 'mmm', 'ja')).toBe('7月');
    expect(shown('day', 'd mmm yyyy', 'ko')).toBe('12 7월 2025');
    expect(shown('day', 'd mmm yyyy', 'pt-PT')).toBe('12 jul 2025');
    expect(shown('day', '"mmm" mmm', 'ja')).toBe('mmm 7月');
  });
});
