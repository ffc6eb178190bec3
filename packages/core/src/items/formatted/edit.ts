import type { ItemEdit, Showing } from '../../edit/item-edit.ts';
import { writtenText } from '../../formula/tokens.ts';

export const editFormatted: ItemEdit<'formatted'> = {
  width: 'room',
  height: 10,
  says: ({ formula }) => formula,
  own: (_, words) => ({ formula: writtenText(words) }),
};

export const showFormatted: Showing<'formatted'> = {
  width: 90,
  height: 20,
  formulaOf: ({ formula }) => formula,
  accepts: (type) => type === 'text' || type === 'any' || type === null,
  own: (formula) => ({ formula }),
};
