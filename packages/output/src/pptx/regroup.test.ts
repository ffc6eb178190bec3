import type { Mark, Page, RegionMark } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { textMark } from '../marks.test-support.ts';
import { regrouped } from './regroup.ts';

const [WIDTH, HEIGHT] = [400, 300];

/** A band of 30 points with its words in the middle. */
const band = (words: string, y: number, more: Partial<RegionMark> = {}, look: object = {}): Mark[] => [
  textMark(words, words, 10, y + 18, look),
  { kind: 'region', band: 's/detail', rows: words, x: 0, y, width: WIDTH, height: 30, ...more },
];
const BEGINS = { begins: true } as const;
const AGAIN = { as: 'artifact' } as const;
const foot = (words: string): Mark => textMark('foot', words, 10, 285, AGAIN);

/** The words on each page, with where they stand. */
const pagesOf = async (...given: (Mark[] | { marks: Mark[]; width: number })[]): Promise<[string, number][][]> => {
  async function* pages(): AsyncGenerator<Page> {
    for (const [i, one] of given.entries()) {
      const { marks, width } = Array.isArray(one) ? { marks: one, width: WIDTH } : one;
      yield { number: i + 1, width, height: HEIGHT, marks };
    }
  }
  const made: [string, number][][] = [];
  for await (const { number, marks } of regrouped(pages())) {
    expect(number).toBe(made.length + 1);
    made.push(marks.flatMap((mark) => (mark.kind === 'text' ? [[mark.text, mark.y] as [string, number]] : [])));
  }
  return made;
};
const wordsOf = async (...given: Parameters<typeof pagesOf>): Promise<string[]> =>
  (await pagesOf(...given)).map((page) => page.map(([words]) => words).join(' '));

describe('pages by their groups', () => {
  it('begin with each, at the top', async () => {
    const made = await pagesOf([...band('North', 20, BEGINS), ...band('South', 50, BEGINS), foot('1')]);
    expect(made).toEqual([
      [
        ['North', 38],
        ['1', 285],
      ],
      [
        ['South', 38],
        ['1', 285],
      ],
    ]);
  });

  it('go on where the page before ended, without captions that were said there', async () => {
    const made = await pagesOf(
      [...band('North', 20, BEGINS), ...band('Brecha', 50), foot('1')],
      [...band('Captions', 20, {}, AGAIN), ...band('Lagoa', 50), foot('2')],
    );
    expect(made).toEqual([
      [
        ['North', 38],
        ['Brecha', 68],
        ['Lagoa', 98],
        ['1', 285],
      ],
    ]);
  });

  it('are as many as a group needs, none longer than a page', async () => {
    const rows = (from: number): Mark[] =>
      Array.from({ length: 8 }, (_, i) => band(`r${from + i}`, 20 + i * 30)).flat();
    const made = await pagesOf([...band('North', 0, BEGINS), ...rows(1), foot('1')], [...rows(9), foot('2')]);
    expect(made.flat().filter(([words]) => words.startsWith('r'))).toHaveLength(16);
    for (const page of made) for (const [, y] of page) expect(y).toBeLessThanOrEqual(285);
  });

  it('keep everything where there are no groups, in its order', async () => {
    const first = [...band('a', 20), ...band('b', 50), foot('1')];
    expect(await wordsOf(first, [...band('c', 20), foot('2')])).toEqual(['a b c 1']);
    expect(await wordsOf([textMark('x', 'alone', 10, 40)], [textMark('y', 'too', 10, 40)])).toEqual(['alone', 'too']);
    expect(await wordsOf()).toEqual([]);
  });

  it('do not mix paper of two sizes', async () => {
    const wide = { marks: band('Wide', 20), width: 800 };
    expect(await wordsOf(band('Narrow', 20), wide, band('Last', 20))).toEqual(['Narrow', 'Wide', 'Last']);
  });

  it('keep with a band what flows on after it, as the rows of a crosstab', async () => {
    const flowing = [textMark('x', 'x1', 10, 70), textMark('x', 'x2', 10, 90)];
    const made = await wordsOf(
      [...band('North', 20, BEGINS), ...flowing, foot('1')],
      [...band('South', 20, BEGINS), foot('2')],
    );
    expect(made).toEqual(['North x1 x2 1', 'South 2']);
  });
});
