import { ITEM_KINDS, type Item, type ItemKind, type Report } from '../definition/schema.ts';
import { type ItemStart, itemWith, type Showing } from '../edit/item-edit.ts';
import { showBarcode, startBarcode } from './barcode/edit.ts';
import { showCheck, startCheck } from './check/edit.ts';
import { showField, startField } from './field/edit.ts';
import { startLine } from './line/edit.ts';
import { showPicture, startPicture } from './picture/edit.ts';
import { startRectangle } from './rectangle/edit.ts';
import { startSubreport } from './subreport/edit.ts';
import { showText, startText } from './text/edit.ts';

/** How an item of each kind begins. */
const ITEM_STARTS: { readonly [K in ItemKind]: ItemStart<K> } = {
  field: startField,
  text: startText,
  picture: startPicture,
  barcode: startBarcode,
  check: startCheck,
  line: startLine,
  rectangle: startRectangle,
  subreport: startSubreport,
};

/** Kinds that show the value of one formula, and can be turned into one another. */
const SHOWING = {
  field: showField,
  text: showText,
  picture: showPicture,
  barcode: showBarcode,
  check: showCheck,
} as const satisfies { readonly [K in ItemKind]?: Showing<K> };

export type TurnableKind = keyof typeof SHOWING;

export const isTurnable = (kind: ItemKind): kind is TurnableKind => Object.hasOwn(SHOWING, kind);
export const TURNABLE: readonly TurnableKind[] = ITEM_KINDS.filter(isTurnable);

/** Records are by kind: what is looked up by it is of that kind. */
export const showingOf = <K extends TurnableKind>(kind: K): Showing<K> => SHOWING[kind] as unknown as Showing<K>;

/** The one formula whose value an item shows; null when there is none, or more. */
export const shownFormula = (item: Item): string | null =>
  isTurnable(item.kind) ? (showingOf(item.kind) as Showing<ItemKind>).formulaOf(item) : null;

/** Size of a new item, in millimetres. `room`: width of its band. */
export const startSize = (kind: ItemKind, room: number): { width: number; height: number } => {
  const { width, height } = ITEM_STARTS[kind];
  return { width: width === 'room' ? room : width, height };
};

/** A new item as it begins. `words`: what it says at first, where it says something. */
export const newItem = (
  report: Report,
  kind: ItemKind,
  at: { id: string; x: number; y: number; room: number },
  words: string,
): Item => {
  const { id, y, room } = at;
  const start = ITEM_STARTS[kind] as ItemStart<ItemKind>;
  const x = start.width === 'room' ? 0 : at.x;
  return itemWith(kind, { id, x, y, ...startSize(kind, room) }, start.own(report, words));
};
