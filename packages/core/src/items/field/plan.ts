import type { PlanItem } from '../../data/item-planning.ts';
import { planWords } from '../words/plan.ts';

export const planField: PlanItem<'field'> = (item, planning) => {
  const formula = planning.formula(item.formula, item.format);
  const { formulas, highlights } = planWords(item, planning);
  return { formulas: { formula, ...formulas }, highlights };
};
