import { phrase } from '@gaveta/core/internal';
import { strFromU8 } from 'fflate';
import { type FileLimits, type FileSettings, inMegabytes, numberedColumn, type RawTable, SourceError } from './raw.ts';
import type { RawCell } from './reading/cell.ts';
import { throughZip } from './zip.ts';

type SheetSettings = Pick<FileSettings, 'sheet' | 'range' | 'headings'>;

/** What a cell may be merged over altogether; the reader makes a cell of each. */
const MERGED = /<mergeCell [^>]*ref="([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})"/g;

const columnNumber = (letters: string): number =>
  [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0);

/** Unpacks a spreadsheet once to see that it is no larger than it may be, whatever it says of itself. */
const checkPacked = (bytes: Uint8Array, { fileUnpacked, fileCells }: FileLimits): void => {
  let size = 0;
  let merged = 0;
  /** What is cut off at the end of a part of a sheet is found with the next one, and nothing is counted twice. */
  let cut = { of: '', tail: '' };
  throughZip(
    bytes,
    (name, part) => {
      size += part.length;
      if (size > fileUnpacked)
        throw new SourceError(phrase('file-unpacked-larger', { most: inMegabytes(fileUnpacked) }));
      if (!/worksheets\/[^/]+\.xml$/i.test(name)) return;
      const text = (cut.of === name ? cut.tail : '') + strFromU8(part, true);
      for (const [, left, top, right, bottom] of text.matchAll(MERGED)) {
        merged += (columnNumber(right!) - columnNumber(left!) + 1) * (Number(bottom) - Number(top) + 1);
        if (merged > fileCells) throw new SourceError(phrase('file-merged', { most: fileCells }));
      }
      const end = Math.max(text.lastIndexOf('<mergeCell'), text.length - 200);
      cut = { of: name, tail: text.slice(end).replace(MERGED, '') };
    },
    () => new SourceError(phrase('file-no-spreadsheet')),
  );
};

/** Rows and columns of a sheet, from 1, both ends included. */
interface Cells {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const RANGE = /^([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})$/i;

/** The cells of a range as spreadsheets write it. Throws SourceError for what is none. */
const cellsOf = (range: string): Cells => {
  const [, left, top, right, bottom] = RANGE.exec(range.trim()) ?? [];
  if (!left || !right) throw new SourceError(phrase('file-no-range', { range: range.slice(0, 60) }));
  const [a, b] = [columnNumber(left.toUpperCase()), columnNumber(right.toUpperCase())];
  const [c, d] = [Number(top), Number(bottom)];
  return { left: Math.min(a, b), right: Math.max(a, b), top: Math.min(c, d), bottom: Math.max(c, d) };
};

/** The sheets of a spreadsheet that have rows, each as a table; or the one that is asked for. Throws SourceError. */
export const readSheets = async (
  bytes: Uint8Array,
  { sheet: wanted, range, headings }: SheetSettings,
  limits: FileLimits,
): Promise<RawTable[]> => {
  checkPacked(bytes, limits);
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  try {
    await book.xlsx.load(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
  } catch {
    throw new SourceError(phrase('file-no-spreadsheet'));
  }
  const chosen = book.worksheets.filter(({ name }) => wanted === undefined || name === wanted);
  if (chosen.length === 0 && wanted !== undefined) {
    const names = book.worksheets.map(({ name }) => name).join(', ');
    throw new SourceError(phrase('file-sheet-gone', { name: wanted, names: names.slice(0, 500) }));
  }
  const given = range === undefined ? null : cellsOf(range);
  const tables: RawTable[] = [];
  for (const sheet of chosen) {
    if (sheet.columnCount > limits.fileColumns)
      throw new SourceError(phrase('file-many-columns', { name: sheet.name, most: limits.fileColumns }));
    if (sheet.columnCount * sheet.rowCount > limits.fileCells)
      throw new SourceError(phrase('file-many-cells', { most: limits.fileCells }));
    const { left, top, right, bottom } = given ?? { left: 1, top: 1, right: sheet.columnCount, bottom: sheet.rowCount };
    const last = Math.min(right, sheet.columnCount);
    const rows: RawCell[][] = [];
    sheet.eachRow((row, number) => {
      if (number < Math.max(top, headings ?? 0) || number > bottom) return;
      const cells: RawCell[] = [];
      for (let i = left; i <= last; i++) cells.push(plainCell(row.getCell(i).value));
      if (cells.some((cell) => cell !== null)) rows.push(cells);
    });
    const table = sheetTable(sheet.name, rows, headings !== 0);
    if (table) tables.push(table);
  }
  if (tables.length === 0)
    throw new SourceError(wanted === undefined && !given ? phrase('file-no-sheet') : phrase('file-range-empty'));
  return tables;
};

/** Rows of a sheet as a table; null when there are none. */
const sheetTable = (name: string, rows: RawCell[][], isHeaded: boolean): RawTable | null => {
  const [head] = rows;
  const below = isHeaded ? rows.slice(1) : rows;
  if (!head || below.length === 0) return null;
  const width = isHeaded
    ? head.findLastIndex((cell) => cell !== null) + 1
    : rows.reduce((most, row) => Math.max(most, row.findLastIndex((cell) => cell !== null) + 1), 0);
  const columns = Array.from({ length: width }, (_, i) => {
    const cell = isHeaded ? (head[i] ?? null) : null;
    return cell === null ? numberedColumn(i) : String(cell);
  });
  return { name, columns, rows: below.map((row) => row.slice(0, width)) };
};

/** What a cell shows: of a formula its result, of rich text its words. */
const plainCell = (value: unknown): RawCell => {
  if (value === null || value === undefined) return null;
  if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' || value instanceof Date)
    return value;
  if (typeof value !== 'object') return String(value);
  if ('result' in value) return plainCell(value.result);
  if ('richText' in value && Array.isArray(value.richText))
    return value.richText.map((part) => String(part.text)).join('');
  if ('text' in value) return plainCell(value.text);
  return null;
};
