import type { ChartGroupPart, ChartMeasureSetting, ItemOf, RowGroup } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { type GroupingHands, useGrouping, without } from '../groups/use-grouping.ts';

export type ChartItem = ItemOf<'chart'>;

/** What the settings of a chart do, and what they choose from. */
export interface ChartHands extends GroupingHands<ChartItem> {
  /** Groups whose values formulas over totals may read. */
  groups: RowGroup[];
  changeGroup: (part: ChartGroupPart, next: { [K in keyof RowGroup]?: RowGroup[K] | null }) => void;
  changeMeasure: (at: number, next: { [K in keyof ChartMeasureSetting]?: ChartMeasureSetting[K] | null }) => void;
  removeMeasure: (at: number) => void;
}

export const useChart = (item: ChartItem): ChartHands => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { set } = hands;
  return {
    ...hands,
    groups: [item.along, item.split, item.panels].flatMap((group) => group ?? []),
    changeGroup: (part, next) => {
      const group = item[part];
      if (group) set(t(`chart.${part}`), { [part]: without({ ...group, ...next }) });
    },
    changeMeasure: (at, next) =>
      set(t('chart.value'), {
        measures: item.measures.map((one, i) =>
          i === at ? (without({ ...one, ...next }) as ChartMeasureSetting) : one,
        ),
      }),
    removeMeasure: (at) => set(t('chart.value'), { measures: item.measures.filter((_, i) => i !== at) }),
  };
};
