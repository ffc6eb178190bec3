import type { Report } from '../definition/schema.ts';

type Speaking = Pick<Report, 'language' | 'translations' | 'languageFrom'>;

/** The languages that a report speaks, its own first. */
export const languagesOf = ({ language, translations = [] }: Pick<Speaking, 'language' | 'translations'>): string[] => [
  ...new Set([language, ...translations.map((one) => one.language)]),
];

/**
 * The one of some languages that somebody who wants others is best served with: the first wanted one that is there, whole or without its
 * last parts (RFC 4647, section 3.4), else one of the same tongue: who wants `pt-BR` can read `pt-PT`. Null when there is none.
 */
export const bestLanguage = (wanted: readonly string[], offered: readonly string[]): string | null => {
  const find = (tag: string): string | undefined => offered.find((one) => one.toLowerCase() === tag);
  for (const one of wanted) {
    const parts = one.trim().toLowerCase().replaceAll('_', '-').split('-');
    for (let length = parts.length; length > 0; length--) {
      const found = find(parts.slice(0, length).join('-'));
      if (found) return found;
    }
    const kin = offered.find((other) => other.toLowerCase().split('-')[0] === parts[0]);
    if (kin && parts[0] !== '') return kin;
  }
  return null;
};

/**
 * The language of a run: what the report’s parameter says, or else the first language of its reader that it speaks; its own where there
 * is none. `values`: those of its parameters. `reader`: the languages of the reader, the preferred one first.
 */
export const languageOfRun = (
  report: Speaking,
  { values = {}, reader = [] }: { values?: Readonly<Record<string, unknown>>; reader?: readonly string[] },
): string => {
  const { languageFrom, language } = report;
  if (languageFrom === 'report') return language;
  const wanted = languageFrom ? [String(values[languageFrom.parameter] ?? '')] : reader;
  return bestLanguage(wanted, languagesOf(report)) ?? language;
};
