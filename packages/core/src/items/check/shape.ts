import type { CheckSign, ItemOf } from '../../definition/schema.ts';
import type { Box } from '../../layout/prepared.ts';
import type { ShapeMark } from '../../page/page.ts';

/** Side of the square that signs are drawn in. */
const SIDE = 24;

type Polygon = readonly number[];

const square = (inset: number): Polygon => {
  const far = SIDE - inset;
  return [inset, inset, far, inset, far, far, inset, far];
};

/** Twice around: what lies inside cancels out. */
const FRAME: readonly Polygon[] = [square(1), square(2.6)];

const circle = (radius: number): Polygon =>
  Array.from({ length: 48 }, (_, i) => {
    const angle = (Math.floor(i / 2) * Math.PI) / 12;
    return Math.round((SIDE / 2 + radius * (i % 2 === 0 ? Math.cos(angle) : Math.sin(angle))) * 100) / 100;
  });

/** A cross of two bars with this half width, whose ends lie this far from the sides. */
const cross = (inset: number, half: number): Polygon => {
  const [near, far, middle] = [inset, SIDE - inset, SIDE / 2];
  return [
    near + half,
    near,
    middle,
    middle - half,
    far - half,
    near,
    far,
    near + half,
    middle + half,
    middle,
    far,
    far - half,
    far - half,
    far,
    middle,
    middle + half,
    near + half,
    far,
    near,
    far - half,
    middle - half,
    middle,
    near,
    near + half,
  ];
};

const SIGNS: Readonly<Record<CheckSign, Polygon>> = {
  tick: [5, 12.6, 7.2, 10.4, 10.4, 13.6, 17.4, 6, 19.6, 8.2, 10.6, 18.2],
  cross: cross(6, 2),
  dot: circle(5.4),
};

/** What a check mark is made of, in a square of 24 by 24: corners as x, y, x, y …; where two lie over each other, they cancel out. */
export const checkShape = (sign: CheckSign | null, frame: boolean): readonly Polygon[] => [
  ...(frame ? FRAME : []),
  ...(sign ? [SIGNS[sign]] : []),
];

/**
 * A check mark as large as its box allows, in the middle of it: the sign where it is TRUE, the frame alone where it is
 * FALSE. Null when there is nothing to show. Lengths in points.
 */
export const layCheck = (value: boolean, { sign, frame, color, id }: ItemOf<'check'>, box: Box): ShapeMark | null => {
  const polygons = checkShape(value ? sign : null, frame !== false);
  if (polygons.length === 0) return null;
  const side = Math.min(box.width, box.height);
  return {
    kind: 'shape',
    x: box.x + (box.width - side) / 2,
    y: box.y + (box.height - side) / 2,
    width: side,
    height: side,
    scale: side / SIDE,
    polygons,
    color,
    alternative: value ? 'TRUE' : 'FALSE',
    item: id,
  };
};
