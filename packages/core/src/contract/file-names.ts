import type { LibraryKind } from './rights.ts';

/** What becomes a file: connections, with what is secret of them, stay on their server. */
export type FileKind = Exclude<LibraryKind, 'connection'>;

const IN_FILE = /([^/]+)\.(report|sketch|recipe|picture|theme)\.json$/;

/** As it is where it was never encoded. */
const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};

/** The thing that a file is of, by its path: its kind, and its id in the library. Null for other files. */
export const fileOfThing = (path: string): { id: string; kind: FileKind } | null => {
  const [, encoded, kind] = IN_FILE.exec(path) ?? [];
  if (encoded === undefined || kind === undefined) return null;
  const key = decoded(encoded).slice(0, 120);
  return { id: kind === 'recipe' ? `recipe:${key}` : key, kind: kind as FileKind };
};

/** The name of the file of a thing. */
export const thingFile = (id: string, kind: FileKind): string =>
  `${encodeURIComponent(kind === 'recipe' ? id.replace(/^recipe:/, '') : id)}.${kind}.json`;
