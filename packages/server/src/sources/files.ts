import { type FileKind, fromWindows1252, type Phrase, phrase } from '@gaveta/core/internal';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { strFromU8, Unzip, UnzipInflate } from 'fflate';
import Papa from 'papaparse';
import { LIMITS, type Limits } from '../base/limits.ts';
import { type RawTable, SourceError } from './raw.ts';
import type { RawCell } from './reading/cell.ts';

export interface FileSettings {
  /** Of CSV; found out when left out. */
  delimiter?: string | undefined;
  /** Of JSON and XML: where the rows lie, as `result.items`; found out when left out. */
  rowsAt?: string | undefined;
}

/** What a file may not go past; see Limits. */
export type FileLimits = Pick<
  Limits,
  'maxUpload' | 'fileRows' | 'fileColumns' | 'fileCells' | 'fileDepth' | 'fileUnpacked' | 'fileSeconds' | 'fileMemory'
>;

/** Longest text of a cell. */
const LONGEST_CELL = 1_000_000;

export const inMegabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

/** The tables of a file: one, or one for each sheet of a spreadsheet that has rows. Throws SourceError, which names the limit. */
export const readFileTables = async (
  kind: FileKind,
  name: string,
  bytes: Uint8Array,
  settings: FileSettings,
  limits: FileLimits = LIMITS,
): Promise<RawTable[]> => {
  if (bytes.byteLength > limits.maxUpload)
    throw new SourceError(phrase('file-larger', { most: inMegabytes(limits.maxUpload) }));
  const tables =
    kind === 'xlsx' ? await readSheets(bytes, limits) : [readText(kind, name, asText(bytes), settings, limits)];
  checkCounts(tables, limits);
  tables.forEach(checkCells);
  return tables;
};

/** Refuses tables with more rows, columns or cells than they may have. */
export const checkCounts = (tables: readonly RawTable[], { fileRows, fileColumns, fileCells }: FileLimits): void => {
  let cells = 0;
  for (const { name, columns, rows } of tables) {
    if (rows.length > fileRows) throw new SourceError(phrase('file-many-rows', { name, most: fileRows }));
    if (columns.length > fileColumns) throw new SourceError(phrase('file-many-columns', { name, most: fileColumns }));
    cells += columns.length * rows.length;
    if (cells > fileCells) throw new SourceError(phrase('file-many-cells', { most: fileCells }));
  }
};

export const checkCells = ({ name, rows }: RawTable): void => {
  for (const row of rows) {
    for (const cell of row)
      if (typeof cell === 'string' && cell.length > LONGEST_CELL)
        throw new SourceError(phrase('file-long-cell', { name, most: LONGEST_CELL }));
  }
};

const asText = (bytes: Uint8Array): string => {
  const text = decoded(bytes);
  if (text.includes('\0')) throw new SourceError(phrase('file-no-text'));
  return text;
};

const decoded = (bytes: Uint8Array): string => {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const unmarked = withoutMark(bytes);
  if (unmarked) return new TextDecoder(unmarked).decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes).replace(/^\uFEFF/, '');
  } catch {
    // What is no UTF-8 was saved by an older program in the alphabet of Western Europe.
    return fromWindows1252(bytes);
  }
};

/** The kind of UTF-16 of a text that does not say so at its beginning: every second byte of what it begins with is 0. */
const withoutMark = (bytes: Uint8Array): 'utf-16le' | 'utf-16be' | null => {
  const begin = bytes.subarray(0, 400);
  if (begin.length < 4 || bytes.length % 2 !== 0) return null;
  const zeros = [0, 0];
  for (const [i, byte] of begin.entries()) if (byte === 0) zeros[i % 2]!++;
  const [even, odd] = zeros as [number, number];
  const most = begin.length / 2;
  if (odd > most * 0.7 && even === 0) return 'utf-16le';
  return even > most * 0.7 && odd === 0 ? 'utf-16be' : null;
};

const readText = (
  kind: Exclude<FileKind, 'xlsx'>,
  name: string,
  text: string,
  settings: FileSettings,
  limits: FileLimits,
): RawTable => {
  if (text.trim() === '') throw new SourceError(phrase('file-empty'));
  switch (kind) {
    case 'csv':
      return readCsv(name, text, settings, limits);
    case 'json':
      return tableOf(name, readJson(text, limits), settings.rowsAt, limits);
    case 'xml':
      return tableOf(name, readXml(text, limits), settings.rowsAt, limits);
    default:
      return kind satisfies never;
  }
};

/** JSON, unless its objects and lists lie too deep inside one another. */
export const readJson = (text: string, { fileDepth }: FileLimits): unknown => {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (quoted) {
      if (c === '\\') i++;
      else if (c === '"') quoted = false;
    } else if (c === '"') quoted = true;
    else if (c === '{' || c === '[') {
      if (++depth > fileDepth) throw new SourceError(phrase('file-deep', { most: fileDepth }));
    } else if (c === '}' || c === ']') depth--;
  }
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new SourceError(phrase('file-not-json', { said: error instanceof Error ? error.message : String(error) }));
  }
};

const readXml = (text: string, { fileDepth }: FileLimits): unknown => {
  let depth = 0;
  for (const match of text.matchAll(/<(\/?)[^\s<>!?/][^<>]*?(\/?)>/g)) {
    if (match[1]) depth--;
    else if (!match[2] && ++depth > fileDepth) throw new SourceError(phrase('file-deep', { most: fileDepth }));
  }
  const valid = XMLValidator.validate(text);
  if (valid !== true) throw new SourceError(phrase('file-not-xml', { line: valid.err.line, said: valid.err.msg }));
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    // Entities that the file declares are never opened; those of the language are.
    processEntities: false,
    tagValueProcessor: (_, value) => withoutEntities(value),
    attributeValueProcessor: (_, value) => withoutEntities(value),
  });
  return parser.parse(text);
};

const ENTITIES: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** Text with the entities of XML itself (section 4.6) and characters by their number put in. */
const withoutEntities = (text: string): string =>
  text.replace(/&(?:(amp|lt|gt|quot|apos)|#(\d{1,7})|#x([0-9a-fA-F]{1,6}));/g, (whole, name, number, hex) => {
    if (name) return ENTITIES[name]!;
    const code = number ? Number(number) : Number.parseInt(hex, 16);
    const isCharacter = code > 0 && code <= 0x10ffff && (code < 0xd800 || code > 0xdfff);
    return isCharacter ? String.fromCodePoint(code) : whole;
  });

const readCsv = (name: string, text: string, { delimiter }: FileSettings, { fileColumns }: FileLimits): RawTable => {
  const { data, errors } = Papa.parse<string[]>(text, { delimiter: delimiter ?? '', skipEmptyLines: 'greedy' });
  const bad = errors.find((e) => e.type === 'Quotes');
  if (bad) throw new SourceError(phrase('file-row-broken', { row: (bad.row ?? 0) + 1, said: bad.message }));
  const [head, ...rows] = data;
  if (!head) throw new SourceError(phrase('file-empty'));
  if (head.length > fileColumns) throw new SourceError(phrase('file-many-columns', { name, most: fileColumns }));
  const long = rows.findIndex((row) => row.length > head.length);
  if (long >= 0)
    throw new SourceError(phrase('file-row-long', { row: long + 2, count: rows[long]!.length, first: head.length }));
  const short = rows.filter((row) => row.length < head.length);
  const first = rows.findIndex((row) => row.length < head.length);
  return {
    name,
    columns: head,
    rows: rows.map((row) => head.map((_, i) => row[i] ?? null)),
    ...(short.length > 0 ? { short: { rows: short.length, line: first + 2 } } : {}),
  };
};

/** What a cell may be merged over altogether; the reader makes a cell of each. */
const MERGED = /<mergeCell [^>]*ref="([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})"/g;

const columnNumber = (letters: string): number =>
  [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0);

/** Unpacks a spreadsheet once to see that it is no larger than it may be, whatever it says of itself. */
const checkPacked = (bytes: Uint8Array, { fileUnpacked, fileCells }: FileLimits): void => {
  let size = 0;
  let merged = 0;
  let tail = '';
  let isZip = false;
  // What is thrown below goes through the unpacking code, which makes errors of its own out of it.
  let refused: SourceError | null = null;
  const refuse = (words: Phrase): never => {
    refused ??= new SourceError(words);
    throw refused;
  };
  const unzip = new Unzip((file) => {
    isZip = true;
    tail = '';
    file.ondata = (error, part) => {
      if (error) throw error;
      size += part.length;
      if (size > fileUnpacked) refuse(phrase('file-unpacked-larger', { most: inMegabytes(fileUnpacked) }));
      if (!/worksheets\/[^/]+\.xml$/i.test(file.name)) return;
      const text = tail + strFromU8(part, true);
      for (const [, left, top, right, bottom] of text.matchAll(MERGED)) {
        merged += (columnNumber(right!) - columnNumber(left!) + 1) * (Number(bottom) - Number(top) + 1);
        if (merged > fileCells) refuse(phrase('file-merged', { most: fileCells }));
      }
      // What is cut off at the end of a part is found with the next one, and nothing is counted twice.
      tail = text.slice(Math.max(text.lastIndexOf('<mergeCell'), text.length - 200)).replace(MERGED, '');
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length; at += 65_536)
      unzip.push(bytes.subarray(at, at + 65_536), at + 65_536 >= bytes.length);
  } catch {
    throw refused ?? new SourceError(phrase('file-no-spreadsheet'));
  }
  if (refused) throw refused;
  if (!isZip) throw new SourceError(phrase('file-no-spreadsheet'));
};

const readSheets = async (bytes: Uint8Array, limits: FileLimits): Promise<RawTable[]> => {
  checkPacked(bytes, limits);
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  try {
    await book.xlsx.load(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
  } catch {
    throw new SourceError(phrase('file-no-spreadsheet'));
  }
  const tables: RawTable[] = [];
  for (const sheet of book.worksheets) {
    if (sheet.columnCount > limits.fileColumns)
      throw new SourceError(phrase('file-many-columns', { name: sheet.name, most: limits.fileColumns }));
    if (sheet.columnCount * sheet.rowCount > limits.fileCells)
      throw new SourceError(phrase('file-many-cells', { most: limits.fileCells }));
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
  if (tables.length === 0) throw new SourceError(phrase('file-no-sheet'));
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
export const tableOf = (
  name: string,
  json: unknown,
  rowsAt: string | undefined,
  { fileColumns, fileCells }: FileLimits = LIMITS,
): RawTable => {
  const list = rowsAt ? at(json, rowsAt) : (featuresOf(json) ?? longest(json) ?? (isObject(json) ? [json] : null));
  if (!Array.isArray(list)) {
    throw new SourceError(rowsAt ? phrase('file-no-rows-at', { path: rowsAt }) : phrase('file-no-rows'));
  }
  const columns: string[] = [];
  const known = new Map<string, number>();
  const rows = list.map((item) => {
    const row: RawCell[] = [];
    for (const [key, cell] of flat(isObject(item) ? rowOf(item) : { value: item }, '')) {
      let place = known.get(key);
      if (place === undefined) {
        place = columns.push(key) - 1;
        known.set(key, place);
        if (place >= fileColumns) throw new SourceError(phrase('file-many-columns', { name, most: fileColumns }));
      }
      row[place] = cell;
    }
    return row;
  });
  if (columns.length * rows.length > fileCells) throw new SourceError(phrase('file-many-cells', { most: fileCells }));
  return { name, columns, rows: rows.map((row) => columns.map((_, i) => row[i] ?? null)) };
};

export const at = (json: unknown, path: string): unknown =>
  path
    .split('.')
    .filter(Boolean)
    .reduce<unknown>((value, key) => (isObject(value) && Object.hasOwn(value, key) ? value[key] : undefined), json);

/** The features of a GeoJSON collection (RFC 7946), which are its rows; null of anything else. */
const featuresOf = (json: unknown): unknown[] | null =>
  isObject(json) && json.type === 'FeatureCollection' && Array.isArray(json.features) ? json.features : null;

/** Of a GeoJSON feature its properties, and what it looks like as a text, which a map reads; anything else is a row by itself. */
const rowOf = (item: Json): Json => {
  const { type, id, properties, geometry } = item;
  if (type !== 'Feature' || geometry === undefined) return item;
  const own = isObject(properties) ? properties : {};
  return {
    ...(id === undefined || 'id' in own ? {} : { id }),
    ...own,
    geometry: geometry === null ? null : JSON.stringify(geometry),
  };
};

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
