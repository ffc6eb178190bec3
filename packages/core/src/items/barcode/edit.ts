import type { ItemEdit, Showing } from '../../edit/item-edit.ts';
import { writtenText } from '../../formula/tokens.ts';
import { showsText } from '../field/edit.ts';

const black = (formula: string) => ({ formula, code: 'code-128', color: '#000000' }) as const;

export const editBarcode: ItemEdit<'barcode'> = {
  width: 50,
  height: 15,
  says: ({ formula }) => formula,
  own: (_, words) => black(writtenText(words)),
};

export const showBarcode: Showing<'barcode'> = {
  width: 50,
  height: 15,
  formulaOf: ({ formula }) => formula,
  accepts: showsText,
  own: black,
};
