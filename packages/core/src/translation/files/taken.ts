import { numbersIn } from '../pieces.ts';
import type { SpokenText } from '../texts.ts';
import type { TranslatedRow } from './rows.ts';

/** What of a file became part of a translation, and what did not. */
export interface TakenTranslations {
  texts: Record<string, string>;
  /** Rows that say something else than before. */
  changed: number;
  /** Texts that the report does not have, which are left out. */
  unknown: string[];
  /** Texts whose translation names other numbers in braces than the text; they are taken all the same. */
  uneven: string[];
}

/** Takes the rows of a file into a translation. A row without a translation changes nothing. */
export const takeTranslations = (
  before: Readonly<Record<string, string>>,
  rows: readonly TranslatedRow[],
  spoken: readonly SpokenText[],
): TakenTranslations => {
  const known = new Map(spoken.map((one) => [one.text, one]));
  const texts: Record<string, string> = { ...before };
  const unknown: string[] = [];
  const uneven: string[] = [];
  let changed = 0;
  for (const { text, translation } of rows) {
    if (translation.trim() === '') continue;
    const one = known.get(text);
    if (!one) {
      unknown.push(text);
      continue;
    }
    if (isUneven(one, translation)) uneven.push(text);
    if (texts[text] !== translation) changed++;
    texts[text] = translation;
  }
  return { texts, changed, unknown, uneven };
};

/** Whether a translated line shows other values than its text. */
export const isUneven = ({ text, kind }: Pick<SpokenText, 'text' | 'kind'>, translation: string): boolean =>
  kind === 'line' && String(numbersIn(text)) !== String(numbersIn(translation));
