import type { PlanItem } from '../../data/item-planning.ts';
import { typePhrase } from '../../formula/check.ts';
import { phrase } from '../../problems/phrases.ts';
import { problem } from '../../problems/problem.ts';

export const planFormatted: PlanItem<'formatted'> = (item, planning) => {
  const planned = planning.formula(item.formula, undefined);
  if ('formula' in planned && ['picture', 'list'].includes(planned.formula.type)) {
    const given = typePhrase(planned.formula.type);
    const found = problem('wrong-type', planning.place, {
      where: phrase('formatted-text'),
      expected: phrase('column-text'),
      given,
    });
    planning.planner.found(found);
    return { formulas: { formula: { problem: found } } };
  }
  return { formulas: { formula: planned } };
};
