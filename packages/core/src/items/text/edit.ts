import type { ItemStart, Showing } from '../../edit/item-edit.ts';
import { dressed } from '../../edit/themes.ts';
import { showsText } from '../field/edit.ts';

export const startText: ItemStart<'text'> = {
  width: 50,
  height: 5,
  own: (report, words) => ({ content: [words], ...dressed(report, 'value') }),
};

export const showText: Showing<'text'> = {
  width: 60,
  height: 5,
  formulaOf: ({ content }) => {
    const formulas = content.flatMap((piece) =>
      typeof piece === 'object' && 'formula' in piece ? [piece.formula] : [],
    );
    return formulas.length === 1 ? formulas[0]! : null;
  },
  accepts: showsText,
  own: (formula, { label, format }) => ({
    content: [...(label ? [`${label}: `] : []), { formula, ...(format ? { format } : {}) }],
  }),
};
