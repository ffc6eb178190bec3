import type { PlanItem } from '../../data/item-planning.ts';

export const planBarcode: PlanItem<'barcode'> = (item, planning) => ({
  formulas: { formula: planning.formula(item.formula, undefined) },
});
