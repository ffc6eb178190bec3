import type { ItemEdit, Showing } from '../../edit/item-edit.ts';
import { DEFAULT_LOOK } from '../../layout/default-look.ts';

const ticked = (formula: string) => ({ formula, sign: 'tick', color: DEFAULT_LOOK.color }) as const;

export const editCheck: ItemEdit<'check'> = {
  width: 5,
  height: 5,
  says: ({ formula }) => formula,
  own: () => ticked('TRUE'),
};

export const showCheck: Showing<'check'> = {
  width: 5,
  height: 5,
  formulaOf: ({ formula }) => formula,
  accepts: (type) => type === 'boolean',
  own: ticked,
};
