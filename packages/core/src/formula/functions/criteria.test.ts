import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CalendarDate } from '../../value/date.ts';
import { Decimal } from '../../value/decimal.ts';
import type { Value } from '../../value/value.ts';
import { rowContext } from '../formulas.test-support.ts';
import { criterionOf } from './criteria.ts';
import { matchesWildcards, readWildcards, searchWildcards } from './wildcards.ts';
import { writtenNumber } from './written-number.ts';

/** A text with wildcards as a regular expression of the platform’s own. */
const asPattern = (source: string): string =>
  source.replace(/~([*?~])|([*?])|(.)/gsu, (_, escaped, wild, sign) =>
    wild ? (wild === '*' ? '[\\s\\S]*' : '[\\s\\S]') : (escaped ?? sign).replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&'),
  );
const signs = fc.string({ unit: fc.constantFrom(...'ab*?~.é'), maxLength: 8 });

describe('wildcards', () => {
  it('match and find as a plain search does', () => {
    fc.assert(
      fc.property(signs, signs, (source, text) => {
        const wanted = readWildcards(source);
        const list = Array.from(text);
        expect(matchesWildcards(wanted, list)).toBe(new RegExp(`^${asPattern(source)}$`, 'u').test(text));
        const at = new RegExp(asPattern(source), 'u').exec(text)?.index ?? -1;
        expect(searchWildcards(wanted, list, 0)).toBe(at < 0 ? -1 : Array.from(text.slice(0, at)).length);
      }),
      { numRuns: 3000, seed: 9 },
    );
  });
});

describe('criteria', () => {
  const day = CalendarDate.parse('2025-07-12')!;
  it.each<[Value, Value, boolean]>([
    [5, 5, true],
    [5, '5', true],
    [5, '=5', true],
    [5, '>=5', true],
    [5, '>5', false],
    [Decimal.of(55, 1), '<5.6', true],
    ['5', '5', false],
    ['Stayed', 'stayed', true],
    ['stayed', '<>Stayed', false],
    ['Lago Frio', 'lago*', true],
    ['Lago Frio', '=l?go*o', true],
    ['a*b', 'a~*b', true],
    ['axb', 'a~*b', false],
    ['b', '>a', true],
    ['b', '>A', true],
    [5, '>a', false],
    [null, '', true],
    ['', '', true],
    [null, '=', true],
    ['', '=', true],
    [0, '', false],
    [null, '<>', false],
    [7, '<>', true],
    [null, '<>5', true],
    [null, '<5', false],
    [null, '0', false],
    [true, 'TRUE', true],
    [true, true, true],
    [1, true, false],
    [day, '2025-07-12', true],
    [day, '>2025-07-01', true],
    [day, day, true],
  ])('%s by %s: %s', (value, criterion, expected) => {
    expect(criterionOf(criterion, rowContext())(value)).toBe(expected);
  });
});

it('numbers are read as they are written, and nothing else is', () => {
  const read = (text: string, point = '.', group = ','): string | null => {
    const found = writtenNumber(text, point, group);
    return found === null ? null : String(found);
  };
  expect(
    ['12', '1,234.5', '-3', '(5)', '50%', '$12', '12 €', '1e3', '.5', '5.', '+7', '- 3', '1,234,567'].map((one) =>
      read(one),
    ),
  ).toEqual(['12', '1234.5', '-3', '-5', '0.50', '12', '12', '1000', '0.5', '5', '7', '-3', '1234567']);
  for (const wrong of [
    '',
    '-',
    '.',
    '1,23',
    '1,2345',
    ',123',
    '1.2.3',
    '12 34',
    '(-5)',
    '5%%%x',
    '$',
    '1e',
    '$5%',
    'abc',
    '1,234,5',
  ])
    expect([wrong, read(wrong)]).toEqual([wrong, null]);
  expect(read('1.234.567,89', ',', '.')).toBe('1234567.89');
  expect(read('1 234,5', ',', ' ')).toBe('1234.5');
  expect(read('9'.repeat(4000))).toBeNull();
});
