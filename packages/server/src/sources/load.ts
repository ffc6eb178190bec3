import { readdir, readFile, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { type ConnectionSettings, type FileKind, phrase } from '@gaveta/core/internal';
import { readFileTables } from './files.ts';
import { fetchFile, type HttpSettings, readHttp } from './http-source.ts';
import { type FileLimits, inMegabytes, type RawTable, SourceError } from './raw.ts';
import type { Writing } from './reading/column.ts';
import { isOfFormat, type NamedFile, tablesOfFiles, unpacked } from './several.ts';

/** A file or service to be read, with everything that reading it needs; it travels to a thread as it is. */
export interface SourceToRead {
  name: string;
  settings: Extract<ConnectionSettings, { kind: 'file' | 'http' }>;
  /** What signs in to an address. */
  headers: Record<string, string>;
  /** An uploaded file. */
  data: Uint8Array | null;
  /** Path of a file that the host’s code names; instead of `data` and the address. */
  path: string | null;
  /** Starts of addresses that may be asked. */
  allowed: readonly string[];
  limits: FileLimits;
}

export const writingOf = ({ settings: { decimal, dates } }: Pick<SourceToRead, 'settings'>): Writing => ({
  decimal,
  dates,
});

/** The tables of a file or service as they are now. Throws SourceError. */
export const loadTables = async (source: SourceToRead, signal: AbortSignal): Promise<RawTable[]> => {
  const load = LOADERS[source.settings.kind] as Load<SourceToRead['settings']>;
  return load(source, source.settings, signal);
};

type Load<S> = (source: SourceToRead, settings: S, signal: AbortSignal) => Promise<RawTable[]>;

/** How each kind of source is read whole. */
const LOADERS: {
  readonly [K in SourceToRead['settings']['kind']]: Load<Extract<SourceToRead['settings'], { kind: K }>>;
} = {
  http: async ({ name, headers, allowed, limits }, settings, signal) => {
    const http: HttpSettings = { ...settings, headers };
    return [await readHttp(name, http, allowed, signal, limits)];
  },
  file: async (source, settings, signal) => {
    const { format, several, address } = settings;
    const { path, name, limits } = source;
    const title = path === null ? name : basename(path).replace(/\.[a-z]+$/i, '');
    if (path !== null && (await isFolder(path)))
      return tablesOfFiles(title, await filesIn(path, format, limits), settings, limits);
    const bytes = await bytesOf(source, address, signal);
    return several
      ? tablesOfFiles(title, unpacked(bytes, limits), settings, limits)
      : readFileTables(format, title, bytes, settings, limits);
  },
};

const isFolder = async (path: string): Promise<boolean> => (await stat(path).catch(() => null))?.isDirectory() ?? false;

/** The files of a folder that are of a format, which together may be no larger than one. */
const filesIn = async (folder: string, format: FileKind, { maxUpload }: FileLimits): Promise<NamedFile[]> => {
  const names = (await readdir(folder)).filter((name) => isOfFormat(name, format)).sort();
  const files: NamedFile[] = [];
  let left = maxUpload;
  for (const name of names) {
    const path = join(folder, name);
    left -= (await stat(path)).size;
    if (left < 0) throw new SourceError(phrase('file-larger', { most: inMegabytes(maxUpload) }));
    files.push({ name, bytes: await readFile(path) });
  }
  return files;
};

const bytesOf = async (
  { path, data, allowed, headers, limits }: SourceToRead,
  address: string | undefined,
  signal: AbortSignal,
): Promise<Uint8Array> => {
  if (path !== null) {
    const found = await stat(path).catch(() => null);
    if (!found?.isFile()) throw new SourceError(phrase('file-gone', { name: basename(path) }));
    if (found.size > limits.maxUpload)
      throw new SourceError(phrase('file-larger', { most: inMegabytes(limits.maxUpload) }));
    return readFile(path);
  }
  if (address !== undefined) return fetchFile(address, allowed, headers, signal, limits);
  if (!data) throw new SourceError(phrase('file-none-yet'));
  return data;
};
