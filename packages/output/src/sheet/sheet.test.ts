import {
  CalendarDate,
  type ContentBlock,
  type ContentEvent,
  type Decimal,
  FormulaError,
  Moment,
  type PieceSum,
  parseNumeric,
  type Value,
} from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { block, LOOK, number, section, tableEvents, text } from '../content.test-support.ts';
import { Interned } from './cell-look.ts';
import { Collector } from './collect.ts';
import { type SheetRow, SheetRows } from './rows.ts';
import { rowSum, sumText } from './sums.ts';
import { SheetTotals } from './totals.ts';
import { fromWaiting, toWaiting } from './wire.ts';

const decimal = (written: string): Decimal => parseNumeric(written) as Decimal;

interface Laid {
  columns: number[];
  rows: SheetRow[];
  pictures: SheetRows['pictures'];
}

/** A document as the rows of its first sheet. */
const laid = async (...events: ContentEvent[]): Promise<Laid> => {
  const collector = new Collector({ split: 'pages', picture: async () => 0 });
  try {
    for (const event of [section(), ...events]) await collector.take(event);
    await collector.end();
    const sheet = new SheetRows(
      collector.sheets[0]!,
      { looks: collector.looks.all, headings: collector.headings },
      true,
    );
    const rows: SheetRow[] = [];
    for await (const row of sheet.rows()) rows.push(row);
    return { columns: sheet.columns, rows, pictures: sheet.pictures };
  } finally {
    await collector.close();
  }
};

const at = (box: { y: number; height?: number }, part: ContentBlock['parts'][number]) => ({ ...part, ...box });
const wordsOf = ({ cells }: SheetRow): string[] => cells.map(({ words }) => String(words));

describe('the columns of a sheet', () => {
  it('begin where texts do, and are the same for texts that are a hair apart', async () => {
    const { columns } = await laid(
      block([text('a', 0, 100), text('b', 100, 50)]),
      block([text('c', 1, 100), text('d', 99.5, 50), text('e', 150, 50)]),
    );
    expect(columns).toEqual([0, 99.5, 150, 200]);
  });

  it('keep the room beside a text that stands at its right edge apart from it', async () => {
    const { columns } = await laid(block([number(1, 0, 60), text('far', 200, 100)]));
    expect(columns).toEqual([0, 60, 200, 300]);
    const { columns: left } = await laid(block([text('left', 0, 60), text('far', 200, 100)]));
    expect(left).toEqual([0, 200, 300]);
  });

  it('begin at the edge of the paper, also where nothing stands there', async () => {
    expect((await laid(block([text('in', 40, 100)]))).columns).toEqual([0, 40, 140]);
    expect((await laid()).columns).toEqual([0, 20]);
  });
});

describe('the rows of a sheet', () => {
  it('are the lines of a band, with what is higher covering those beside it', async () => {
    const high = at({ y: 0, height: 40 }, text('high', 0, 100, { align: 'center' }));
    const { rows } = await laid(block([high, text('a', 100, 50), at({ y: 20 }, text('b', 100, 50))]));
    expect(rows.map(wordsOf)).toEqual([['high', 'a'], ['b']]);
    expect(rows[0]!.cells.map((cell) => cell.rows)).toEqual([2, 1]);
    expect(rows.reduce((sum, { height }) => sum + height, 0)).toBe(40);
  });

  it('keep the room between bands, small room with the next row and more as a row of its own', async () => {
    const { rows } = await laid(
      block([text('a', 0, 100)], { height: 18 }),
      block([at({ y: 20 }, text('b', 0, 100))], { height: 34 }),
    );
    expect(rows.map(wordsOf)).toEqual([['a'], [], ['b']]);
    expect(rows[1]!.height).toBe(24);
    const tight = await laid(block([text('a', 0, 100)], { height: 18 }), block([text('b', 0, 100)]));
    expect(tight.rows.map(({ height }) => height)).toEqual([14, 18]);
  });

  it('let short texts go on over empty cells, and merge what could not', async () => {
    const { rows } = await laid(
      block([text('x', 0, 50), text('y', 50, 50), text('z', 100, 50)]),
      block([text('a title that is longer', 0, 150)]),
      block([number(1, 0, 150)]),
      block([text('middle', 0, 150, { align: 'center' })]),
      block([text('framed', 0, 150, { background: '#eeeeee' })]),
    );
    expect(rows.slice(1).map(({ cells }) => cells[0]!.span)).toEqual([1, 3, 3, 3]);
  });

  it('indent what stands further in, and part a text from the number before it', async () => {
    const { rows } = await laid(
      block([text('label', 0, 100), number(1, 100, 50), text('note', 150, 80)]),
      block([at({ y: 0 }, text('inner', 2, 98, { padding: { top: 0, right: 0, bottom: 0, left: 12 } }))]),
    );
    expect(rows[0]!.cells.map(({ look }) => look.indent)).toEqual([0, 0, 7]);
    expect(rows[1]!.cells[0]!.look.indent).toBe(14);
  });

  it('have the colours and lines that stand behind their cells', async () => {
    const line = { y: 14, y2: 14, width: 1, color: '#333333', isDashed: false };
    const { rows } = await laid(
      block([text('a', 0, 100), number(1, 100, 50), text('end', 150, 50)], {
        fills: [{ x: 0, y: 0, width: 150, height: 14, fill: '#dddddd' }],
        lines: [{ ...line, x: 0, x2: 150 }],
      }),
      block([text('b', 0, 40), text('end', 150, 50)], {
        fills: [{ x: 0, y: 0, width: 200, height: 14, edge: { width: 1, color: '#111111', isDashed: true } }],
      }),
    );
    expect(rows[0]!.cells.map(({ look }) => look.fill)).toEqual(['#dddddd', '#dddddd', undefined]);
    expect(rows[0]!.cells.map(({ look }) => look.edges.bottom?.color)).toEqual(['#333333', '#333333', undefined]);
    // A frame goes on over the cell between, which holds nothing.
    expect(rows[1]!.bare.get(1)?.edges.top?.isDashed).toBe(true);
  });

  it('fold away what lies under a closed heading, to the next that lies no deeper', async () => {
    const { rows } = await laid(
      block([text('closed', 0, 100)], { depth: 1, isCollapsed: true }),
      block([text('in', 0, 100)], { depth: 2 }),
      block([text('deeper', 0, 100)], { depth: 3, isCollapsed: true }),
      block([text('deepest', 0, 100)], { depth: 4 }),
      block([text('beside', 0, 100)], { depth: 1 }),
      block([text('open', 0, 100)], { depth: 2 }),
    );
    expect(rows.map(({ isHidden }) => isHidden)).toEqual([false, true, true, true, false, false]);
    expect(rows.map(({ level }) => level)).toEqual([1, 2, 3, 4, 1, 2]);
  });

  it('have pictures where they stand, measured from their cell and from the top', async () => {
    const picture: ContentBlock['parts'][number] = {
      x: 110,
      y: 24,
      width: 40,
      height: 20,
      content: { kind: 'picture', picture: 'hash', alternative: 'A hut' },
    };
    const { pictures, rows } = await laid(
      block([text('first', 0, 100)]),
      block([text('a', 0, 100), at({ y: 20 }, text('b', 0, 100)), at({ y: 20 }, text('c', 100, 50)), picture]),
    );
    const [placed] = pictures;
    const above = rows.slice(0, placed!.row).reduce((sum, { height }) => sum + height, 0);
    // A picture begins a column of its own.
    expect(placed).toMatchObject({ column: 2, dx: 0, dy: 4, width: 40 });
    expect(placed!.top).toBe(above + 4);
  });

  it('ask for a new page with the row that begins it', async () => {
    const { rows } = await laid(
      { kind: 'break', parity: null },
      block([text('a', 0, 100)]),
      { kind: 'break', parity: null },
      block([text('b', 0, 100)]),
      block([text('c', 0, 100)]),
    );
    expect(rows.map(({ breaks }) => breaks)).toEqual([false, true, false]);
  });

  it('say in several looks what has several, and in one what has one', async () => {
    const bold = { ...LOOK, bold: true };
    const { rows } = await laid(
      block([
        text('', 0, 100, {
          runs: [
            { text: 'a', look: LOOK },
            { text: 'b', look: LOOK },
          ],
        }),
      ]),
      block([
        text('', 0, 100, {
          runs: [
            { text: 'a', look: LOOK },
            { text: 'b', look: bold },
          ],
        }),
      ]),
      block([text('lamp', 0, 100, { listed: { mark: '•', depth: 0 } })]),
    );
    expect(rows[0]!.cells[0]!.words).toBe('ab');
    expect(rows[1]!.cells[0]!.words).toEqual([
      ['a', expect.any(Number)],
      ['b', expect.any(Number)],
    ]);
    expect(rows[2]!.cells[0]!.words).toBe('• lamp');
  });
});

describe('what is worked out in a row', () => {
  const [nights, rate] = [
    { column: 1, value: 3, source: 'nights' },
    { column: 2, value: decimal('12.345'), source: 'rate' },
  ];
  const product = { operator: '*' as const, parts: [{ of: 'nights' }, { of: 'rate' }] };
  const texts = (sum: PieceSum, value: Value): string | null => {
    const own = { column: 4, value };
    const found = rowSum(sum, own, [nights, rate, own]);
    return found && sumText(found, (column) => `C${column}`, ';');
  };

  it('is a formula over the cells beside it where that comes to the same number', () => {
    expect(texts(product, decimal('37.035'))).toBe('C1*C2');
    const less = { operator: '-' as const, parts: [product, { number: '-2' }] };
    expect(texts(less, decimal('39.035'))).toBe('(C1*C2)-(-2)');
    expect(texts({ operator: '-', parts: [{ of: 'rate' }] }, decimal('-12.345'))).toBe('-C2');
    expect(texts({ round: 1, part: product }, 37)).toBe('ROUND(C1*C2;1)');
    // A part that has a cell of its own is that cell.
    expect(texts({ operator: '+', parts: [{ ...product, of: 'nights' }, { number: '1' }] }, 4)).toBe('C1+1');
  });

  it('is none where it comes to another number, lacks a cell, or may be rounded in two ways', () => {
    expect(texts(product, 37)).toBeNull();
    expect(texts({ operator: '+', parts: [{ of: 'nights' }, { of: 'beds' }] }, 3)).toBeNull();
    expect(texts({ operator: '/', parts: [{ of: 'nights' }, { number: '0' }] }, 0)).toBeNull();
    expect(texts({ round: 2, part: { of: 'rate' } }, decimal('12.35'))).toBeNull();
    expect(texts({ operator: '+', parts: [{ number: '1' }, { number: '2' }] }, 3)).toBeNull();
    expect(texts(product, '37.035')).toBeNull();
  });
});

describe('totals of a sheet', () => {
  const sum = { name: 'SUM', of: 'nights' } as const;

  it('reach from the beginning of the innermost part that comes to their value', () => {
    const totals = new SheetTotals(true);
    totals.begins(0);
    totals.cell(0, 1, 2, 'nights', undefined);
    totals.begins(1);
    totals.cell(1, 1, 3, 'nights', undefined);
    expect(totals.cell(2, 5, 3, undefined, sum)).toEqual({ name: 'SUM', column: 1, from: 1, to: 1 });
    expect(totals.cell(2, 6, 3, undefined, { name: 'MIN', of: 'nights' })).toMatchObject({ from: 1, to: 1 });
    totals.ends();
    expect(totals.cell(3, 6, 3, undefined, { name: 'MAX', of: 'nights' })).toMatchObject({ from: 0, to: 2 });
    expect(totals.cell(3, 5, 5, undefined, sum)).toEqual({ name: 'SUM', column: 1, from: 0, to: 2 });
    expect(totals.cell(4, 5, 6, undefined, sum)).toBeNull();
  });

  it('are exact where floating numbers are not', () => {
    const totals = new SheetTotals(true);
    for (const [row, written] of ['0.1', '0.2'].entries()) totals.cell(row, 0, decimal(written), 'nights', undefined);
    expect(totals.cell(2, 1, decimal('0.3'), undefined, sum)).not.toBeNull();
    expect(totals.cell(3, 1, decimal('0.30000000000000004'), undefined, sum)).toBeNull();
  });

  it('are none of nothing, of values that are not shown, and where they are not wanted', () => {
    const totals = new SheetTotals(true);
    expect(totals.cell(0, 0, 0, undefined, sum)).toBeNull();
    totals.cell(1, 0, 1, 'nights', undefined);
    totals.begins(2);
    expect(totals.cell(2, 1, 0, undefined, sum)).toBeNull();
    expect(totals.cell(2, 1, 2, undefined, { name: 'MAX', of: 'nights' })).toBeNull();
    const unwanted = new SheetTotals(false);
    unwanted.cell(0, 0, 1, 'nights', undefined);
    expect(unwanted.cell(1, 0, 1, undefined, sum)).toBeNull();
  });

  it('of a document name the cells that stand above them', async () => {
    const { rows } = await laid(
      ...tableEvents([
        ['Brecha', 2],
        ['Lago Frio', 3],
      ]),
    );
    expect(rows.at(-1)!.cells.map(({ formula }) => formula)).toEqual([
      null,
      { name: 'SUM', column: 1, from: 0, to: 2 },
    ]);
  });
});

describe('what waits for its sheet', () => {
  it('comes back as it was', () => {
    const values: Value[] = [
      'text',
      12.5,
      parseNumeric('123456789012345678901234567890.5') as Decimal,
      true,
      new CalendarDate(20_240),
      new Moment(Date.UTC(2025, 5, 1, 6, 30)),
      null,
    ];
    for (const value of values) {
      const back = fromWaiting(JSON.parse(JSON.stringify(toWaiting(value))));
      expect(String(back)).toBe(String(value));
      expect(typeof back === 'object' || typeof value !== 'object').toBe(true);
    }
    const error = fromWaiting(JSON.parse(JSON.stringify(toWaiting(new FormulaError('#DIV/0!')))));
    expect(error).toBeInstanceOf(FormulaError);
    expect((error as FormulaError).code).toBe('#DIV/0!');
  });

  it('has each look once, whatever object it comes in', () => {
    const interned = new Interned<object>();
    const one = { a: 1 };
    expect([interned.of(one), interned.of({ a: 1 }), interned.of({ a: 2 }), interned.of(one)]).toEqual([0, 0, 1, 0]);
    expect(interned.all).toEqual([{ a: 1 }, { a: 2 }]);
  });
});
