import { tokenize } from './tokens.ts';

/** Something that a formula may name. `insert`: how it is written; `label`: as people see it. */
interface Seen {
  insert: string;
  label: string;
}

/** What is part of a name or ends one, so that a label beside it is no label. */
const WORD = /[\p{L}\p{M}\p{N}_'.]/u;

/**
 * A formula in which names stand as people see them (`Unit price * 2`), with the names that formulas have; the longest labels first, of
 * two alike the first one offered. What stands in quotes is left as it is. Gives the formula itself where it has no label.
 */
export const withNames = (source: string, offered: readonly Seen[]): string => {
  const labels = [...offered]
    .filter(({ insert, label }) => label.length > 1 && label !== insert)
    .sort((a, b) => b.label.length - a.label.length);
  const quoted = tokenize(source).filter(({ kind }) => kind === 'text' || kind === 'wrong');
  const lower = source.toLowerCase();
  let text = '';
  for (let at = 0; at < source.length; ) {
    const inside = quoted.find(({ from, to }) => at >= from && at < to && source[from] === '"');
    if (inside) {
      text += source.slice(at, inside.to);
      at = inside.to;
      continue;
    }
    const found = WORD.test(source[at - 1] ?? ' ') ? undefined : labels.find(({ label }) => isAt(lower, label, at));
    text += found ? found.insert : source[at]!;
    at += found ? found.label.length : 1;
  }
  return text;
};

/** Whether a label stands at a place as a whole, and not as the name of a function. */
const isAt = (lower: string, label: string, at: number): boolean => {
  if (!lower.startsWith(label.toLowerCase(), at)) return false;
  const after = lower.slice(at + label.length);
  return !WORD.test(after[0] ?? ' ') && !after.trimStart().startsWith('(');
};
