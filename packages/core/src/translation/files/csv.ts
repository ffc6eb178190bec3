import type { RowToTranslate, TranslatedRow } from './rows.ts';

const COLUMNS = ['text', 'translation', 'note'] as const;

/** What a spreadsheet would take for a formula has a sign before it, and loses it when it comes back. */
const SHIELDED = /^'(?=[=+\-@\t\r])/;

/** A file of comma-separated values (RFC 4180) with the columns text, translation and note; the note is not read again. */
export const translationsAsCsv = async (rows: readonly RowToTranslate[]): Promise<string> => {
  const { default: Papa } = await import('papaparse');
  const lines = rows.map((row) => COLUMNS.map((name) => row[name]));
  // Spreadsheets take a file without this mark for one of their own old encodings.
  return `\uFEFF${Papa.unparse([[...COLUMNS], ...lines], { escapeFormulae: true })}\r\n`;
};

/** The rows of such a file, also as a spreadsheet writes it again, with semicolons or tabs; null where it has no columns of these names. */
export const translationsFromCsv = async (source: string): Promise<TranslatedRow[] | null> => {
  const { default: Papa } = await import('papaparse');
  const { data } = Papa.parse<string[]>(source.replace(/^\uFEFF/, ''), { skipEmptyLines: true });
  const [head = [], ...lines] = data;
  const [text, translation] = COLUMNS.map((name) => head.findIndex((one) => one.trim().toLowerCase() === name));
  if (text === undefined || translation === undefined || text < 0 || translation < 0) return null;
  const cell = (line: readonly string[], at: number): string => (line[at] ?? '').replace(SHIELDED, '');
  return lines.map((line) => ({ text: cell(line, text), translation: cell(line, translation) }));
};
