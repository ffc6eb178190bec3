import type { MarkRoom, Seen } from './mark.ts';
import { dashes, escapeText, n } from './svg-text.ts';

export interface LineMark extends Seen {
  kind: 'line';
  x: number;
  y: number;
  x2: number;
  y2: number;
  color: string;
  thickness: number;
  dash?: number[];
}

export const lineRoom: MarkRoom<LineMark> = {
  extent: ({ y, y2 }) => [Math.min(y, y2), Math.max(y, y2)],
  mayBeCut: ({ x, x2 }) => x === x2,
  cut: (mark, { at }) => {
    const [top, bottom] = lineRoom.extent(mark);
    return [
      { ...mark, y: top, y2: at },
      { ...mark, y: 0, y2: bottom - at },
    ];
  },
  svg: (mark, made) =>
    `<line x1="${n(mark.x)}" y1="${n(mark.y)}" x2="${n(mark.x2)}" y2="${n(mark.y2)}" stroke="${escapeText(mark.color)}" stroke-width="${n(mark.thickness)}"${dashes(mark.dash)}${made}/>`,
};
