import type { ItemEdit } from '../../edit/item-edit.ts';
import { themedItem } from '../../edit/themes.ts';

export const editPanel: ItemEdit<'panel'> = {
  width: 80,
  height: 30,
  says: () => '',
  own: (_report, _words, theme) => ({
    stack: 'column',
    gap: 2,
    padding: 3,
    fill: '#faf5e8',
    thickness: 0.2,
    radius: 1.5,
    ...themedItem('panel', theme),
  }),
};
