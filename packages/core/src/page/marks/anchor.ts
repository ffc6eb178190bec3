import { type Made, type MarkRoom, never, uncut } from './mark.ts';
import { escapeText, n } from './svg-text.ts';

/** A place that links lead to by its name. */
export interface AnchorMark extends Made {
  kind: 'anchor';
  x: number;
  y: number;
  name: string;
}

export const anchorRoom: MarkRoom<AnchorMark> = {
  extent: ({ y }) => [y, y],
  mayBeCut: never,
  cut: uncut,
  svg: (mark) => `<g data-anchor="${escapeText(mark.name)}" transform="translate(${n(mark.x)} ${n(mark.y)})"/>`,
};
