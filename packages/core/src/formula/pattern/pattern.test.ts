import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cpuTime } from '../../cpu-time.test-support.ts';
import { findPattern, places, programOf, signsOf, TooMuchSearching, textOf } from './pattern.ts';

const budget = () => ({ left: 1e7 });

/** What a pattern finds: the part, and what its groups hold. */
const found = (pattern: string, text: string): (string | undefined)[] | null => {
  const signs = signsOf(text);
  const at = findPattern(programOf(pattern), signs, 0, budget());
  return (
    at &&
    Array.from({ length: at.length / 2 }, (_, i) =>
      at[2 * i]! < 0 ? undefined : textOf(signs, at[2 * i]!, at[2 * i + 1]!),
    )
  );
};

const PATTERNS = [
  'a|ab',
  '(a+)(b*)',
  'a*?b',
  '[a-c]+\\d{2,3}',
  '^x?y$',
  '\\bfoo\\b',
  '(a|b)*c',
  '(?:ab)+',
  '[^a]b',
  'a.c',
  '(a*)*',
  '(a|ab)(c|bcd)(d*)',
  '\\w+@\\w+\\.\\w+',
  '(\\d+)-(\\d+)',
  'a{2}',
  'a{2,}?',
  '(a?)(a?)',
  '[\\d_]+',
  '[-a]+',
  '\\s+\\S',
  'b|^a|$',
  '\\Bb',
];

describe('regular expressions', () => {
  it.each(PATTERNS)('%s finds what the platform’s own way of searching finds', (pattern) => {
    const own = new RegExp(pattern, 'u');
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'aabbcdxyfo01_-@. é😀'), maxLength: 12 }), (text) => {
        const expected = own.exec(text);
        expect(found(pattern, text)).toEqual(expected && [...expected]);
      }),
      { numRuns: 300, seed: 3 },
    );
  });
  it('take no notice of capitals where they are told so', () => {
    expect(found('(?i)água (\\w+)', 'Da ÁGUA Fria')).toEqual(['ÁGUA Fria', 'Fria']);
    expect(found('água', 'ÁGUA')).toBeNull();
    expect(found('(?i)[^a-c]+', 'ABCx')).toEqual(['x']);
  });
  it('say where they cannot be read', () => {
    const at = (pattern: string): number => {
      try {
        programOf(pattern);
        return 0;
      } catch (error) {
        return (error as { at: number }).at;
      }
    };
    for (const pattern of [
      'a)',
      '(a',
      '[a',
      'a**',
      '*a',
      'a{2',
      'a{3,2}',
      '\\',
      '\\q',
      '(?=a)',
      '(?<n>a)',
      '^*',
      'a{9999}',
      '[z-a]',
      '\\1',
    ])
      expect([pattern, at(pattern) > 0]).toEqual([pattern, true]);
    expect(at('ab)c')).toBe(3);
  });
  it('none runs away', () => {
    const time = cpuTime(() => {
      for (const [pattern, text] of [
        ['(x+x+)+y', 'x'.repeat(100_000)],
        ['(a|aa)+b|a', 'a'.repeat(50_000)],
        ['(.*)*z', 'a'.repeat(100_000)],
      ] as const)
        expect(() => [...places(programOf(pattern), signsOf(text), { left: 100_000 })]).toThrow(TooMuchSearching);
      expect(() => programOf('((a{1000}){1000})')).toThrow();
    });
    expect(time).toBeLessThan(1500);
  });
});
