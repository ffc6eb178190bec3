import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pathSteps } from '../page/page.ts';
import { CHART_TYPES } from './chart.ts';
import { boxOfMark, chartOf, writer } from './charts.test-support.ts';
import { Course } from './course.ts';
import { HATCHES, hatchLines } from './hatch.ts';
import { sketchesOf } from './sketches.ts';
import { drawSparkline } from './sparkline.ts';
import { drawState, STATE_SHAPES } from './state.ts';

describe('the course of a path', () => {
  it('draws arcs as curves that stay on their circle, either way round', () => {
    const angle = fc.double({ min: -7, max: 7, noNaN: true });
    fc.assert(
      fc.property(angle, angle, fc.boolean(), (from, to, isBackwards) => {
        const course = new Course();
        course.arc(100, 50, 40, from, to, isBackwards);
        const { x, y, path } = course.mark();
        let at: [number, number] = [0, 0];
        for (const { step, places } of pathSteps(path)) {
          if (step === 'C') {
            const [x1, y1, x2, y2, x3, y3] = places as [number, number, number, number, number, number];
            const middle = (a: number, b: number, c: number, d: number): number => (a + 3 * b + 3 * c + d) / 8;
            const [mx, my] = [middle(at[0], x1, x2, x3), middle(at[1], y1, y2, y3)];
            expect(Math.abs(Math.hypot(x + mx - 100, y + my - 50) - 40)).toBeLessThan(0.05);
          }
          at = [places.at(-2) ?? at[0], places.at(-1) ?? at[1]];
        }
        expect(Math.hypot(x + at[0] - 100, y + at[1] - 50)).toBeCloseTo(40, 1);
      }),
      { seed: 16 },
    );
  });

  it('is written from the corner of the box that it lies in', () => {
    const course = new Course();
    course.moveTo(30, 20);
    course.lineTo(50, 60);
    course.closePath();
    expect(course.mark()).toEqual({ x: 30, y: 20, width: 20, height: 40, path: 'M0 0L20 40Z' });
  });
});

describe('hatching', () => {
  it('lies inside its area, at the distance and the angle of its pattern', () => {
    const square = [
      [0, 0],
      [40, 0],
      [40, 30],
      [0, 30],
    ] as const;
    for (const { angles, gap } of HATCHES)
      for (const angle of angles) {
        const lines = hatchLines(square, angle, gap);
        expect(lines.length).toBeGreaterThan(3);
        for (const [from, to] of lines)
          for (const [x, y] of [from, to])
            expect(x >= -1e-6 && x <= 40 + 1e-6 && y >= -1e-6 && y <= 30 + 1e-6).toBe(true);
      }
    // Nothing for areas without any, or with more lines than anybody could tell apart.
    expect(
      hatchLines(
        [
          [0, 0],
          [1, 0],
          [2, 0],
        ],
        0,
        4,
      ),
    ).toEqual([]);
    expect(
      hatchLines(
        [
          [0, 0],
          [9, 0],
          [9, 9_000],
        ],
        0,
        4,
      ),
    ).toEqual([]);
  });
});

describe('a sparkline', () => {
  const box = { x: 5, y: 5, width: 60, height: 12 };

  it('stays in its box whatever its numbers, and breaks where there is none', () => {
    const number = fc.option(fc.oneof(fc.integer({ min: -900, max: 900 }), fc.constantFrom(1e300, -1e300, 5e-324)));
    fc.assert(
      fc.property(
        fc.array(number, { maxLength: 40 }),
        fc.constantFrom('line' as const, 'area' as const, 'column' as const),
        fc.constantFrom('last' as const, 'ends' as const, 'extremes' as const, 'none' as const),
        (values, type, marks) => {
          for (const mark of drawSparkline(chartOf([values]), box, { type, color: null, marks })) {
            const { x, y, width, height } = boxOfMark(mark);
            const isInside = x >= 4 && y >= 4 && x + width <= 66 && y + height <= 18;
            if (!isInside) throw new Error(JSON.stringify(mark));
          }
        },
      ),
      { numRuns: 300, seed: 16 },
    );
    const look = { type: 'line', color: null, marks: 'none' } as const;
    const lines = drawSparkline(chartOf([[1, 2, null, 4, 5]]), box, look).filter(
      (mark) => mark.kind === 'path' && mark.stroke !== undefined,
    );
    expect(lines).toHaveLength(2);
    expect(drawSparkline(chartOf([[null]]), box, look)).toEqual([]);
  });

  it('marks the points that it is asked to', () => {
    const dots = (marks: 'last' | 'ends' | 'extremes' | 'none'): string[] =>
      drawSparkline(chartOf([[3, 9, 1, 4]]), box, { type: 'line', color: null, marks }).flatMap((mark) =>
        mark.kind === 'path' && mark.fill !== undefined && mark.tip !== undefined ? [mark.tip] : [],
      );
    expect(dots('last')).toEqual(['place 4: 4']);
    expect(dots('ends')).toEqual(['place 1: 3', 'place 4: 4']);
    expect(dots('extremes')).toEqual(['place 3: 1', 'place 2: 9']);
    expect(dots('none')).toEqual([]);
  });
});

describe('a state mark', () => {
  it('has an outline of its own for each shape, beside its words, inside its box', () => {
    const box = { x: 2, y: 3, width: 60, height: 12 };
    const outlines = STATE_SHAPES.map((shape) => {
      const marks = drawState({ shape, color: '#2d7a5f', words: 'good' }, box, writer);
      for (const mark of marks) {
        const { x, y, width, height } = boxOfMark(mark);
        expect(x >= 1.5 && y >= 2.5 && x + width <= 62.5 && y + height <= 15.5).toBe(true);
      }
      expect(marks.some((mark) => mark.kind === 'text' && mark.text === 'good')).toBe(true);
      const [first] = marks;
      return first?.kind === 'path' ? `${first.path} ${first.fill === undefined}` : '';
    });
    expect(new Set(outlines).size).toBe(STATE_SHAPES.length);
  });
});

describe('small pictures of kinds', () => {
  it('are drawn of the same numbers for each kind that they suffice for', () => {
    const chart = chartOf([
      [1, 2, 3],
      [4, 5, 6],
    ]);
    const drawn = Object.keys(sketchesOf(chart, writer));
    // One measure is not enough for dots or a range, and totals do not say how values are spread.
    expect(drawn).toEqual(['column', 'bar', 'line', 'area', 'pie', 'ring', 'heat', 'waterfall']);
    for (const svg of Object.values(sketchesOf(chart, writer))) {
      expect(svg).toMatch(/^<svg [\s\S]*<\/svg>$/);
      expect(svg).not.toContain('<text');
    }
    const spread = chartOf([[1, 2]], { type: 'box' });
    expect(Object.keys(sketchesOf(spread, writer))).toEqual(['box', 'histogram']);
    const many = chartOf([Array.from({ length: 4_000 }, (_, i) => i)]);
    expect(sketchesOf(many, writer)).toEqual({});
    expect(CHART_TYPES).toHaveLength(13);
  });
});
