import type { ItemEdit } from '../../edit/item-edit.ts';
import { DEFAULT_LOOK } from '../../layout/default-look.ts';

export const editLine: ItemEdit<'line'> = {
  width: 'room',
  height: 0,
  says: () => '',
  own: () => ({ color: DEFAULT_LOOK.color, thickness: 0.2, dash: 'solid' }),
};
