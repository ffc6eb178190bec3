import type { PlanContext } from '../data/planned.ts';
import { place } from '../definition/item-parts.ts';
import { type Item, type ItemKind, isWords, isWordsKind, itemSchema, type Report } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import { showingOf, shownFormula, TURNABLE, type TurnableKind } from '../items/edits.ts';
import { words } from '../items/words/schema.ts';
import type { Edit, Settings } from './edit.ts';
import { formulaFacts } from './facts.ts';

/** What only some kinds have: gone, unless the next kind sets it. Text keeps its look when it stays text. */
const clearedFor = (item: Item, kind: ItemKind): Settings => {
  const names = itemSchema.options.flatMap((option) => Object.keys(option.shape));
  const kept = { ...place, kind: null, ...(isWords(item) && isWordsKind(kind) ? words : {}) };
  return Object.fromEntries([...names.filter((name) => !Object.hasOwn(kept, name)), 'formulas'].map((n) => [n, null]));
};

/** What a text of nothing but words says; null for any other item. */
const plainWords = (item: Item): string | null =>
  item.kind === 'text' && item.content.every((piece) => typeof piece === 'string') ? item.content.join('') : null;

/** What an item could be instead, showing the same value; nothing when it shows no single formula. */
export const turnsInto = (report: Report, id: string, context: PlanContext): TurnableKind[] => {
  const found = findItem(report, id);
  const formula = found && shownFormula(found.item);
  if (!found || formula === null) return [];
  const { type } = formulaFacts(report, found.at.address, formula, context);
  // In the place of words a picture can stand that they describe.
  const isFree = (kind: TurnableKind): boolean => kind === 'picture' && plainWords(found.item) !== null;
  return TURNABLE.filter((kind) => kind !== found.item.kind && (showingOf(kind).accepts(type) || isFree(kind)));
};

/** Makes another kind of item of one, at the same place and with the same value. Null when it shows no single formula. */
export const turnInto = (report: Report, id: string, kind: TurnableKind): Edit | null => {
  const item = findItem(report, id)?.item;
  const formula = item && shownFormula(item);
  if (!item || formula == null) return null;
  const alternative = kind === 'picture' ? plainWords(item) : null;
  if (alternative !== null) {
    const settings = { ...clearedFor(item, kind), fit: 'whole', kind, alternative: alternative.slice(0, 500) };
    return { do: 'set', items: [id], settings };
  }
  const own = showingOf(kind).own(formula, { format: 'format' in item ? item.format : undefined });
  return { do: 'set', items: [id], settings: { ...clearedFor(item, kind), ...own, kind } };
};
