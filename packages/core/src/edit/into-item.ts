import type { Report } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import type { Entity, Model } from '../model/model.ts';
import { chartFieldParts } from './chart.ts';
import { crosstabFieldParts } from './crosstab.ts';
import type { Edit, Settings } from './edit.ts';
import type { FieldParts } from './field-parts.ts';
import { type GroupingItem, isGrouping, ownRowsOf, reachedBy } from './item-fields.ts';
import type { Placeable } from './placing.ts';
import { gaugeFieldParts, mapFieldParts, sparklineFieldParts } from './small-figures.ts';

const FIELD_PARTS: { readonly [K in GroupingItem['kind']]: FieldParts<K> } = {
  crosstab: crosstabFieldParts,
  chart: chartFieldParts,
  gauge: gaugeFieldParts,
  sparkline: sparklineFieldParts,
  map: mapFieldParts,
};

/** Records are by kind: the parts are those of the item’s own kind. */
export const fieldPartsOf = (item: GroupingItem): FieldParts => FIELD_PARTS[item.kind] as unknown as FieldParts;

/**
 * What dropping fields into an item that groups rows does: each goes to the part, or to the one that suits its type. An empty item
 * takes the rows that the first field is of. Null when it cannot take them.
 */
export const intoItem = (
  report: Report,
  id: string,
  part: string | null,
  fields: readonly Placeable[],
  { model, entities }: { model: Model | null; entities: ReadonlyMap<string, Entity> },
): Edit | null => {
  const found = findItem(report, id);
  if (!found || !isGrouping(found.item)) return null;
  const { address } = found.at;
  const around = address.drawer === null ? null : (entities.get(address.drawer) ?? null);
  const parts = fieldPartsOf(found.item);
  let item: GroupingItem = found.item;
  let settings: Settings = {};
  let uses: string | null = null;
  for (const field of fields) {
    if (field.type === 'picture') return null;
    const at = reachedBy(item, parts.isEmpty(item), field, address, ownRowsOf(item, around, model));
    if (!at) return null;
    if (field.table && report.model !== field.table.model) uses = field.table.model;
    const { formula, rows = item.rows, isOne = false } = at;
    // Parameters and values of the page are the same for all rows: nothing can be grouped by them.
    if (!field.table && field.relation === undefined && !field.drawer && !parts.takesOne) return null;
    const { label, type } = field;
    const added = parts.withField(item, part ?? parts.partFor(item, type, formula), { label, type, formula, isOne });
    if (!added) return null;
    settings = { ...settings, ...added, ...(rows ? { rows } : {}) };
    item = { ...item, ...settings } as GroupingItem;
  }
  if (item === found.item) return null;
  const set: Edit = { do: 'set', items: [id], settings };
  return uses === null ? set : { do: 'all', edits: [{ do: 'report', settings: { model: uses } }, set] };
};
