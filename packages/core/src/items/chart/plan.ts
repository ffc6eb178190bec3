import { CHART_KINDS } from '../../chart/kinds.ts';
import { FigurePlanning } from '../../data/figure-planning.ts';
import type { PlanItem } from '../../data/item-planning.ts';
import type { ItemOf } from '../../definition/schema.ts';
import { isTotal } from '../../formula/functions/index.ts';
import { parseFormula } from '../../formula/parse.ts';
import { problem } from '../../problems/problem.ts';

/** Names the values of rows among the groups of a chart that shows how they are spread. */
export const SPREAD_KEY = '_value';

/** What a total adds up, so that a chart of totals becomes one of the values behind them; any other formula as it is. */
export const spreadFormula = (source: string): string => {
  const parsed = parseFormula(source);
  if (!parsed.ok || parsed.tree.kind !== 'call' || !isTotal(parsed.tree.name.toUpperCase())) return source;
  const [first] = parsed.tree.arguments;
  return first ? source.slice(first.from, first.to) : source;
};

/** The groups that a chart of this type has, in the order of the summary’s keys. */
export const groupsOf = ({ type, along, split, panels }: ItemOf<'chart'>) => {
  const { takes, isSpread = false } = CHART_KINDS[type];
  return {
    along: takes.along ? along : undefined,
    split: takes.split ? split : undefined,
    panels,
    isSpread,
  };
};

export const planChart: PlanItem<'chart'> = (item, planning) => {
  const { planner, place } = planning;
  const { measures, lines = [], zones = [], axis, scale, secondScale, onPress } = item;
  if (measures.length === 0) {
    planner.found(problem('chart-without-measures', place));
    return {};
  }
  const { along, split, panels, isSpread } = groupsOf(item);
  const names = [along, panels, split].flatMap((group) => (group ? [group.name] : []));
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined) {
    planner.found(problem('group-twice', place, { name: twice }));
    return {};
  }
  const figure = FigurePlanning.begin(planning, item.rows);
  if (!figure) return {};
  figure.key(along, 'along');
  if (isSpread) {
    const by = spreadFormula(measures[0]!.formula);
    figure.key({ name: SPREAD_KEY, by, format: measures[0]!.format }, 'measures/0/formula');
    figure.measure(`COUNT(${by})`, undefined, 'spread');
  } else
    for (const [i, { formula, format, highlights = [] }] of measures.entries()) {
      figure.measure(formula, format, `measures/${i}`);
      for (const [h, { when }] of highlights.entries()) figure.condition(when, `measures/${i}/highlights/${h}/when`);
    }
  figure.key(panels, 'panels');
  figure.key(split, 'split');
  for (const [name, group] of Object.entries({ along, panels, split })) figure.value(group?.order, `${name}/order`);
  for (const [name, one] of Object.entries({ axis, scale, secondScale })) {
    figure.number(one?.from, `${name}/from`);
    figure.number(one?.to, `${name}/to`);
  }
  for (const [i, { at }] of lines.entries()) figure.number(at, `lines/${i}/at`);
  for (const [i, { from, to }] of zones.entries()) {
    figure.number(from, `zones/${i}/from`);
    figure.number(to, `zones/${i}/to`);
  }
  figure.link(onPress, 'onPress');
  return { figure: figure.finish((along ? 1 : 0) + (isSpread ? 1 : 0)) };
};
