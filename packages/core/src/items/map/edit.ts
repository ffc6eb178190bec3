import type { ItemEdit } from '../../edit/item-edit.ts';
import { themedItem } from '../../edit/themes.ts';

/** It says what has a place on it; a new one is empty until fields are dropped onto it. */
export const editMap: ItemEdit<'map'> = {
  width: 90,
  height: 80,
  says: ({ title, along }) => title ?? along?.caption ?? along?.name ?? '',
  own: (_report, _words, theme) => themedItem('map', theme),
};
