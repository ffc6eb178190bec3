import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Decimal } from '../value/decimal.ts';
import { formatValue } from './format.ts';
import { plainCode, unknownLetters } from './format-code.ts';
import { formatFraction, parseFraction } from './fraction-format.ts';
import { sectionsOf } from './number-format.ts';

const settings = (language: string) => ({ language, timeZone: 'UTC' });

describe('numbers with separators', () => {
  it.each(['en', 'de', 'fr', 'sv', 'pt-BR', 'ja'])('are as the platform writes them in %s', (language) => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 15n), max: 10n ** 15n }),
        fc.integer({ min: 0, max: 4 }),
        (whole, digits) => {
          const value = Decimal.of(whole, digits);
          const own = new Intl.NumberFormat(language, {
            minimumFractionDigits: digits,
            maximumFractionDigits: digits,
            useGrouping: 'always' as never,
          });
          const shown = formatValue(value, digits === 0 ? '#,##0' : `#,##0.${'0'.repeat(digits)}`, settings(language));
          const expected = own.format(value.toString() as never).replace(/\u2212/g, '-');
          expect(shown).toBe(expected === '-0' ? '0' : expected);
        },
      ),
      { numRuns: 150, seed: 21 },
    );
  });
  it('are scaled by percent signs and commas exactly', () => {
    fc.assert(
      fc.property(fc.integer({ min: -9_999_999, max: 9_999_999 }), (cents) => {
        const value = Decimal.of(cents, 2);
        const plain = (by: Decimal, code: string) => formatValue(value.multiply(by), code, settings('en'));
        expect(formatValue(value, '0.000%', settings('en'))).toBe(`${plain(Decimal.of(100), '0.000')}%`);
        expect(formatValue(value, '#,##0,.000', settings('en'))).toBe(plain(Decimal.of(1, 3), '#,##0.000'));
        expect(formatValue(value, '0.0000,,', settings('en'))).toBe(plain(Decimal.of(1, 6), '0.0000'));
      }),
      { numRuns: 200, seed: 22 },
    );
  });
});

describe('fractions', () => {
  it('are the nearest there are with so many digits', () => {
    const code = parseFraction('?/??')!;
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9999 }), (ten) => {
        const value = ten / 10_000;
        const [above, below] = formatFraction(Decimal.of(ten, 4), code).trim().split('/').map(Number) as [
          number,
          number,
        ];
        let best = Number.POSITIVE_INFINITY;
        for (let q = 1; q <= 99; q++) best = Math.min(best, Math.abs(value - Math.round(value * q) / q));
        expect(Math.abs(value - above / below)).toBeLessThanOrEqual(best + 1e-12);
        expect(below).toBeLessThanOrEqual(99);
      }),
      { numRuns: 400, seed: 23 },
    );
  });
  it('keep the room of what is not there', () => {
    const widths = ['0', '0.5', '0.99', '3', '12.25'].map(
      (text) => formatValue(Decimal.parse(text)!, '?? ?/?', settings('en')).length,
    );
    expect(new Set(widths)).toEqual(new Set([6]));
  });
});

describe('the signs of a code', () => {
  it('part it outside quotes alone', () => {
    expect(sectionsOf('0;"a;b";\\;0;@')).toEqual(['0', '"a;b"', '\\;0', '@']);
    expect(sectionsOf('')).toEqual(['']);
  });
  it('that name a currency and a country become its sign', () => {
    expect(plainCode('[$€-816] #,##0')).toBe('"€" #,##0');
    expect(plainCode('[$-409]d mmm')).toBe('d mmm');
    expect(plainCode('"[$€-816]" 0')).toBe('"[$€-816]" 0');
    expect(plainCode('[Red][$kr-41D]0')).toBe('[Red]"kr"0');
  });
  it('are told of where they mean nothing', () => {
    expect(['q', 'ww', '0 kg', 'ddddd', 'x'].map(unknownLetters)).toEqual(['q', 'ww', 'k', 'ddddd', 'x']);
    for (const code of [
      '0.0E+0',
      'yyyy-mm-dd',
      'h:mm AM/PM',
      'General',
      '"kg"',
      '\\k',
      '_k0',
      '*x0',
      '[Red]0',
      '[h]:mm',
    ])
      expect([code, unknownLetters(code)]).toEqual([code, null]);
  });
});
