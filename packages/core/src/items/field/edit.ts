import type { ItemEdit, Showing } from '../../edit/item-edit.ts';

/** Anything but a picture. */
export const showsText: Showing<'field'>['accepts'] = (type) => type !== 'picture' && type !== 'list';

export const editField: ItemEdit<'field'> = {
  width: 40,
  height: 5,
  says: ({ formula }) => formula,
  own: () => ({ formula: '' }),
};

export const showField: Showing<'field'> = {
  width: 40,
  height: 5,
  formulaOf: ({ formula }) => formula,
  accepts: showsText,
  own: (formula) => ({ formula }),
};
