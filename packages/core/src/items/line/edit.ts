import type { ItemStart } from '../../edit/item-edit.ts';
import { DEFAULT_LOOK } from '../../layout/default-look.ts';

export const startLine: ItemStart<'line'> = {
  width: 'room',
  height: 0,
  own: () => ({ color: DEFAULT_LOOK.color, thickness: 0.2, dash: 'solid' }),
};
