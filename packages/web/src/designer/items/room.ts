import type { ItemKind, ItemOf, Style } from '@gaveta/core/internal';
import type { LucideIcon } from 'lucide-react';
import type { FC } from 'react';
import type { NamesIn, NamesWithHelp } from '../../i18n/keys.ts';
import type { Chosen } from '../settings/item-context.ts';

export interface BoardProps<K extends ItemKind = ItemKind> {
  item: ItemOf<K>;
  styles: Readonly<Record<string, Style>>;
  /** CSS pixels for a millimetre. */
  scale: number;
}

/** Its place in the list of what can be added. */
export interface AddedItem {
  /** Names its title and its sentence among the messages. */
  id: NamesWithHelp<'add'>;
  icon: LucideIcon;
  /** Names what it says at first. */
  words?: NamesIn<'add'>;
  /** Whether its text is edited at once. */
  typing?: boolean;
}

/** Everything that the designer needs of one kind of item. */
export interface ItemRoom<K extends ItemKind = ItemKind> {
  /** How it is drawn on the board. */
  Board: FC<BoardProps<K>>;
  /** Its parts that take fields, in words over it as a laid-out page shows it; left out where it has none. */
  Tags?: FC<{ item: ItemOf<K> }>;
  /** Edits it where it stands on the board; without it, Enter and a double click lead to its formula. */
  Editor?: FC<BoardProps<K>>;
  /** Settings of what one item shows, and of what several of the kind have in common. */
  Content?: FC<{ item: ItemOf<K>; chosen: Chosen }>;
  SharedContent?: FC<{ chosen: Chosen }>;
  /** Settings of how one or several look; kinds with the same settings share them. */
  Look?: FC<{ chosen: Chosen }>;
  /** Null when it comes from fields alone. */
  add: AddedItem | null;
}
