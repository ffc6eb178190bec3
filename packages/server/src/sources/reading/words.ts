/** Words for yes and no, in pairs. Single letters count only where both of a pair stand in a column. */
const PAIRS: readonly (readonly [yes: string, no: string])[] = [
  ['true', 'false'],
  ['yes', 'no'],
  ['y', 'n'],
  ['t', 'f'],
  ['verdadeiro', 'falso'],
  ['sim', 'não'],
  ['sim', 'nao'],
  ['s', 'n'],
  ['sí', 'no'],
  ['si', 'no'],
  ['oui', 'non'],
  ['vrai', 'faux'],
  ['ja', 'nein'],
  ['wahr', 'falsch'],
];

const VALUES = new Map(PAIRS.flatMap(([yes, no]) => [[yes, true] as const, [no, false] as const]));

/** A written yes or no; null when it is neither. */
export const readBoolean = (text: string): boolean | null => VALUES.get(text.trim().toLowerCase()) ?? null;

/** Whether the words of a column, in small letters and each once, are those of one pair. */
export const isPair = (words: ReadonlySet<string>): boolean =>
  PAIRS.some(
    ([yes, no]) =>
      [...words].every((word) => word === yes || word === no) && (yes.length > 1 || (words.has(yes) && words.has(no))),
  );

/** What people write where there is nothing. */
const BLANK = /^(?:|null|n\/a|#n\/a|[-–—]+)$/i;
/** What may be a word of its own in a column of texts, as a country's letters, but is no number and no day. */
const NO_VALUE = /^(?:na|nan|nil|none|\.|\?)$/i;

export const isBlankText = (text: string, isText: boolean): boolean => {
  // Most cells are longer than any of these words, or begin otherwise.
  if (text.length > 12) return text.trim() === '';
  const trimmed = text.trim();
  return BLANK.test(trimmed) || (!isText && NO_VALUE.test(trimmed));
};
