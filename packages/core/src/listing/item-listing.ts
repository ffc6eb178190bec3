import type { PlannedItem } from '../data/planned.ts';
import type { Item } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import type { CellTable, PreparedSummary } from '../shape/summary.ts';
import type { Value } from '../value/value.ts';
import type { ListedColumn } from './listed.ts';

/** A column of the groups that an item shows. */
export interface ItemColumn {
  /** Words that programs know it by, and those that stand above it where they are known. */
  name: string;
  caption: string | undefined;
  formula: Checked;
  format: string;
  /** Of its values, where they are not those of the formula. */
  type?: ListedColumn['type'];
}

/** What an item that shows groups of rows gives as rows: one for each of the innermost groups, with everything open and no totals. */
export interface ItemListing {
  /** Its title; empty when it has none. */
  title: string;
  summary: PreparedSummary;
  columns: ItemColumn[];
  /** A value for each column. The context is that of where the item stands. */
  rows(table: CellTable, context: EvaluationContext): Iterable<readonly Value[]>;
}

/** What an item gives as rows; null when it shows no groups of its own, or is not whole. */
export type ListItem<I extends Item> = (planned: PlannedItem<I>) => ItemListing | null;
