import { type Report, reportFrame } from '@gaveta/core/internal';

export interface ReportWords {
  page: string;
  of: string;
  total: string;
}

/** A report with a title and page numbers, and no rows yet. */
export const blank = (name: string, words: ReportWords, language: string, timeZone: string): Report => ({
  ...reportFrame(name, undefined, words),
  language,
  timeZone,
});
