import fc from 'fast-check';
import { expect, it } from 'vitest';
import { outlinesOf } from './outline.ts';

/** Whether the middle of a module lies inside an odd number of outlines: by the upright edges to its left. */
const isInside = (outlines: readonly number[][], x: number, y: number): boolean => {
  let crossings = 0;
  for (const outline of outlines)
    for (let i = 2; i < outline.length; i += 4) {
      const [at, from, to] = [outline[i]!, outline[i + 1]!, outline[(i + 3) % outline.length]!];
      if (at <= x && Math.min(from, to) <= y && Math.max(from, to) > y) crossings++;
    }
  return crossings % 2 === 1;
};

const square = fc
  .integer({ min: 1, max: 12 })
  .chain((size) =>
    fc.array(fc.array(fc.boolean(), { minLength: size, maxLength: size }), { minLength: size, maxLength: size }),
  );

it('outlines hold just what is dark, and have a corner only where they turn', () => {
  fc.assert(
    fc.property(square, (dark) => {
      const outlines = outlinesOf(dark);
      expect(dark.map((row, y) => row.map((_, x) => isInside(outlines, x, y)))).toEqual(dark);
      for (const outline of outlines)
        for (let i = 0; i < outline.length; i += 2) {
          const next = (i + 2) % outline.length;
          const isAcross = i % 4 === 0;
          expect([outline[i] === outline[next], outline[i + 1] === outline[next + 1]]).toEqual([!isAcross, isAcross]);
        }
    }),
    { numRuns: 200, seed: 5 },
  );
});
