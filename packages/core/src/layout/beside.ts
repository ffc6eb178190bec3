import { type Block, mergeBlock } from './block.ts';
import { ColumnFlow, type Flow } from './flow.ts';

/** A column that is filled beside others: where it starts, and what fills it. Points. */
export interface Beside {
  x: number;
  y: number;
  fill: (column: Flow) => Promise<void>;
}

/** Fills columns side by side, each over as many pages as it needs; the flow goes on below the longest. */
export const sideBySide = async (flow: Flow, columns: readonly Beside[], beside: Block): Promise<void> => {
  const pages: Block[] = [beside];
  const first = flow.available;
  for (const { x, y, fill } of columns) {
    const column = new ColumnFlow(first - y, flow.full, flow.pageNumber);
    await fill(column);
    for (const [i, fragment] of column.end().entries()) {
      pages[i] ??= { height: 0, marks: [] };
      mergeBlock(pages[i]!, fragment, x, i === 0 ? y : 0);
    }
  }
  for (const [i, block] of pages.entries()) {
    if (i > 0) flow.breakPage();
    flow.place(block);
  }
};
