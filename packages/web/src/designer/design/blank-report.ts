import { type Report, reportFrame, THEMES } from '@gaveta/core/internal';
import { type KnownThemes, themeFor } from '../../api/use-themes.ts';

export interface ReportWords {
  page: string;
  of: string;
  total: string;
}

/** A report with a title and page numbers, and no rows yet. */
export const blank = (
  name: string,
  words: ReportWords,
  language: string,
  timeZone: string,
  themes: KnownThemes,
): Report => ({
  ...reportFrame(name, undefined, words, themeFor(themes, null, THEMES[0]!)),
  language,
  timeZone,
});
