/** A part of a statement: what stands as it is, or a parameter written `:name`. */
export type WrittenPart = { text: string } | { parameter: string; at: number };

/**
 * Parts a statement into text and parameters. Colons in strings, quoted names, comments and casts (`::`) are no
 * parameters; neither are those of an array's slice after a digit or a bracket.
 */
export const writtenParts = (text: string): WrittenPart[] => {
  const parts: WrittenPart[] = [];
  let plain = '';
  let at = 0;
  const take = (pattern: RegExp): string | null => {
    pattern.lastIndex = at;
    const found = pattern.exec(text)?.[0] ?? null;
    return found;
  };
  while (at < text.length) {
    const skipped =
      take(/[eE]'(?:[^'\\]|\\.|'')*(?:'|$)/y) ??
      take(/'(?:[^']|'')*(?:'|$)/y) ??
      take(/"(?:[^"]|"")*(?:"|$)/y) ??
      take(/--[^\n]*/y) ??
      take(/\/\*[\s\S]*?(?:\*\/|$)/y) ??
      take(/\$([A-Za-z_][A-Za-z0-9_]*)?\$[\s\S]*?(?:\$\1\$|$)/y) ??
      take(/::/y) ??
      take(/[A-Za-z_0-9]+/y);
    if (skipped) {
      plain += skipped;
      at += skipped.length;
      continue;
    }
    const named = take(/:[\p{L}_][\p{L}\p{N}_]*(?:\.(?:from|to)\b)?/uy);
    if (named) {
      parts.push({ text: plain }, { parameter: named.slice(1), at });
      plain = '';
      at += named.length;
      continue;
    }
    plain += text[at]!;
    at++;
  }
  parts.push({ text: plain });
  return parts;
};

/** The parameters that a statement names, once each and without the end of a range; in the order in which they come. */
export const writtenParameters = (text: string): string[] => [
  ...new Set(
    writtenParts(text).flatMap((part) => ('parameter' in part ? part.parameter.replace(/\.(?:from|to)$/, '') : [])),
  ),
];

const COMPARED = '(?:<>|!=|<=|>=|=|<|>|(?:not\\s+)?(?:i?like|in|between))';
const COLUMN = '(?:"?[\\p{L}_][\\p{L}\\p{N}_]*"?\\s*\\.\\s*)?"?([\\p{L}_][\\p{L}\\p{N}_]*)"?';

/** The column that a parameter of a statement is compared with, as far as can be seen beside it; null when none is. */
export const comparedColumn = (text: string, parameter: string): string | null => {
  const named = `\\(?\\s*:${parameter}(?![\\p{L}\\p{N}_])`;
  const patterns = [
    `${COLUMN}\\s*${COMPARED}\\s*${named}`,
    `${COLUMN}\\s+(?:not\\s+)?between\\s+:[\\p{L}\\p{N}_.]+\\s+and\\s+${named}`,
    `${named}(?:\\.(?:from|to))?\\s*\\)?\\s*${COMPARED}\\s*${COLUMN}`,
  ];
  for (const pattern of patterns) {
    const found = new RegExp(pattern, 'iu').exec(text);
    if (found?.[1]) return found[1];
  }
  return null;
};
