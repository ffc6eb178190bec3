import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Mark, TextMark } from './page.ts';
import { findOnPage, plainWords, wordsOfPage } from './words.ts';

const text = (words: string, more: Partial<TextMark> = {}): Mark => ({
  kind: 'text',
  x: 0,
  y: 10,
  text: words,
  font: 'Source Sans 3/400',
  size: 10,
  color: '#000000',
  width: words.length * 5,
  ...more,
});

const found = (marks: Mark[], sought: string) =>
  findOnPage({ marks }, sought).map(({ pieces, match }) => [match, ...pieces.map((p) => [p.text, p.from, p.to])]);

describe('words on a page', () => {
  it('are found in any case, with or without accents, however many spaces there are', () => {
    const marks: Mark[] = [
      text('Três Irmãos e  a Ação'),
      { kind: 'line', x: 0, y: 0, x2: 9, y2: 0, thickness: 1, color: '#000000' },
      text('AÇÃO'),
    ];
    expect(found(marks, 'acao')).toEqual([
      ['Ação', [0, 17, 21]],
      ['AÇÃO', [1, 0, 4]],
    ]);
    expect(found(marks, ' IRMÃOS E A ')).toEqual([['Irmãos e  a', [0, 5, 16]]]);
    expect(found(marks, 'nothing of it')).toEqual([]);
    expect(found(marks, '  ')).toEqual([]);
  });

  it('are found across the ends of lines, and across pieces of one word', () => {
    expect(found([text('the long'), text('way round')], 'long way')).toEqual([['long way', [0, 4, 8], [1, 0, 3]]]);
    const of = { item: 'a', part: 0 };
    const pieces = [text('Sea', { ...of, x: 0, width: 15 }), text('son', { ...of, x: 15.2 })];
    expect(found(pieces, 'season')).toEqual([['Season', [0, 0, 3], [1, 0, 3]]]);
    expect(found([pieces[0]!, text('son', { ...of, x: 30 })], 'season')).toEqual([]);
    expect(found([text('Sea'), text('son', { x: 15 })], 'season')).toEqual([]);
  });

  it('are found whole where a sign stands for several, or several for one', () => {
    expect(found([text('ﬁrst İstanbul')], 'FIRST istanbul')).toEqual([['ﬁrst İstanbul', [0, 0, 13]]]);
    expect(found([text('Cafe\u0301 de Baixo')], 'cafe de')).toEqual([['Cafe\u0301 de', [0, 0, 8]]]);
    expect(found([text('um café')], 'cafe\u0301')).toEqual([['café', [0, 3, 7]]]);
    expect(found([text('٣ أكواخ 😀😀')], '😀')).toEqual([
      ['😀', [0, 8, 10]],
      ['😀', [0, 10, 12]],
    ]);
  });

  it('come with a few words around them', () => {
    const [only] = findOnPage({ marks: [text('x'.repeat(60)), text('the hut at the pass')] }, 'hut');
    expect(only).toMatchObject({ before: `${'x'.repeat(35)} the `, match: 'hut', after: ' at the pass' });
  });

  it('are as many as the plain words of the page hold, whatever they are', () => {
    const sign = fc.constantFrom(
      'a',
      'á',
      'A',
      'ﬁ',
      'ß',
      ' ',
      '\u00a0',
      '\t',
      '\u0301',
      'İ',
      '😀',
      'é',
      '½',
      'ش',
      'Σ',
      'ﷺ',
      '´',
    );
    const words = fc.array(sign, { maxLength: 8 }).map((signs) => signs.join(''));
    fc.assert(
      fc.property(fc.array(words, { maxLength: 5 }), words, (texts, sought) => {
        const marks = texts.map((one) => text(one));
        const wanted = plainWords(sought).trim();
        const count = wanted === '' ? 0 : wordsOfPage({ marks }).split(wanted).length - 1;
        expect(findOnPage({ marks }, sought)).toHaveLength(count);
      }),
      { numRuns: 500, seed: 19 },
    );
  });
});
