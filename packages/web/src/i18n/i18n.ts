import i18next from 'i18next';
import { takeEngineWords } from './words.ts';

/** Languages of the interface, with their own names. */
export const LANGUAGES = { en: 'English', 'pt-PT': 'Português' } as const;
export type Language = keyof typeof LANGUAGES;

/** The words of each language are a part of their own, fetched when it is chosen. */
const WORDS: Readonly<Record<Language, () => Promise<void>>> = {
  en: async () => {
    i18next.addResourceBundle('en', 'translation', (await import('./en.json')).default);
  },
  'pt-PT': async () => {
    const [own, engine] = await Promise.all([import('./pt-PT.json'), import('./pt-PT.words.json')]);
    takeEngineWords('pt-PT', engine.default);
    i18next.addResourceBundle('pt-PT', 'translation', own.default);
  },
};

const KEY = 'gaveta.language';

const isLanguage = (tag: string | null): tag is Language => tag !== null && Object.hasOwn(LANGUAGES, tag);

/** The interface's language for a list of wanted ones, best first; any kind of Portuguese gives the one that is here. */
export const languageFor = (wanted: readonly string[]): Language => {
  for (const tag of wanted) {
    const found = Object.keys(LANGUAGES).find((l) => l.split('-')[0] === tag.toLowerCase().split('-')[0]);
    if (found) return found as Language;
  }
  return 'en';
};

/**
 * The language that an address asks for (`?ui-language=pt-PT`, as a host's page does), and the address without that: what else
 * stands in it are values of parameters, none of which can have such a name.
 */
export const askedLanguage = (address: string): { language: string | null; rest: string } => {
  const url = new URL(address);
  const language = url.searchParams.get('ui-language');
  url.searchParams.delete('ui-language');
  return { language, rest: language === null ? address : url.href };
};

/** What the host’s page asked for, which need not be a language of the interface. */
let hostLanguage: string | null = null;

/** What the address asks for, what was chosen here last, what the browser prefers. */
const firstLanguage = (): Language => {
  const { language, rest } = askedLanguage(location.href);
  if (language !== null) {
    hostLanguage = language;
    history.replaceState(history.state, '', rest);
    return languageFor([language]);
  }
  const chosen = chosenLanguage();
  return isLanguage(chosen) ? chosen : languageFor(navigator.languages);
};

/** What was chosen here last; null when nothing was. */
const chosenLanguage = (): string | null => {
  try {
    return localStorage.getItem(KEY);
  } catch {
    // A host's page may forbid it.
    return null;
  }
};

export const chooseLanguage = async (language: Language): Promise<void> => {
  try {
    await WORDS[language]();
  } catch {
    // Its words cannot be fetched now: what is there stays.
    return;
  }
  await i18next.changeLanguage(language);
  try {
    localStorage.setItem(KEY, language);
  } catch {
    // It holds for this window then.
  }
};

/** The languages that somebody reads reports in, the preferred one first: as the host’s page says, as was chosen here, as the browser has it. */
export const readerLanguages = (): string[] => {
  const own = hostLanguage ?? chosenLanguage();
  return [...new Set([...(own === null ? [] : [own]), ...navigator.languages])];
};

/** The language that is not on now. */
export const otherLanguage = (): Language => (i18next.language === 'en' ? 'pt-PT' : 'en');

/** A number with the interface language's own marks. */
export const localNumber = (value: number, digits = 0): string =>
  value.toLocaleString(i18next.language, { minimumFractionDigits: digits, maximumFractionDigits: digits });

i18next.on('languageChanged', (language) => {
  document.documentElement.lang = language;
});

/** Gets the words that the interface begins with; nothing is shown before. */
export const startLanguage = async (): Promise<void> => {
  const lng = firstLanguage();
  await i18next.init({
    lng,
    showSupportNotice: false,
    resources: {},
    interpolation: { escapeValue: false },
  });
  await WORDS[lng]();
};
