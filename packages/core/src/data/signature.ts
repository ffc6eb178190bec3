import type { Value } from '../value/value.ts';
import { encodeValue } from '../value/value.ts';
import { plansOf, type ReportPlan } from './plan.ts';

/** Equal for two plans exactly when they need the same rows: edits of looks and places leave it as it was. */
export const rowsSignature = (plan: ReportPlan, parameters: Record<string, Value>): string => {
  const levels = [...plansOf(plan)].map((p) => ({
    model: p.report.model,
    link: p.link?.values,
    levels: p.levels.map((level) => ({
      path: level.path,
      rows: level.drawer.rows,
      first: level.drawer.first,
      filter: level.pushedFilter,
      sort: level.sort,
      columns: level.columns.map((c) => c.path.join('.')),
    })),
  }));
  const values = Object.fromEntries(Object.entries(parameters).map(([name, value]) => [name, encodeValue(value)]));
  return JSON.stringify({ levels, values }, (_, value: unknown) => (typeof value === 'bigint' ? String(value) : value));
};
