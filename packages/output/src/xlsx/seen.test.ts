import {
  CalendarDate,
  type ContentBlock,
  type ContentEvent,
  FormulaError,
  type PieceEdge,
} from '@gaveta/core/internal';
import ExcelJS from 'exceljs';
import { XMLValidator } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { block, documentOf, number, section, tableEvents, text } from '../content.test-support.ts';

const bookOf = async (events: readonly ContentEvent[], options: Record<string, unknown> = {}) => {
  const file = await documentOf('xlsx', events, options);
  const parts = unzipSync(new Uint8Array(file));
  for (const [name, data] of Object.entries(parts))
    if (/\.(xml|rels)$/.test(name)) expect(XMLValidator.validate(strFromU8(data)), name).toBe(true);
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer);
  return { book, sheet: book.worksheets[0]!, part: (name: string): string => strFromU8(parts[name]!) };
};

const textOf = (sheet: ExcelJS.Worksheet, at: string): string => sheet.getCell(at).text;
const formulaOf = (sheet: ExcelJS.Worksheet, at: string): string | undefined => sheet.getCell(at).formula;

const NIGHTS = [
  ['Brecha', 2],
  ['Lago Frio', 3],
] as const;

const edge: PieceEdge = { width: 1.5, color: '#333333', isDashed: false };

describe('a workbook that looks like the report', () => {
  it('has a cell for each text, typed, in columns found from the edges of texts', async () => {
    const { sheet } = await bookOf([
      section(),
      block([
        text('1 Jun', 0, 60, { value: new CalendarDate(20_240), format: 'd mmm yyyy' }),
        number(12.5, 60, 60),
        text('yes', 120, 60, { value: true }),
        text('#DIV/0!', 180, 60, { value: new FormulaError('#DIV/0!') }),
        text('=1+2', 240, 60, { value: '=1+2' }),
      ]),
    ]);
    expect(sheet.getCell('A1').value).toEqual(new Date(Date.UTC(2025, 5, 1)));
    expect(sheet.getCell('A1').numFmt).toBe('d mmm yyyy');
    expect(sheet.getCell('B1').value).toBe(12.5);
    expect(sheet.getCell('B1').numFmt).toBe('0.00');
    expect(sheet.getCell('B1').alignment.horizontal).toBe('right');
    expect(sheet.getCell('C1').value).toBe(true);
    expect(sheet.getCell('D1').value).toEqual({ error: '#DIV/0!' });
    // A text that looks like a formula is a text.
    expect(sheet.getCell('E1').value).toBe('=1+2');
  });

  it('has looks, colours, edges, merged captions and texts in several looks', async () => {
    const bold = {
      family: 'Source Serif 4',
      size: 14,
      bold: true,
      italic: false,
      underline: false,
      strike: false,
      color: '#b3402e',
    };
    const { sheet } = await bookOf([
      section(),
      block([text('2024', 100, 200, { align: 'center' })]),
      block(
        [
          text('', 0, 100, {
            runs: [
              { text: 'Nights ', look: bold },
              { text: 'of guests', look: { ...bold, bold: false } },
            ],
          }),
          number(1, 100, 100),
          number(2, 200, 100),
        ],
        {
          fills: [{ x: 100, y: 0, width: 100, height: 14, fill: '#dcebe3' }],
          lines: [{ x: 0, y: 14, x2: 300, y2: 14, ...edge }],
        },
      ),
    ]);
    expect(sheet.getCell('C1').master.address).toBe('B1');
    expect(sheet.getCell('A2').value).toMatchObject({ richText: [{ text: 'Nights ' }, { text: 'of guests' }] });
    expect(sheet.getCell('A2').font).toMatchObject({ name: 'Source Serif 4', size: 14, bold: true });
    expect(sheet.getCell('B2').fill).toMatchObject({ fgColor: { argb: 'FFDCEBE3' } });
    for (const at of ['A2', 'B2', 'C2']) expect(sheet.getCell(at).border.bottom?.style, at).toBe('medium');
  });

  it('makes totals formulas over the cells that they count, wherever those come to the same', async () => {
    const { sheet } = await bookOf([section(), ...tableEvents(NIGHTS), ...tableEvents([['Pedra', 4]])]);
    expect(formulaOf(sheet, 'B4')).toBe('SUBTOTAL(9,B1:B3)');
    expect(sheet.getCell('B4').result).toBe(5);
    // Each part counts its own rows.
    expect(formulaOf(sheet, 'B7')).toBe('SUBTOTAL(9,B5:B6)');
    const without = await bookOf([section(), ...tableEvents(NIGHTS)], { formulas: 'no' });
    expect(without.sheet.getCell('B4').value).toBe(5);
  });

  it('makes what is worked out in a row a formula over its cells, wherever that comes to the same', async () => {
    const sum = { operator: '*' as const, parts: [{ of: 'nights' }, { of: 'rate' }] };
    const row = (nights: number, rate: number, amount: number): ContentBlock =>
      block([
        number(nights, 0, 100, { source: 'nights' }),
        number(rate, 100, 100, { source: 'rate' }),
        number(amount, 200, 100, { source: 'amount', sum }),
      ]);
    const whole = block([number(37, 200, 100, { total: { name: 'SUM', of: 'amount' } })]);
    const events = [section(), row(2, 12.5, 25), row(3, 4, 12), row(1, 1, 0), whole];
    const { sheet } = await bookOf(events);
    const cells = ['C1', 'C2', 'C3', 'C4'];
    expect(cells.map((at) => formulaOf(sheet, at))).toEqual(['A1*B1', 'A2*B2', undefined, 'SUBTOTAL(9,C1:C3)']);
    expect(cells.map((at) => sheet.getCell(at).result ?? sheet.getCell(at).value)).toEqual([25, 12, 0, 37]);
    const without = await bookOf(events, { formulas: 'no' });
    expect(cells.map((at) => without.sheet.getCell(at).value)).toEqual([25, 12, 0, 37]);
  });

  it('counts the least and the greatest, and rounds as the report does', async () => {
    const row = (value: number): ContentBlock =>
      block([
        number(value, 0, 100, { source: 'rate' }),
        number(Math.round(value), 100, 100, { sum: { round: 0, part: { of: 'rate' } } }),
      ]);
    const total = (name: 'MIN' | 'MAX', value: number): ContentBlock =>
      block([number(value, 0, 100, { total: { name, of: 'rate' } })]);
    const { sheet } = await bookOf([section(), row(2.3), row(7.8), row(4), total('MIN', 2.3), total('MAX', 7.8)]);
    expect(formulaOf(sheet, 'B2')).toBe('ROUND(A2,0)');
    expect([formulaOf(sheet, 'A4'), formulaOf(sheet, 'A5')]).toEqual(['SUBTOTAL(5,A1:A3)', 'SUBTOTAL(4,A1:A4)']);
  });

  it('adds totals up over totals, which count each number once', async () => {
    const whole = block([text('All', 0, 200), number(9, 200, 100, { total: { name: 'SUM', of: 'nights' } })]);
    const { sheet } = await bookOf([
      section(),
      { kind: 'begins', part: 'drawer', drawer: 'regions' },
      ...tableEvents(NIGHTS),
      ...tableEvents([['Pedra', 4]]),
      whole,
      { kind: 'ends' },
    ]);
    expect(formulaOf(sheet, 'B8')).toBe('SUBTOTAL(9,B1:B7)');
  });

  it('leaves a total a number where other numbers or days stand among those that it counts', async () => {
    const total = (value: number): ContentBlock =>
      block([number(value, 200, 100, { total: { name: 'SUM', of: 'nights' } })]);
    const row = (value: number): ContentBlock => block([number(value, 200, 100, { source: 'nights' })]);
    const other = block([number(7, 200, 100, { source: 'beds' })]);
    const day = block([text('1 Jun', 200, 100, { value: new CalendarDate(20_240), format: 'd mmm', align: 'right' })]);
    for (const between of [other, day]) {
      const { sheet } = await bookOf([section(), row(1), between, row(2), total(3)]);
      expect(formulaOf(sheet, 'B4')).toBeUndefined();
      expect(sheet.getCell('B4').value).toBe(3);
    }
    const counted = block([number(2, 200, 100, { total: { name: 'COUNT', of: 'nights' } })]);
    const mean = block([number(1.5, 200, 100, { total: { name: 'AVERAGE', of: 'nights' } })]);
    const { sheet } = await bookOf([section(), row(1), row(2), counted, mean]);
    expect([formulaOf(sheet, 'B3'), formulaOf(sheet, 'B4')]).toEqual(['SUBTOTAL(2,B1:B2)', 'SUBTOTAL(1,B1:B3)']);
  });

  it('has groups as levels of an outline, folded as the reader has them', async () => {
    const { sheet, part } = await bookOf([
      section(),
      block([text('Open', 0, 100)]),
      block([text('inside', 0, 100)], { depth: 1 }),
      block([text('Closed', 0, 100)], { isCollapsed: true }),
      block([text('hidden', 0, 100)], { depth: 1 }),
      block([text('After', 0, 100)]),
    ]);
    const rows = [1, 2, 3, 4, 5].map((row) => sheet.getRow(row));
    expect(rows.map((row) => row.outlineLevel ?? 0)).toEqual([0, 1, 0, 1, 0]);
    expect(rows.map((row) => row.hidden)).toEqual([false, false, false, true, false]);
    expect(part('xl/worksheets/sheet1.xml')).toMatch(/<row r="3"[^>]*collapsed="1"/);
    expect(part('xl/worksheets/sheet1.xml')).toContain('<outlinePr summaryBelow="0"/>');
  });

  it('keeps captions in view, prints them on each page, and takes the paper and its bands', async () => {
    const run = {
      family: 'Source Sans 3',
      size: 9,
      bold: false,
      italic: false,
      underline: false,
      strike: false,
      color: '#000000',
    };
    const footer = block([
      text('Huts & more', 0, 100),
      text('', 400, 115, {
        align: 'right',
        runs: [
          { text: 'Page ', look: run },
          { text: '', look: run, field: 'page' },
        ],
      }),
    ]);
    const { sheet, part } = await bookOf([
      section({ width: 842, height: 595, footer }),
      block([text('Title', 0, 300)]),
      ...tableEvents(NIGHTS),
    ]);
    expect(sheet.views[0]).toMatchObject({ state: 'frozen', ySplit: 2 });
    expect(part('xl/workbook.xml')).toMatch(/_xlnm\.Print_Titles" localSheetId="0">[^<]*\$2:\$2</);
    expect(sheet.pageSetup).toMatchObject({ orientation: 'landscape', paperSize: 9, fitToWidth: 1 });
    expect(sheet.headerFooter.oddFooter).toBe('&LHuts && more&RPage &P');
  });

  it('links to places of the workbook and of the web, and lists its headings', async () => {
    const { sheet, part } = await bookOf([
      section(),
      block([{ ...text('', 0, 300), content: { kind: 'contents', levels: 1 } }]),
      { kind: 'break', parity: null },
      block([text('Alto Norte', 0, 200, {}, { heading: { level: 1, title: 'Alto Norte' } })]),
      block([text('web', 0, 100, {}, { to: { address: 'https://huts.example/' } })]),
      block([text('script', 0, 100, {}, { to: { address: 'javascript:alert(1)' } })]),
    ]);
    expect(textOf(sheet, 'A1')).toBe('Alto Norte');
    expect(part('xl/worksheets/sheet1.xml')).toMatch(/<hyperlink ref="A1" location="[^"]*!A2"\/>/);
    expect(part('xl/worksheets/sheet1.xml')).toContain('<brk id="1" ');
    expect(part('xl/worksheets/_rels/sheet1.xml.rels')).toContain('https://huts.example/');
    expect(part('xl/worksheets/_rels/sheet1.xml.rels')).not.toContain('javascript');
  });

  it('can have a sheet for each set of pages or each outermost group, named by its first words', async () => {
    const group = (name: string): ContentEvent[] => [
      { kind: 'begins', part: 'group', drawer: 'huts', group: 0 },
      block([text(name, 0, 200)]),
      block([text('a', 0, 100), number(1, 100, 100)], { depth: 1 }),
      { kind: 'ends' },
    ];
    const events = [section(), ...group('Alto [Norte]'), ...group('Encosta'), section(), block([text('more', 0, 100)])];
    const names = async (sheets: string): Promise<string[]> =>
      (await bookOf(events, { sheets })).book.worksheets.map(({ name }) => name);
    expect(await names('groups')).toEqual(['Alto  Norte', 'Encosta', 'A “report” & more']);
    expect(await names('pages')).toHaveLength(2);
    expect(await names('one')).toHaveLength(1);
  });

  it('places pictures and drawings where they stand, with what they say', async () => {
    const drawing = {
      x: 100,
      y: 20,
      width: 60,
      height: 30,
      content: {
        kind: 'drawing' as const,
        marks: [{ kind: 'rectangle' as const, x: 0, y: 0, width: 30, height: 10, fill: '#225544' }],
        alternative: 'Chart & more',
        table: [],
      },
    };
    const { sheet, part } = await bookOf([section(), block([text('Title', 0, 90), drawing])]);
    expect(sheet.getImages()).toHaveLength(1);
    expect(part('xl/drawings/drawing1.xml')).toContain('descr="Chart &amp; more"');
    expect(part('xl/drawings/drawing1.xml')).toMatch(/<xdr:col>1<\/xdr:col>.*<xdr:row>1<\/xdr:row>/);
  });

  it('keeps rows apart that do not fit into one, and rows within what programs take', async () => {
    const over = [text('one', 0, 100), text('two', 0, 100)];
    const { sheet } = await bookOf([section(), block(over), block([text('far', 0, 100, {}, { y: 1_000 })])]);
    const words = Array.from({ length: sheet.rowCount }, (_, i) => textOf(sheet, `A${i + 1}`)).filter(
      (one) => one !== '',
    );
    expect(words).toEqual(['one', 'two', 'far']);
    sheet.eachRow({ includeEmpty: true }, (row) => expect(row.height).toBeLessThanOrEqual(409));
  });
});
