import type { Report } from '../definition/schema.ts';
import type { Model } from '../model/model.ts';
import { type SpokenText, textsOf } from './texts.ts';
import { dictionaryOf } from './translate.ts';

/** What a report says that nobody has said in a language. */
export const missingIn = (report: Report, language: string, models: readonly Model[]): SpokenText[] => {
  const say = dictionaryOf(report, language, models);
  return textsOf(report).filter(({ text }) => say(text) === null);
};
