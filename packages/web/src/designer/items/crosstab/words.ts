import type { CrosstabCell } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { totalWords } from '../groups/words.ts';

/** “sum of nights, share of the row”: a value of the cells in words. */
export const cellWords = (t: TFunction, cell: CrosstabCell): string => {
  const { shows = 'value' } = cell;
  const words = totalWords(t, cell);
  return shows === 'value' ? words : `${words}, ${t(`crosstab.shows_${shows}`)}`;
};
