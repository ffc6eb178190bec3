import type { ItemEdit, Showing } from '../../edit/item-edit.ts';
import { dressed } from '../../edit/themes.ts';
import { writtenText } from '../../formula/tokens.ts';
import { showsText } from '../field/edit.ts';
import type { TextPiece } from './schema.ts';

/** What a piece of text shows where its values are not known. */
export const pieceWords = (piece: TextPiece): string =>
  typeof piece === 'string' ? piece : 'text' in piece ? piece.text : piece.formula;

export const editText: ItemEdit<'text'> = {
  width: 50,
  height: 5,
  says: ({ content }) => content.map(pieceWords).join(''),
  own: (report, words) => ({ content: [words], ...dressed(report, 'value') }),
};

export const showText: Showing<'text'> = {
  width: 60,
  height: 5,
  formulaOf: ({ content }) => {
    const formulas = content.flatMap((piece) =>
      typeof piece === 'object' && 'formula' in piece ? [piece.formula] : [],
    );
    if (formulas.length === 0) return writtenText(content.map(pieceWords).join(''));
    return formulas.length === 1 ? formulas[0]! : null;
  },
  accepts: showsText,
  own: (formula, { label, format }) => ({
    content: [...(label ? [`${label}: `] : []), { formula, ...(format ? { format } : {}) }],
  }),
};
