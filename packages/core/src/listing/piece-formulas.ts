import type { PlannedItem } from '../data/planned.ts';
import type { ItemOf } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';

/** A formula whose value an item shows. */
export interface PieceFormula {
  formula: Checked;
  format: string;
  /** As it is written. */
  source: string;
  /** The words right before it. */
  before: string;
}

/** Whether a formula does no more than choose among words, as between “night” and “nights”. */
const isWordChoice = (formula: Checked): boolean =>
  formula.kind === 'literal' ||
  (formula.kind === 'if' && isWordChoice(formula.yes) && (formula.no === null || isWordChoice(formula.no)));

const ofText = ({ item, formulas }: PlannedItem<ItemOf<'text'>>): PieceFormula[] =>
  item.content.flatMap((piece, i) => {
    const planned = formulas[`content/${i}`];
    if (typeof piece === 'string' || !('formula' in piece) || !planned || !('formula' in planned)) return [];
    if (isWordChoice(planned.formula)) return [];
    const last = item.content[i - 1];
    const before = last === undefined ? '' : typeof last === 'string' ? last : 'text' in last ? last.text : '';
    return [{ ...planned, source: piece.formula, before }];
  });

/** The formulas whose values an item shows, in their order; none of what is wrong, or drawn. */
export const pieceFormulas = (planned: PlannedItem): PieceFormula[] => {
  const { item, formulas } = planned;
  switch (item.kind) {
    case 'text':
      return ofText(planned as PlannedItem<ItemOf<'text'>>);
    case 'field':
    case 'check':
    case 'barcode':
    case 'formatted':
      return formulas.formula && 'formula' in formulas.formula
        ? [{ ...formulas.formula, source: item.formula, before: '' }]
        : [];
    case 'gauge': {
      // One with rows of its own is a set of them.
      const value = planned.figure?.summary ? undefined : planned.figure?.formulas.value;
      return value && 'formula' in value ? [{ ...value, source: item.value, before: item.title ?? '' }] : [];
    }
    default:
      return [];
  }
};
