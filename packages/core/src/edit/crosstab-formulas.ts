import { type Completion, offeredEverywhere } from '../data/completions.ts';
import { planReport } from '../data/plan.ts';
import type { PlanContext } from '../data/planned.ts';
import type { ItemOf, Report } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import { writtenName } from '../formula/tokens.ts';
import type { Problem } from '../problems/problem.ts';
import type { CrosstabField } from './crosstab.ts';
import { applyEdit } from './edit.ts';

/**
 * What an editor offers for a formula of a crosstab: fields of its rows, and of a cell, where they stand in totals, the values of
 * its groups first.
 */
export const crosstabCompletions = (
  report: Report,
  { down, across }: Pick<ItemOf<'crosstab'>, 'down' | 'across'>,
  fields: readonly CrosstabField[],
  isCell: boolean,
): Completion[] => [
  ...(isCell ? [...down, ...across] : []).map(
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
  ...offeredEverywhere(report),
];

/** What is wrong with a part of a crosstab, by its path in the item, as if `settings` were set. */
export const crosstabProblems = (
  report: Report,
  id: string,
  settings: Partial<ItemOf<'crosstab'>>,
  path: string,
  context: PlanContext,
): Problem[] => {
  const found = findItem(report, id);
  if (!found) return [];
  const { problems } = planReport(applyEdit(report, { do: 'set', items: [id], settings }), context);
  const place = `${found.at.path}/items/${found.at.band.items.indexOf(found.item)}/${path}`;
  return problems.filter((p) => p.place.path === place || p.place.path?.startsWith(`${place}/`));
};
