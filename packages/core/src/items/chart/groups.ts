import type { RowGroup } from '../../definition/schema.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import { filled } from '../../shape/gaps.ts';
import { type Ordering, sortNodes } from '../../shape/group-order.ts';
import { type CellTable, GroupNode } from '../../shape/summary.ts';
import { identityOf, type Value } from '../../value/value.ts';

/** One group of a chart: the nodes of its rows, and what stands for several. */
export interface ChartGroup {
  node: GroupNode;
  value: Value;
  others: string | null;
}

const isOfPeriods = ({ per = 'value' }: RowGroup): boolean => per !== 'value' && per !== 'letter';

/** Nodes with those of values that have no rows, where the group is to show them: periods and ranges do unless they say otherwise. */
const withGaps = (nodes: readonly GroupNode[], group: RowGroup, root: GroupNode, table: CellTable): GroupNode[] => {
  const { gaps = isOfPeriods(group) } = group;
  if (!gaps || !isOfPeriods(group)) return [...nodes];
  const known = new Set(nodes.map(({ value }) => identityOf(value)));
  const missing = filled(
    nodes.map(({ value }) => value),
    group,
    null,
  ).filter((value) => !known.has(identityOf(value)));
  return [...nodes, ...missing.map((value) => new GroupNode(table.nextId(), value, root, root.depth + 1))];
};

/** Groups along one axis, in order, cut to the first, with what is left over as one of their own. */
export const chartGroups = (
  table: CellTable,
  root: GroupNode,
  nodes: readonly GroupNode[],
  group: RowGroup,
  order: Compiled | null,
  ordering: Ordering,
  merge: (target: GroupNode, nodes: readonly GroupNode[]) => void,
): ChartGroup[] => {
  const sorted = sortNodes(withGaps(nodes, group, root, table), group, order, ordering);
  const { first = sorted.length, others } = group;
  const shown = sorted.slice(0, first).map((node): ChartGroup => ({ node, value: node.value, others: null }));
  const rest = sorted.slice(first);
  if (rest.length === 0 || others === undefined) return shown;
  const target = new GroupNode(table.nextId(), others, root, root.depth + 1);
  merge(target, rest);
  return [...shown, { node: target, value: others, others }];
};
