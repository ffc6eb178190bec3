import type { ItemEdit } from '../../edit/item-edit.ts';
import { DEFAULT_LOOK } from '../../layout/default-look.ts';

export const editRectangle: ItemEdit<'rectangle'> = {
  width: 40,
  height: 12,
  says: () => '',
  own: () => ({ stroke: DEFAULT_LOOK.color, thickness: 0.2, radius: 0 }),
};
