import type { FontBook } from '../text/fonts.ts';
import { breakLines } from '../text/lines.ts';
import type { Block } from './block.ts';

const SIZE = 9;
const LEADING = 12;
/** The colour of errors. */
const COLOR = '#b3402e';

/** Words in the place of something that cannot be shown. `width`: of the place, in points. */
export const noticeBlock = (words: string, width: number, book: FontBook): Block => {
  const font = book.find(book.families[0]!, false, false);
  const lines = breakLines([{ text: words, font, size: SIZE }], Math.max(40, width), book);
  const marks: Block['marks'] = lines.flatMap(({ runs }, i) =>
    runs.map((run) => ({
      kind: 'text' as const,
      x: run.x,
      y: i * LEADING + SIZE,
      text: run.text,
      font: run.font.key,
      size: SIZE,
      color: COLOR,
      width: run.width,
      ...(run.rtl ? { rtl: true as const } : {}),
    })),
  );
  return { height: lines.length * LEADING + 4, marks };
};
