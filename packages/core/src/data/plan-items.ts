import type { Band, Item } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import { ITEM_PLANS } from '../items/plans.ts';
import { type ProblemPlace, problem } from '../problems/problem.ts';
import { type BandPlace, ItemPlanning, type PlanItem, planHighlights } from './item-planning.ts';
import type { PlannedBand, PlannedItem, PlannedLink } from './planned.ts';
import type { Planner } from './planner.ts';
import type { Standing } from './standing.ts';

export const planBand = (planner: Planner, band: Band, at: BandPlace): PlannedBand => {
  const { path, key, standing } = at;
  const part = (name: string): ProblemPlace => ({ path: `${path}/${name}` });
  return {
    band,
    key,
    path,
    items: band.items.map((item, i) => planItem(planner, item, `${path}/items/${i}`, at)),
    showIf: planner.condition(band.showIf, standing, part('showIf'), 'shown-if'),
    breakIf: planner.condition(band.breakIf, standing, part('breakIf'), 'a-page-break'),
    highlights: planHighlights(planner, band.highlights, standing, part('highlights')),
    settings: planSettings(planner, band.formulas, standing, part('formulas')),
  };
};

const planSettings = <K extends string>(
  planner: Planner,
  formulas: Partial<Record<K, string>> | undefined,
  standing: Standing,
  place: ProblemPlace,
): [K, Checked][] =>
  Object.entries<string>((formulas ?? {}) as Record<string, string>).flatMap(([name, source]): [K, Checked][] => {
    const formula = planner.check(source, standing, { ...place, path: `${place.path}/${name}` });
    return formula ? [[name as K, formula]] : [];
  });

/** Records are by kind: the item is of the kind that it is looked up by. */
const planOf = (item: Item): PlanItem => ITEM_PLANS[item.kind] as PlanItem;

const planItem = (planner: Planner, item: Item, path: string, at: BandPlace): PlannedItem => {
  const planning = new ItemPlanning(planner, item, path, at);
  const { place, standing } = planning;
  const { share } = item;
  const right =
    ((share?.x ?? 0) * at.width) / 100 +
    (share?.x === undefined ? item.x : 0) +
    (share?.width === undefined ? item.width : (share.width * at.width) / 100);
  if (planner.chain.length === 1 && right > at.width + 0.05)
    planner.found(problem('outside-page', place, {}, 'warning'));
  if ('style' in item && item.style && !planner.report.styles[item.style])
    planner.found(problem('unknown-style', place, { name: item.style }, 'warning'));
  const {
    formulas = {},
    highlights = [],
    level = null,
    nested = null,
    crosstab = null,
    figure = null,
    readsOutline = false,
  } = planOf(item)(item, planning);
  return {
    item,
    formulas,
    highlights,
    level,
    nested,
    crosstab,
    figure,
    readsOutline,
    showIf: planner.condition(item.showIf, standing, planning.part('showIf'), 'shown-if'),
    link: planLink(item, planning),
    anchor: planning.optional(item.anchor, 'anchor'),
    settings: planSettings(planner, item.formulas, standing, planning.part('formulas')),
  };
};

const planLink = ({ link }: Item, planning: ItemPlanning): PlannedLink | null => {
  if (!link) return null;
  if ('report' in link) {
    const parameters: Record<string, Checked> = {};
    for (const [name, source] of Object.entries(link.parameters)) {
      const formula = planning.optional(source, `link/parameters/${name}`);
      if (formula) parameters[name] = formula;
    }
    return { to: 'report', report: link.report, parameters };
  }
  const to = 'address' in link ? 'address' : 'anchor';
  const formula = planning.optional('address' in link ? link.address : link.anchor, `link/${to}`);
  return formula && { to, formula };
};
