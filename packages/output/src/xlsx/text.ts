/** What needs care in the XML of a cell. */
const SPECIAL = /[&<>\p{Cc}\p{Cs}\uFFFE\uFFFF_]/u;

/** Characters that a cell can hold. */
export const LONGEST_TEXT = 32_767;

/** A character as ECMA-376 writes what XML cannot (22.9.2.19, ST_Xstring). */
const escaped = (sign: string): string => `_x${sign.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`;

/** Text as the XML of a workbook has it. */
export const cellText = (text: string): string => {
  const short = text.length > LONGEST_TEXT ? `${text.slice(0, LONGEST_TEXT - 1)}…` : text;
  if (!SPECIAL.test(short)) return short;
  return short
    .replace(/_(?=x[0-9A-Fa-f]{4}_)/g, '_x005F_')
    .replace(/(?![\t\n])\p{Cc}|[\uFFFE\uFFFF]/gu, escaped)
    .replace(/\p{Cs}/gu, '\uFFFD')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;');
};

/** Text of an attribute. */
export const attributeText = (text: string): string =>
  cellText(text).replaceAll('"', '&quot;').replaceAll('\n', '&#10;');

/** `A` for 0, `AB` for 27. */
export const columnLetters = (column: number): string => {
  let letters = '';
  for (let rest = column + 1; rest > 0; rest = Math.floor((rest - 1) / 26))
    letters = String.fromCharCode(65 + ((rest - 1) % 26)) + letters;
  return letters;
};

/** Names of sheets: what they cannot hold is replaced, each is there once, whatever its case. */
export class SheetNames {
  private readonly taken = new Set<string>();

  name(words: string): string {
    const plain =
      words
        .replace(/[[\]:*?/\\\p{Cc}\p{Cs}]/gu, ' ')
        .replace(/^'+|'+$/g, '')
        .trim() || 'Sheet';
    for (let n = 1; ; n++) {
      const end = n === 1 ? '' : ` (${n})`;
      const name = plain.slice(0, 31 - end.length) + end;
      const key = name.toLowerCase();
      // Office programs keep this name for themselves.
      if (key === 'history' || this.taken.has(key)) continue;
      this.taken.add(key);
      return name;
    }
  }
}
