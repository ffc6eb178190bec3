import type { ItemOf } from '../definition/schema.ts';
import type { DataType } from '../value/value.ts';
import type { GroupingItem, ReachedField } from './item-fields.ts';

/** How an item of one kind takes fields into its parts. */
export interface FieldParts<K extends GroupingItem['kind'] = GroupingItem['kind']> {
  /** Whether it takes a value that is the same for all rows, as that of a parameter. */
  takesOne?: boolean;
  /** Whether nothing says yet which rows it groups. */
  isEmpty: (item: ItemOf<K>) => boolean;
  /** The part that suits a field by its type, where nobody says. */
  partFor: (item: ItemOf<K>, type: DataType, formula: string) => string;
  /** Its settings with a field in a part; null when the part takes none. */
  withField: (item: ItemOf<K>, part: string, field: ReachedField) => Partial<ItemOf<K>> | null;
}
