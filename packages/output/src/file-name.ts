import { wellFormed } from './values.ts';

/** What the names of files cannot have on every system. */
const UNFIT = /[<>:"/\\|?*\p{Cc}]|^\.+|[ .]+$/gu;

const LONGEST = 120;

/** A name that a file may have everywhere. */
export const fileName = (words: string, otherwise: string): string => {
  const name = wellFormed(words).trim().replace(UNFIT, '_').slice(0, LONGEST).trim();
  return name === '' || /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(name) ? otherwise : name;
};

/** The name that a pattern gives, and names in braces that stand for nothing there is, which are left out of it. */
export interface PatternName {
  name: string;
  unknown: string[];
}

/**
 * The words of a pattern such as `{report} {season}`: names in braces stand for values, anything else for itself. A value that is
 * empty takes the spaces before it along.
 */
export const patternName = (pattern: string, values: Readonly<Record<string, string>>): PatternName => {
  const unknown: string[] = [];
  const name = pattern.replace(/(\s*)\{([^{}]*)\}/g, (_, space: string, key: string) => {
    const isKnown = Object.hasOwn(values, key);
    if (!isKnown) unknown.push(key);
    const value = isKnown ? values[key]! : '';
    return value === '' ? '' : `${space}${value}`;
  });
  return { name: name.trim(), unknown };
};
