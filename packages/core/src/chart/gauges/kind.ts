import type { Box, Drawing } from '../drawing.ts';
import type { Gauge } from '../gauge.ts';
import { type ChartWriter, labelOf } from '../writer.ts';

/** Draws one kind of gauge; nothing of it lies outside of the box. */
export type DrawGauge = (gauge: Gauge, box: Box, writer: ChartWriter, out: Drawing) => void;

export const QUIET = '#6b7672';
export const TRACK = '#e3dccb';
export const INK = '#1f2a2e';

/** The value with its unit. */
export const shown = ({ text, unit }: Gauge): string => (unit === '' ? text : `${text} ${unit}`);

/** What pointing at it shows. */
export const tipOf = (gauge: Gauge): string => {
  const { title, target } = gauge;
  const parts = [title === '' ? shown(gauge) : `${title}: ${shown(gauge)}`];
  if (target) parts.push(target.text);
  return parts.join(' / ');
};

/** The type size, no larger than given, in which words are no wider than their room. */
export const sizeFor = (writer: ChartWriter, text: string, most: number, room: number, isBold = false): number => {
  const width = writer.width(text, isBold) / writer.size;
  return width === 0 ? most : Math.max(3, Math.min(most, room / width));
};

/** Writes a title over the box, and gives what is left of it. */
export const withTitle = (
  title: string,
  box: Box,
  writer: ChartWriter,
  out: Drawing,
  align: 'start' | 'middle',
): Box => {
  const words = labelOf(title);
  const height = writer.lineHeight;
  if (words === '' || height * 2 > box.height) return box;
  const text = writer.shortened(words, box.width, true);
  const x = align === 'start' ? box.x : box.x + box.width / 2;
  out.words(writer, text, x, box.y + writer.size, { align, bold: true, ...(text === words ? {} : { tip: words }) });
  return { ...box, y: box.y + height, height: box.height - height };
};
