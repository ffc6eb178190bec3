import type { ItemEdit } from '../../edit/item-edit.ts';
import { themedItem } from '../../edit/themes.ts';

/** It says what it shows of which groups; a new one is empty until fields are dropped into it. */
export const editCrosstab: ItemEdit<'crosstab'> = {
  width: 'room',
  height: 30,
  says: ({ down, across }) => [...down, ...across].map(({ caption, name }) => caption ?? name).join(' × '),
  own: (_report, _words, theme) => ({ down: [], across: [], cells: [], ...themedItem('crosstab', theme) }),
};
