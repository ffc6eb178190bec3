import type { RowGroup } from '../definition/schema.ts';
import type { Compiled } from '../formula/functions/context.ts';
import type { TextOrder } from '../text/text-order.ts';
import { orderValues } from './settle.ts';
import type { CellContext, GroupNode } from './summary.ts';

/** What putting groups in order asks of the cells. `at`: goes to the totals of a group. */
export interface Ordering {
  cell: CellContext;
  at: (node: GroupNode) => void;
  texts: TextOrder;
}

const ASCENDING = { descending: false, blanksFirst: false };

/** Groups by a formula over their totals, or by their values. */
export const sortNodes = (
  nodes: readonly GroupNode[],
  { descending = false }: Pick<RowGroup, 'descending'>,
  order: Compiled | null,
  { cell, at, texts }: Ordering,
): GroupNode[] => {
  const way = { descending, blanksFirst: false };
  const keyed = nodes.map((node) => {
    if (order) at(node);
    return { node, key: order ? order(cell.context) : null };
  });
  keyed.sort(
    (a, b) =>
      (order ? orderValues(a.key, b.key, way, texts) : 0) ||
      orderValues(a.node.value, b.node.value, order ? ASCENDING : way, texts),
  );
  return keyed.map(({ node }) => node);
};
