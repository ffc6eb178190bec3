import { type FileKind, formatOfName, isSystemFile, phrase } from '@gaveta/core/internal';
import { checkCounts, readFileTables } from './files.ts';
import { type FileLimits, type FileSettings, inMegabytes, occurrences, type RawTable, SourceError } from './raw.ts';
import type { RawCell } from './reading/cell.ts';
import { throughZip } from './zip.ts';

/** One of several files. */
export interface NamedFile {
  name: string;
  bytes: Uint8Array;
}

/** Most files that become one table. */
const MOST_FILES = 1000;

/** Whether a file is of a format by its name, and none that a system keeps for itself. */
export const isOfFormat = (name: string, format: FileKind): boolean =>
  formatOfName(name) === format && !isSystemFile(name);

/** The files in a zip. Throws SourceError when it is none, or larger than it may be. */
export const unpacked = (bytes: Uint8Array, { fileUnpacked }: FileLimits): NamedFile[] => {
  const files: NamedFile[] = [];
  const none = (): SourceError => new SourceError(phrase('file-no-zip'));
  let parts: Uint8Array[] = [];
  let size = 0;
  throughZip(
    bytes,
    (name, part, isLast) => {
      size += part.length;
      if (size > fileUnpacked)
        throw new SourceError(phrase('file-unpacked-larger', { most: inMegabytes(fileUnpacked) }));
      if (files.length > MOST_FILES) throw new SourceError(phrase('file-many-files', { most: MOST_FILES }));
      parts.push(part);
      if (!isLast) return;
      if (!name.endsWith('/')) files.push({ name, bytes: Buffer.concat(parts) });
      parts = [];
    },
    none,
  );
  if (files.length === 0) throw none();
  return files;
};

/**
 * Several files as one table, or as one for each sheet where they have several: with a column for the file that each row is
 * from, and every column that any of them has. Throws SourceError, which names the file.
 */
export const tablesOfFiles = async (
  title: string,
  files: readonly NamedFile[],
  settings: FileSettings & { format: FileKind },
  limits: FileLimits,
): Promise<RawTable[]> => {
  const { format } = settings;
  const read = files.filter(({ name }) => isOfFormat(name, format));
  if (read.length === 0) throw new SourceError(phrase('file-none-of-format', { format: format.toUpperCase() }));
  if (read.length > MOST_FILES) throw new SourceError(phrase('file-many-files', { most: MOST_FILES }));
  const found: { file: string; tables: RawTable[] }[] = [];
  for (const { name, bytes } of [...read].sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const file = name
      .split('/')
      .at(-1)!
      .replace(/\.[^.]+$/, '');
    try {
      found.push({ file, tables: await readFileTables(format, file, bytes, settings, limits) });
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      throw new SourceError(phrase('file-of-several', { name: name.slice(0, 200), said: error.said }));
    }
  }
  const isOneEach = found.every(({ tables }) => tables.length === 1);
  const named = new Map<string, { file: string; table: RawTable }[]>();
  for (const { file, tables } of found) {
    for (const table of tables) {
      const name = isOneEach ? title : table.name;
      named.set(name, [...(named.get(name) ?? []), { file, table }]);
    }
  }
  const together = [...named].map(([name, parts]) => joined(name, parts));
  checkCounts(together, limits);
  return together;
};

const FILE = 'File';

const joined = (name: string, parts: readonly { file: string; table: RawTable }[]): RawTable => {
  const columns = [FILE];
  const places = new Map<string, number>();
  const rows: RawCell[][] = [];
  const short = { rows: 0, line: 0 };
  for (const { file, table } of parts) {
    const which = occurrences(table.columns);
    const at = table.columns.map((column, i) => {
      const key = `${which[i]} ${column}`;
      let place = places.get(key);
      if (place === undefined) {
        place = columns.push(column) - 1;
        places.set(key, place);
      }
      return place;
    });
    for (const cells of table.rows) {
      const row: RawCell[] = [file];
      for (const [i, cell] of cells.entries()) row[at[i]!] = cell;
      rows.push(row);
    }
    if (!table.short) continue;
    short.rows += table.short.rows;
    short.line ||= table.short.line;
  }
  return {
    name,
    columns,
    rows: rows.map((row) => columns.map((_, i) => row[i] ?? null)),
    ...(short.rows > 0 ? { short } : {}),
  };
};
