import { wellFormed } from './values.ts';

/** What the names of files cannot have on every system. */
const UNFIT = /[<>:"/\\|?*\p{Cc}]|^\.+|[ .]+$/gu;

/** A name that a file may have everywhere. */
export const fileName = (words: string, otherwise: string): string => {
  const name = wellFormed(words).trim().replace(UNFIT, '_').slice(0, 120);
  return name === '' || /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(name) ? otherwise : name;
};
