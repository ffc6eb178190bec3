import {
  type AxisGroup,
  type CrosstabCell,
  type CrosstabField,
  type CrosstabPart,
  crosstabCompletions,
  crosstabFields,
  crosstabProblems,
  drawersOf,
  findItem,
  type ItemOf,
  moveGroup,
  type Relation,
} from '@gaveta/core/internal';
import { useMemo } from 'react';
import { useTranslation } from 'react-i18next';
import { useDesign } from '../../design/context.ts';
import { useDesigner } from '../../design/state.ts';
import type { FormulaPlace } from '../../formula/formula-box.tsx';

type Crosstab = ItemOf<'crosstab'>;
export type AxisPart = Exclude<CrosstabPart, 'cells'>;

/** What the settings of a crosstab do, and what they choose from. */
export interface CrosstabHands {
  item: Crosstab;
  fields: CrosstabField[];
  /** Relations that lead to several rows from the row that it stands at. */
  relations: Relation[];
  set: (what: string, settings: Partial<{ [K in keyof Crosstab]: Crosstab[K] | null }>) => void;
  changeGroup: (part: AxisPart, at: number, next: { [K in keyof AxisGroup]?: AxisGroup[K] | null }) => void;
  moveGroup: (from: { part: AxisPart; at: number }, to: { part: AxisPart; at: number }) => void;
  changeCell: (at: number, next: { [K in keyof CrosstabCell]?: CrosstabCell[K] | null }) => void;
  remove: (part: CrosstabPart, at: number) => void;
  /**
   * Where a formula of it stands, by its path inside the item. `settings`: the item’s with the formula in them. `isCell`: among the totals
   * of cells.
   */
  placeOf: (path: string, isCell: boolean, settings: (formula: string) => Partial<Crosstab>) => FormulaPlace;
}

/** What is null is left out. */
export const without = <T extends object>(value: T): T =>
  Object.fromEntries(Object.entries(value).filter(([, one]) => one !== null && one !== undefined)) as T;

export const useCrosstab = (item: Crosstab): CrosstabHands => {
  const { t } = useTranslation();
  const { report, model, entities, plan } = useDesign();
  const fields = useMemo(() => {
    const address = findItem(report, item.id)?.at.address;
    const drawers = [...drawersOf(report)].map(({ drawer }) => drawer);
    const own = drawers.find(({ id }) => id === address?.drawer);
    // Those inside the drawer of the band count there, and those around it are known there.
    const reached = own ? drawers.filter((one) => holds(own, one.id) || holds(one, own.id)) : drawers;
    return crosstabFields(report, item.id, { model, entities }, reached);
  }, [report, item.id, model, entities]);
  const { edit } = useDesigner.getState();
  const set: CrosstabHands['set'] = (what, settings) =>
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
    changeGroup: (part, at, next) =>
      set(t(`crosstab.${part}`), {
        [part]: item[part].map((group, i) => (i === at ? without({ ...group, ...next }) : group)),
      }),
    moveGroup: (from, to) => set(t(`crosstab.${to.part}`), moveGroup(item, from, to)),
    changeCell: (at, next) =>
      set(t('crosstab.cells'), {
        cells: item.cells.map((cell, i) => (i === at ? (without({ ...cell, ...next }) as CrosstabCell) : cell)),
      }),
    placeOf: (path, isCell, settings) => ({
      completions: () => crosstabCompletions(report, item, fields, isCell),
      problems: (formula) => crosstabProblems(report, item.id, settings(formula), path, plan),
    }),
    remove: (part, at) => set(t(`crosstab.${part}`), { [part]: (item[part] as unknown[]).filter((_, i) => i !== at) }),
  };
};

const holds = ({ drawers = [], id }: { id: string; drawers?: { id: string }[] | undefined }, wanted: string): boolean =>
  id === wanted || drawers.some((inner) => holds(inner, wanted));
