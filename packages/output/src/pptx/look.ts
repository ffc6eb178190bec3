import type { RectangleMark } from '@gaveta/core/internal';

/** Lengths as slides have them: 12,700 to a point. */
export const emu = (points: number): number => Math.round(points * 12_700);

export const solid = (color: string, opacity = 1): string => {
  const alpha = opacity < 1 ? `<a:alpha val="${Math.round(opacity * 100_000)}"/>` : '';
  return `<a:solidFill><a:srgbClr val="${color.slice(1, 7).toUpperCase()}">${alpha}</a:srgbClr></a:solidFill>`;
};

export const lineXml = (
  color: string | undefined,
  { thickness = 1, dash, opacity = 1 }: Pick<RectangleMark, 'thickness' | 'dash' | 'opacity'>,
): string =>
  color
    ? `<a:ln w="${emu(thickness)}">${solid(color, opacity)}${dash ? '<a:prstDash val="dash"/>' : ''}</a:ln>`
    : '<a:ln><a:noFill/></a:ln>';

export interface PlaceOnSlide {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** `more`: attributes, as how it is turned. */
export const placeXml = ({ x, y, width, height }: PlaceOnSlide, tag = 'a:xfrm', more = ''): string =>
  `<${tag}${more}><a:off x="${emu(x)}" y="${emu(y)}"/><a:ext cx="${emu(Math.max(0, width))}" cy="${emu(Math.max(0, height))}"/></${tag}>`;
