import {
  CalendarDate,
  type Decimal,
  FormulaError,
  type ListedColumn,
  Moment,
  parseNumeric,
  type Value,
} from '@gaveta/core/internal';
import ExcelJS from 'exceljs';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { column, fileOf, type MadeSet, setOf } from '../rows.test-support.ts';
import { cellText, columnLetters, SheetNames } from './text.ts';

const charge = setOf('charge', [
  column('kind', 'text', 'Kind'),
  { ...column('amount', 'number', 'Amount'), format: '0.00' },
]);
const stay = setOf(
  'stay',
  [
    column('guest', 'text', 'Guest'),
    { ...column('arrival', 'date', 'Arrival'), format: 'd mmm yyyy' },
    column('at', 'datetime', 'Read at'),
    column('ok', 'boolean', 'Guest'),
  ],
  [charge],
);
const amount = (text: string): Value => parseNumeric(text) as Decimal;
const made = (...guests: Value[]): MadeSet[] => [
  {
    set: stay,
    rows: guests.map((guest, i) => ({
      values: [guest, new CalendarDate(20_000 + i), new Moment(Date.UTC(2024, 1, 29, 6)), i % 2 === 0],
      inside: [
        {
          set: charge,
          rows: [
            { values: ['bunk', amount('10.005')] },
            { values: [null, i === 0 ? new FormulaError('#DIV/0!') : amount('-2.5')] },
          ],
        },
      ],
    })),
  },
];

const bookOf = async (sets: readonly MadeSet[], options: Record<string, unknown> = {}): Promise<ExcelJS.Workbook> => {
  const book = new ExcelJS.Workbook();
  const file = await fileOf('xlsx-data', sets, options);
  await book.xlsx.load(file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer);
  return book;
};

describe('a workbook of rows', () => {
  it('has a sheet for each set, with values of their own types and formats, and sums as formulas', async () => {
    const book = await bookOf(made('Rui', 'Inês'));
    expect(book.worksheets.map(({ name }) => name)).toEqual(['stay', 'charge']);
    const [stays, charges] = book.worksheets;
    expect(stays!.getRow(1).values).toEqual([undefined, 'stay no.', 'Guest', 'Arrival', 'Read at', 'Guest 2']);
    const [number, guest, arrival, at, ok] = (stays!.getRow(3).values as unknown[]).slice(1);
    expect([number, guest, ok]).toEqual([2, 'Inês', false]);
    expect(arrival).toEqual(new Date(Date.UTC(2024, 9, 5)));
    expect(at).toEqual(new Date(Date.UTC(2024, 1, 29, 6)));
    expect([stays!.getCell('C2').numFmt, stays!.getCell('D2').numFmt]).toEqual(['d mmm yyyy', 'yyyy-mm-dd hh:mm']);
    expect(charges!.getCell('C2').value).toBe(10.005);
    expect(charges!.getCell('C2').numFmt).toBe('0.00');
    expect(charges!.getCell('B3').value).toBeNull();
    expect(charges!.getCell('C3').value).toEqual({ error: '#DIV/0!' });
    expect(charges!.getCell('C6').value).toMatchObject({ formula: 'SUBTOTAL(109,C2:C5)', result: 17.51 });
    expect(charges!.getTable('Rows2')).toBeDefined();
    const plain = await bookOf(made('Rui'), { totals: 'no', header: 'names' });
    expect(plain.getWorksheet('charge')!.rowCount).toBe(3);
    expect(plain.getWorksheet('stay')!.getCell('C1').value).toBe('arrival');
  });

  it('has all sets in one sheet, with levels of the outline, where that is asked for', async () => {
    const [sheet, ...more] = (await bookOf(made('Rui', 'Inês'), { sheets: 'outline' })).worksheets;
    expect(more).toEqual([]);
    const levels = [2, 3, 4, 5, 6, 7].map((row) => sheet!.getRow(row).outlineLevel ?? 0);
    expect(levels).toEqual([0, 1, 1, 0, 1, 1]);
    expect(sheet!.getCell('A5').value).toBe('Inês');
    expect(sheet!.getCell('E6').value).toBe('bunk');
  });

  it('takes any text as a text', async () => {
    const texts = [
      '=1+1',
      '+A1',
      '  spaces  ',
      'two\nlines\tand a tab',
      '<b>&"quoted"</b>',
      '_x0041_',
      '\u0001 control',
      'שלום',
      '👩‍🚀',
      '',
    ];
    const book = await bookOf(made(...texts, 'lone \uD800', 'x'.repeat(40_000)));
    // As ECMA-376 has them; this reader leaves them as they are written, and has nothing for an empty text.
    const plain = (value: unknown): string =>
      String(value ?? '').replace(/_x([0-9A-F]{4})_/g, (_, code) => String.fromCharCode(Number.parseInt(code, 16)));
    const read = texts.map((_, i) => plain(book.worksheets[0]!.getCell(`B${i + 2}`).value));
    expect(read).toEqual(texts);
    const sheet = strFromU8(
      unzipSync(await fileOf('xlsx-data', made('lone \uD800', 'x'.repeat(40_000))))['xl/worksheets/sheet1.xml']!,
    );
    expect(sheet).toContain('lone \uFFFD');
    expect(sheet.match(/x{32766}…/)).not.toBeNull();
  });

  it('is one of nothing, where there is nothing', async () => {
    expect((await bookOf([])).worksheets).toHaveLength(1);
    expect((await bookOf(made())).worksheets.map(({ rowCount }) => rowCount)).toEqual([1, 1]);
  });

  it('is refused where a sheet cannot hold its columns', async () => {
    const many = Array.from({ length: 16_385 }, (_, i): ListedColumn => column(`c${i}`, 'number'));
    await expect(fileOf('xlsx-data', [{ set: setOf('wide', many), rows: [] }])).rejects.toThrow('16');
  });
});

it('days before spreadsheets begin are written as words', async () => {
  const days = setOf('day', [column('day', 'date')]);
  const rows = [CalendarDate.parse('1899-12-30')!, CalendarDate.parse('1900-03-01')!].map((day) => ({ values: [day] }));
  const [sheet] = (await bookOf([{ set: days, rows }])).worksheets;
  expect(sheet!.getCell('A2').value).toBe('1899-12-30');
  expect(sheet!.getCell('A3').value).toEqual(new Date(Date.UTC(1900, 2, 1)));
});

it('columns, sheets and characters have names that a workbook can hold', () => {
  expect([0, 25, 26, 701, 702, 16_383].map(columnLetters)).toEqual(['A', 'Z', 'AA', 'ZZ', 'AAA', 'XFD']);
  const names = new SheetNames();
  const long = 'Refúgio da Última Neve e das Andorinhas';
  expect([names.name('a/b:c'), names.name('A B C'), names.name(long), names.name(long), names.name("'")]).toEqual([
    'a b c',
    'A B C (2)',
    long.slice(0, 31),
    `${long.slice(0, 27)} (2)`,
    'Sheet',
  ]);
  expect(names.name('History')).toBe('History (2)');
  expect(cellText('a\rb')).toBe('a_x000D_b');
});
