import type { TextMark } from '@gaveta/core/internal';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { emu, solid } from './look.ts';

/** Texts of one baseline, from left to right. */
export type TextLine = readonly TextMark[];

/** Texts in lines, from top to bottom. */
export const linesOf = (marks: readonly TextMark[]): TextMark[][] => {
  const lines: TextMark[][] = [];
  for (const mark of [...marks].sort((a, b) => a.y - b.y || a.x - b.x)) {
    const last = lines.at(-1);
    if (last && Math.abs(last[0]!.y - mark.y) < mark.size * 0.4) last.push(mark);
    else lines.push([mark]);
  }
  for (const line of lines) line.sort((a, b) => a.x - b.x);
  return lines;
};

const runXml = ({ text, font, size, color, opacity }: TextMark, language: string): string => {
  const slash = font.lastIndexOf('/');
  const face = font.slice(slash + 1);
  const bold = Number.parseInt(face, 10) >= 600 ? ' b="1"' : '';
  const italic = face.endsWith('i') ? ' i="1"' : '';
  const family = escapeAttribute(font.slice(0, slash));
  return `<a:r><a:rPr lang="${escapeAttribute(language)}" sz="${Math.max(100, Math.round(size * 100))}"${bold}${italic}>${solid(color, opacity)}<a:latin typeface="${family}"/><a:cs typeface="${family}"/></a:rPr><a:t>${escapeXml(text)}</a:t></a:r>`;
};

/** Texts of a line that stand further apart than this many of their sizes are no words of one text. */
const FAR = 2;

/** A line in parts that stand far apart. */
export const partsOf = (line: TextLine): TextMark[][] => {
  const parts: TextMark[][] = [];
  for (const mark of line) {
    const before = parts.at(-1)?.at(-1);
    if (before && mark.x - before.x - before.width <= FAR * mark.size) parts.at(-1)!.push(mark);
    else parts.push([mark]);
  }
  return parts;
};

/** Space between two texts of a line that stand apart. */
const isApart = (before: TextMark, after: TextMark): boolean =>
  after.x - before.x - before.width > after.size * 0.12 && !before.text.endsWith(' ') && !after.text.startsWith(' ');

/** The paragraphs of lines. `align`: of a cell. */
export const paragraphsXml = (lines: readonly TextLine[], language: string, align: 'l' | 'r' | 'ctr' = 'l'): string =>
  lines
    .map((line, i) => {
      const next = lines[i + 1] ?? lines[i - 1];
      const step = next ? Math.abs(next[0]!.y - line[0]!.y) : line[0]!.size * 1.2;
      const spacing = `<a:lnSpc><a:spcPts val="${Math.round(step * 100)}"/></a:lnSpc>`;
      const isReversed = line.every(({ rtl }) => rtl);
      const runs = (isReversed ? [...line].reverse() : line).map((mark, at, all) => {
        const before = all[at - 1];
        return runXml(before && isApart(before, mark) ? { ...mark, text: ` ${mark.text}` } : mark, language);
      });
      return `<a:p><a:pPr algn="${align}"${isReversed ? ' rtl="1"' : ''} marL="0" indent="0">${spacing}<a:spcBef><a:spcPts val="0"/></a:spcBef><a:buNone/></a:pPr>${runs.join('')}</a:p>`;
    })
    .join('');

/** Where the boxes of lines begin above their first baseline, as a share of the type size. */
export const ABOVE = 0.96;

export const bodyXml = (paragraphs: string, tag: 'p:txBody' | 'a:txBody', wrap: 'none' | 'square'): string =>
  `<${tag}><a:bodyPr wrap="${wrap}" lIns="0" tIns="0" rIns="0" bIns="0" anchor="t"><a:noAutofit/></a:bodyPr><a:lstStyle/>${paragraphs}</${tag}>`;

/** Room at the right of a text, which another font may take: in points, and how much wider it may be. */
export const ROOM = 4;
export const WIDER = 1.15;

export const boxHeight = (lines: readonly TextLine[]): number => {
  const [first, last] = [lines[0]![0]!, lines.at(-1)![0]!];
  return last.y - first.y + first.size * ABOVE + last.size * 0.3;
};

export const marginsXml = (left: number): string => ` marL="${emu(left)}" marR="0" marT="0" marB="0"`;
