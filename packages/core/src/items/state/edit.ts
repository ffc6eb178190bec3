import type { ItemEdit } from '../../edit/item-edit.ts';

/** It says what it may show; a new one shows nothing until it has a condition. */
export const editState: ItemEdit<'state'> = {
  width: 24,
  height: 5,
  says: ({ cases }) => cases.map(({ words, shape }) => words ?? shape).join(', '),
  own: () => ({ cases: [] }),
};
