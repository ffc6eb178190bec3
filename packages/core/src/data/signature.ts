import { allBands } from '../definition/walk.ts';
import type { Value } from '../value/value.ts';
import { encodeValue } from '../value/value.ts';
import type { Column } from './level.ts';
import { plansOf, type ReportPlan } from './plan.ts';

const describe = (column: Column): unknown => {
  if (column.kind !== 'total') return column.kind === 'field' ? column.path : column.kind;
  const { name, formula, counted, scope } = column.total;
  return [name, formula, counted.path, scope.level.path, scope.kind, scope.group];
};

/** Equal for two plans exactly when they need the same rows: edits of looks and places leave it as it was. */
export const rowsSignature = (plan: ReportPlan, parameters: Record<string, Value>): string => {
  const levels = [...plansOf(plan)].map((p) => ({
    model: p.report.model,
    queries: [...p.queries].map(([name, query]) => [name, query.steps.map((step) => step.operation)]),
    relations: p.report.relations,
    // Known or not yet: rows bring the definitions of nested reports along.
    nested: [...allBands(p.report)].flatMap(({ band }) =>
      band.items.flatMap((item) => (item.kind === 'subreport' ? [item.report] : [])),
    ),
    link: p.link && { values: p.link.values, rows: p.link.rows },
    levels: p.levels.map((level) => ({
      path: level.path,
      rows: level.drawer.rows,
      first: level.drawer.first,
      others: level.drawer.others !== undefined,
      groups: level.groups.map(({ group, key, order }) => ({ key, order, first: group.first })),
      shared: level.sharedWith?.path,
      filter: level.pushedFilter,
      sort: level.sort,
      columns: level.columns.map(describe),
    })),
  }));
  const values = Object.fromEntries(Object.entries(parameters).map(([name, value]) => [name, encodeValue(value)]));
  return JSON.stringify({ levels, values }, (_, value: unknown) => (typeof value === 'bigint' ? String(value) : value));
};
