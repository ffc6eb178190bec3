import type { ContentEvent } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { block, number, section, tableEvents, text } from '../content.test-support.ts';
import { DocumentBuilder } from './builder.ts';
import type { DocumentNode, RowNode, TableNode } from './nodes.ts';
import { linesOf, rowWords } from './words.ts';

const nodesOf = (...events: ContentEvent[]): DocumentNode[] => {
  const builder = new DocumentBuilder();
  const nodes = [section(), ...events].flatMap((event) => builder.take(event));
  return [...nodes, ...builder.end()];
};
const kinds = (nodes: readonly DocumentNode[]): string[] => nodes.map(({ kind }) => kind);
const rows = (nodes: readonly DocumentNode[]): RowNode[] =>
  nodes.flatMap((node) => (node.kind === 'row' ? [node] : []));
const tables = (nodes: readonly DocumentNode[]): TableNode[] =>
  nodes.flatMap((node) => (node.kind === 'table' ? [node] : []));

describe('a document out of bands', () => {
  it('has texts alone as paragraphs, with the room above them', () => {
    const nodes = nodesOf(block([text('One', 0, 100)], { height: 30 }), block([text('Two', 20, 100)]));
    expect(kinds(nodes)).toEqual(['section', 'paragraph', 'paragraph']);
    expect(nodes[2]).toMatchObject({ before: 16, left: 20 });
  });

  it('makes one table of rows with the same columns, whose captions are its head', () => {
    const nodes = nodesOf(
      ...tableEvents([
        ['Brecha', 2],
        ['Lago Frio', 3],
      ]),
    );
    expect(kinds(nodes)).toEqual(['section', 'table', 'row', 'row', 'row', 'row', 'tableEnds']);
    expect(tables(nodes)[0]!.columns).toEqual([200, 100]);
    expect(rows(nodes).map(({ isHeader }) => isHeader)).toEqual([true, false, false, false]);
    expect(rows(nodes).map((row) => rowWords(row))).toEqual([
      'Hut  Nights',
      'Brecha  2.00',
      'Lago Frio  3.00',
      'Total  5.00',
    ]);
  });

  it('begins another table with the captions of the next rows, and at a heading', () => {
    const group = tableEvents([['Brecha', 2]]);
    expect(tables(nodesOf(...group, ...group))).toHaveLength(2);
    const heading = block([
      text('Region', 0, 100, {}, { heading: { level: 1, title: 'Region' } }),
      text('Office', 300, 100),
    ]);
    const nodes = nodesOf(heading, ...group);
    expect(tables(nodes)).toHaveLength(2);
    expect(rows(nodes)[1]!.isHeader).toBe(true);
  });

  it('finds the columns of cells that reach into one another, and of those that are not there in each row', () => {
    const nodes = nodesOf(
      block([text('bunk', 0, 120), number(60, 100, 40), number(29, 150, 50)]),
      block([text('linen', 0, 120), number(6.5, 150, 50)]),
      block([number(35.5, 150, 50)]),
    );
    expect(tables(nodes).map(({ columns }) => columns)).toEqual([[100, 50, 50]]);
    const places = rows(nodes).map(({ cells }) => cells.map(({ column, span }) => [column, span]));
    expect(places).toEqual([
      [
        [0, 1],
        [1, 1],
        [2, 1],
      ],
      [
        [0, 2],
        [2, 1],
      ],
      // An empty cell in front of a number that stands under the others.
      [
        [0, 2],
        [2, 1],
      ],
    ]);
  });

  it('reads what stands side by side one after the other, each with tables of its own', () => {
    const left = [
      text('a', 0, 50),
      number(1, 60, 40),
      text('b', 0, 50, {}, { y: 20 }),
      { ...number(2, 60, 40), y: 20 },
    ];
    const right = [{ ...text('c', 200, 50), height: 40 }];
    const bands = [
      { key: null, x: 0, y: 0, width: 100, height: 34 },
      { key: null, x: 200, y: 0, width: 50, height: 40 },
    ];
    const nodes = nodesOf(block([...left, ...right], { bands }));
    const [row] = rows(nodes);
    expect(row!.cells.map(({ nodes: inner }) => linesOf(inner))).toEqual([['a  1.00', 'b  2.00'], ['c']]);
    expect(kinds(row!.cells[0]!.nodes)).toEqual(['table', 'row', 'row', 'tableEnds']);
  });

  it('gives cells the colours behind them and the lines at their edges', () => {
    const nodes = nodesOf(
      block([text('a', 0, 100), number(1, 100, 100)], {
        fills: [{ x: 100, y: 0, width: 100, height: 14, fill: '#dddddd' }],
        lines: [{ x: 0, y: 14, x2: 200, y2: 14, width: 0.5, color: '#333333', isDashed: false }],
      }),
      block([text('b', 0, 100), number(2, 100, 100)]),
      block([], {
        height: 30,
        lines: [{ x: 0, y: 20, x2: 515, y2: 20, width: 1, color: '#333333', isDashed: true }],
      }),
    );
    const [first, second] = rows(nodes);
    expect(first!.cells.map(({ fill }) => fill)).toEqual([undefined, '#dddddd']);
    expect(first!.cells.every(({ edges }) => edges.bottom?.color === '#333333')).toBe(true);
    expect(second!.cells.every(({ edges }) => edges.bottom === undefined)).toBe(true);
    expect(nodes.at(-1)).toMatchObject({ kind: 'rule', edge: { isDashed: true } });
  });

  it('leaves out what the reader has closed', () => {
    const nodes = nodesOf(
      block([text('Closed', 0, 100)], { isCollapsed: true }),
      block([text('inside', 0, 100)], { depth: 1 }),
      block([text('Sum', 0, 100)]),
      block([text('Open', 0, 100)]),
      block([text('seen', 0, 100)], { depth: 1 }),
    );
    expect(linesOf(nodes)).toEqual(['Closed', 'Sum', 'Open', 'seen']);
  });

  it('writes long tables while their rows come', () => {
    const builder = new DocumentBuilder();
    builder.take(section());
    let written = 0;
    for (let i = 0; i < 2_000; i++)
      written += builder.take(block([text(`row ${i}`, 0, 100), number(i, 100, 100)])).length;
    expect(written).toBeGreaterThan(1_900);
  });
});
