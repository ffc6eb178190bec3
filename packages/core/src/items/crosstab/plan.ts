import { type PlanItem, planHighlights } from '../../data/item-planning.ts';
import { ownDrawer } from '../../data/own-rows.ts';
import type { PlannedFold } from '../../data/planned.ts';
import { SummaryPlanning } from '../../data/summary-planning.ts';
import type { Checked } from '../../formula/checked.ts';
import { problem } from '../../problems/problem.ts';

export const planCrosstab: PlanItem<'crosstab'> = (item, planning) => {
  const { planner, place } = planning;
  const { down, across, cells } = item;
  if (cells.length === 0) {
    planner.found(problem('crosstab-without-cells', place));
    return {};
  }
  const names = [...down, ...across].map(({ name }) => name);
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined) {
    planner.found(problem('group-twice', place, { name: twice }));
    return {};
  }
  const summing = SummaryPlanning.begin(planning, ownDrawer(item.id, item.rows));
  if (!summing) return {};
  const isFine = [
    ...down.map((group, i) => summing.key(group, `down/${i}`)),
    ...across.map((group, i) => summing.key(group, `across/${i}`)),
  ].every(Boolean);
  if (!isFine) return {};
  const linked = (parameters: Readonly<Record<string, string>>, path: string): Record<string, Checked> =>
    Object.fromEntries(
      Object.entries(parameters).flatMap(([name, source]): [string, Checked][] => {
        const formula = summing.decided(source, `${path}/${name}`);
        return formula ? [[name, formula]] : [];
      }),
    );
  const planned = cells.map(({ formula, format, highlights, link }, i) => ({
    formula: summing.formula(formula, format, `cells/${i}`),
    highlights: planHighlights(planner, highlights, summing.standing, planning.part(`cells/${i}/highlights`)),
    link: link ? { report: link.report, parameters: linked(link.parameters, `cells/${i}/link/parameters`) } : null,
  }));
  for (const { highlights } of planned) for (const { when } of highlights) summing.reads(when);
  const orders = (axis: typeof down, name: string): (Checked | null)[] =>
    axis.map(({ order }, i) => summing.decided(order, `${name}/${i}/order`));
  const ordered = { down: orders(down, 'down'), across: orders(across, 'across') };
  const foldsOf = (axis: typeof down, name: string): (PlannedFold | null)[] =>
    axis.map(({ fold }, i) =>
      fold ? { fold, closedIf: summing.condition(fold.closedIf, `${name}/${i}/fold/closedIf`, 'closed-if') } : null,
    );
  const folds = [...foldsOf(down, 'down'), ...foldsOf(across, 'across')];
  const summary = summing.finish();
  return summary ? { crosstab: { summary, ...ordered, folds, cells: planned } } : {};
};
