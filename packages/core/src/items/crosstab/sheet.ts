import { mix } from '../../chart/colors.ts';
import type { CrosstabCell } from '../../definition/schema.ts';
import { targetOf } from '../../layout/band.ts';
import type { Block, LaidMark } from '../../layout/block.ts';
import type { Flow } from '../../layout/flow.ts';
import { foldMarkIn, SIGN, SIGN_GAP } from '../../layout/fold-mark.ts';
import { POINTS } from '../../layout/prepared.ts';
import type { CellAsk, CellContext } from '../../shape/summary.ts';
import { isNumeric, toNumber } from '../../value/number.ts';
import type { Value } from '../../value/value.ts';
import { Dresses } from './dresses.ts';
import type { AxisLine, Grid } from './grid.ts';
import type { PreparedCrosstab } from './prepared.ts';
import { INDENT, type LabelColumn, LEAST_WIDTH, SheetColumns, type ValueColumn } from './sheet-columns.ts';
import { ancestorAt, captionOf, SheetWords } from './sheet-words.ts';
import type { GridValues } from './values.ts';
import { Writer } from './writer.ts';

const NO_LABEL = { words: '', node: null };

const LINE = '#e3dccb';
const RULE = '#1f2a2e';

const ROW_HEIGHT = 5.6;
/** Between the parts of a crosstab that is wider than its place. */
const GAP = 4 * POINTS;

const asHeader = (mark: LaidMark): void => {
  if (mark.kind === 'text') mark.as = 'header';
  else if (mark.kind === 'piece' && mark.piece.kind === 'text') mark.piece.as = 'header';
};

/** Draws the grid of a crosstab into a flow. Lengths in points. */
export class Sheet {
  private readonly writer: Writer;
  private readonly rowHeight: number;
  private readonly words: SheetWords;
  private readonly dresses: Dresses;
  private readonly columns: SheetColumns;
  /** The smallest and the largest value, of each that has colours. */
  private readonly extents: ([number, number] | null)[];

  constructor(
    private readonly prepared: PreparedCrosstab,
    private readonly grid: Grid,
    private readonly cell: CellContext,
    private readonly values: GridValues,
    isLiving: boolean,
    /** Told of each cell by its number, by whoever asks for one. */
    private readonly asks: CellAsk | null = null,
  ) {
    const { item, common, preparing, cells } = prepared;
    this.rowHeight = (item.rowHeight ?? ROW_HEIGHT) * POINTS;
    this.writer = new Writer(common, preparing, this.rowHeight, isLiving);
    this.words = new SheetWords(prepared);
    this.dresses = new Dresses(prepared);
    this.columns = new SheetColumns(prepared, grid, values, this.words, this.dresses, this.writer);
    this.extents = cells.map(({ cell: { scale } }, i) => (scale ? values.extent(i) : null));
  }

  /** Words in the place of a crosstab without rows. */
  nothing(flow: Flow): void {
    const { item, common } = this.prepared;
    if (!item.empty) return;
    const marks: LaidMark[] = [];
    const height = this.writer.write(item.empty, this.dresses.label, 0, 0, common.box.width, marks);
    flow.place({ height, marks });
  }

  /** All of it, part after part where it is wider than its place; `pause` is waited for now and then. */
  async fill(flow: Flow, pause: () => Promise<void>): Promise<void> {
    const { rows } = this.grid;
    const labels = this.columns.labels();
    const labelled = labels.reduce((sum, { width }) => sum + width, 0);
    const parts = this.columns.parts(this.columns.ofValues(), this.prepared.common.box.width - labelled);
    for (const [i, columns] of parts.entries()) {
      if (i > 0) flow.place({ height: GAP, marks: [] });
      const header = this.header(labels, columns, labelled);
      const height = header.height + rows.length * this.rowHeight;
      // A part that fits on a page stays in one piece.
      if (height <= flow.full && height > flow.available) flow.need(height);
      header.repeats = true;
      flow.hold(header);
      let above: AxisLine | null = null;
      for (const [at, line] of rows.entries()) {
        let block = this.row(line, at, above, labels, columns, labelled);
        // Labels that the line above says already are said again at the top of a page.
        if (above && block.height > flow.available + 0.01) block = this.row(line, at, null, labels, columns, labelled);
        above = line;
        // A group’s line does not part from the first one inside it, nor the line of totals from the last one above.
        const next = rows[at + 1]?.kind;
        if (line.kind === 'heading' || next === 'total' || next === 'whole') flow.hold(block);
        else flow.place(block);
        if ((at & 63) === 63) await pause();
      }
      flow.endRepeat();
    }
    for (const [i, { cell }] of this.prepared.cells.entries()) {
      const extent = this.extents[i];
      if (this.prepared.item.legend && cell.scale && extent) flow.place(this.legend(cell.scale, extent, i));
    }
  }

  private header(labels: readonly LabelColumn[], columns: readonly ValueColumn[], left: number): Block {
    const { item, cells } = this.prepared;
    const { writer } = this;
    const { heading } = this.dresses;
    const marks: LaidMark[] = [];
    writer.begin();
    const count = item.across.length + (this.words.hasCaptions ? 1 : 0);
    let top = 0;
    for (let row = 0; row < Math.max(1, count); row++) {
      let height = this.rowHeight;
      const isLast = row === Math.max(1, count) - 1;
      for (const [column, { group, x, width }] of labels.entries()) {
        const words = isLast
          ? group < 0
            ? ''
            : this.words.corner(group)
          : x === 0
            ? (item.across[row]?.caption ?? '')
            : '';
        height = Math.max(height, writer.write(words, heading, x, top, width, marks, { column }));
      }
      let x = left;
      for (let i = 0; i < columns.length; ) {
        const span = this.spanOf(columns, i, row);
        const width = columns.slice(i, i + span).reduce((sum, c) => sum + c.width, 0);
        const { column, value } = columns[i]!;
        const isCaption = row >= item.across.length;
        const words = !isCaption
          ? this.words.heading(this.grid.columns[column]!, row)
          : value === null
            ? ''
            : captionOf(cells[value]!.cell);
        const dress = this.dresses.headingOf(row, span > 1 ? 'several' : 'one');
        const before = marks.length;
        height = Math.max(height, writer.write(words, dress, x, top, width, marks, { column: labels.length + i }));
        const node = isCaption ? null : this.words.headed(this.grid.columns[column]!, row);
        const sign = node && this.grid.signs.get(node);
        const text = marks[before];
        if (sign && text) marks.push(foldMarkIn(sign, text.x - SIGN - SIGN_GAP, top + this.rowHeight / 2, words));
        if (span > 1 && words !== '') {
          const y = top + height - 0.6;
          marks.push(this.ruled(x + 2, y, x + width - 2, item.line ?? LINE, 0.5));
        }
        x += width;
        i += span;
      }
      top += height;
    }
    for (const mark of marks) asHeader(mark);
    const width = left + columns.reduce((sum, c) => sum + c.width, 0);
    const { background } = heading.look;
    if (background) marks.unshift(this.filled(0, 0, width, top, background));
    marks.push(this.ruled(0, top, width, RULE, 0.8));
    return { height: top, marks };
  }

  /** Over how many columns from the one at `from` a row of the headings says the same. */
  private spanOf(columns: readonly ValueColumn[], from: number, row: number): number {
    const keyOf = ({ column }: ValueColumn): string => {
      const line = this.grid.columns[column]!;
      if (row >= this.prepared.item.across.length) return '';
      if (line.kind === 'whole' || row > line.group) return `line ${column}`;
      return `node ${ancestorAt(line.node, row + 1)!.id}`;
    };
    if (row >= this.prepared.item.across.length) return 1;
    const key = keyOf(columns[from]!);
    let end = from + 1;
    while (end < columns.length && keyOf(columns[end]!) === key) end++;
    return end - from;
  }

  private row(
    line: AxisLine,
    number: number,
    above: AxisLine | null,
    labels: readonly LabelColumn[],
    columns: readonly ValueColumn[],
    left: number,
  ): Block {
    const { item, cells } = this.prepared;
    const isTotal = line.kind !== 'leaf';
    const dress = this.dresses.labelOf(line);
    const marks: LaidMark[] = [];
    this.writer.begin();
    const shown = line.hasValues ? cells.map((_, value) => this.values.row(line, value)) : null;
    let top = 0;
    for (const [at, value] of (this.words.isBelow ? cells.map((_, i) => i) : [null]).entries()) {
      let height = this.rowHeight;
      const first = marks.length;
      for (const [label, column] of labels.entries()) {
        const { words, node } =
          column.group < 0
            ? { words: captionOf(cells[value!]!.cell), node: null }
            : at === 0
              ? this.words.label(line, above, column.group)
              : NO_LABEL;
        const indent = item.labels === 'columns' || column.group < 0 ? 0 : Math.max(0, line.group) * INDENT;
        const from = column.x + indent + this.columns.signRoom(column.group);
        const room = Math.max(LEAST_WIDTH, column.x + column.width - from);
        height = Math.max(height, this.writer.write(words, dress, from, top, room, marks, { column: label }));
        const sign = node && this.grid.signs.get(node);
        if (sign) marks.push(foldMarkIn(sign, column.x + indent + SIGN_GAP / 2, top + this.rowHeight / 2, words));
      }
      for (let i = first; i < marks.length; i++) asHeader(marks[i]!);
      let x = left;
      const backgrounds: LaidMark[] = [];
      for (const [at, column] of columns.entries()) {
        const where = { x, top, height, at: labels.length + at, number };
        const place = column.value ?? value!;
        if (shown) this.cellInto(line, column, place, shown[place]![column.column]!, where, marks, backgrounds);
        x += column.width;
      }
      const background = item.down[line.group]?.look?.background ?? (isTotal ? dress.look.background : undefined);
      const under = background ? [this.filled(0, top, x, height, background)] : [];
      marks.splice(first, 0, ...under, ...backgrounds);
      top += height;
      if (!this.words.isBelow || at === cells.length - 1) {
        if (line.kind === 'whole') marks.push(this.ruled(0, 0, x, RULE, 0.6));
        marks.push(this.ruled(0, top, x, line.kind === 'whole' ? RULE : (item.line ?? LINE), 0.5));
      }
    }
    return { height: top, marks };
  }

  private cellInto(
    line: AxisLine,
    { column: place, width }: ValueColumn,
    at: number,
    value: Value,
    { x, top, height, at: column, number }: { x: number; top: number; height: number; at: number; number: number },
    marks: LaidMark[],
    backgrounds: LaidMark[],
  ): void {
    const { cell, highlights, link } = this.prepared.cells[at]!;
    const across = this.grid.columns[place]!;
    const filled = cell.look?.background ?? this.prepared.item.across[across.group]?.look?.background;
    if (value === null && highlights.length === 0 && !filled) return;
    let holding: number[] = [];
    if (highlights.length > 0) {
      this.cell.at(line.node, across.node);
      holding = highlights.flatMap(({ when }, i) => (when(this.cell.context) === true ? [i] : []));
      if (holding.some((i) => highlights[i]!.hide)) return;
    }
    const dress = this.dresses.cell(at, line, across, isNumeric(value), holding);
    const extent = this.extents[at];
    const isInner = line.kind === 'leaf' && (across.kind === 'leaf' || this.grid.columns.length === 1);
    let background =
      holding.length > 0 ? holding.map((i) => highlights[i]!.look.background).findLast(Boolean) : undefined;
    background ??= filled;
    if (!background && cell.scale && extent && isInner && isNumeric(value)) {
      const [low, high] = extent;
      background = mix(cell.scale.from, cell.scale.to, high > low ? (toNumber(value) - low) / (high - low) : 0);
    }
    if (background) backgrounds.push(this.filled(x, top, width, height, background));
    const words = this.words.value(value, at);
    if (words === '') return;
    const cells = this.prepared.cells.length;
    const asked = (number * this.grid.columns.length + place) * cells + at;
    this.asks?.(this.prepared.item.id, asked, line.node, across.node);
    const before = marks.length;
    this.writer.write(words, dress, x, top, width, marks, { value, format: this.prepared.cells[at]!.format, column });
    for (const mark of marks.slice(before)) if (mark.kind === 'text') mark.to = { cell: asked };
    if (!link) return;
    this.cell.at(line.node, across.node);
    const to = targetOf(link, this.cell.context);
    if (to) marks.push({ kind: 'link', x, y: top, width, height, to, item: this.prepared.item.id });
  }

  /** The colours from the smallest value to the largest. */
  private legend({ from, to }: NonNullable<CrosstabCell['scale']>, [low, high]: [number, number], at: number): Block {
    const marks: LaidMark[] = [];
    const top = 2 * POINTS;
    const steps = 12;
    const width = 3 * POINTS;
    const words = [low, high].map((value) => this.words.value(value, at));
    const before = this.writer.width(words[0]!, this.dresses.label) + 2;
    this.writer.write(words[0]!, this.dresses.label, 0, top, before, marks);
    for (let step = 0; step < steps; step++)
      marks.push(
        this.filled(before + step * width, top + 1, width + 0.2, this.rowHeight - 4, mix(from, to, step / (steps - 1))),
      );
    this.writer.write(
      words[1]!,
      this.dresses.label,
      before + steps * width,
      top,
      this.writer.width(words[1]!, this.dresses.label) + 2,
      marks,
    );
    return { height: top + this.rowHeight, marks };
  }

  private filled(x: number, y: number, width: number, height: number, fill: string): LaidMark {
    return { kind: 'rectangle', x, y, width, height, fill, item: this.prepared.item.id };
  }

  private ruled(x: number, y: number, x2: number, color: string, thickness: number): LaidMark {
    return { kind: 'line', x, y, x2, y2: y, color, thickness, item: this.prepared.item.id };
  }
}
