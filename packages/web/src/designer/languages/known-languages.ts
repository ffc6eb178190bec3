/** Languages that are offered; any other tag can be typed into a definition. */
export const KNOWN_LANGUAGES = [
  ...[
    'en',
    'en-GB',
    'pt-PT',
    'pt-BR',
    'es',
    'fr',
    'de',
    'it',
    'nl',
    'ca',
    'gl',
    'eu',
    'da',
    'sv',
    'nb',
    'fi',
    'is',
    'ga',
  ],
  ...['pl', 'cs', 'sk', 'sl', 'hr', 'sr', 'hu', 'ro', 'bg', 'el', 'et', 'lv', 'lt', 'uk', 'ru', 'tr'],
  ...['ar', 'he', 'fa', 'ur', 'hi', 'bn', 'th', 'vi', 'id', 'ms', 'zh-Hans', 'zh-Hant', 'ja', 'ko', 'sw'],
] as const;

/** Scripts that are read from right to left (Unicode). */
const RIGHT_TO_LEFT = new Set(['Arab', 'Hebr', 'Syrc', 'Thaa', 'Nkoo', 'Adlm', 'Rohg']);

/** Whether a language is read from right to left. */
export const isRightToLeft = (tag: string): boolean => {
  try {
    return RIGHT_TO_LEFT.has(new Intl.Locale(tag).maximize().script ?? '');
  } catch {
    return false;
  }
};
