import { readFile, rename, writeFile } from 'node:fs/promises';
import type { Page } from '@gaveta/core/internal';

/** What is kept of a case beside it. */
export interface Kept {
  /** Version of this form. */
  kept: 1;
  /** Of the whole run. */
  pageCount: number;
  totals: Record<string, string | null>;
  /** Those that the case asks for; lengths in points. */
  pages: Page[];
}

/** A line for each mark, so that what was changed is read in a comparison of the file. */
export const keptText = ({ pages, ...rest }: Kept): string => {
  const head = JSON.stringify(rest, null, 2).replace(/\n\}$/, '');
  const written = pages.map(({ marks, ...page }) => {
    const facts = JSON.stringify(page).replace(/\}$/, '');
    const lines = marks.map((mark) => `      ${JSON.stringify(mark)}`).join(',\n');
    return `    ${facts},"marks": [${lines === '' ? '' : `\n${lines}\n    `}]}`;
  });
  return `${head},\n  "pages": [${written.length === 0 ? '' : `\n${written.join(',\n')}\n  `}]\n}\n`;
};

/** Null where nothing is kept yet. Throws where the file is none of this version. */
export const readKept = async (file: string): Promise<Kept | null> => {
  const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (text === null) return null;
  let read: Kept | null = null;
  try {
    read = JSON.parse(text) as Kept;
  } catch {
    // Said below: a file that was merged by hand and is not whole, too.
  }
  if (read?.kept !== 1 || !Array.isArray(read.pages))
    throw new Error(`${file} cannot be read. Restore it, or write it anew with --accept.`);
  return read;
};

/** Written beside and renamed, so that a write that is cut short leaves the old file. */
export const writeKept = async (file: string, kept: Kept): Promise<void> => {
  await writeFile(`${file}.new`, keptText(kept));
  await rename(`${file}.new`, file);
};
