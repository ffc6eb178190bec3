import type { Mark } from '../page/page.ts';
import { type Box, Drawing } from './drawing.ts';
import { around } from './symbols.ts';
import { type ChartWriter, labelOf } from './writer.ts';

/** Shapes of state marks: told apart by their outlines alone. */
export const STATE_SHAPES = ['circle', 'square', 'diamond', 'up', 'down', 'level', 'cross', 'ring'] as const;
export type StateShape = (typeof STATE_SHAPES)[number];

export interface State {
  shape: StateShape;
  color: string;
  /** Beside the mark; empty without. */
  words: string;
}

/** Corners of a shape around the origin, as shares of half its size. */
const CORNERS: Partial<Record<StateShape, readonly (readonly [number, number])[]>> = {
  square: [
    [-0.85, -0.85],
    [0.85, -0.85],
    [0.85, 0.85],
    [-0.85, 0.85],
  ],
  diamond: [
    [0, -1],
    [1, 0],
    [0, 1],
    [-1, 0],
  ],
  up: [
    [0, -0.9],
    [1, 0.8],
    [-1, 0.8],
  ],
  down: [
    [0, 0.9],
    [-1, -0.8],
    [1, -0.8],
  ],
  level: [
    [-1, -0.3],
    [1, -0.3],
    [1, 0.3],
    [-1, 0.3],
  ],
};

/** A state mark in a box, with its words at its right. */
export const drawState = ({ shape, color, words }: State, box: Box, writer: ChartWriter): Mark[] => {
  const out = new Drawing();
  const size = Math.min(box.width, box.height, writer.size * 1.15);
  const text = labelOf(words);
  const [x, y, half] = [text === '' ? box.x + box.width / 2 : box.x + size / 2, box.y + box.height / 2, size / 2];
  const corners = CORNERS[shape];
  const ink = { ...(text === '' ? {} : { tip: text }) };
  if (corners)
    out.path(
      (course) => {
        for (const [i, [dx, dy]] of corners.entries())
          i === 0 ? course.moveTo(x + dx * half, y + dy * half) : course.lineTo(x + dx * half, y + dy * half);
        course.closePath();
      },
      { fill: color, ...ink },
    );
  else if (shape === 'cross')
    out.path(
      (course) => {
        course.moveTo(x - half * 0.8, y - half * 0.8);
        course.lineTo(x + half * 0.8, y + half * 0.8);
        course.moveTo(x + half * 0.8, y - half * 0.8);
        course.lineTo(x - half * 0.8, y + half * 0.8);
      },
      { stroke: color, thickness: Math.max(1, half * 0.45), ...ink },
    );
  else {
    const circle = shape === 'ring' ? { stroke: color, thickness: half * 0.45 } : { fill: color };
    const radius = shape === 'ring' ? half * 0.72 : half * 0.92;
    out.path((course) => around(course, x, y).arc(0, 0, radius, 0, 2 * Math.PI), { ...circle, ...ink });
  }
  if (text !== '') {
    const room = box.width - size - 4;
    out.words(writer, writer.shortened(text, room), box.x + size + 4, y + writer.capHeight / 2);
  }
  return out.marks;
};
