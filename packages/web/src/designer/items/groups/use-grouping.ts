import {
  drawersOf,
  findItem,
  type GroupingItem,
  groupingCompletions,
  groupingProblems,
  type ItemField,
  itemFields,
  type Relation,
  type RowGroup,
} from '@gaveta/core/internal';
import { useMemo } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { useDesign } from '../../design/context.ts';
import { useDesigner } from '../../design/state.ts';
import type { FormulaPlace } from '../../formula/formula-box.tsx';

/** What the settings of an item that groups rows do, and what they choose from. */
export interface GroupingHands<I extends GroupingItem = GroupingItem> {
  item: I;
  fields: ItemField[];
  /** Relations that lead to several rows from the row that it stands at. */
  relations: Relation[];
  set: (what: string, settings: { [K in keyof I]?: I[K] | null }) => void;
  /**
   * Where a formula of it stands, by its path inside the item. `settings`: the item’s with the formula in them. `groups`: those whose
   * values it may read; none for a formula over a row.
   */
  placeOf: (path: string, groups: readonly RowGroup[], settings: (formula: string) => Partial<I>) => FormulaPlace;
}

/** What is null is left out. */
export const without = <T extends object>(value: T): T =>
  Object.fromEntries(Object.entries(value).filter(([, one]) => one !== null && one !== undefined)) as T;

export const useGrouping = <I extends GroupingItem>(item: I): GroupingHands<I> => {
  const { t } = useTranslation();
  const { report, model, entities, plan } = useDesign();
  const fields = useMemo(() => {
    const address = findItem(report, item.id)?.at.address;
    const drawers = [...drawersOf(report)].map(({ drawer }) => drawer);
    const own = drawers.find(({ id }) => id === address?.drawer);
    // Those inside the drawer of the band count there, and those around it are known there.
    const reached = own ? drawers.filter((one) => holds(own, one.id) || holds(one, own.id)) : drawers;
    return itemFields(report, item.id, { model, entities }, reached);
  }, [report, item.id, model, entities]);
  const { edit } = useDesigner.getState();
  const set: GroupingHands<I>['set'] = (what, settings) =>
    edit(t('edits.set', { what: what.toLowerCase() }), { do: 'set', items: [item.id], settings });
  const relations = useMemo(() => {
    const address = findItem(report, item.id)?.at.address;
    const isAtRow = address?.drawer != null && (address.band === 'detail' || address.band === 'detailFooter');
    const around = isAtRow ? entities.get(address.drawer) : undefined;
    return around?.relations.filter(({ kind }) => kind === 'many') ?? [];
  }, [report, item.id, entities]);
  return {
    item,
    fields,
    relations,
    set,
    placeOf: (path, groups, settings) => ({
      completions: () => groupingCompletions(report, groups, fields, plan.functions),
      problems: (formula) => groupingProblems(report, item.id, settings(formula) as Partial<GroupingItem>, path, plan),
    }),
  };
};

const holds = ({ drawers = [], id }: { id: string; drawers?: { id: string }[] | undefined }, wanted: string): boolean =>
  id === wanted || drawers.some((inner) => holds(inner, wanted));
