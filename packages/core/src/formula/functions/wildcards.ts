/** A text with `*` for anything, `?` for one sign, and `~` before either where it means itself (OpenFormula, section 3.4). */
export interface Wildcards {
  /** Parts between the stars: signs in order, null for any one. */
  parts: readonly (readonly (string | null)[])[];
}

export const readWildcards = (source: string): Wildcards => {
  const parts: (string | null)[][] = [[]];
  const signs = Array.from(source);
  for (let i = 0; i < signs.length; i++) {
    const sign = signs[i]!;
    const next = signs[i + 1];
    if (sign === '~' && (next === '*' || next === '?' || next === '~')) parts.at(-1)!.push(signs[++i]!);
    else if (sign === '*') parts.push([]);
    else parts.at(-1)!.push(sign === '?' ? null : sign);
  }
  return { parts };
};

export const hasWildcards = (source: string): boolean => /[*?~]/.test(source);

const fitsAt = (part: readonly (string | null)[], signs: readonly string[], at: number): boolean => {
  if (at < 0 || at + part.length > signs.length) return false;
  for (let i = 0; i < part.length; i++) if (part[i] !== null && part[i] !== signs[at + i]) return false;
  return true;
};

/** Where a part begins at or after a place; -1 when it does not. */
const placeOf = (part: readonly (string | null)[], signs: readonly string[], from: number): number => {
  for (let at = from; at + part.length <= signs.length; at++) if (fitsAt(part, signs, at)) return at;
  return -1;
};

/** Where what is looked for begins, from 0, at or after a place; -1 when it does not. */
export const searchWildcards = ({ parts }: Wildcards, signs: readonly string[], from: number): number => {
  let begin = -1;
  let at = from;
  for (const [i, part] of parts.entries()) {
    const found = placeOf(part, signs, at);
    if (found < 0) return -1;
    // A star at the beginning takes all that stands before.
    if (i === 0) begin = found;
    at = found + part.length;
  }
  return begin;
};

/** Whether all of a text is as it says. */
export const matchesWildcards = ({ parts }: Wildcards, signs: readonly string[]): boolean => {
  const [first = [], ...rest] = parts;
  const last = rest.pop();
  if (!fitsAt(first, signs, 0)) return false;
  if (!last) return first.length === signs.length;
  let at = first.length;
  for (const part of rest) {
    const found = placeOf(part, signs, at);
    if (found < 0) return false;
    at = found + part.length;
  }
  return at + last.length <= signs.length && fitsAt(last, signs, signs.length - last.length);
};

/** Comparisons of signs that a search may take at most. */
export const searchWork = ({ parts }: Wildcards, signs: readonly string[]): number =>
  parts.reduce((sum, part) => sum + Math.max(1, part.length), 0) * signs.length;
