import type { PrepareItem } from '../../layout/preparing.ts';
import { type PlannedPiece, wordsItem } from '../words/prepare.ts';

export const prepareTextItem: PrepareItem<'text'> = (planned, common, preparing) => {
  const pieces = planned.item.content.map((piece, i): PlannedPiece => {
    if (typeof piece === 'string') return { text: piece };
    return 'text' in piece ? piece : { ...planned.formulas[`content/${i}`]!, look: piece.look };
  });
  return wordsItem(planned, pieces, common, preparing);
};
