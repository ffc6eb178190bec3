import type { PlanItem } from '../../data/item-planning.ts';
import type { PlannedFormula } from '../../data/planned.ts';
import { planWords } from '../words/plan.ts';

export const planText: PlanItem<'text'> = (item, planning) => {
  const pieces = item.content.flatMap((piece, i): [string, PlannedFormula][] =>
    typeof piece === 'object' && 'formula' in piece
      ? [[`content/${i}`, planning.formula(piece.formula, piece.format)]]
      : [],
  );
  const { formulas, highlights } = planWords(item, planning);
  return { formulas: { ...Object.fromEntries(pieces), ...formulas }, highlights };
};
