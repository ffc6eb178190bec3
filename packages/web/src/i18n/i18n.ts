import i18next from 'i18next';
import { initReactI18next } from 'react-i18next';
import en from './en.json';
import pt from './pt-PT.json';

/** Languages of the interface, with their own names. */
export const LANGUAGES = { en: 'English', 'pt-PT': 'Português' } as const;
export type Language = keyof typeof LANGUAGES;

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

/** What the address asks for (`?language=pt-PT`, as a host's page does), what was chosen here last, what the browser prefers. */
const firstLanguage = (): Language => {
  const asked = new URLSearchParams(location.search).get('language');
  if (asked) return languageFor([asked]);
  try {
    const chosen = localStorage.getItem(KEY);
    if (isLanguage(chosen)) return chosen;
  } catch {
    // A host's page may forbid it.
  }
  return languageFor(navigator.languages);
};

export const chooseLanguage = (language: Language): void => {
  void i18next.changeLanguage(language);
  try {
    localStorage.setItem(KEY, language);
  } catch {
    // It holds for this window then.
  }
};

/** The language that is not on now. */
export const otherLanguage = (): Language => (i18next.language === 'en' ? 'pt-PT' : 'en');

/** A number with the interface language's own marks. */
export const localNumber = (value: number, digits = 0): string =>
  value.toLocaleString(i18next.language, { minimumFractionDigits: digits, maximumFractionDigits: digits });

i18next.on('languageChanged', (language) => {
  document.documentElement.lang = language;
});

void i18next.use(initReactI18next).init({
  lng: firstLanguage(),
  fallbackLng: 'en',
  showSupportNotice: false,
  resources: { en: { translation: en }, 'pt-PT': { translation: pt } },
  interpolation: { escapeValue: false },
});
