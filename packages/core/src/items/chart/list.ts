import type { ItemOf, RowGroup } from '../../definition/schema.ts';
import { PreparedFigure } from '../../layout/figure.ts';
import type { ItemColumn, ListItem } from '../../listing/item-listing.ts';
import { ChartReader } from './data.ts';
import { groupsOf, SPREAD_KEY } from './plan.ts';

/** The column of a group; what stands for several of its values is a text. */
export const keyColumn = (
  { name, formula, format }: Pick<ItemColumn, 'name' | 'formula' | 'format'>,
  group: Pick<RowGroup, 'caption' | 'others'> | undefined,
): ItemColumn => ({
  name,
  caption: group?.caption,
  formula,
  format,
  ...(group?.others === undefined ? {} : { type: 'text' }),
});

export const listChart: ListItem<ItemOf<'chart'>> = ({ item, figure: planned }) => {
  const figure = planned && new PreparedFigure(planned);
  if (!figure?.summary || !planned?.summary) return null;
  const { summary } = figure;
  const { along, split, panels, isSpread } = groupsOf(item);
  const keys = planned.summary.keys.map((key): ItemColumn => {
    if (key.name === SPREAD_KEY) {
      const [measure] = item.measures;
      return { ...keyColumn(key, undefined), name: measure?.formula ?? 'value', caption: measure?.caption };
    }
    const group = [along, split].find((one) => one?.name === key.name);
    // What is left over of panels is left out.
    return keyColumn(key, group ?? (panels && { caption: panels.caption }));
  });
  const measures = (isSpread ? ['spread'] : item.measures.map((_, i) => `measures/${i}`)).map((path, i) => {
    const found = planned.formulas[path];
    const measure = item.measures[i];
    const [name, caption] = isSpread ? ['rows', undefined] : [measure?.formula ?? '', measure?.caption];
    return found && 'formula' in found ? [{ name, caption, formula: found.formula, format: found.format }] : null;
  });
  if (measures.includes(null)) return null;
  return {
    title: item.title ?? '',
    summary,
    columns: [...keys, ...measures.flatMap((one) => one ?? [])],
    rows: (table, context) => new ChartReader(item, figure, summary, table, context).rows(),
  };
};
