import { type Made, type MarkRoom, never, uncut } from './mark.ts';

/** An entry of the outline, at a level from 1. */
export interface OutlineMark extends Made {
  kind: 'outline';
  x: number;
  y: number;
  level: number;
  title: string;
}

export const outlineRoom: MarkRoom<OutlineMark> = {
  extent: ({ y }) => [y, y],
  mayBeCut: never,
  cut: uncut,
  svg: () => '',
};
