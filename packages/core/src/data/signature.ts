import { allBands } from '../definition/walk.ts';
import { hashOf } from '../value/hash.ts';
import type { Value } from '../value/value.ts';
import { encodeValue } from '../value/value.ts';
import type { Column, Level } from './level.ts';
import { plansOf } from './plan.ts';
import type { ReportPlan } from './planned.ts';

const describe = (column: Column): unknown => {
  if (column.kind === 'value') return [column.kind, column.formula];
  if (column.kind === 'state') return [column.kind, column.total.name, column.total.formula];
  if (column.kind !== 'total') return column.kind === 'field' ? column.path : column.kind;
  const { name, formula, counted, scope } = column.total;
  return [name, formula, counted.path, scope.level.path, scope.kind, scope.group];
};

/** Version of how rows travel to the live page: raised when what a key stands for changes. */
export const ROWS_VERSION = 1;

/**
 * A key for the rows of each level, those of nested reports included, in the order of the plans. Two that are equal bring
 * the same columns in the same order; whoever gets rows under another key than their own plan has must not read them.
 */
export const levelKeys = (plan: ReportPlan): Map<Level, string> => {
  const keys = new Map<Level, string>();
  for (const [i, { levels, link }] of [...plansOf(plan)].entries()) {
    for (const level of levels) {
      const { path, drawer, entity, columns } = level;
      if (!level.isFetched) continue;
      const { scope, counted } = level.grouping ?? {};
      const grouped = scope && [counted?.path, scope.level.path, scope.kind, scope.group];
      const what = [i, link?.item ?? null, path, drawer.id, drawer.rows, entity.name, columns.map(describe), grouped];
      keys.set(level, hashOf(written(what)));
    }
  }
  return keys;
};

/** Whether two levels bring the same columns in the same order. */
export const sameColumns = (a: Level, b: Level): boolean =>
  a.entity.name === b.entity.name && written(a.columns.map(describe)) === written(b.columns.map(describe));

const written = (what: unknown): string =>
  JSON.stringify(what, (_, value: unknown) => (typeof value === 'bigint' ? String(value) : value));

/** Equal for two plans exactly when they need the same rows: edits of looks and places leave it as it was. */
export const rowsSignature = (plan: ReportPlan, parameters: Record<string, Value>): string => {
  const levels = [...plansOf(plan)].map((p) => ({
    model: p.report.model,
    // Texts come in its order.
    language: p.report.language,
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
      grouped: level.grouping && [
        level.grouping.counted.path,
        level.grouping.scope.level.path,
        level.grouping.scope.kind,
      ],
      filter: level.pushedFilter,
      sort: level.sort,
      columns: level.columns.map(describe),
    })),
  }));
  const values = Object.fromEntries(Object.entries(parameters).map(([name, value]) => [name, encodeValue(value)]));
  return written({ levels, values });
};
