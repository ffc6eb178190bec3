import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type MarkChange, markChanges } from './patch.ts';

const applied = (from: readonly string[], changes: readonly MarkChange[]): string[] => {
  const list = [...from];
  for (const { at, remove, add } of changes) list.splice(at, remove, ...add);
  return list;
};

describe('what changed between two pages', () => {
  it('turns any list of marks into any other', () => {
    const marks = fc.array(fc.constantFrom('a', 'b', 'c', 'd'), { maxLength: 12 });
    fc.assert(
      fc.property(marks, marks, (from, to) => {
        expect(applied(from, markChanges(from, to))).toEqual(to);
      }),
    );
  });

  it('is nothing between two that are alike', () => {
    expect(markChanges(['a', 'b'], ['a', 'b'])).toEqual([]);
  });

  it('is only the marks that were moved, when there are as many as before', () => {
    expect(markChanges(['a', 'b', 'c', 'd', 'e'], ['a', 'B', 'c', 'D', 'e'])).toEqual([
      { at: 3, remove: 1, add: ['D'] },
      { at: 1, remove: 1, add: ['B'] },
    ]);
  });

  it('keeps what is before and behind marks that came or went', () => {
    expect(markChanges(['a', 'b', 'c'], ['a', 'x', 'y', 'c'])).toEqual([{ at: 1, remove: 1, add: ['x', 'y'] }]);
    expect(markChanges(['a', 'b', 'c'], ['a', 'c'])).toEqual([{ at: 1, remove: 1, add: [] }]);
  });
});
