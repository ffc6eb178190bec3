import type { PlannedItem } from '../data/planned.ts';
import type { ItemKind, ItemOf } from '../definition/schema.ts';
import type { ItemListing, ListItem } from '../listing/item-listing.ts';
import { listChart } from './chart/list.ts';
import { listCrosstab } from './crosstab/list.ts';
import { listGauge } from './gauge/list.ts';
import { listMap } from './map/list.ts';

/** What items that show groups of rows give as rows; a sparkline is a word among others. */
const ITEM_LISTINGS: { readonly [K in ItemKind]?: ListItem<ItemOf<K>> } = {
  crosstab: listCrosstab,
  chart: listChart,
  gauge: listGauge,
  map: listMap,
};

/** What an item gives as rows; null when it gives none. */
export const itemListing = (planned: PlannedItem): ItemListing | null => {
  const list = ITEM_LISTINGS[planned.item.kind] as ListItem<PlannedItem['item']> | undefined;
  return list?.(planned) ?? null;
};
