import { describe, expect, it } from 'vitest';
import type { Step } from '../definition/recipe.ts';
import { circleThrough } from './circle.ts';
import { take } from './stays.test-support.ts';

describe('recipes that take rows from one another', () => {
  const taking = (id: string, ...from: string[]) => ({
    id,
    name: id.toUpperCase(),
    steps: from.map(
      (recipe, i): Step => (i === 0 ? { step: 'take', from: { recipe } } : { step: 'stack', from: { recipe } }),
    ),
  });
  const recipes = [taking('a', 'b', 'c'), taking('b', 'c'), { ...taking('c'), steps: [take] }];
  const find = (id: string) => recipes.find((r) => r.id === id) ?? null;

  it('are found by the way from one of them to itself', () => {
    expect(circleThrough('c', 'C', [{ step: 'take', from: { recipe: 'a' } }], find)).toEqual(['A', 'B', 'C']);
    expect(circleThrough('c', 'C', [{ step: 'take', from: { recipe: 'c' } }], find)).toEqual(['C']);
    expect(circleThrough('b', 'B', [{ step: 'take', from: { recipe: 'c' } }], find)).toBeNull();
    expect(circleThrough('new', 'New', [{ step: 'take', from: { recipe: 'a' } }], find)).toBeNull();
  });
});
