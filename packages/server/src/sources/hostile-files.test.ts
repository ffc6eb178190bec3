import type { FileKind } from '@gaveta/core/internal';
import ExcelJS from 'exceljs';
import { zipSync } from 'fflate';
import { afterAll, describe, expect, it } from 'vitest';
import { LIMITS, limitsWith } from '../base/limits.ts';
import type { SourceToRead } from './load.ts';
import { SourceThreads } from './source-threads.ts';

const threads = new SourceThreads();
afterAll(() => threads.close());
const never = new AbortController().signal;

const source = (format: FileKind, data: Uint8Array | string, limits = {}): SourceToRead => ({
  name: 'f',
  settings: { kind: 'file', format, fileName: '', decimal: '.', dates: 'ymd' },
  headers: {},
  data: typeof data === 'string' ? new TextEncoder().encode(data) : data,
  path: null,
  allowed: [],
  limits: limitsWith({ fileMemory: 400, fileSeconds: 20, fileUnpacked: 50 * 1024 * 1024, ...limits }),
});

/** Why a file is refused; how long nobody else could go on, in milliseconds. */
const refusal = async (given: SourceToRead): Promise<{ words: string; stalled: number }> => {
  let last = performance.now();
  let stalled = 0;
  const ticking = setInterval(() => {
    stalled = Math.max(stalled, performance.now() - last - 10);
    last = performance.now();
  }, 10);
  try {
    await threads.describe(given, never);
    return { words: 'taken', stalled };
  } catch (error) {
    return { words: error instanceof Error ? error.message : String(error), stalled };
  } finally {
    clearInterval(ticking);
  }
};

const sheet = async (make: (sheet: ExcelJS.Worksheet) => void): Promise<Uint8Array> => {
  const book = new ExcelJS.Workbook();
  make(book.addWorksheet('Snow'));
  return new Uint8Array(await book.xlsx.writeBuffer());
};

/** A spreadsheet whose one sheet has what is given before its end. */
const sheetWith = (xml: string): Uint8Array => {
  const text = (words: string): Uint8Array => new TextEncoder().encode(words);
  return zipSync({ 'xl/worksheets/sheet1.xml': text(`<worksheet><sheetData/>${xml}</worksheet>`) });
};

describe('a hostile file', () => {
  it.each<[string, FileKind, () => Uint8Array | string | Promise<Uint8Array>, RegExp]>([
    [
      'merged cells over a whole sheet',
      'xlsx',
      () => sheetWith('<mergeCells><mergeCell ref="A1:XFD1048576"/></mergeCells>'),
      /Merged cells cover more than/,
    ],
    [
      'far more than it says when it is unpacked',
      'xlsx',
      () => zipSync({ 'xl/worksheets/sheet1.xml': [new Uint8Array(60_000_000), { level: 1 }] }),
      /Unpacked, the file is larger than 50 MB/,
    ],
    ['a cell of many megabytes', 'csv', () => `a,b\n1,${'x'.repeat(30_000_000)}\n`, /A cell of “f” holds more than/],
    [
      'ten thousand columns of one name',
      'csv',
      () => `${Array(10_000).fill('name').join(',')}\n`,
      /more than 1000 columns/,
    ],
    [
      'objects that all have other keys',
      'json',
      () => JSON.stringify(Array.from({ length: 10_000 }, (_, i) => ({ [`k${i}`]: i }))),
      /more than 1000 columns/,
    ],
    [
      'JSON nested without end',
      'json',
      () => `${'['.repeat(200_000)}${']'.repeat(200_000)}`,
      /nested more than 100 levels deep/,
    ],
    [
      'XML with very many attributes',
      'xml',
      () => `<a><b ${Array.from({ length: 300_000 }, (_, i) => `k${i}="1"`).join(' ')}/><b/></a>`,
      /more than 1000 columns|took longer|memory/,
    ],
    [
      'XML nested without end',
      'xml',
      () => `${'<a>'.repeat(3000)}${'</a>'.repeat(3000)}`,
      /nested more than 100 levels deep/,
    ],
    ['text with NUL in it', 'csv', () => 'a,b\n1,\u0000\n', /NUL/],
    ['a quote that never closes', 'csv', () => `a,b\n"${'x,y\n'.repeat(200_000)}`, /Row/],
    ['more bytes than may be read', 'csv', () => new Uint8Array(LIMITS.maxUpload + 1).fill(97), /larger than 64 MB/],
    ['no spreadsheet at all', 'xlsx', () => new Uint8Array(100_000).fill(80), /not a spreadsheet/],
  ])(
    '%s is refused with the limit named, and everybody else goes on',
    async (_, kind, make, words) => {
      const found = await refusal(source(kind, await make()));
      expect(found.words).toMatch(words);
      // Two cores may be busy with other tests: what is asked is that nothing stands still for seconds.
      expect(found.stalled).toBeLessThan(2000);
    },
    60_000,
  );

  it('that takes too much memory or time ends its own thread alone', async () => {
    const numbers = `[${Array.from({ length: 400_000 }, (_, i) => `{"a":{"b":${i}},"c":[1,2,3],"d":"text ${i}"}`).join(',')}]`;
    expect((await refusal(source('json', numbers, { fileMemory: 64 }))).words).toContain('64 MB of memory');
    expect((await refusal(source('json', numbers, { fileSeconds: 0.05 }))).words).toContain('0.05 seconds');
    const fine = await sheet((s) =>
      s.addRows([
        ['Day', 'Depth'],
        ['Mon', 3],
      ]),
    );
    expect((await refusal(source('xlsx', fine))).words).toBe('taken');
    const utf16 = Buffer.from('\ufeffhut,depth\nPedra Longa,140\n', 'utf16le');
    expect((await refusal(source('csv', utf16))).words).toBe('taken');
  }, 120_000);

  it('whose rows nobody waits for any more is given up', async () => {
    const given = source('csv', `a\n${'1\n'.repeat(100_000)}`);
    const {
      tables: [table],
    } = await threads.describe(given, never);
    const abort = new AbortController();
    let count = 0;
    const read = async (): Promise<void> => {
      for await (const rows of threads.rows(given, table!, [{ name: 'a', type: 'number' }], abort.signal)) {
        count += rows.length;
        abort.abort();
      }
    };
    await expect(read()).rejects.toThrow(/abort/i);
    expect(count).toBe(2000);
    let first = 0;
    for await (const rows of threads.rows(given, table!, [{ name: 'a', type: 'number' }], never)) {
      first = rows.length;
      break;
    }
    expect(first).toBe(2000);
  }, 120_000);
});
