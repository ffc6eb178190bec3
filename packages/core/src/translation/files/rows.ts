import type { Report } from '../../definition/schema.ts';
import type { Model } from '../../model/model.ts';
import { textsOf } from '../texts.ts';
import { dictionaryOf } from '../translate.ts';

/** A text and what it is called in another language; empty where nobody has said it. */
export interface TranslatedRow {
  text: string;
  translation: string;
}

/** As it leaves for somebody who translates. */
export interface RowToTranslate extends TranslatedRow {
  /** Where it stands in the report, in words, and what the numbers in braces stand for. */
  note: string;
}

/** Everything that a report says as rows for somebody who translates it into a language, with what is translated already. */
export const rowsToTranslate = (report: Report, language: string, models: readonly Model[]): RowToTranslate[] => {
  const say = dictionaryOf(report, language, models);
  return textsOf(report).map(({ text, formulas, paths }) => {
    const numbers = Object.entries(formulas).map(([number, formula]) => `{${number}} ${formula}`);
    return { text, translation: say(text) ?? '', note: [...paths, ...numbers].join('; ') };
  });
};
