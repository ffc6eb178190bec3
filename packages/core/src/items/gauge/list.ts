import type { ItemOf } from '../../definition/schema.ts';
import { PreparedFigure } from '../../layout/figure.ts';
import type { ItemColumn, ListItem } from '../../listing/item-listing.ts';
import { CellContext } from '../../shape/summary.ts';

/** Of a gauge with rows of its own. What one says of the row that it stands at is among the values of that row. */
export const listGauge: ListItem<ItemOf<'gauge'>> = ({ item, figure: planned }) => {
  const figure = planned && new PreparedFigure(planned);
  if (!figure?.summary) return null;
  const { summary } = figure;
  const paths = ['value', 'target', 'compare'] as const;
  const columns = paths.flatMap((path): (ItemColumn & { path: string })[] => {
    const found = planned?.formulas[path];
    if (!found || !('formula' in found)) return [];
    const caption = path === 'compare' ? item.compareCaption : undefined;
    return [{ path, name: path, caption, formula: found.formula, format: found.format }];
  });
  return {
    title: item.title ?? '',
    summary,
    columns,
    *rows(table, context) {
      const cell = new CellContext(context, summary, table.empty());
      cell.at(table.down, table.across);
      yield columns.map(({ path }) => figure.formula(path)?.(cell.context) ?? null);
    },
  };
};
