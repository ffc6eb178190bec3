import type { PlanItem } from '../../data/item-planning.ts';

export const planPicture: PlanItem<'picture'> = (item, planning) =>
  item.formula === undefined ? {} : { formulas: { formula: planning.formula(item.formula, undefined) } };
