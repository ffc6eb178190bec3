import type { FileKind } from '@gaveta/core';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import Papa from 'papaparse';
import { type RawCell, type RawTable, SourceError } from './raw.ts';

export interface FileSettings {
  /** Of CSV; found out when left out. */
  delimiter?: string | undefined;
  /** Of JSON and XML: where the rows lie, as `result.items`; found out when left out. */
  rowsAt?: string | undefined;
}

/** Most bytes of a file, and most rows of it. */
export const MOST_BYTES = 64 * 1024 * 1024;
const MOST_ROWS = 2_000_000;

/** The tables of a file: one, or one for each sheet of a spreadsheet that has rows. */
export const readFileTables = async (
  kind: FileKind,
  name: string,
  bytes: Uint8Array,
  settings: FileSettings,
): Promise<RawTable[]> => {
  if (bytes.byteLength > MOST_BYTES) throw new SourceError(`The file is larger than ${MOST_BYTES / 1024 / 1024} MB.`);
  const tables = kind === 'xlsx' ? await readSheets(bytes) : [readText(kind, name, asText(bytes), settings)];
  for (const table of tables) {
    if (table.rows.length > MOST_ROWS) throw new SourceError(`“${table.name}” has more than ${MOST_ROWS} rows.`);
  }
  return tables;
};

const asText = (bytes: Uint8Array): string => {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes).replace(/^\uFEFF/, '');
  } catch {
    // What is no UTF-8 was saved by an older program in the alphabet of Western Europe.
    return new TextDecoder('windows-1252').decode(bytes);
  }
};

const readText = (kind: Exclude<FileKind, 'xlsx'>, name: string, text: string, settings: FileSettings): RawTable => {
  if (text.trim() === '') throw new SourceError('The file is empty.');
  switch (kind) {
    case 'csv':
      return readCsv(name, text, settings);
    case 'json': {
      let json: unknown;
      try {
        json = JSON.parse(text);
      } catch (error) {
        throw new SourceError(`This is not JSON: ${error instanceof Error ? error.message : error}.`);
      }
      return tableOf(name, json, settings.rowsAt);
    }
    case 'xml': {
      const valid = XMLValidator.validate(text);
      if (valid !== true) throw new SourceError(`This is not XML: line ${valid.err.line}: ${valid.err.msg}`);
      const parser = new XMLParser({
        ignoreAttributes: false,
        attributeNamePrefix: '',
        parseTagValue: false,
        processEntities: false,
      });
      return tableOf(name, parser.parse(text), settings.rowsAt);
    }
    default:
      return kind satisfies never;
  }
};

const readCsv = (name: string, text: string, { delimiter }: FileSettings): RawTable => {
  const { data, errors } = Papa.parse<string[]>(text, { delimiter: delimiter ?? '', skipEmptyLines: 'greedy' });
  const bad = errors.find((e) => e.type === 'Quotes');
  if (bad) throw new SourceError(`Row ${(bad.row ?? 0) + 1}: ${bad.message}.`);
  const [head, ...rows] = data;
  if (!head) throw new SourceError('The file is empty.');
  const long = rows.findIndex((row) => row.length > head.length);
  if (long >= 0)
    throw new SourceError(
      `Row ${long + 2} has ${rows[long]!.length} cells, the first row has ${head.length}. Is another character between the cells?`,
    );
  return { name, columns: head, rows: rows.map((row) => head.map((_, i) => row[i] ?? null)) };
};

const readSheets = async (bytes: Uint8Array): Promise<RawTable[]> => {
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  try {
    await book.xlsx.load(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
  } catch {
    throw new SourceError('This is not a spreadsheet file (xlsx).');
  }
  const tables: RawTable[] = [];
  for (const sheet of book.worksheets) {
    const rows: RawCell[][] = [];
    sheet.eachRow((row) => {
      const cells: RawCell[] = [];
      for (let i = 1; i <= sheet.columnCount; i++) cells.push(plainCell(row.getCell(i).value));
      rows.push(cells);
    });
    const [head, ...rest] = rows;
    if (!head || rest.length === 0) continue;
    const last = head.findLastIndex((cell) => cell !== null);
    const columns = head.slice(0, last + 1).map((cell, i) => (cell === null ? `Column ${i + 1}` : String(cell)));
    tables.push({ name: sheet.name, columns, rows: rest.map((row) => row.slice(0, last + 1)) });
  }
  if (tables.length === 0) throw new SourceError('No sheet of this spreadsheet has a heading row with rows below it.');
  return tables;
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

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The rows in JSON, or XML read as such: at the path given, or the longest list of objects. */
export const tableOf = (name: string, json: unknown, rowsAt?: string | undefined): RawTable => {
  const list = rowsAt ? at(json, rowsAt) : (longest(json) ?? (isObject(json) ? [json] : null));
  if (!Array.isArray(list)) {
    throw new SourceError(
      rowsAt ? `There is no list of rows at “${rowsAt}”.` : 'There is no list of rows in it: say where they lie.',
    );
  }
  const columns: string[] = [];
  const known = new Map<string, number>();
  const rows = list.map((item) => {
    const row: RawCell[] = [];
    for (const [key, cell] of flat(isObject(item) ? item : { value: item }, '')) {
      let place = known.get(key);
      if (place === undefined) {
        place = columns.push(key) - 1;
        known.set(key, place);
      }
      row[place] = cell;
    }
    return row;
  });
  return { name, columns, rows: rows.map((row) => columns.map((_, i) => row[i] ?? null)) };
};

export const at = (json: unknown, path: string): unknown =>
  path
    .split('.')
    .filter(Boolean)
    .reduce<unknown>((value, key) => (isObject(value) && Object.hasOwn(value, key) ? value[key] : undefined), json);

const DEEPEST = 20;

const longest = (json: unknown, depth = 0): unknown[] | null => {
  if (depth > DEEPEST) return null;
  if (Array.isArray(json)) return json;
  if (!isObject(json)) return null;
  let found: unknown[] | null = null;
  for (const value of Object.values(json)) {
    const list = longest(value, depth + 1);
    if (list && (!found || list.length > found.length)) found = list;
  }
  return found;
};

/** Values of an object with those of objects inside it, `hut.name` for a name in a hut; lists become a text. */
function* flat(item: Json, prefix: string, depth = 0): Iterable<[string, RawCell]> {
  for (const [key, value] of Object.entries(item)) {
    const name = key === '#text' ? prefix.slice(0, -1) || 'text' : prefix + key;
    if (isObject(value) && depth < DEEPEST) yield* flat(value, `${name}.`, depth + 1);
    else if (Array.isArray(value))
      yield [name, value.map((v) => (isObject(v) ? JSON.stringify(v) : String(v))).join(', ')];
    else if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') yield [name, value];
    else yield [name, null];
  }
}
