import type { ItemEdit } from '../../edit/item-edit.ts';
import { findTheme, themedItem } from '../../edit/themes.ts';

export const editContents: ItemEdit<'contents'> = {
  width: 'room',
  height: 30,
  says: () => '',
  own: ({ theme }) => themedItem('contents', findTheme(theme)),
};
