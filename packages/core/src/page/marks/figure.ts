import { extentOf, type Made, type MarkRole, type MarkRoom, never, uncut } from './mark.ts';
import { escapeText, n, rectangle } from './svg-text.ts';

/** What a picture of numbers says to who does not see it. The marks that it is drawn with follow it, as `drawing`. */
export interface FigureMark extends Made {
  kind: 'figure';
  x: number;
  y: number;
  width: number;
  height: number;
  as?: MarkRole;
  /** A sentence or two. */
  alternative: string;
  /** Its numbers as they are shown, row by row; the first row has the captions of the columns. */
  table: readonly (readonly string[])[];
}

const cells = (row: readonly string[], tag: 'th' | 'td'): string =>
  row
    .map((cell, i) => (i === 0 || tag === 'th' ? `<th>${escapeText(cell)}</th>` : `<td>${escapeText(cell)}</td>`))
    .join('');

/** Read by screen readers, and not seen. */
const HIDDEN = 'position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%);white-space:nowrap';

export const figureRoom: MarkRoom<FigureMark> = {
  extent: extentOf,
  mayBeCut: never,
  cut: uncut,
  svg: (mark, made) => {
    const { alternative, table, x, y } = mark;
    const image = `<g role="img" aria-label="${escapeText(alternative)}"><rect ${rectangle(mark)} fill="none" pointer-events="none"${made}/></g>`;
    const [captions, ...rows] = table;
    if (!captions || rows.length === 0) return image;
    const body = rows.map((row) => `<tr>${cells(row, 'td')}</tr>`).join('');
    const html = `<table xmlns="http://www.w3.org/1999/xhtml" style="${HIDDEN}"><thead><tr>${cells(captions, 'th')}</tr></thead><tbody>${body}</tbody></table>`;
    return `${image}<foreignObject x="${n(x)}" y="${n(y)}" width="1" height="1" pointer-events="none" style="overflow:hidden">${html}</foreignObject>`;
  },
};
