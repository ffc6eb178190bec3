import { type FileKind, phrase } from '@gaveta/core/internal';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import Papa from 'papaparse';
import { LIMITS } from '../base/limits.ts';
import { asText } from './encoding.ts';
import { type FileLimits, type FileSettings, inMegabytes, numberedColumn, type RawTable, SourceError } from './raw.ts';
import type { RawCell } from './reading/cell.ts';
import { readSheets } from './sheets.ts';

/** Longest text of a cell. */
const LONGEST_CELL = 1_000_000;

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
    kind === 'xlsx'
      ? await readSheets(bytes, settings, limits)
      : [readText(kind, name, asText(bytes, settings.encoding), settings, limits)];
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

/** A text from some line on, 1 for the first. */
const fromLine = (text: string, line: number): string => {
  let at = 0;
  for (let skipped = 1; skipped < line; skipped++) {
    const end = /\r\n|\n|\r/g;
    end.lastIndex = at;
    if (!end.exec(text)) return '';
    at = end.lastIndex;
  }
  return text.slice(at);
};

const parsed = (text: string, delimiter: string | undefined): Papa.ParseResult<string[]> => {
  const found = Papa.parse<string[]>(text, { delimiter: delimiter ?? '', skipEmptyLines: 'greedy' });
  const [first] = found.data;
  if (delimiter !== undefined || !first || first.length > 1) return found;
  // What is in the headings parts them, where the rows are too few or too unlike to tell.
  const sign = [';', '\t', '|'].find((other) => first[0]!.includes(other));
  return sign ? Papa.parse<string[]>(text, { delimiter: sign, skipEmptyLines: 'greedy' }) : found;
};

const readCsv = (
  name: string,
  text: string,
  { delimiter, headings = 1 }: FileSettings,
  { fileColumns }: FileLimits,
): RawTable => {
  const from = Math.max(1, headings);
  const { data, errors } = parsed(fromLine(text, from), delimiter);
  const bad = errors.find((e) => e.type === 'Quotes');
  if (bad) throw new SourceError(phrase('file-row-broken', { row: (bad.row ?? 0) + from, said: bad.message }));
  const [first] = data;
  if (!first) throw new SourceError(from > 1 ? phrase('file-no-line', { line: from }) : phrase('file-empty'));
  const isHeaded = headings > 0;
  const width = isHeaded ? first.length : data.reduce((most, row) => Math.max(most, row.length), 0);
  const columns = isHeaded ? first : Array.from({ length: width }, (_, i) => numberedColumn(i));
  const rows = isHeaded ? data.slice(1) : data;
  // Of the first row after the headings.
  const line = isHeaded ? from + 1 : from;
  if (width > fileColumns) throw new SourceError(phrase('file-many-columns', { name, most: fileColumns }));
  const long = rows.findIndex((row) => row.length > width);
  if (long >= 0)
    throw new SourceError(phrase('file-row-long', { row: long + line, count: rows[long]!.length, first: width }));
  const short = rows.filter((row) => row.length < width);
  return {
    name,
    columns,
    rows: rows.map((row) => columns.map((_, i) => row[i] ?? null)),
    ...(short.length > 0
      ? { short: { rows: short.length, line: rows.findIndex((row) => row.length < width) + line } }
      : {}),
  };
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
