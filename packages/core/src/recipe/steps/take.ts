import type { StepRoom } from '../planning.ts';
import { shapeOf } from '../shape.ts';

/** Rows to begin with. */
export const takeStep: StepRoom<'take'> = {
  begins: true,
  plan: ({ from }, planning) => {
    const source = planning.source(from);
    if (!source) return null;
    const given = shapeOf(source);
    planning.fields = [...given.fields];
    planning.key = given.key;
    planning.relations = given.relations;
    planning.isOrdered = source.kind === 'recipe' && source.recipe.isOrdered;
    return { kind: 'take', source };
  },
  without: () => null,
};
