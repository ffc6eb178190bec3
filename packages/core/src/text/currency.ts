import { isLanguage } from './format.ts';

/** Numbers of decimals by currency, by ISO 4217 code, where they are others than the standard's. */
export type CurrencyDecimals = Readonly<Record<string, number>>;

/** Whether a text has the form of a currency's code: three capital letters (ISO 4217). */
export const isCurrencyCode = (code: string): boolean => /^[A-Z]{3}$/.test(code);

/** Most decimals that a currency may have. */
export const MOST_DECIMALS = 20;

/** Formats by language, code and decimals: codes may come out of rows, so that there is a bound. */
const cache = new Map<string, string>();
const MOST_CACHED = 1000;

/**
 * The number-format code of amounts in a currency, its sign where the language puts it: `"€"#,##0.00` in English, `#,##0.00 "€"` in
 * Portuguese. Null when the code is none. Decimals are those of `decimals`, else the currency's own (Unicode CLDR, after ISO 4217).
 */
export const currencyFormat = (code: string, language: string, decimals: CurrencyDecimals = {}): string | null => {
  if (!isCurrencyCode(code)) return null;
  const own = Object.hasOwn(decimals, code) ? decimals[code]! : null;
  const key = `${language} ${code} ${own}`;
  let format = cache.get(key);
  if (format === undefined) {
    format = formatOf(code, language, own);
    if (cache.size >= MOST_CACHED) cache.clear();
    cache.set(key, format);
  }
  return format;
};

const formatOf = (code: string, language: string, decimals: number | null): string => {
  const parts = new Intl.NumberFormat(isLanguage(language) ? language : 'en', {
    style: 'currency',
    currency: code,
    currencyDisplay: 'narrowSymbol',
    ...(decimals === null ? {} : { minimumFractionDigits: decimals, maximumFractionDigits: decimals }),
  }).formatToParts(1);
  return parts
    .map(({ type, value }) => {
      switch (type) {
        case 'integer':
          return '#,##0';
        case 'decimal':
          return '.';
        case 'fraction':
          return '0'.repeat(value.length);
        default:
          return `"${value.replaceAll('"', '')}"`;
      }
    })
    .join('')
    .replaceAll('""', '');
};

/** What a field's values are shown with: its own format, or that of its currency. */
export const fieldFormat = (
  { format, currency }: { format?: string | undefined; currency?: string | undefined },
  language: string,
  decimals: CurrencyDecimals | undefined,
): string | undefined => format ?? (currency ? (currencyFormat(currency, language, decimals) ?? undefined) : undefined);
