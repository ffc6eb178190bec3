import { hasTotals, type Level, type ReportPlan, type TotalPlan, totalsIn } from '@gaveta/core/internal';
import { numeric, type Term } from './expression.ts';

/** Totals of a level that decide which of its rows there are, and in which order: they come before its rows do. */
export const decidingTotals = (plan: ReportPlan, level: Level): TotalPlan[] => {
  const formulas = [
    ...(level.pushedFilter ? [level.pushedFilter] : []),
    ...level.sort.map((s) => s.formula),
    ...level.groups.flatMap((g) => (g.order ? [g.order.formula] : [])),
    ...ranksOf(plan, level).map((t) => t.formula),
  ];
  const found = formulas.filter(hasTotals).flatMap((formula) => totalsIn(formula, plan.totals));
  return [...new Set(found)].filter((t) => t.column > 0 && t.name !== 'RANK');
};

/** Ranks of a level's rows that the database gives. */
export const ranksOf = (plan: ReportPlan, level: Level): TotalPlan[] =>
  plan.totals.filter((t) => t.name === 'RANK' && t.column > 0 && t.counted === level);

/** Groups of a level, by their place, that totals or ranks of the database count. */
export const countedGroups = (plan: ReportPlan, level: Level): number[] => {
  const counted = [
    ...plan.totals.filter((t) => t.column > 0).map(({ scope }) => scope),
    ...plan.levels.flatMap(({ grouping }) => grouping?.scope ?? []),
  ];
  const groups = counted.filter((scope) => scope.level === level && scope.kind === 'group');
  return [...new Set(groups.map(({ group }) => group))];
};

/**
 * SQL of what a total's rows add up to, as it travels (see TOTAL_STATES of core). `order`: the order of the rows; `collation`: that of texts. Blank
 * values do not count, which is what aggregates do with NULL.
 */
export const stateSql = ({ name }: TotalPlan, term: Term, order: string, collation: string | null): string => {
  const x = term.sql;
  const number = `${numeric({ ...term, solid: true })}::numeric`;
  switch (name) {
    case 'SUM':
      return `sum(${number})`;
    case 'COUNT':
    case 'COUNTA':
      return `count(${x})`;
    case 'COUNTDISTINCT':
      return `count(distinct ${x})`;
    case 'MIN':
    case 'MAX': {
      if (term.type === 'boolean') return `bool_${name === 'MIN' ? 'and' : 'or'}(${x})`;
      return `${name.toLowerCase()}(${x}${term.type === 'text' ? ` collate ${collation ?? '"C"'}` : ''})`;
    }
    case 'FIRST':
    case 'LAST':
      return `(array_agg(${x} order by ${order}${name === 'LAST' ? ' desc' : ''}) filter (where ${x} is not null))[1]`;
    case 'AVERAGE':
      return `(count(${x}) || ' ' || sum(${number}))`;
    case 'VAR':
    case 'VARP':
    case 'STDEV':
    case 'STDEVP':
      return `(count(${x}) || ' ' || sum(${number}) || ' ' || sum(${number} * ${number}))`;
    case 'MEDIAN': {
      const middle = (direction: string): string =>
        `percentile_disc(0.5) within group (order by ${number}${direction})`;
      return `(${middle('')} || ' ' || ${middle(' desc')})`;
    }
    default:
      throw new Error(`${name} cannot run in the database`);
  }
};
