import type { LinkTarget, Mark } from '../page/page.ts';
import { hatchOn } from './colors.ts';
import { Course } from './course.ts';
import { HATCHES, hatchLines } from './hatch.ts';
import type { ChartWriter, Put } from './writer.ts';

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** How an area or a line looks. Thickness in points. */
export interface Ink {
  fill?: string | undefined;
  stroke?: string | undefined;
  thickness?: number | undefined;
  dash?: number[] | undefined;
  opacity?: number | undefined;
  /** Place of its pattern in {@link HATCHES}. */
  hatch?: number | undefined;
  tip?: string | undefined;
  /** Where a click leads. */
  to?: LinkTarget | null | undefined;
}

const seen = ({ opacity, tip, to }: Ink) => ({
  as: 'drawing' as const,
  ...(opacity !== undefined && opacity < 1 ? { opacity } : {}),
  ...(tip === undefined ? {} : { tip }),
  ...(to ? { to } : {}),
});

const strokes = ({ fill, stroke, thickness, dash }: Ink) => ({
  ...(fill ? { fill } : {}),
  ...(stroke ? { stroke, thickness: thickness ?? 1 } : {}),
  ...(stroke && dash ? { dash } : {}),
});

/** Collects the marks of a picture of numbers. Lengths in points. */
export class Drawing {
  readonly marks: Mark[] = [];

  line(x: number, y: number, x2: number, y2: number, { stroke = '#1f2a2e', thickness = 0.5, dash, ...ink }: Ink): void {
    this.marks.push({ kind: 'line', x, y, x2, y2, color: stroke, thickness, ...(dash ? { dash } : {}), ...seen(ink) });
  }

  rect({ x, y, width, height }: Box, ink: Ink): void {
    if (!(width > 0 && height > 0)) return;
    this.marks.push({ kind: 'rectangle', x, y, width, height, ...strokes(ink), ...seen(ink) });
    if (ink.hatch && ink.fill)
      this.hatch(
        [
          [x, y],
          [x + width, y],
          [x + width, y + height],
          [x, y + height],
        ],
        ink.hatch,
        ink.fill,
      );
  }

  /** A path that `draw` takes; it may be drawn with by d3. */
  path(draw: (course: Course) => void, ink: Ink): void {
    const course = new Course();
    draw(course);
    if (!course.isEmpty) this.marks.push({ kind: 'path', ...course.mark(), ...strokes(ink), ...seen(ink) });
  }

  /** The lines of a pattern over an area of a colour. */
  hatch(polygon: readonly (readonly [number, number])[], place: number, fill: string): void {
    const { angles, gap } = HATCHES[place % HATCHES.length]!;
    const lines = angles.flatMap((angle) => hatchLines(polygon, angle, gap));
    if (lines.length === 0) return;
    this.path(
      (course) => {
        for (const [from, to] of lines) {
          course.moveTo(...from);
          course.lineTo(...to);
        }
      },
      { stroke: hatchOn(fill), thickness: 0.6 },
    );
  }

  words(writer: ChartWriter, text: string, x: number, y: number, put?: Put): void {
    this.marks.push(...writer.put(text, x, y, put));
  }
}
