import { translationsFromCsv } from './csv.ts';
import type { TranslatedRow } from './rows.ts';
import { translationsFromXliff } from './xliff.ts';

/** Whether a file is XLIFF by its name; any other is a table. */
export const isXliffFile = (name: string): boolean => /\.(xlf|xliff)$/i.test(name);

/** The rows of a file, or why there are none: it has not the columns of one, is no XLIFF, or translates into another language. */
export type ReadTranslations =
  | { rows: readonly TranslatedRow[] }
  | { refused: 'columns' | 'xliff' }
  | { refused: 'language'; language: string };

/** Reads a file of translations into a language, in the form that its name says. */
export const readTranslations = async (name: string, source: string, language: string): Promise<ReadTranslations> => {
  if (!isXliffFile(name)) {
    const rows = await translationsFromCsv(source);
    return rows ? { rows } : { refused: 'columns' };
  }
  const read = await translationsFromXliff(source);
  if (!read) return { refused: 'xliff' };
  const isOther = read.language !== null && read.language.toLowerCase() !== language.toLowerCase();
  return isOther ? { refused: 'language', language: read.language! } : { rows: read.rows };
};
