import type { BandPart } from './band.ts';
import { sideBySide } from './beside.ts';
import type { Block } from './block.ts';
import type { Flow } from './flow.ts';
import { IndentedFlow } from './indented-flow.ts';
import { columnsOfItems, rowsOfItems } from './item-rows.ts';
import type { FlowingItem, PreparedBand } from './prepared.ts';

/** Room below which an item with pages of its own does not start on a page, in points. */
const LEAST_START = 24;

/** Whether an item begins below a height, or just there however its place was reckoned. */
const isBelow = ({ box }: { box: { y: number } }, height: number): boolean => box.y >= height - 0.01;

/** What laying out a band with such items needs of the report that runs. */
export interface FlowingHost {
  isShown: (item: FlowingItem) => boolean;
  /** Lays out a part of the band; `isTold`: it is said where it is, also when nothing stands there. */
  part: (part: BandPart, isTold?: boolean) => Block;
  /** Puts what waits for the band to its first block. */
  begin: (first: Block) => void;
  fill: (item: FlowingItem, flow: Flow) => Promise<void>;
  /** Says of the blocks of an item which band and row they are of. */
  stampOf: (item: FlowingItem) => (block: Block) => void;
}

/** Heights of a row of items in its band, in points. */
interface Extent {
  top: number;
  bottom: number;
}

/**
 * Lays out a band with items that take pages of their own. What stands above them goes first, then they run side by side, each
 * over as many pages as it needs; what stands below them, further ones among it, follows the longest.
 */
export const layFlowing = async (band: PreparedBand, flow: Flow, host: FlowingHost): Promise<void> => {
  let from: number | null = null;
  for (const row of rowsOfItems(band.flowing)) {
    const extent: Extent = {
      top: Math.min(...row.map(({ box }) => box.y)),
      bottom: Math.max(...row.map(({ box }) => box.y + box.height)),
    };
    const shown = row.filter(host.isShown);
    holdAbove(flow, host, from, extent, shown);
    await layRow(flow, host, extent, shown);
    from = extent.bottom;
  }
  const bottom = from ?? 0;
  const below = host.part({
    includes: (i) => isBelow(i, bottom),
    from: bottom,
    height: Math.max(0, band.height - bottom),
  });
  if (below.height > 0 || below.marks.length > 0) flow.place(below);
};

/** What stands above a row of such items, and below the one before it, goes with them. `from`: null for the first row. */
const holdAbove = (
  flow: Flow,
  host: FlowingHost,
  from: number | null,
  { top }: Extent,
  shown: readonly FlowingItem[],
): void => {
  const height = Math.max(0, top - (from ?? 0));
  const includes: BandPart['includes'] = (i) => i.box.y < top && (from === null || isBelow(i, from));
  const above = host.part({ includes, from: from ?? 0, height }, from === null);
  if (from === null) host.begin(above);
  const start = Math.max(...shown.map(({ box, least }) => box.y - top + least), LEAST_START);
  flow.need(above.height + Math.min(start, flow.full / 2));
  flow.hold(above);
};

const layRow = async (
  flow: Flow,
  host: FlowingHost,
  { top, bottom }: Extent,
  shown: readonly FlowingItem[],
): Promise<void> => {
  const beside = host.part({ includes: (i) => i.box.y >= top && !isBelow(i, bottom), from: top, height: 0 });
  const [only] = shown;
  if (only?.streams && shown.length === 1 && beside.marks.length === 0) {
    await host.fill(only, new IndentedFlow(flow, only.box.x, host.stampOf(only)));
    return;
  }
  const columns = columnsOfItems(shown).map((column) => {
    const { x, y } = column[0]!.box;
    return { x, y: y - top, fill: (target: Flow) => layColumn(target, host, column, x) };
  });
  await sideBySide(flow, columns, beside);
};

/** Items of a column that starts at `x`, each below the end of the one before, as far from it as they are drawn. */
const layColumn = async (column: Flow, host: FlowingHost, items: readonly FlowingItem[], x: number): Promise<void> => {
  let end: number | null = null;
  for (const item of items) {
    const { box, streams } = item;
    if (end !== null && box.y > end) column.place({ height: box.y - end, marks: [] });
    const shift = box.x - x;
    const isPlain = !streams && shift === 0;
    await host.fill(item, isPlain ? column : new IndentedFlow(column, shift, streams ? host.stampOf(item) : undefined));
    end = box.y + box.height;
  }
};
