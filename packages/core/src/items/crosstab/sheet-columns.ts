import { SIGN, SIGN_GAP } from '../../layout/fold-mark.ts';
import { POINTS } from '../../layout/prepared.ts';
import type { Dresses } from './dresses.ts';
import type { Grid } from './grid.ts';
import type { PreparedCrosstab } from './prepared.ts';
import { captionOf, type SheetWords } from './sheet-words.ts';
import type { GridValues } from './values.ts';
import type { Dress, Writer } from './writer.ts';

/** By which each level of labels stands further in. */
export const INDENT = 3 * POINTS;
export const LEAST_WIDTH = 7 * POINTS;
/** Share of the whole width that labels take at most when their width is not given. */
const MOST_LABELS = 0.45;
/** Rows whose content is measured for the widths of columns, besides all totals among the first ones. */
const MEASURED = 400;
/** Room that a column has besides its widest words, so that numbers stand apart. */
const SLACK = 4;
/** Lines whose labels are measured, and characters above which a heading may go onto several lines. */
const MEASURED_LABELS = 5_000;
const LONG_HEADING = 14;

/** A column of values: of one column line, and one of the values of the cells. */
export interface ValueColumn {
  column: number;
  /** Of several values below one another it is none: each row has its own. */
  value: number | null;
  width: number;
}

export interface LabelColumn {
  /** Group down whose labels it has; -1 for the names of values below one another. */
  group: number;
  x: number;
  width: number;
}

/** How wide the columns of a crosstab are, and which of them stand side by side. Lengths in points. */
export class SheetColumns {
  constructor(
    private readonly prepared: PreparedCrosstab,
    private readonly grid: Grid,
    private readonly values: GridValues,
    private readonly words: SheetWords,
    private readonly dresses: Dresses,
    private readonly writer: Writer,
  ) {}

  /** The columns of labels, from left to right. */
  labels(): LabelColumn[] {
    const { item, common } = this.prepared;
    const { down, labels = 'indented', labelWidth } = item;
    const groups = labels === 'indented' ? (down.length > 0 ? [0] : []) : down.map((_, i) => i);
    const all = [...groups, ...(this.words.isBelow ? [-1] : [])];
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

  /** Room before the labels of a group, so that all of them are in line where some have a sign. */
  signRoom(group: number): number {
    const { item, folds } = this.prepared;
    if (group < 0) return 0;
    const has = item.labels === 'columns' ? folds.down[group] : folds.down.slice(0, -1).some(Boolean);
    return has && folds.down.length > 1 ? SIGN + SIGN_GAP : 0;
  }

  private labelNeeds(group: number): number {
    const { cells, item } = this.prepared;
    const { writer, words } = this;
    const { heading, label } = this.dresses;
    let width = LEAST_WIDTH;
    const room = this.signRoom(group);
    const takes = (said: string, dress: Dress, indent = 0): void => {
      width = Math.max(width, writer.width(said, dress) + room + indent + 1);
    };
    if (group < 0) for (const { cell } of cells) takes(captionOf(cell), label);
    else {
      takes(words.corner(group), heading);
      const isIndented = item.labels !== 'columns';
      for (const line of this.grid.rows.slice(0, MEASURED_LABELS))
        if (isIndented || line.group === group || line.kind === 'whole')
          takes(words.rowLabel(line), this.dresses.labelOf(line), isIndented ? Math.max(0, line.group) * INDENT : 0);
    }
    return width;
  }

  /** The columns of values, as wide as they need to be or as they are told. */
  ofValues(): ValueColumn[] {
    const { item, cells } = this.prepared;
    const { columns, rows } = this.grid;
    const columnsOf = columns.flatMap((_, column): ValueColumn[] =>
      this.words.isBelow
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
            const said = this.words.value(list[column.column]!, value);
            const dress = this.dresses.cell(value, line, columns[column.column]!, true);
            column.width = Math.max(column.width, this.writer.width(said, dress) + SLACK);
          }
    }
    for (const column of columnsOf)
      for (const heading of this.headingsOver(column)) {
        // One of several words may go onto lines of its own.
        const words = heading.length > LONG_HEADING ? heading.split(/\s+/) : [heading];
        const widest = Math.max(...words.map((word) => this.writer.width(word, this.dresses.headingRight)));
        column.width = Math.max(column.width, widest + SLACK + this.signOver(column));
      }
    if (!item.even) return columnsOf;
    const widest = Math.max(...columnsOf.map(({ width }) => width));
    return columnsOf.map((column) => ({ ...column, width: widest }));
  }

  /** Room for a sign over a column whose group is closed. */
  private signOver({ column }: ValueColumn): number {
    return this.grid.columns[column]!.isClosed ? SIGN + 2 * SIGN_GAP : 0;
  }

  /** The headings that stand over one column alone. */
  private headingsOver({ column, value }: ValueColumn): string[] {
    const { cells } = this.prepared;
    const line = this.grid.columns[column]!;
    const isAlone = value === null || cells.length === 1;
    // Over the totals of a group its value stands over the columns inside it as well.
    const isOfGroup = line.kind === 'total' || line.kind === 'heading';
    const row = isOfGroup ? line.group + 1 : Math.max(0, line.group);
    return [
      ...(isAlone ? [this.words.heading(line, row)] : []),
      ...(value !== null && this.words.hasCaptions ? [captionOf(cells[value]!.cell)] : []),
    ];
  }

  /** The columns in parts that are no wider than `room`. */
  parts(columns: readonly ValueColumn[], room: number): ValueColumn[][] {
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
}
