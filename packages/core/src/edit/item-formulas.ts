import { type Completion, offeredEverywhere } from '../data/completions.ts';
import { planReport } from '../data/plan.ts';
import type { PlanContext } from '../data/planned.ts';
import type { Report, RowGroup } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import type { FunctionTable } from '../formula/functions/index.ts';
import { writtenName } from '../formula/tokens.ts';
import type { Problem } from '../problems/problem.ts';
import { applyEdit } from './edit.ts';
import type { GroupingItem, ItemField } from './item-fields.ts';

/**
 * What an editor offers for a formula of an item that groups rows: fields of its rows, and, where they stand in totals, the values
 * of its groups first. `groups`: none for a formula over a row. `functions`: those that the host added.
 */
export const groupingCompletions = (
  report: Report,
  groups: readonly RowGroup[],
  fields: readonly ItemField[],
  functions?: FunctionTable,
): Completion[] => [
  ...groups.map(
    ({ name, caption }): Completion => ({
      kind: 'group',
      insert: writtenName(name),
      label: caption ?? name,
      type: null,
      detail: '',
    }),
  ),
  ...fields.map(
    ({ formula, label, type, of }): Completion => ({ kind: 'field', insert: formula, label, type, detail: of }),
  ),
  ...offeredEverywhere(report, functions),
];

/** What is wrong with a part of an item, by its path in it, as if `settings` were set. */
export const groupingProblems = (
  report: Report,
  id: string,
  settings: Partial<GroupingItem>,
  path: string,
  context: PlanContext,
): Problem[] => {
  const found = findItem(report, id);
  if (!found) return [];
  const { problems } = planReport(applyEdit(report, { do: 'set', items: [id], settings }), context);
  const place = `${found.at.path}/items/${found.at.band.items.indexOf(found.item)}/${path}`;
  return problems.filter((p) => p.place.path === place || p.place.path?.startsWith(`${place}/`));
};
