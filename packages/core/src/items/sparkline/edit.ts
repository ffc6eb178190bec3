import type { ItemEdit } from '../../edit/item-edit.ts';

/** It says what it measures along what; a new one is empty until fields are dropped onto it. */
export const editSparkline: ItemEdit<'sparkline'> = {
  width: 30,
  height: 6,
  says: ({ measure, along }) =>
    [measure, along?.caption ?? along?.name ?? ''].filter((part) => part !== '').join(' × '),
  own: () => ({ type: 'line', measure: '' }),
};
