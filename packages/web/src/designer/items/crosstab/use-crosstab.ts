import { type AxisGroup, type CrosstabCell, type CrosstabPart, type ItemOf, moveGroup } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { type GroupingHands, useGrouping, without } from '../groups/use-grouping.ts';

type Crosstab = ItemOf<'crosstab'>;
export type AxisPart = Exclude<CrosstabPart, 'cells'>;

/** What the settings of a crosstab do, and what they choose from. */
export interface CrosstabHands extends GroupingHands<Crosstab> {
  changeGroup: (part: AxisPart, at: number, next: { [K in keyof AxisGroup]?: AxisGroup[K] | null }) => void;
  moveGroup: (from: { part: AxisPart; at: number }, to: { part: AxisPart; at: number }) => void;
  changeCell: (at: number, next: { [K in keyof CrosstabCell]?: CrosstabCell[K] | null }) => void;
  remove: (part: CrosstabPart, at: number) => void;
}

export const useCrosstab = (item: Crosstab): CrosstabHands => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { set } = hands;
  return {
    ...hands,
    changeGroup: (part, at, next) =>
      set(t(`crosstab.${part}`), {
        [part]: item[part].map((group, i) => (i === at ? without({ ...group, ...next }) : group)),
      }),
    moveGroup: (from, to) => set(t(`crosstab.${to.part}`), moveGroup(item, from, to)),
    changeCell: (at, next) =>
      set(t('crosstab.cells'), {
        cells: item.cells.map((cell, i) => (i === at ? (without({ ...cell, ...next }) as CrosstabCell) : cell)),
      }),
    remove: (part, at) => set(t(`crosstab.${part}`), { [part]: (item[part] as unknown[]).filter((_, i) => i !== at) }),
  };
};
