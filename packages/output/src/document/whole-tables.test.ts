import type { ContentEvent } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { block, number, section, tableEvents, text } from '../content.test-support.ts';
import { type Cut, cut } from './cut.ts';
import { throughTables } from './whole-tables.ts';
import { linesOf, plainWords, rowWords, wordsOf } from './words.ts';

/** What is told of a document, in short. */
const toldOf = async (...events: ContentEvent[]): Promise<string[]> => {
  const told: string[] = [];
  await throughTables(
    async (listener) => {
      for (const event of events) await listener(event);
    },
    {
      node: (node) => {
        if (node.kind === 'paragraph') told.push(wordsOf(node.part));
        else told.push(`(${node.kind})`);
      },
      table: (_, rows, isWhole) => void told.push(`table of ${rows.length}${isWhole ? '' : ' and more'}`),
      row: (_, row) => void told.push(`row ${rowWords(row)}`),
      tableEnds: () => void told.push('end'),
    },
  );
  return told;
};

describe('tables told with their first rows', () => {
  it('come whole where they are short, after what the top of the first page shows', async () => {
    const header = block([text('Cumeeira', 0, 100)]);
    expect(await toldOf(section({ header }), ...tableEvents([['Brecha', 2]]), section({ header }))).toEqual([
      '(section)',
      'Cumeeira',
      'table of 3',
      'end',
      '(section)',
    ]);
  });

  it('go on row by row where they are long', async () => {
    const rows = Array.from({ length: 500 }, (_, i) => block([text(`r${i}`, 0, 100), number(i, 100, 50)]));
    const told = await toldOf(section(), ...rows);
    expect(told[1]).toBe('table of 400 and more');
    expect(told.filter((one) => one.startsWith('row '))).toHaveLength(100);
    expect(told.at(-1)).toBe('end');
  });

  it('give what stands side by side one after the other, and go on behind it', async () => {
    const left = [text('a', 0, 50), number(1, 60, 40), { ...text('b', 0, 50), y: 20 }, { ...number(2, 60, 40), y: 20 }];
    const bands = [
      { key: null, x: 0, y: 0, width: 100, height: 34 },
      { key: null, x: 200, y: 0, width: 50, height: 34 },
    ];
    const beside = block([...left, { ...text('c', 200, 50), height: 34 }], { bands });
    const row = block([text('x', 0, 50), text('y', 200, 50)]);
    expect(await toldOf(section(), row, beside, row)).toEqual([
      '(section)',
      'table of 1',
      'end',
      'table of 2',
      'end',
      'c',
      'table of 1',
      'end',
    ]);
  });
});

describe('the words of a document', () => {
  it('are plain: no signs that command a terminal, no halves of characters', () => {
    expect(plainWords('a\u0007b\u001b[31mc\u2028d\ud83d')).toBe('a b [31mc d\ufffd');
    expect(plainWords('tab\tand\nline')).toBe('tab\tand\nline');
  });

  it('say what a picture shows, and the mark of an item of a list', () => {
    const picture = {
      x: 0,
      y: 0,
      width: 9,
      height: 9,
      content: { kind: 'picture' as const, picture: 'h', alternative: 'A hut' },
    };
    expect(wordsOf(picture)).toBe('[A hut]');
    expect(wordsOf({ ...picture, content: { ...picture.content, alternative: '' } })).toBe('');
    expect(wordsOf(text('lamp', 0, 9, { listed: { mark: '2.', depth: 0 } }))).toBe('2. lamp');
    expect(linesOf([{ kind: 'break', parity: null }])).toEqual([]);
  });
});

describe('boxes cut into rows and columns', () => {
  const box = (name: string, x: number, y: number, width: number, height: number) => ({ name, x, y, width, height });
  const shape = (one: Cut<ReturnType<typeof box>>): unknown =>
    one.kind === 'one' ? one.one.name : [one.kind, ...one.items.map(shape)];

  it('are rows first, or columns first where that is asked for', () => {
    const grid = [box('a', 0, 0, 10, 10), box('b', 20, 0, 10, 10), box('c', 0, 20, 10, 10), box('d', 20, 20, 10, 10)];
    expect(shape(cut(grid))).toEqual(['stack', ['row', 'a', 'b'], ['row', 'c', 'd']]);
    expect(shape(cut(grid, 'row'))).toEqual(['row', ['stack', 'a', 'c'], ['stack', 'b', 'd']]);
  });

  it('that reach into one another on a line are side by side, as wide as up to the next', () => {
    const laid = cut([box('wide', 0, 0, 120, 10), box('b', 100, 1, 40, 10), box('c', 150, 0, 20, 10)]);
    expect(shape(laid)).toEqual(['row', 'wide', 'b', 'c']);
    expect(laid.kind === 'row' && laid.items[0]!.box.width).toBe(100);
  });

  it('that lie over one another come from top to bottom', () => {
    expect(shape(cut([box('under', 0, 5, 50, 30), box('over', 0, 0, 50, 30)]))).toEqual(['stack', 'over', 'under']);
  });

  it('beside a high one keep their own order', () => {
    const laid = cut([
      box('photo', 0, 0, 40, 60),
      box('a', 50, 0, 90, 10),
      box('b', 50, 20, 40, 10),
      box('c', 100, 20, 40, 10),
    ]);
    expect(shape(laid)).toEqual(['row', 'photo', ['stack', 'a', ['row', 'b', 'c']]]);
  });
});
