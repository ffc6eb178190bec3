import { always, cutRectangle, extentOf, type MarkRoom, type Seen } from './mark.ts';
import { dashes, escapeText, n, rectangle } from './svg-text.ts';

export interface RectangleMark extends Seen {
  kind: 'rectangle';
  x: number;
  y: number;
  width: number;
  height: number;
  fill?: string;
  stroke?: string;
  thickness?: number;
  radius?: number;
  dash?: number[];
}

export const rectangleRoom: MarkRoom<RectangleMark> = {
  extent: extentOf,
  mayBeCut: always,
  cut: cutRectangle,
  svg: (mark, made) => {
    const stroke = mark.stroke ? ` stroke="${escapeText(mark.stroke)}" stroke-width="${n(mark.thickness ?? 1)}"` : '';
    const radius = mark.radius ? ` rx="${n(mark.radius)}"` : '';
    return `<rect ${rectangle(mark)}${radius} fill="${escapeText(mark.fill ?? 'none')}"${stroke}${dashes(mark.dash)}${made}/>`;
  },
};
