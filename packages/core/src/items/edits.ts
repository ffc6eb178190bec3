import { ITEM_KINDS, type Item, type ItemKind, type Report } from '../definition/schema.ts';
import { type ItemEdit, itemWith, type ReportNames, type Showing } from '../edit/item-edit.ts';
import { findTheme, THEMES, type Theme } from '../edit/themes.ts';
import { editBarcode, showBarcode } from './barcode/edit.ts';
import { editChart } from './chart/edit.ts';
import { editCheck, showCheck } from './check/edit.ts';
import { editContents } from './contents/edit.ts';
import { editCrosstab } from './crosstab/edit.ts';
import { editField, showField } from './field/edit.ts';
import { editFormatted, showFormatted } from './formatted/edit.ts';
import { editGauge } from './gauge/edit.ts';
import { editLine } from './line/edit.ts';
import { editMap } from './map/edit.ts';
import { editPanel } from './panel/edit.ts';
import { editPicture, showPicture } from './picture/edit.ts';
import { editRectangle } from './rectangle/edit.ts';
import { editSparkline } from './sparkline/edit.ts';
import { editState } from './state/edit.ts';
import { editSubreport } from './subreport/edit.ts';
import { editText, showText } from './text/edit.ts';

/** How an item of each kind begins, and what it says. */
const ITEM_EDITS: { readonly [K in ItemKind]: ItemEdit<K> } = {
  field: editField,
  text: editText,
  picture: editPicture,
  barcode: editBarcode,
  check: editCheck,
  line: editLine,
  rectangle: editRectangle,
  panel: editPanel,
  formatted: editFormatted,
  crosstab: editCrosstab,
  chart: editChart,
  gauge: editGauge,
  map: editMap,
  sparkline: editSparkline,
  state: editState,
  contents: editContents,
  subreport: editSubreport,
};

/** Kinds that show the value of one formula, and can be turned into one another. */
const SHOWING = {
  field: showField,
  text: showText,
  picture: showPicture,
  barcode: showBarcode,
  check: showCheck,
  formatted: showFormatted,
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
  const { width, height } = ITEM_EDITS[kind];
  return { width: width === 'room' ? room : width, height };
};

/** Where something of a width begins so that it does not reach past its band, in millimetres. */
export const startWithin = (room: number, { x, width }: { x: number; width: number }): number =>
  Math.max(0, Math.min(x, Math.round((room - width) * 100) / 100));

/** A new item as it begins. `words`: what it says at first, where it says something. `themes`: those that there are. */
export const newItem = (
  report: Report,
  kind: ItemKind,
  at: { id: string; x: number; y: number; room: number },
  words: string,
  themes: readonly Theme[] = THEMES,
): Item => {
  const { id, y, room } = at;
  const start = ITEM_EDITS[kind] as ItemEdit<ItemKind>;
  const size = startSize(kind, room);
  const x = start.width === 'room' ? 0 : startWithin(room, { x: at.x, width: size.width });
  return itemWith(kind, { id, x, y, ...size }, start.own(report, words, findTheme(report.theme, themes)));
};

/** What an item shows, in a few words; empty when it has none. */
export const itemWords = (item: Item, reports: ReportNames): string =>
  (ITEM_EDITS[item.kind] as ItemEdit<ItemKind>).says(item, reports);
