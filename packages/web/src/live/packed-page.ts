import type { SvgPage } from '@gaveta/core/internal';

/**
 * A page as it travels between threads: its marks as one text. Thousands of short ones cost both sides milliseconds at each edit, and
 * most pages are never looked into.
 */
export interface PackedPage {
  open: string;
  marks: string;
}

/** Between marks. XML cannot hold it, so that no mark does. */
const BETWEEN = '\u0001';

export const packPage = ({ open, marks }: SvgPage): PackedPage => ({ open, marks: marks.join(BETWEEN) });

/** The page as it was packed; its marks are parted when they are first asked for. */
export const unpackPage = ({ open, marks }: PackedPage): SvgPage => {
  let parted: string[] | null = null;
  return {
    open,
    get marks() {
      parted ??= marks === '' ? [] : marks.split(BETWEEN);
      return parted;
    },
  };
};
