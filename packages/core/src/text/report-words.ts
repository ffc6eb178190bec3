type Words = Readonly<Record<string, string>>;

/** Words that a report shows by itself, by the first part of its language (BCP 47); English for any other. */
const BLANK: Words = {
  en: '(blank)',
  pt: '(em branco)',
  es: '(en blanco)',
  fr: '(vide)',
  de: '(leer)',
  it: '(vuoto)',
};

/** What stands for the value of a group whose rows have none. */
export const blankWord = (language: string): string => BLANK[language.toLowerCase().split('-')[0] ?? 'en'] ?? '(blank)';

const ALL: Words = { en: 'all', pt: 'todos', es: 'todos', fr: 'tous', de: 'alle', it: 'tutti' };

/** What stands for a parameter that nothing was chosen for. */
export const allWord = (language: string): string => ALL[language.toLowerCase().split('-')[0] ?? 'en'] ?? 'all';

const TOTAL: Words = { en: 'Total', pt: 'Total', es: 'Total', fr: 'Total', de: 'Gesamt', it: 'Totale' };

/** What the totals of everything are called. */
export const totalWord = (language: string): string => TOTAL[language.toLowerCase().split('-')[0] ?? 'en'] ?? 'Total';

const PAGE: Words = { en: 'Page', pt: 'Página', es: 'Página', fr: 'Page', de: 'Seite', it: 'Pagina' };
const OF: Words = { en: 'of', pt: 'de', es: 'de', fr: 'sur', de: 'von', it: 'di' };

/** What stands before the number of a page, and between it and how many there are. */
export const pageWords = (language: string): { page: string; of: string } => {
  const tag = language.toLowerCase().split('-')[0] ?? 'en';
  return { page: PAGE[tag] ?? 'Page', of: OF[tag] ?? 'of' };
};
