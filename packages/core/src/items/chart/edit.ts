import type { ItemEdit } from '../../edit/item-edit.ts';
import { themedItem } from '../../edit/themes.ts';

/** It says what it measures along what; a new one is empty until fields are dropped onto it. */
export const editChart: ItemEdit<'chart'> = {
  width: 'room',
  height: 60,
  says: ({ title, measures, along }) =>
    title ??
    [
      ...measures.map(({ caption, formula }) => caption ?? formula),
      ...(along ? [along.caption ?? along.name] : []),
    ].join(' × '),
  own: (_report, _words, theme) => ({ type: 'column', measures: [], ...themedItem('chart', theme) }),
};
