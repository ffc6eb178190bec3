import { createHash } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';
import { fileOfThing, readFiled } from '@gaveta/core/contract';

/** A file of a folder of the library, by its path below it. */
export interface LibraryFile {
  path: string;
  text: string;
}

/** What was the same here and on the server when both were last put side by side. */
export interface Known {
  server: string;
  folder: string;
  /** Digests of files by their paths. */
  files: Record<string, string>;
  /** Revisions by the ids of things. */
  revisions: Record<string, number>;
}

/** Where that is kept: beside the files, and to be kept with them. */
const KNOWN = '.gaveta-library.json';
/** Folders inside each other that are read. */
const DEEPEST = 30;

const isLibraryFile = (name: string): boolean => name === 'folder.json' || fileOfThing(name) !== null;

/** What a definition says with all that it leaves out, so that it is the same however it is written. */
const meaningOf = (path: string, json: unknown): unknown => {
  const thing = fileOfThing(path);
  return (thing && readFiled(thing.kind, json).filed) ?? json;
};

/** The same for files that mean the same. */
export const digestOf = ({ path, text }: LibraryFile): string => {
  let plain = text;
  try {
    plain = JSON.stringify(meaningOf(path, JSON.parse(text)));
  } catch {}
  return createHash('sha256').update(plain).digest('base64url');
};

/** The files of the library that lie in a folder; what else lies there is left alone. */
export const readFolder = async (folder: string): Promise<LibraryFile[]> => {
  const found: LibraryFile[] = [];
  const read = async (at: string, depth: number): Promise<void> => {
    const entries = await readdir(join(folder, at), { withFileTypes: true }).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return [];
      throw error;
    });
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (entry.name.startsWith('.') || entry.name === 'node_modules') continue;
      const path = at === '' ? entry.name : `${at}/${entry.name}`;
      if (entry.isDirectory() && depth < DEEPEST) await read(path, depth + 1);
      else if (entry.isFile() && isLibraryFile(entry.name))
        found.push({ path, text: await readFile(join(folder, path), 'utf8') });
    }
  };
  await read('', 0);
  return found;
};

/** Where a file goes. Throws for a path that leads out of the folder. */
const placeOf = (folder: string, path: string): string => {
  const root = resolve(folder);
  const place = resolve(root, path);
  if (!place.startsWith(root + sep) || !isLibraryFile(path.split('/').at(-1)!))
    throw new Error(`the server names a file that does not belong there: “${path}”`);
  return place;
};

/** Writes a file so that it is there whole, or as it was before. */
export const putFile = async (folder: string, { path, text }: LibraryFile): Promise<void> => {
  const place = placeOf(folder, path);
  await mkdir(dirname(place), { recursive: true });
  await writeFile(`${place}.new`, text);
  await rename(`${place}.new`, place);
};

export const removeFile = (folder: string, path: string): Promise<void> => rm(placeOf(folder, path), { force: true });

export const readKnown = async (folder: string): Promise<Known | null> => {
  const text = await readFile(join(folder, KNOWN), 'utf8').catch(() => null);
  if (text === null) return null;
  try {
    const { server, folder: id, files, revisions } = JSON.parse(text) as Partial<Known>;
    if (typeof server !== 'string' || typeof id !== 'string') return null;
    return { server, folder: id, files: files ?? {}, revisions: revisions ?? {} };
  } catch {
    return null;
  }
};

export const writeKnown = async (folder: string, known: Known): Promise<void> => {
  const place = join(resolve(folder), KNOWN);
  await mkdir(dirname(place), { recursive: true });
  await writeFile(`${place}.new`, `${JSON.stringify(known, null, 2)}\n`);
  await rename(`${place}.new`, place);
};
