import { isLanguage } from './format.ts';

/** Every plural category that some language has, in the order of Unicode CLDR. */
const CATEGORIES = ['zero', 'one', 'two', 'few', 'many', 'other'] as const;
type Category = (typeof CATEGORIES)[number];

const known = new Map<string, { rules: Intl.PluralRules; categories: Category[] }>();

const rulesOf = (language: string): { rules: Intl.PluralRules; categories: Category[] } => {
  let found = known.get(language);
  if (!found) {
    const rules = new Intl.PluralRules(isLanguage(language) ? language : 'en');
    const own = rules.resolvedOptions().pluralCategories;
    found = { rules, categories: CATEGORIES.filter((category) => own.includes(category)) };
    if (known.size > 100) known.clear();
    known.set(language, found);
  }
  return found;
};

/**
 * The form of a word that a count takes in a language, by the plural rules of Unicode CLDR. `forms` stand in the order zero, one, two,
 * few, many, other, those left out that the language does not have; where there are fewer, the last one serves for the rest. Polish has
 * `noc`, `noce`, `nocy`.
 */
export const pluralForm = (count: number, forms: readonly string[], language: string): string => {
  const { rules, categories } = rulesOf(language);
  const place = categories.indexOf(rules.select(Math.abs(count)) as Category);
  return forms[Math.min(Math.max(place, 0), forms.length - 1)] ?? '';
};

/** Whole numbers that are tried for examples of a form. */
const TRIED = 1000;

/** One count for each form that a language has for whole numbers, in the order of {@link pluralForm}: `1`, `2`, `5` in Polish. */
export const pluralExamples = (language: string): number[] => {
  const { rules, categories } = rulesOf(language);
  return categories.flatMap((category) => {
    for (let count = 1; count <= TRIED; count++) if (rules.select(count) === category) return [count];
    return rules.select(0) === category ? [0] : [];
  });
};
