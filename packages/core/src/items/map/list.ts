import type { ItemOf } from '../../definition/schema.ts';
import { PreparedFigure } from '../../layout/figure.ts';
import type { ListItem } from '../../listing/item-listing.ts';
import { CellContext, type GroupNode } from '../../shape/summary.ts';
import { textOrderOf } from '../../text/text-order.ts';
import { chartGroups } from '../chart/groups.ts';
import { keyColumn } from '../chart/list.ts';

export const listMap: ListItem<ItemOf<'map'>> = ({ item, figure: planned }) => {
  const figure = planned && new PreparedFigure(planned);
  const [key] = planned?.summary?.keys ?? [];
  const measure = planned?.formulas.measure;
  if (!figure?.summary || !item.along || !key) return null;
  const { summary } = figure;
  // What is left over has no place.
  const { others: _, ...group } = item.along;
  const isMeasured = measure !== undefined && 'formula' in measure;
  const measures = isMeasured ? [{ name: item.measure ?? '', caption: item.caption, ...measure }] : [];
  return {
    title: item.title ?? '',
    summary,
    columns: [keyColumn(key, group), ...measures],
    *rows(table, context) {
      const cell = new CellContext(context, summary, table.empty());
      const at = (node: GroupNode): boolean => cell.at(node, table.across);
      const ordering = { cell, texts: textOrderOf(context.report.language), at };
      const order = figure.formula('along/order');
      const shown = { ...group, gaps: false };
      for (const { node, value } of chartGroups(
        table,
        table.down,
        table.down.inner,
        shown,
        order,
        ordering,
        () => {},
      )) {
        at(node);
        yield isMeasured ? [value, figure.formula('measure')?.(cell.context) ?? null] : [value];
      }
    },
  };
};
