import type { ItemPlanning } from '../../data/item-planning.ts';
import type { PlannedOwn } from '../../data/planned.ts';
import type { WordsItem } from '../../definition/schema.ts';

/** What all items that show text plan besides their content. */
export const planWords = (item: WordsItem, planning: ItemPlanning): Pick<PlannedOwn, 'formulas' | 'highlights'> => ({
  formulas: planning.decided(item.indent, 'indent'),
  highlights: planning.highlights(item.highlights),
});
