import { type Block, type LaidMark, mergeBlock } from './block.ts';
import { ColumnFlow, type Flow } from './flow.ts';

/** A column that is filled beside others: where it starts, and what fills it. Points. */
export interface Beside {
  x: number;
  y: number;
  fill: (column: Flow) => Promise<void>;
}

/** Tells documents that go on living what is one column; pages have no use for it. */
const columnMark = ({ height, marks }: Block): LaidMark => {
  let [left, right] = [Number.POSITIVE_INFINITY, 0];
  for (const mark of marks) {
    if (mark.kind !== 'piece' && mark.kind !== 'region') continue;
    left = Math.min(left, mark.x);
    right = Math.max(right, mark.x + mark.width);
  }
  const x = Number.isFinite(left) ? left : 0;
  return { kind: 'piece', x, y: 0, width: Math.max(0, right - x), height, piece: { kind: 'column' } };
};

/** Fills columns side by side, each over as many pages as it needs; the flow goes on below the longest. */
export const sideBySide = async (flow: Flow, columns: readonly Beside[], beside: Block): Promise<void> => {
  const pages: Block[] = [beside];
  const first = flow.available;
  for (const { x, y, fill } of columns) {
    const column = new ColumnFlow(first - y, flow.full, flow.pageNumber);
    await fill(column);
    for (const [i, fragment] of column.end().entries()) {
      pages[i] ??= { height: 0, marks: [] };
      const top = i === 0 ? y : 0;
      fragment.marks.push(columnMark(fragment));
      mergeBlock(pages[i]!, fragment, x, top);
    }
  }
  for (const [i, block] of pages.entries()) {
    if (i > 0) flow.breakPage();
    flow.place(block);
  }
};
