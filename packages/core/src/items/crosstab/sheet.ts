import type { CrosstabCell, Look } from '../../definition/schema.ts';
import { targetOf } from '../../layout/band.ts';
import type { Block, LaidMark } from '../../layout/block.ts';
import type { Flow } from '../../layout/flow.ts';
import { POINTS } from '../../layout/prepared.ts';
import type { CellContext, GroupNode } from '../../shape/summary.ts';
import { formatValue } from '../../text/format.ts';
import { blankWord, totalWord } from '../../text/report-words.ts';
import { isNumeric, toNumber } from '../../value/number.ts';
import type { Value } from '../../value/value.ts';
import type { AxisLine, Grid } from './grid.ts';
import type { PreparedCrosstab } from './prepared.ts';
import type { GridValues } from './values.ts';
import { type Dress, Writer } from './writer.ts';

/** Looks of the parts where nothing else is said. */
const BASE: Look = { size: 9, padding: { top: 0.7, bottom: 0.7, left: 1.2, right: 1.2 } };
const HEADING: Look = { bold: true };
const TOTAL: Look = { bold: true, background: '#faf5e8' };
const LINE = '#e3dccb';
const RULE = '#1f2a2e';

const ROW_HEIGHT = 5.6;
const INDENT = 3 * POINTS;
const LEAST_WIDTH = 7 * POINTS;
/** Share of the whole width that labels take at most when their width is not given. */
const MOST_LABELS = 0.45;
/** Rows whose content is measured for the widths of columns, besides all totals among the first ones. */
const MEASURED = 400;
/** Between the parts of a crosstab that is wider than its place. */
const GAP = 4 * POINTS;

/** A column of values: of one column line, and one of the values of the cells. */
interface ValueColumn {
  column: number;
  /** Of several values below one another it is none: each row has its own. */
  value: number | null;
  width: number;
}

interface LabelColumn {
  /** Group down whose labels it has; -1 for the names of values below one another. */
  group: number;
  x: number;
  width: number;
}

const ancestorAt = (node: GroupNode, depth: number): GroupNode | null => {
  for (let at: GroupNode | null = node; at; at = at.parent) if (at.depth === depth) return at;
  return null;
};

const mix = (from: string, to: string, share: number): string => {
  const part = (color: string, at: number): number => Number.parseInt(color.slice(at, at + 2), 16);
  const mixed = [1, 3, 5].map((at) => Math.round(part(from, at) + (part(to, at) - part(from, at)) * share));
  return `#${mixed.map((one) => one.toString(16).padStart(2, '0')).join('')}`;
};

/** Draws the grid of a crosstab into a flow. Lengths in points. */
export class Sheet {
  private readonly writer: Writer;
  private readonly rowHeight: number;
  private readonly heading: Dress;
  private readonly headingRight: Dress;
  private readonly label: Dress;
  private readonly totalLabel: Dress;
  private readonly isBelow: boolean;
  private readonly extents: ([number, number] | null)[];
  private readonly dresses = new Map<string, Dress>();

  constructor(
    private readonly prepared: PreparedCrosstab,
    private readonly grid: Grid,
    private readonly cell: CellContext,
    private readonly values: GridValues,
  ) {
    const { item, common, preparing, cells } = prepared;
    this.rowHeight = (item.rowHeight ?? ROW_HEIGHT) * POINTS;
    this.writer = new Writer(common, preparing, this.rowHeight);
    const whole = { ...BASE, ...item.look };
    const heading = { ...whole, ...HEADING, ...item.headingLook };
    const label = { ...whole, ...item.labelLook };
    this.heading = { key: 'heading', look: heading, wraps: true };
    this.headingRight = { key: 'heading right', look: { align: 'right', ...heading }, wraps: true };
    this.label = { key: 'label', look: label, wraps: true };
    this.totalLabel = { key: 'total', look: { ...label, ...TOTAL, ...item.totalLook }, wraps: true };
    this.isBelow = (item.below ?? false) && cells.length > 1;
    this.extents = cells.map(({ cell: { scale } }, i) => (scale ? values.extent(i) : null));
  }

  private get settings() {
    const { timeZone, language } = this.prepared.preparing.report;
    return { timeZone, language };
  }

  /** Words in the place of a crosstab without rows. */
  nothing(flow: Flow): void {
    const { item, common } = this.prepared;
    if (!item.empty) return;
    const marks: LaidMark[] = [];
    const height = this.writer.write(item.empty, this.label, 0, 0, common.box.width, marks);
    flow.place({ height, marks });
  }

  /** All of it, part after part where it is wider than its place; `pause` is waited for now and then. */
  async fill(flow: Flow, pause: () => Promise<void>): Promise<void> {
    const { rows } = this.grid;
    const labels = this.labelColumns();
    const labelled = labels.reduce((sum, { width }) => sum + width, 0);
    const parts = this.parts(this.valueColumns(), this.prepared.common.box.width - labelled);
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
        const block = this.row(line, above, labels, columns, labelled);
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

  // Widths

  private labelColumns(): LabelColumn[] {
    const { item, common } = this.prepared;
    const { down, labels = 'indented', labelWidth } = item;
    const groups = labels === 'indented' ? (down.length > 0 ? [0] : []) : down.map((_, i) => i);
    const all = [...groups, ...(this.isBelow ? [-1] : [])];
    // Without groups down there is one line; its label says what it is where there is one.
    let x = 0;
    return all.map((group): LabelColumn => {
      const width =
        labelWidth !== undefined
          ? labelWidth * POINTS
          : Math.min(this.labelNeeds(group), (common.box.width * MOST_LABELS) / Math.max(1, all.length));
      const column = { group, x, width };
      x += width;
      return column;
    });
  }

  private labelNeeds(group: number): number {
    const { cells, item } = this.prepared;
    const { writer, heading, label, totalLabel } = this;
    let width = LEAST_WIDTH;
    const takes = (words: string, dress: Dress, indent = 0): void => {
      width = Math.max(width, writer.width(words, dress) + indent + 1);
    };
    if (group < 0) for (const { cell } of cells) takes(captionOf(cell), label);
    else {
      takes(this.cornerOf(group), heading);
      const isIndented = item.labels !== 'columns';
      for (const line of this.grid.rows.slice(0, 5_000))
        if (isIndented || line.group === group || line.kind === 'whole')
          takes(
            this.rowLabel(line),
            line.kind === 'leaf' ? label : totalLabel,
            isIndented ? Math.max(0, line.group) * INDENT : 0,
          );
    }
    return width;
  }

  private valueColumns(): ValueColumn[] {
    const { item, cells } = this.prepared;
    const { columns, rows } = this.grid;
    const columnsOf = columns.flatMap((_, column): ValueColumn[] =>
      this.isBelow
        ? [{ column, value: null, width: LEAST_WIDTH }]
        : cells.map((__, value) => ({ column, value, width: LEAST_WIDTH })),
    );
    if (item.cellWidth !== undefined)
      return columnsOf.map((column) => ({ ...column, width: item.cellWidth! * POINTS }));
    const measured = [
      ...rows.filter(({ kind }) => kind !== 'leaf').slice(0, MEASURED),
      ...rows.filter(({ kind }) => kind === 'leaf').slice(0, MEASURED),
    ].filter(({ hasValues }) => hasValues);
    for (const line of measured) {
      const shown = cells.map((_, value) => this.values.row(line, value));
      for (const column of columnsOf)
        for (const [value, list] of shown.entries())
          if (column.value === null || column.value === value) {
            const words = this.words(list[column.column]!, value);
            column.width = Math.max(column.width, this.writer.width(words, this.cellDress(line, value, [], true)) + 1);
          }
    }
    for (const column of columnsOf) {
      const leaf = columns[column.column]!;
      const own = this.headerWords(leaf, Math.max(0, leaf.group));
      const needs = [own, ...(column.value === null ? [] : [captionOf(cells[column.value]!.cell)])].filter(
        (words, i) => i > 0 || column.value === null || cells.length === 1 || words === '',
      );
      if (this.hasCaptions || needs.length > 0)
        for (const words of needs) {
          // A heading of several words may go onto lines of its own.
          const longest = words.length > 14 ? words.split(/\s+/).sort((a, b) => b.length - a.length)[0]! : words;
          column.width = Math.max(column.width, this.writer.width(longest, this.headingRight) + 1);
        }
    }
    if (!item.even) return columnsOf;
    const widest = Math.max(...columnsOf.map(({ width }) => width));
    return columnsOf.map((column) => ({ ...column, width: widest }));
  }

  /** The columns in parts that are no wider than `room`. */
  private parts(columns: readonly ValueColumn[], room: number): ValueColumn[][] {
    const parts: ValueColumn[][] = [[]];
    let left = room;
    for (const column of columns) {
      const width = Math.min(column.width, Math.max(LEAST_WIDTH, room));
      if (width > left + 0.01 && parts.at(-1)!.length > 0) {
        parts.push([]);
        left = room;
      }
      parts.at(-1)!.push({ ...column, width });
      left -= width;
    }
    return parts;
  }

  // Words

  private words(value: Value, at: number): string {
    return formatValue(value, this.prepared.cells[at]!.format, this.settings);
  }

  private valueWords(node: GroupNode, key: number): string {
    const { language } = this.prepared.preparing.report;
    if (node.value === null || node.value === '') return blankWord(language);
    return formatValue(node.value, this.prepared.formats[key] ?? '', this.settings);
  }

  private get total(): string {
    const { item, preparing } = this.prepared;
    return item.totalCaption ?? totalWord(preparing.report.language);
  }

  private rowLabel({ node, kind, group, others }: AxisLine): string {
    if (others !== null) return others;
    if (kind === 'whole') return this.prepared.item.down.length === 0 ? '' : this.total;
    const own = this.valueWords(node, group);
    return kind === 'total' ? `${totalWord(this.prepared.preparing.report.language)} ${own}` : own;
  }

  /** What a row of the headings says over a column. */
  private headerWords({ node, kind, group, others }: AxisLine, row: number): string {
    const { down, across } = this.prepared.item;
    if (kind === 'whole') return row === 0 && across.length > 0 ? this.total : '';
    if (row === group) return others ?? this.valueWords(node, down.length + row);
    if (row > group)
      return row === group + 1 && kind !== 'leaf' ? totalWord(this.prepared.preparing.report.language) : '';
    return this.valueWords(ancestorAt(node, row + 1)!, down.length + row);
  }

  private cornerOf(group: number): string {
    const { down, labels = 'indented' } = this.prepared.item;
    const name = (at: number): string => down[at]!.caption ?? down[at]!.name;
    return labels === 'indented' ? down.map((_, i) => name(i)).join(' / ') : name(group);
  }

  /** Whether the names of the values stand over them. */
  private get hasCaptions(): boolean {
    const { item, cells } = this.prepared;
    return !this.isBelow && (cells.length > 1 || item.across.length === 0);
  }

  // Blocks

  private header(labels: readonly LabelColumn[], columns: readonly ValueColumn[], left: number): Block {
    const { item, cells } = this.prepared;
    const { heading, headingRight, writer } = this;
    const marks: LaidMark[] = [];
    const count = item.across.length + (this.hasCaptions ? 1 : 0);
    let top = 0;
    for (let row = 0; row < Math.max(1, count); row++) {
      let height = this.rowHeight;
      const isLast = row === Math.max(1, count) - 1;
      for (const { group, x, width } of labels) {
        const words = isLast
          ? group < 0
            ? ''
            : this.cornerOf(group)
          : x === 0
            ? (item.across[row]?.caption ?? '')
            : '';
        height = Math.max(height, writer.write(words, heading, x, top, width, marks));
      }
      let x = left;
      for (let i = 0; i < columns.length; ) {
        const span = this.spanOf(columns, i, row);
        const width = columns.slice(i, i + span).reduce((sum, c) => sum + c.width, 0);
        const { column, value } = columns[i]!;
        const isCaption = row >= item.across.length;
        const words = !isCaption
          ? this.headerWords(this.grid.columns[column]!, row)
          : value === null
            ? ''
            : captionOf(cells[value]!.cell);
        const dress = span > 1 ? this.centred : headingRight;
        height = Math.max(height, writer.write(words, dress, x, top, width, marks));
        if (span > 1 && words !== '') {
          const y = top + height - 0.6;
          marks.push(this.ruled(x + 2, y, x + width - 2, item.line ?? LINE, 0.5));
        }
        x += width;
        i += span;
      }
      top += height;
    }
    for (const mark of marks) if (mark.kind === 'text') mark.as = 'header';
    const width = left + columns.reduce((sum, c) => sum + c.width, 0);
    const { background } = heading.look;
    if (background) marks.unshift(this.filled(0, 0, width, top, background));
    marks.push(this.ruled(0, top, width, RULE, 0.8));
    return { height: top, marks };
  }

  private get centred(): Dress {
    return { key: 'heading centre', look: { ...this.heading.look, align: 'center' }, wraps: true };
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
    above: AxisLine | null,
    labels: readonly LabelColumn[],
    columns: readonly ValueColumn[],
    left: number,
  ): Block {
    const { item, cells } = this.prepared;
    const isTotal = line.kind !== 'leaf';
    const dress = isTotal ? this.totalLabel : this.label;
    const marks: LaidMark[] = [];
    const shown = line.hasValues ? cells.map((_, value) => this.values.row(line, value)) : null;
    let top = 0;
    for (const [at, value] of (this.isBelow ? cells.map((_, i) => i) : [null]).entries()) {
      let height = this.rowHeight;
      const first = marks.length;
      for (const column of labels) {
        const words =
          column.group < 0 ? captionOf(cells[value!]!.cell) : at === 0 ? this.labelIn(line, above, column) : '';
        const indent = item.labels === 'columns' || column.group < 0 ? 0 : Math.max(0, line.group) * INDENT;
        const room = Math.max(LEAST_WIDTH, column.width - indent);
        height = Math.max(height, this.writer.write(words, dress, column.x + indent, top, room, marks));
      }
      for (let i = first; i < marks.length; i++) {
        const mark = marks[i]!;
        if (mark.kind === 'text') mark.as = 'header';
      }
      let x = left;
      const backgrounds: LaidMark[] = [];
      for (const column of columns) {
        const place = column.value ?? value!;
        if (shown)
          this.cellInto(line, column, place, shown[place]![column.column]!, x, top, height, marks, backgrounds);
        x += column.width;
      }
      const background = isTotal ? dress.look.background : undefined;
      const under = background ? [this.filled(0, top, x, height, background)] : [];
      marks.splice(first, 0, ...under, ...backgrounds);
      top += height;
      if (!this.isBelow || at === cells.length - 1) {
        if (line.kind === 'whole') marks.push(this.ruled(0, 0, x, RULE, 0.6));
        marks.push(this.ruled(0, top, x, line.kind === 'whole' ? RULE : (item.line ?? LINE), 0.5));
      }
    }
    return { height: top, marks };
  }

  private labelIn(line: AxisLine, above: AxisLine | null, { group }: LabelColumn): string {
    const { labels = 'indented', repeatLabels = false } = this.prepared.item;
    if (labels === 'indented') return this.rowLabel(line);
    if (line.kind === 'whole') return group === 0 ? this.rowLabel(line) : '';
    if (group === line.group) return this.rowLabel(line);
    if (group > line.group) return '';
    const node = ancestorAt(line.node, group + 1)!;
    const isSame = above !== null && above.kind !== 'whole' && ancestorAt(above.node, group + 1) === node;
    // The line of a group's totals says its value already.
    return isSame && !repeatLabels ? '' : this.valueWords(node, group);
  }

  private cellInto(
    line: AxisLine,
    { column, width }: ValueColumn,
    at: number,
    value: Value,
    x: number,
    top: number,
    height: number,
    marks: LaidMark[],
    backgrounds: LaidMark[],
  ): void {
    const { cell, highlights, link } = this.prepared.cells[at]!;
    if (value === null && highlights.length === 0 && !cell.look?.background) return;
    const across = this.grid.columns[column]!;
    let holding: number[] = [];
    if (highlights.length > 0) {
      this.cell.at(line.node, across.node);
      holding = highlights.flatMap(({ when }, i) => (when(this.cell.context) === true ? [i] : []));
      if (holding.some((i) => highlights[i]!.hide)) return;
    }
    const dress = this.cellDress(line, at, holding, isNumeric(value));
    const extent = this.extents[at];
    const isInner = line.kind === 'leaf' && (across.kind === 'leaf' || this.grid.columns.length === 1);
    let background =
      holding.length > 0 ? holding.map((i) => highlights[i]!.look.background).findLast(Boolean) : undefined;
    background ??= cell.look?.background;
    if (!background && cell.scale && extent && isInner && isNumeric(value)) {
      const [low, high] = extent;
      background = mix(cell.scale.from, cell.scale.to, high > low ? (toNumber(value) - low) / (high - low) : 0);
    }
    if (background) backgrounds.push(this.filled(x, top, width, height, background));
    const words = this.words(value, at);
    if (words === '') return;
    this.writer.write(words, dress, x, top, width, marks);
    if (!link) return;
    this.cell.at(line.node, across.node);
    const to = targetOf(link, this.cell.context);
    if (to) marks.push({ kind: 'link', x, y: top, width, height, to, item: this.prepared.item.id });
  }

  private cellDress(line: AxisLine, at: number, holding: readonly number[], isNumber: boolean): Dress {
    const isTotal = line.kind !== 'leaf';
    const key = `cell ${at} ${isTotal} ${isNumber} ${holding.join(',')}`;
    let dress = this.dresses.get(key);
    if (!dress) {
      const { item, cells } = this.prepared;
      const { cell, highlights } = cells[at]!;
      const look: Look = {
        align: isNumber ? 'right' : 'left',
        ...BASE,
        ...item.look,
        ...(isTotal ? { ...TOTAL, ...item.totalLook } : {}),
        ...cell.look,
        ...Object.assign({}, ...holding.map((i) => highlights[i]!.look)),
      };
      dress = { key, look, wraps: false };
      this.dresses.set(key, dress);
    }
    return dress;
  }

  /** The colours from the smallest value to the largest. */
  private legend({ from, to }: NonNullable<CrosstabCell['scale']>, [low, high]: [number, number], at: number): Block {
    const marks: LaidMark[] = [];
    const top = 2 * POINTS;
    const steps = 12;
    const width = 3 * POINTS;
    const words = [low, high].map((value) => this.words(value, at));
    const before = this.writer.width(words[0]!, this.label) + 2;
    this.writer.write(words[0]!, this.label, 0, top, before, marks);
    for (let step = 0; step < steps; step++)
      marks.push(
        this.filled(before + step * width, top + 1, width + 0.2, this.rowHeight - 4, mix(from, to, step / (steps - 1))),
      );
    this.writer.write(
      words[1]!,
      this.label,
      before + steps * width,
      top,
      this.writer.width(words[1]!, this.label) + 2,
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

const captionOf = ({ caption, formula }: CrosstabCell): string => caption ?? formula;
