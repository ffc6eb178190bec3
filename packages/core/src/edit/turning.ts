import type { PlanContext } from '../data/planned.ts';
import type { Item, ItemKind, Report } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import { DEFAULT_LOOK } from '../layout/prepare-text.ts';
import type { Edit, Settings } from './edit.ts';
import { formulaFacts } from './facts.ts';

/** Kinds that show the value of one formula, and can be turned into one another. */
export const TURNABLE = ['field', 'text', 'picture', 'barcode', 'check'] as const;
export type TurnableKind = (typeof TURNABLE)[number];

/** The one formula whose value an item shows; null when there is none, or more. */
const formulaOf = (item: Item): string | null => {
  switch (item.kind) {
    case 'field':
    case 'barcode':
    case 'check':
      return item.formula;
    case 'picture':
      return item.formula ?? null;
    case 'text': {
      const pieces = item.content.flatMap((p) => (typeof p === 'object' && 'formula' in p ? [p.formula] : []));
      return pieces.length === 1 ? pieces[0]! : null;
    }
    case 'line':
    case 'rectangle':
    case 'subreport':
      return null;
    default:
      return item satisfies never;
  }
};

/** What only some kinds have: gone, unless the next kind sets it. */
const OWN: Settings = Object.fromEntries(
  [
    'content',
    'formula',
    'format',
    'source',
    'fit',
    'opacity',
    'alternative',
    'code',
    'text',
    'quiet',
    'correction',
    'color',
    'sign',
    'frame',
    'formulas',
  ].map((name) => [name, null]),
);
const WORDS: Settings = Object.fromEntries(
  ['style', 'look', 'highlights', 'grow', 'shrink', 'outline', 'indent'].map((name) => [name, null]),
);

const settingsOf = (kind: TurnableKind, formula: string, item: Item): Settings => {
  switch (kind) {
    case 'field':
      return { formula };
    case 'text':
      return { content: [{ formula, ...('format' in item && item.format ? { format: item.format } : {}) }] };
    case 'picture':
      return { formula, fit: 'whole', alternative: '' };
    case 'barcode':
      return { formula, code: 'code-128', color: '#000000' };
    case 'check':
      return { formula, sign: 'tick', color: DEFAULT_LOOK.color };
    default:
      return kind satisfies never;
  }
};

/** What an item could be instead, showing the same value; nothing when it shows no single formula. */
export const turnsInto = (report: Report, id: string, context: PlanContext): TurnableKind[] => {
  const found = findItem(report, id);
  const formula = found && formulaOf(found.item);
  if (!found || formula === null) return [];
  const { type } = formulaFacts(report, found.at.address, formula, context);
  return TURNABLE.filter((kind) => {
    if (kind === found.item.kind || type === 'list') return false;
    if (kind === 'picture') return type === 'picture';
    if (kind === 'check') return type === 'boolean';
    return type !== 'picture';
  });
};

/** Makes another kind of item of one, at the same place and with the same value. Null when it shows no single formula. */
export const turnInto = (report: Report, id: string, kind: TurnableKind): Edit | null => {
  const item = findItem(report, id)?.item;
  const formula = item && formulaOf(item);
  if (!item || formula == null) return null;
  const isWords = (one: ItemKind): boolean => one === 'field' || one === 'text';
  return {
    do: 'set',
    items: [id],
    settings: { ...OWN, ...(isWords(kind) ? {} : WORDS), ...settingsOf(kind, formula, item), kind },
  };
};
