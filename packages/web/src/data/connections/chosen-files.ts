import { type FileKind, formatOfName, isSystemFile } from '@gaveta/core/internal';

/** What is uploaded of the files that somebody chose. */
export interface ChosenFile {
  format: FileKind;
  fileName: string;
  content: Blob;
  /** Several files, in one zip. */
  several: boolean;
}

const isZip = (name: string): boolean => /\.zip$/i.test(name);

/** The one format of files by their names, passing over what cannot be read; or what stands in the way. */
const commonFormat = (names: readonly string[]): FileKind | 'notReadable' | 'mixedFiles' => {
  const formats = new Set(names.flatMap((name) => (isSystemFile(name) ? [] : (formatOfName(name) ?? []))));
  const [format, other] = formats;
  return format === undefined ? 'notReadable' : other === undefined ? format : 'mixedFiles';
};

const bytesOf = async (file: Blob): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());

/** Names in a zip; null when it is none. */
const namesIn = async (file: Blob): Promise<string[] | null> => {
  const { unzipSync } = await import('fflate');
  const names: string[] = [];
  try {
    unzipSync(await bytesOf(file), {
      filter: ({ name }) => {
        names.push(name);
        return false;
      },
    });
    return names;
  } catch {
    return null;
  }
};

/**
 * Files that were chosen as one upload: one as it is, several of one format as a zip. Or the key of the words for what
 * stands in the way.
 */
export const chosenFiles = async (files: readonly File[]): Promise<ChosenFile | 'notReadable' | 'mixedFiles'> => {
  const [first] = files;
  if (!first) return 'notReadable';
  if (files.length === 1 && isZip(first.name)) {
    const names = await namesIn(first);
    const format = names ? commonFormat(names) : 'notReadable';
    if (format === 'notReadable' || format === 'mixedFiles') return format;
    return { format, fileName: first.name, content: first, several: true };
  }
  // A folder comes with the path of each of its files; a single file in it stays a file.
  const names = files.map((file) => file.webkitRelativePath || file.name);
  const format = commonFormat(names);
  if (format === 'notReadable' || format === 'mixedFiles') return format;
  if (files.length === 1) return { format, fileName: first.name, content: first, several: false };
  const { zipSync } = await import('fflate');
  const entries: Record<string, Uint8Array> = {};
  for (const [i, file] of files.entries())
    if (formatOfName(file.name) === format) entries[names[i]!] = await bytesOf(file);
  const folder = first.webkitRelativePath.split('/')[0];
  const fileName = folder || names.join(', ').slice(0, 200);
  return {
    format,
    fileName,
    content: new Blob([zipSync(entries, { level: 1 }) as Uint8Array<ArrayBuffer>]),
    several: true,
  };
};
