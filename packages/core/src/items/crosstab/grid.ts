import type { AxisGroup } from '../../definition/schema.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { FoldSign } from '../../shape/folds.ts';
import { filled } from '../../shape/gaps.ts';
import { sortNodes } from '../../shape/group-order.ts';
import type { CellContext, CellTable, GroupNode } from '../../shape/summary.ts';
import type { TextOrder } from '../../text/text-order.ts';
import { identityOf, type Value } from '../../value/value.ts';

/** One line of an axis: a row of the crosstab, or a column of values. */
export interface AxisLine {
  node: GroupNode;
  /**
   * `leaf`: of the innermost group; `heading`: a group’s before those inside it; `total`: a group’s after those inside it;
   * `whole`: the totals of everything.
   */
  kind: 'leaf' | 'heading' | 'total' | 'whole';
  /** 0-based place of its group; -1 for the whole. */
  group: number;
  /** Whether it has values, or its label alone. */
  hasValues: boolean;
  /** What `others` says, for one that stands for several. */
  others: string | null;
  /** What is inside its group is closed, so that this is the group’s only line. */
  isClosed: boolean;
}

interface Axis {
  groups: readonly AxisGroup[];
  /** What each group is ordered by; null for its values. */
  orders: readonly (Compiled | null)[];
  whole: 'before' | 'after' | 'none';
  /** Where the totals of a group stand unless it says. */
  total: 'before' | 'after';
  /** The sign of a node’s group; null for one that stays open. */
  sign: (node: GroupNode, group: number) => FoldSign | null;
  /** Groups with others inside have a line for their label, also without totals. */
  hasHeadings: boolean;
}

/** What a grid asks of the cells: one axis is put in order by totals over the whole of the other. */
interface Cells {
  table: CellTable;
  cell: CellContext;
  texts: TextOrder;
}

/** Puts an axis in order, cuts it to the first, fills its gaps, and gives its lines. */
const axisLines = (
  root: GroupNode,
  axis: Axis,
  { table, cell, texts }: Cells,
  at: (node: GroupNode) => boolean,
  merge: (target: GroupNode, nodes: readonly GroupNode[]) => void,
  signs: Map<GroupNode, FoldSign>,
): AxisLine[] => {
  const { groups, orders } = axis;
  const known = groups.map((group, depth) => (group.gaps ? valuesAt(root, depth + 1) : []));
  const lines: AxisLine[] = [];
  const whole: AxisLine = { node: root, kind: 'whole', group: -1, hasValues: true, others: null, isClosed: false };

  /** The nodes of a group inside one node, in order. */
  const ordered = (inside: GroupNode, place: number): { nodes: GroupNode[]; others: GroupNode | null } => {
    const group = groups[place]!;
    const nodes = [...inside.inner];
    if (group.gaps) {
      const around = place > 0 ? { value: inside.value, group: groups[place - 1]! } : null;
      const isOfPeriods = group.per !== undefined && group.per !== 'value' && group.per !== 'letter';
      const wanted = isOfPeriods ? filled(known[place]!, group, around) : known[place]!;
      for (const value of wanted) if (!inside.has(value)) nodes.push(inside.add(value, table.nextId()));
    }
    const sorted = sortNodes(nodes, group, orders[place] ?? null, { cell, at, texts });
    const { first = sorted.length, others } = group;
    const rest = sorted.slice(first);
    if (rest.length === 0 || others === undefined) return { nodes: sorted.slice(0, first), others: null };
    const target = inside.add(others, table.nextId());
    merge(target, rest);
    return { nodes: sorted.slice(0, first), others: target };
  };

  const visit = (inside: GroupNode, place: number): void => {
    const { nodes, others } = ordered(inside, place);
    const isInnermost = place === groups.length - 1;
    const { total = axis.total } = groups[place]!;
    for (const node of nodes) {
      const line = { node, group: place, others: null, isClosed: false };
      const hasInner = !isInnermost && (node.inner.length > 0 || groups[place + 1]!.gaps);
      let sign: FoldSign | null = null;
      if (hasInner) {
        at(node);
        sign = axis.sign(node, place);
        if (sign) signs.set(node, sign);
      }
      if (isInnermost) lines.push({ ...line, kind: 'leaf', hasValues: true });
      else if (sign?.isClosed) lines.push({ ...line, kind: 'heading', hasValues: true, isClosed: true });
      else {
        if (total === 'before' || axis.hasHeadings)
          lines.push({ ...line, kind: 'heading', hasValues: total === 'before' });
        visit(node, place + 1);
        if (total === 'after') lines.push({ ...line, kind: 'total', hasValues: true });
      }
    }
    if (others)
      lines.push({
        node: others,
        kind: 'leaf',
        group: place,
        hasValues: true,
        others: groups[place]!.others!,
        isClosed: false,
      });
  };

  if (groups.length === 0) return [whole];
  if (axis.whole === 'before') lines.push(whole);
  visit(root, 0);
  if (axis.whole === 'after') lines.push(whole);
  return lines;
};

/** Every value that a group has, whatever the groups around it. */
const valuesAt = (root: GroupNode, depth: number): Value[] => {
  const found = new Map<string, Value>();
  const visit = (node: GroupNode): void => {
    if (node.depth === depth) found.set(identityOf(node.value), node.value);
    else for (const inner of node.inner) visit(inner);
  };
  visit(root);
  return [...found.values()];
};

export interface Grid {
  rows: AxisLine[];
  columns: AxisLine[];
  /** Signs of the groups that can be opened and closed, both ways. */
  signs: ReadonlyMap<GroupNode, FoldSign>;
}

/** The lines of a crosstab, both ways. */
export const gridOf = (cells: Cells, down: Axis, across: Axis): Grid => {
  const { table, cell } = cells;
  const signs = new Map<GroupNode, FoldSign>();
  // Columns first: what they leave out is put together for rows that are there.
  const columns = axisLines(
    table.across,
    across,
    cells,
    (node) => cell.at(table.down, node),
    (target, nodes) => table.mergeAcross(target, nodes),
    signs,
  );
  const rows = axisLines(
    table.down,
    down,
    cells,
    (node) => cell.at(node, table.across),
    (target, nodes) => table.mergeDown(target, nodes),
    signs,
  );
  return { rows, columns, signs };
};
