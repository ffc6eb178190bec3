import { type ChartPart, type ChartType, chartParts } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { groupWords, totalWords } from '../groups/words.ts';
import type { ChartItem } from './use-chart.ts';

/** What stands in a part of a chart: a tag for each. */
export interface PartTag {
  /** Place among the measures; null for a group. */
  measure: number | null;
  words: string;
}

export const partWords = (t: TFunction, { says }: ChartPart): string => t(`chart.part_${says}`);

/** What stands in a part. */
export const tagsOf = (t: TFunction, item: ChartItem, { part }: ChartPart): PartTag[] => {
  if (part === 'along' || part === 'split' || part === 'panels') {
    const group = item[part];
    return group ? [{ measure: null, words: groupWords(t, group) }] : [];
  }
  const all = item.measures.map((measure, at) => ({ measure: at, words: totalWords(t, measure) }));
  if (part === 'measures') return all;
  const at = Number(part.slice('measures/'.length));
  return all.filter(({ measure }) => measure === at);
};

/** Where a part stands on the drawing. */
export const sideOf = ({ says }: ChartPart, type: ChartType): 'top' | 'bottom' | 'right' | 'corner' => {
  const isFlipped = type === 'bar';
  switch (says) {
    case 'along':
      return isFlipped ? 'top' : 'bottom';
    case 'x':
      return 'bottom';
    case 'value':
      return isFlipped ? 'bottom' : 'top';
    case 'split':
    case 'each':
      return 'right';
    case 'panels':
      return 'corner';
    default:
      return 'top';
  }
};

export const partsAt = (type: ChartType, side: ReturnType<typeof sideOf>): ChartPart[] =>
  chartParts(type).filter((part) => sideOf(part, type) === side);
