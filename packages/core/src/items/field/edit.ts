import type { ItemStart, Showing } from '../../edit/item-edit.ts';

/** Anything but a picture. */
export const showsText: Showing<'field'>['accepts'] = (type) => type !== 'picture' && type !== 'list';

export const startField: ItemStart<'field'> = { width: 40, height: 5, own: () => ({ formula: '' }) };

export const showField: Showing<'field'> = {
  width: 40,
  height: 5,
  formulaOf: ({ formula }) => formula,
  accepts: showsText,
  own: (formula) => ({ formula }),
};
