import {
  symbol,
  symbolCircle,
  symbolCross,
  symbolDiamond,
  symbolSquare,
  symbolStar,
  symbolTriangle,
  symbolWye,
} from 'd3-shape';
import type { Course } from './course.ts';
import type { Drawing, Ink } from './drawing.ts';

const SYMBOLS = [
  symbolCircle,
  symbolSquare,
  symbolTriangle,
  symbolDiamond,
  symbolCross,
  symbolStar,
  symbolWye,
] as const;

/** Dashes by which lines are told apart without their colours; the first is solid. */
export const DASHES: readonly (number[] | undefined)[] = [
  undefined,
  [6, 3],
  [1.5, 2],
  [8, 3, 1.5, 3],
  [3, 2],
  [10, 3],
  [1.5, 4],
  [8, 2, 3, 2],
];

export const dashAt = (sign: number): number[] | undefined => DASHES[sign % DASHES.length];

/** Takes the steps that d3 draws around its origin, so far away from there. */
export const around = (course: Course, dx: number, dy: number): CanvasRenderingContext2D => {
  const context = {
    moveTo: (x: number, y: number) => course.moveTo(x + dx, y + dy),
    lineTo: (x: number, y: number) => course.lineTo(x + dx, y + dy),
    rect: (x: number, y: number, width: number, height: number) => course.rect(x + dx, y + dy, width, height),
    bezierCurveTo: (x1: number, y1: number, x2: number, y2: number, x: number, y: number) =>
      course.bezierCurveTo(x1 + dx, y1 + dy, x2 + dx, y2 + dy, x + dx, y + dy),
    quadraticCurveTo: (x1: number, y1: number, x: number, y: number) =>
      course.quadraticCurveTo(x1 + dx, y1 + dy, x + dx, y + dy),
    arc: (x: number, y: number, radius: number, from: number, to: number, isBackwards?: boolean) =>
      course.arc(x + dx, y + dy, radius, from, to, isBackwards),
    closePath: () => course.closePath(),
  };
  // d3 asks for a whole canvas by its types, and uses these of it.
  return context as unknown as CanvasRenderingContext2D;
};

/** Steps shorter than this many points are not seen. */
const UNSEEN = 0.2;

/** Takes the steps of an outline and passes over those that are too short to be seen; each part of it keeps its start. */
export const simplified = (course: Course): CanvasRenderingContext2D => {
  let at: [number, number] = [0, 0];
  const context = {
    moveTo: (x: number, y: number) => {
      at = [x, y];
      course.moveTo(x, y);
    },
    lineTo: (x: number, y: number) => {
      if (Math.abs(x - at[0]) < UNSEEN && Math.abs(y - at[1]) < UNSEEN) return;
      at = [x, y];
      course.lineTo(x, y);
    },
    closePath: () => course.closePath(),
  };
  return context as unknown as CanvasRenderingContext2D;
};

/** A symbol around a point, `size` points across; which one goes by the place of its series. */
export const drawSymbol = (out: Drawing, sign: number, x: number, y: number, size: number, ink: Ink): void => {
  const type = SYMBOLS[sign % SYMBOLS.length]!;
  const area = type === symbolCircle ? Math.PI * (size / 2) ** 2 : size * size * 0.75;
  out.path((course) => {
    symbol()
      .type(type)
      .size(area)
      .context(around(course, x, y))();
  }, ink);
};
