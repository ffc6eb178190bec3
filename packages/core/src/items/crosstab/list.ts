import type { ItemOf } from '../../definition/schema.ts';
import { compileFormula } from '../../formula/compile.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import { shownBy } from '../../layout/preparing.ts';
import type { ItemColumn, ListItem } from '../../listing/item-listing.ts';
import { CellContext, type GroupNode, prepareSummary } from '../../shape/summary.ts';
import { textOrderOf } from '../../text/text-order.ts';
import type { Value } from '../../value/value.ts';
import { keyColumn } from '../chart/list.ts';
import { cellFormat } from './cell-format.ts';
import { type AxisLine, gridOf } from './grid.ts';
import { GridValues } from './values.ts';

/** The values of a group and those around it, outermost first; null for groups inside it. */
const valuesOf = (node: GroupNode, depth: number): Value[] => {
  const values: Value[] = Array.from({ length: depth }, () => null);
  for (let one: GroupNode | null = node; one?.parent; one = one.parent) values[one.depth - 1] = one.value;
  return values;
};

const isInnermost = ({ kind }: AxisLine): boolean => kind === 'leaf' || kind === 'whole';

export const listCrosstab: ListItem<ItemOf<'crosstab'>> = ({ item, crosstab }) => {
  if (!crosstab || item.cells.length === 0) return null;
  const summary = prepareSummary(crosstab.summary, item.down.length);
  const orders = (list: typeof crosstab.down): (Compiled | null)[] => list.map((one) => one && compileFormula(one));
  const [down, across] = [orders(crosstab.down), orders(crosstab.across)];
  const groups = [...item.down, ...item.across];
  const columns = crosstab.summary.keys.map((key, i): ItemColumn => keyColumn(key, groups[i]));
  const shown: { shows: NonNullable<(typeof item.cells)[number]['shows']>; evaluate: Compiled }[] = [];
  for (const [i, { formula: planned }] of crosstab.cells.entries()) {
    const cell = item.cells[i]!;
    const evaluate = shownBy(planned);
    // A wrong one is said to be wrong by the plan.
    if (!evaluate || !('formula' in planned)) continue;
    const { shows = 'value', caption, formula } = cell;
    shown.push({ shows, evaluate });
    columns.push({ name: formula, caption, formula: planned.formula, format: cellFormat(cell, planned.format) });
  }
  const open = { whole: 'none', total: 'after', sign: () => null, hasHeadings: false } as const;
  return {
    title: '',
    summary,
    columns,
    *rows(table, context) {
      const texts = textOrderOf(context.report.language);
      const cell = new CellContext(context, summary, table.empty());
      const grid = gridOf(
        { table, cell, texts },
        { ...open, groups: item.down, orders: down },
        { ...open, groups: item.across, orders: across },
      );
      const values = new GridValues(table, cell, grid, shown);
      for (const line of grid.rows) {
        if (!isInnermost(line)) continue;
        const cells = shown.map((_, i) => values.row(line, i));
        for (const [c, column] of grid.columns.entries())
          if (isInnermost(column) && line.node.cells.has(column.node.id))
            yield [
              ...valuesOf(line.node, item.down.length),
              ...valuesOf(column.node, item.across.length),
              ...cells.map((row) => row[c] ?? null),
            ];
      }
    },
  };
};
