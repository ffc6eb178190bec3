import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { WireRow } from '@gaveta/core/internal';
import ExcelJS from 'exceljs';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LIMITS } from '../base/limits.ts';
import { fileSource } from './file-source.ts';
import { readFileTables } from './files.ts';
import type { FileSettings } from './raw.ts';
import { tablesOfFiles, unpacked } from './several.ts';
import { describeTables, sourceModel } from './tables.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const csv = async (text: string | Uint8Array, settings: FileSettings = {}) =>
  (await readFileTables('csv', 'f', typeof text === 'string' ? bytes(text) : text, settings))[0]!;

describe('how a text file is read', () => {
  const report = 'Snow of the season\n\nmade; by hand\nhut;depth\nBrecha;140\nLonga\n';
  it('has its headings in the line that somebody says, and lines are told by their number', async () => {
    const { columns, rows, short } = await csv(report, { headings: 4 });
    expect(columns).toEqual(['hut', 'depth']);
    expect(rows).toEqual([
      ['Brecha', '140'],
      ['Longa', null],
    ]);
    expect(short).toEqual({ rows: 1, line: 6 });
    await expect(csv(report, { headings: 40 })).rejects.toThrow('There is no line 40');
    await expect(csv('a,b\n1,2\n3,4,5\n', { headings: 1 })).rejects.toThrow('Row 3 has 3 cells');
  });
  it('may have none', async () => {
    const { columns, rows } = await csv('Brecha,140\nLonga,60,deep\n', { headings: 0 });
    expect(columns).toEqual(['Column 1', 'Column 2', 'Column 3']);
    expect(rows).toHaveLength(2);
  });
  it('is of the encoding that somebody says', async () => {
    const shift = Uint8Array.from([...bytes('hut\n'), 0x8e, 0x52, 0x0a]);
    expect((await csv(shift, { encoding: 'shift_jis' })).rows).toEqual([['山']]);
    const cyrillic = Uint8Array.from([...bytes('hut\n'), 0xc4, 0xee, 0xec]);
    expect((await csv(cyrillic, { encoding: 'windows-1251' })).rows).toEqual([['Дом']]);
  });
});

describe('how a spreadsheet is read', () => {
  let file: Uint8Array;
  beforeAll(async () => {
    const book = new ExcelJS.Workbook();
    const season = book.addWorksheet('Season');
    season.getCell('B2').value = 'Snow of the season';
    const snow = [
      ['hut', 'depth'],
      ['Brecha', 140],
      ['Longa', 60],
      ['Total', 200],
    ];
    for (const [i, [hut, depth]] of snow.entries()) {
      season.getCell(`B${i + 4}`).value = hut!;
      season.getCell(`C${i + 4}`).value = depth!;
    }
    book.addWorksheet('Notes').addRows([['note'], ['all well']]);
    file = new Uint8Array(await book.xlsx.writeBuffer());
  });
  const sheets = (settings: FileSettings) => readFileTables('xlsx', 'f', file, settings);

  it('is one sheet, and a range of its cells', async () => {
    expect((await sheets({ sheet: 'Notes' })).map(({ name }) => name)).toEqual(['Notes']);
    const [table] = await sheets({ sheet: 'Season', range: 'b4:c6' });
    expect(table).toMatchObject({
      columns: ['hut', 'depth'],
      rows: [
        ['Brecha', 140],
        ['Longa', 60],
      ],
    });
  });
  it('has its headings in a row of the sheet, or none', async () => {
    const [table] = await sheets({ sheet: 'Season', headings: 4 });
    expect(table!.columns).toEqual(['Column 1', 'hut', 'depth']);
    expect(table!.rows).toHaveLength(3);
    const [plain] = await sheets({ sheet: 'Season', range: 'B5:C6', headings: 0 });
    expect(plain).toMatchObject({
      columns: ['Column 1', 'Column 2'],
      rows: [
        ['Brecha', 140],
        ['Longa', 60],
      ],
    });
  });
  it('says what is not there', async () => {
    await expect(sheets({ sheet: 'Summer' })).rejects.toThrow('It has: Season, Notes.');
    await expect(sheets({ range: 'the first' })).rejects.toThrow('write it as B3:F40');
    await expect(sheets({ range: 'X90:Z99' })).rejects.toThrow('no heading row');
  });
});

describe('several files', () => {
  const files = [
    { name: 'snow/2025.csv', bytes: bytes('hut,depth\nLonga,60\n') },
    { name: 'snow/2024.csv', bytes: bytes('hut,depth,note\nBrecha,140,late\n') },
    { name: 'snow/read me.md', bytes: bytes('about') },
    { name: '__MACOSX/._2024.csv', bytes: bytes('\0\0') },
  ];
  const together = [
    {
      name: 'Snow',
      columns: ['File', 'hut', 'depth', 'note'],
      rows: [
        ['2024', 'Brecha', '140', 'late'],
        ['2025', 'Longa', '60', null],
      ],
    },
  ];
  const tables = (given: typeof files) => tablesOfFiles('Snow', given, { format: 'csv' }, LIMITS);

  it('become one table, with the file of each row and every column of any of them', async () => {
    expect(await tables(files)).toEqual(together);
  });
  it('come in a zip', async () => {
    const zip = zipSync(Object.fromEntries(files.map(({ name, bytes: content }) => [name, content])));
    expect(await tables(unpacked(zip, LIMITS))).toEqual(together);
    expect(() => unpacked(bytes('no zip at all'), LIMITS)).toThrow('not a zip');
    expect(() => unpacked(zip, { ...LIMITS, fileUnpacked: 20 })).toThrow('Unpacked');
  });
  it('are told by name when one cannot be read, and refused when none is of the format', async () => {
    await expect(tables([...files, { name: 'bad.csv', bytes: bytes('a,b\n1,2,3\n') }])).rejects.toThrow(
      'bad.csv: Row 2',
    );
    await expect(tables([files[2]!])).rejects.toThrow('no file of the format CSV');
  });

  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'gaveta-snow-'));
    for (const { name, bytes: content } of files.slice(0, 3)) await writeFile(join(folder, name.slice(5)), content);
  });
  afterAll(() => rm(folder, { recursive: true }));

  it('of a folder are read at each run, new ones too', async () => {
    const { connection, model } = await fileSource({ name: 'snow', label: 'Snow', format: 'csv', file: folder });
    const [entity] = model.model.entities;
    expect(entity!.fields.map(({ name, type }) => `${name} ${type}`).slice(0, 3)).toEqual([
      'file number',
      'hut text',
      'depth number',
    ]);
    const fields = [{ name: 'depth', type: 'number' as const }];
    const depths = async (): Promise<WireRow[]> => {
      const rows: WireRow[] = [];
      const request = { fields, claims: {}, parameters: {}, signal: new AbortController().signal };
      for await (const batch of connection.read(entity!.name, request)) rows.push(...batch);
      return rows;
    };
    expect((await depths()).flat().map(Number)).toEqual([140, 60]);
    await writeFile(join(folder, '2026.csv'), 'hut,depth\nBrecha,90\n');
    expect((await depths()).flat().map(Number)).toEqual([140, 60, 90]);
  });
});

it('leaves a column out, which can be taken again', () => {
  const raw = { name: 'f', columns: ['hut', 'secret'], rows: [['Brecha', 'x']] };
  const leftOut = { table: 'f', column: 'secret', which: 0, leftOut: true as const };
  const { tables, looks } = describeTables([raw], { decimal: '.', dates: 'ymd' }, [leftOut]);
  // Also once the source, and its only table with it, goes by another name.
  const renamed = describeTables([{ ...raw, name: 'g' }], { decimal: '.', dates: 'ymd' }, [leftOut]);
  expect(renamed.tables[0]!.fields[1]!.leftOut).toBe(true);
  expect(tables[0]!.fields.map((field) => field.leftOut ?? false)).toEqual([false, true]);
  expect(looks[0]!.rows[0]).toHaveLength(2);
  const names = sourceModel('s', 'S', tables).model.entities[0]!.fields.map(({ name }) => name);
  expect(names).toEqual(['hut', 'row_number']);
});
