import { type MarkRoom, never, type Seen, uncut } from './mark.ts';
import { escapeText, n } from './svg-text.ts';

export interface TextMark extends Seen {
  kind: 'text';
  /** Left end of the baseline, also for right-to-left text. */
  x: number;
  y: number;
  text: string;
  /** Key of the font, as `Source Sans 3/700i`. */
  font: string;
  size: number;
  color: string;
  width: number;
  rtl?: true;
  /** Of an item with several parts, as paragraphs or cells, which one it belongs to; counted from 0. */
  part?: number;
  /** Of a cell of a crosstab: the first column that it stands over, from 0. */
  column?: number;
  /** Of a heading that is in no outline: its level, from 1. */
  level?: number;
  /** Degrees, clockwise, around the left end of the baseline. */
  turn?: number;
}

const splitKey = (key: string): { family: string; weight: string; italic: boolean } => {
  const slash = key.lastIndexOf('/');
  const face = key.slice(slash + 1);
  return { family: key.slice(0, slash), weight: face.replace('i', ''), italic: face.endsWith('i') };
};

export const textRoom: MarkRoom<TextMark> = {
  // Together less than the distance of two lines, so that there is a place to cut between them.
  extent: ({ y, size }) => [y - size * 0.95, y + size * 0.27],
  mayBeCut: never,
  cut: uncut,
  svg: (mark, made) => {
    const { family, weight, italic } = splitKey(mark.font);
    const slant = italic ? ' font-style="italic"' : '';
    const bold = weight === '400' ? '' : ` font-weight="${weight}"`;
    // The right-to-left start is the right end of the run.
    const x = mark.rtl ? mark.x + mark.width : mark.x;
    const direction = mark.rtl ? ' direction="rtl"' : '';
    const turn = mark.turn ? ` transform="rotate(${n(mark.turn)} ${n(mark.x)} ${n(mark.y)})"` : '';
    // Browsers leave out spaces at the ends of a text unless each says that it keeps them, whatever stands around it.
    const spaces = /^ | $| {2}/.test(mark.text) ? ' style="white-space:pre"' : '';
    return `<text x="${n(x)}" y="${n(mark.y)}" font-family="'${escapeText(family)}'" font-size="${n(mark.size)}"${bold}${slant}${direction}${turn}${spaces} fill="${escapeText(mark.color)}"${made}>${escapeText(mark.text)}</text>`;
  },
};
