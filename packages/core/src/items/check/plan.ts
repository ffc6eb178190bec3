import type { PlanItem } from '../../data/item-planning.ts';

export const planCheck: PlanItem<'check'> = (item, { planner, standing, place }) => {
  const formula = planner.condition(item.formula, standing, place, 'a-check-mark');
  return formula ? { formulas: { formula: { formula, format: '' } } } : {};
};
