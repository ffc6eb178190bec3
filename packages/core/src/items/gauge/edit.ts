import type { ItemEdit } from '../../edit/item-edit.ts';
import { themedItem } from '../../edit/themes.ts';

/** It says what it shows; a new one is empty until a field is dropped onto it. */
export const editGauge: ItemEdit<'gauge'> = {
  width: 60,
  height: 42,
  says: ({ title, value }) => title ?? value,
  own: (_report, _words, theme) => ({ type: 'half', value: '', ...themedItem('gauge', theme) }),
};
