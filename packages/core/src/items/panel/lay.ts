import type { ItemOf } from '../../definition/schema.ts';
import { layItem } from '../../layout/band.ts';
import { shiftLaid } from '../../layout/block.ts';
import { dashOf } from '../../layout/default-look.ts';
import { type LayingOut, POINTS, type PreparedCommon, type PreparedItem } from '../../layout/prepared.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { withSettings } from '../../layout/settings.ts';
import { panelSchema } from './schema.ts';

export const preparePanel: PrepareItem<'panel'> = ({ item }, common) => panelItem(item, common, []);

const panelItem = (item: ItemOf<'panel'>, common: PreparedCommon, holds: PreparedItem[]): PreparedItem => ({
  ...plainItem(common, { item, shapes: panelSchema.shape, lay: () => {} }),
  holds,
  absentHeight: 0,
  lay: (top, out) => new Stack(item, common, out).lay(holds, top),
  deciding: {
    shapes: panelSchema.shape,
    look: null,
    styles: null,
    withSettings: (box, { own }) => panelItem({ ...item, ...own }, { ...common, box }, holds),
  },
});

/** Lays the items of a panel out after one another. Points. */
class Stack {
  private readonly box: PreparedItem['box'];
  private readonly isMirrored: boolean;
  private readonly padding: number;
  private readonly gap: number;

  constructor(
    private readonly item: ItemOf<'panel'>,
    { box, mirrorsIn }: PreparedCommon,
    private readonly out: LayingOut,
  ) {
    this.box = box;
    this.isMirrored = mirrorsIn !== null;
    this.padding = item.padding * POINTS;
    this.gap = item.gap * POINTS;
  }

  /** Gives the height of the whole. */
  lay(items: readonly PreparedItem[], top: number): number {
    const { item, box, out, padding } = this;
    const isRow = item.stack === 'row';
    const ordered = [...items].sort((a, b) => (isRow ? a.box.x - b.box.x : a.box.y - b.box.y || a.box.x - b.box.x));
    const first = out.marks.length;
    const there = ordered.filter(({ showIf }) => !showIf || showIf(out.context) === true);
    const used = isRow ? this.row(there, top) : this.column(there, top);
    if (item.leaveOutEmpty && used === 0) return 0;
    const height = Math.max(used > 0 ? used + 2 * padding : 0, items.length === 0 ? box.height : 2 * padding);
    const { fill, stroke, thickness, dash, radius } = item;
    if (!fill && !stroke) return height;
    const dashes = dashOf(dash, thickness * POINTS);
    out.marks.splice(first, 0, {
      kind: 'rectangle',
      x: box.x,
      y: top,
      width: box.width,
      height,
      item: item.id,
      ...(fill ? { fill } : {}),
      ...(stroke ? { stroke, thickness: thickness * POINTS, ...(dashes ? { dash: dashes } : {}) } : {}),
      ...(radius ? { radius: radius * POINTS } : {}),
    });
    return height;
  }

  /** Adds an item’s marks, as its formulas decide; gives the item and its height. */
  private one(given: PreparedItem, top: number): { item: PreparedItem; height: number; from: number } {
    const { out } = this;
    const item = given.settings.length > 0 ? withSettings(given, out) : given;
    const from = out.marks.length;
    return { item, height: layItem(item, top, out), from };
  }

  /** Across a column, where things begin at the right when the page is mirrored. */
  private get align(): ItemOf<'panel'>['align'] {
    const { align } = this.item;
    if (!this.isMirrored || align === 'middle') return align;
    return align === 'start' ? 'end' : align && 'start';
  }

  private shift(from: number, dx: number, dy: number): void {
    const { marks } = this.out;
    if (dx !== 0 || dy !== 0) for (let i = from; i < marks.length; i++) shiftLaid(marks[i]!, dx, dy);
  }

  private column(items: readonly PreparedItem[], top: number): number {
    const { box, padding, gap } = this;
    const align = this.align;
    const room = box.width - 2 * padding;
    let y = top + padding;
    for (const given of items) {
      const { item, height, from } = this.one(given, y);
      const free = room - item.box.width;
      const left = box.x + padding + (align === 'end' ? free : align === 'middle' ? free / 2 : 0);
      if (align) this.shift(from, left - item.box.x, 0);
      if (height > 0) y += height + gap;
    }
    return Math.max(0, y - top - padding - gap);
  }

  private row(items: readonly PreparedItem[], top: number): number {
    const { box, padding, gap } = this;
    const { align } = this.item;
    let x = box.x + padding;
    const laid: { from: number; to: number; height: number }[] = [];
    for (const given of items) {
      const { item, height, from } = this.one(given, top + padding);
      this.shift(from, x - item.box.x, 0);
      laid.push({ from, to: this.out.marks.length, height });
      if (height > 0) x += item.box.width + gap;
    }
    // Items stand in the order of their boxes, which are mirrored: what is left of the row is free at its left.
    const first = laid[0]?.from;
    if (this.isMirrored && first !== undefined) this.shift(first, box.x + box.width - padding - (x - gap), 0);
    const highest = Math.max(0, ...laid.map(({ height }) => height));
    for (const { from, to, height } of laid) {
      const free = highest - height;
      const dy = align === 'end' ? free : align === 'middle' ? free / 2 : 0;
      if (dy > 0) for (let i = from; i < to; i++) shiftLaid(this.out.marks[i]!, 0, dy);
    }
    return highest;
  }
}
