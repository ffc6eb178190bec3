import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hasCommonLetters, textOrderOf } from './text-order.ts';

const words = fc.oneof(
  fc.string({ maxLength: 6 }),
  fc.string({ maxLength: 6, unit: fc.constantFrom(...'aAbBzZ09 -_éÉçßİıøǾａ한я😀') }),
);

describe('the order of texts', () => {
  it.each([
    'en',
    'pt-PT',
    'sv',
    'tr',
    'cs',
  ])('takes no notice of capitals, and is one order of all texts, in %s', (language) => {
    const { compare, same, fold, sort } = textOrderOf(language);
    const collator = new Intl.Collator(language);
    fc.assert(
      fc.property(words, words, words, (a, b, c) => {
        // As slowly as it can be told.
        const [x, y] = [a, b].map((text) =>
          hasCommonLetters(language) ? text.toLowerCase() : text.toLocaleLowerCase(language),
        );
        expect(same(a, b)).toBe(x === y);
        expect(compare(a, b) === 0).toBe(x === y);
        const expected = Math.sign(collator.compare(x!, y!));
        if (expected !== 0) expect(Math.sign(compare(a, b))).toBe(expected);
        expect(Math.sign(compare(a, b))).toBe(-Math.sign(compare(b, a)) + 0);
        if (compare(a, b) <= 0 && compare(b, c) <= 0) expect(compare(a, c)).toBeLessThanOrEqual(0);
        expect(sort(a, b) === 0).toBe(a === b);
        expect(fold(fold(a))).toBe(fold(a));
      }),
      { numRuns: 2000, seed: 5 },
    );
  });
  it('knows the letters of Turkish, and of the others', () => {
    expect(textOrderOf('tr').same('ISPARTA', 'ısparta')).toBe(true);
    expect(textOrderOf('tr').same('I', 'i')).toBe(false);
    expect(textOrderOf('en').same('I', 'i')).toBe(true);
    expect(['Zimbro', 'ágata', 'Água', 'abrigo'].sort(textOrderOf('pt-PT').compare)).toEqual([
      'abrigo',
      'ágata',
      'Água',
      'Zimbro',
    ]);
  });
});
