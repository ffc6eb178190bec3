import type { ItemEdit, Showing } from '../../edit/item-edit.ts';

export const editPicture: ItemEdit<'picture'> = {
  width: 40,
  height: 28,
  says: ({ formula, alternative }) => formula ?? alternative,
  own: () => ({ fit: 'whole', alternative: '' }),
};

export const showPicture: Showing<'picture'> = {
  width: 24,
  height: 17,
  formulaOf: ({ formula }) => formula ?? null,
  accepts: (type) => type === 'picture',
  own: (formula, { label = '' }) => ({ formula, fit: 'whole', alternative: label }),
};
