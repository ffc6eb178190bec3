/** The signs of a number-format code that stand neither in quotes nor behind a sign that takes the next one as it is. */
export function* unquoted(code: string): Generator<{ at: number; sign: string }> {
  let quoted = false;
  for (let at = 0; at < code.length; at++) {
    const sign = code[at]!;
    if (sign === '"') quoted = !quoted;
    else if (!quoted && (sign === '\\' || sign === '_' || sign === '*')) at++;
    else if (!quoted) yield { at, sign };
  }
}

/** A code with parts of it put in another way, those in quotes left alone. */
export const replaceUnquoted = (code: string, pattern: RegExp, change: (...found: string[]) => string): string =>
  code.replace(new RegExp(`"[^"]*"|\\\\.|_.|\\*.|${pattern.source}`, 'gs'), (all: string, ...groups: unknown[]) =>
    /^["\\_*]/.test(all) ? all : change(all, ...(groups.slice(0, -2) as string[])),
  );

/**
 * A code in which a currency is the sign alone: `[$€-816]` names a country too, whose way of writing numbers is not the report’s; and
 * the exponent is as the standard writes it.
 */
export const plainCode = (code: string): string =>
  code.includes('[$')
    ? replaceUnquoted(code, /\[\$([^\]-]*)(?:-[^\]]*)?\]/, (_, sign = '') => (sign === '' ? '' : `"${sign}"`))
    : code;

/** Letters that mean something: parts of dates and times, and the words of a code. */
const KNOWN_WORDS = /^(?:general|am\/pm|a\/p|y{1,4}|m{1,5}|d{1,4}|h{1,2}|s{1,2}|e{1,2}|g{1,3}|b{1,4}|e[+-])$/i;

/** The first letters of a code that mean nothing; null where there are none. */
export const unknownLetters = (code: string): string | null => {
  const plain = plainCode(code).replace(/"[^"]*"|\\.|_.|\*.|\[[^\]]*\]/gs, ' ');
  for (const [word] of plain.matchAll(/am\/pm|a\/p|general|e[+-]|([a-z])\1*|\p{L}/giu))
    if (!KNOWN_WORDS.test(word)) return word;
  return null;
};
