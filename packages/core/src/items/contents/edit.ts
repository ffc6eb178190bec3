import type { ItemEdit } from '../../edit/item-edit.ts';
import { themedItem } from '../../edit/themes.ts';

export const editContents: ItemEdit<'contents'> = {
  width: 'room',
  height: 30,
  says: () => '',
  own: (_report, _words, theme) => themedItem('contents', theme),
};
