import { FigurePlanning } from '../../data/figure-planning.ts';
import type { PlanItem } from '../../data/item-planning.ts';

export const planState: PlanItem<'state'> = (item, planning) => {
  const figure = FigurePlanning.here(planning);
  for (const [i, { when }] of item.cases.entries()) figure.condition(when, `cases/${i}/when`);
  return { figure: figure.finish(0) };
};
