import { FigurePlanning } from '../../data/figure-planning.ts';
import type { PlanItem } from '../../data/item-planning.ts';
import { problem } from '../../problems/problem.ts';

export const planGauge: PlanItem<'gauge'> = (item, planning) => {
  if (item.value.trim() === '') {
    planning.planner.found(problem('gauge-without-value', planning.place));
    return {};
  }
  const figure = item.rows ? FigurePlanning.begin(planning, item.rows) : FigurePlanning.here(planning);
  if (!figure) return {};
  figure.measure(item.value, item.format, 'value');
  for (const name of ['from', 'to', 'target', 'compare'] as const) figure.number(item[name], name);
  for (const [i, { from, to }] of (item.zones ?? []).entries()) {
    figure.number(from, `zones/${i}/from`);
    figure.number(to, `zones/${i}/to`);
  }
  return { figure: figure.finish(0) };
};
