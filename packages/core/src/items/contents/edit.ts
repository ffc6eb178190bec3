import type { ItemEdit } from '../../edit/item-edit.ts';

export const editContents: ItemEdit<'contents'> = {
  width: 'room',
  height: 30,
  says: () => '',
  own: () => ({}),
};
