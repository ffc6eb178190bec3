import type { Edit, Report, Translation } from '@gaveta/core/internal';

/** The report’s translations with one of them changed, or left out where nothing is left of it. */
export const withTranslation = (report: Report, language: string, next: Translation | null): Edit => {
  const others = (report.translations ?? []).filter((one) => one.language !== language);
  const at = (report.translations ?? []).findIndex((one) => one.language === language);
  const list = [...others];
  if (next) list.splice(at < 0 ? others.length : at, 0, next);
  return { do: 'report', settings: { translations: list.length > 0 ? list : null } };
};

/** A translation with one text said in another way; an empty one takes it away. */
export const saying = (translation: Translation, text: string, said: string): Translation => {
  const { [text]: _, ...others } = translation.texts;
  return { ...translation, texts: said.trim() === '' ? others : { ...translation.texts, [text]: said } };
};
