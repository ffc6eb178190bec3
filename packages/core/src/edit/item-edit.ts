import type { place } from '../definition/item-parts.ts';
import type { Item, ItemKind, ItemOf, Report } from '../definition/schema.ts';
import type { CheckedType } from '../formula/checked.ts';
import type { Theme } from './themes.ts';

/** What an item has besides its kind and place. */
export type ItemOwn<K extends ItemKind> = Omit<ItemOf<K>, keyof typeof place | 'kind'>;

/** Millimetres; `room`: as wide as its band. */
export interface ItemSize {
  width: number | 'room';
  height: number;
}

/** Names of stored reports by their ids. */
export type ReportNames = Readonly<Record<string, string>>;

/** How an item of a kind begins, and what it says. */
export interface ItemEdit<K extends ItemKind> extends ItemSize {
  /** What it shows, in a few words; empty when it has none. */
  says: (item: ItemOf<K>, reports: ReportNames) => string;
  /** `words`: what it says at first, in the language of its maker. `theme`: that of the report; null for none that is known. */
  own: (report: Report, words: string, theme: Theme | null) => ItemOwn<K>;
}

/** What an item that is to show a value takes over from where the value comes from. */
export interface ShownValue {
  label?: string | undefined;
  /** A number-format code. */
  format?: string | undefined;
}

/** How items of a kind show the value of one formula. They can be turned into other such kinds. */
export interface Showing<K extends ItemKind> extends ItemSize {
  /** The formula whose value an item shows; null when it shows none, or more than one. */
  formulaOf: (item: ItemOf<K>) => string | null;
  accepts: (type: CheckedType | null) => boolean;
  own: (formula: string, shown: ShownValue) => ItemOwn<K>;
}

/** An item of a kind, with an id and a place. */
export const itemWith = <K extends ItemKind>(
  kind: K,
  at: Pick<Item, 'id' | 'x' | 'y' | 'width' | 'height' | 'column'>,
  own: ItemOwn<K>,
): ItemOf<K> => ({ kind, ...at, ...own }) as unknown as ItemOf<K>;
