import type { PlannedFormula, PlannedItem } from '../data/planned.ts';
import type { Item } from '../definition/schema.ts';
import { type PieceFormula, pieceFormulas } from '../listing/piece-formulas.ts';

const MEASURE = /^(?:measures\/(\d+)|measure|value)$/;

/** A measure as the definition has it. */
const sourceOf = (item: Item, path: string): string => {
  const place = MEASURE.exec(path)?.[1];
  if (item.kind === 'chart' && place !== undefined) return item.measures[Number(place)]?.formula ?? '';
  const named = (item as unknown as Record<string, unknown>)[path];
  return typeof named === 'string' ? named : '';
};

const shown = (planned: PlannedFormula | undefined, source: string): PieceFormula[] =>
  planned && 'formula' in planned ? [{ formula: planned.formula, format: planned.format, source, before: '' }] : [];

/** The formulas whose values an item shows; of a cell those of that cell. */
export const askedFormulas = (planned: PlannedItem, cell: number | null): PieceFormula[] => {
  const { item, crosstab, figure } = planned;
  if (crosstab && item.kind === 'crosstab') {
    const all = crosstab.cells.map(({ formula }, i) => shown(formula, item.cells[i]?.formula ?? ''));
    return cell === null ? all.flat() : (all[cell % all.length] ?? []);
  }
  if (figure) {
    const measured = Object.entries(figure.formulas).filter(([path]) => MEASURE.test(path));
    return measured.flatMap(([path, formula]) => shown(formula, sourceOf(item, path)));
  }
  return pieceFormulas(planned);
};
