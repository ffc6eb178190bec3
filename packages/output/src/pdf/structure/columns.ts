import type { Group } from './groups.ts';
import type { Line } from './lines.ts';

/** A cell in its row: the groups in it, and the columns that it stands over. */
export interface PlacedCell {
  groups: readonly Group[];
  /** 0-based. */
  start: number;
  span: number;
}

interface Extent {
  left: number;
  right: number;
}

const extentOf = (groups: readonly Group[]): Extent => {
  let [left, right] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const { x, width } of groups) {
    left = Math.min(left, x);
    right = Math.max(right, x + width);
  }
  return { left, right };
};

/** How much of both is in both; below 0 for what stands apart, the further the less. Points. */
const shared = (a: Extent, b: Extent): number => Math.min(a.right, b.right) - Math.max(a.left, b.left);

type Cells = readonly (readonly Group[])[];

/** Whether cells say themselves which columns they stand over, as those of a crosstab do. */
const areCounted = (cells: Cells): boolean => cells[0]![0]!.column !== undefined;

/** The columns of a table, found by where the texts of a row stand. */
export class Columns {
  private constructor(
    private readonly extents: Extent[],
    private readonly isCounted: boolean,
  ) {}

  /** Those of captions and a first row below them; null where the two do not go together. */
  static of(
    captions: readonly Cells[],
    row: Cells,
  ): { columns: Columns; heads: PlacedCell[][]; first: PlacedCell[] } | null {
    const isCounted = areCounted(captions[0]!);
    if (isCounted !== areCounted(row)) return null;
    const columns = isCounted ? Columns.counting(captions) : Columns.under([...captions, row]);
    const heads = captions.map((cells) => columns.place(cells));
    const first = columns.place(row);
    if (!first || heads.some((cells) => cells === null)) return null;
    // The last row of captions has one for each column.
    if (isCounted) for (const cells of heads.slice(0, -1)) columns.reach(cells!);
    return { columns, heads: heads as PlacedCell[][], first };
  }

  private static counting(captions: readonly Cells[]): Columns {
    const last = Math.max(...captions.flatMap((row) => row.map(([group]) => group!.column!)));
    return new Columns(
      Array.from({ length: last + 1 }, () => ({ left: 0, right: 0 })),
      true,
    );
  }

  /** Those of the row with the most cells, the first of several. */
  private static under(rows: readonly Cells[]): Columns {
    const widest = rows.reduce((most, row) => (row.length > most.length ? row : most));
    return new Columns(widest.map(extentOf), false);
  }

  get count(): number {
    return this.extents.length;
  }

  /** Captions over several columns reach up to the next one. */
  private reach(cells: PlacedCell[]): void {
    for (const [i, cell] of cells.entries()) cell.span = (cells[i + 1]?.start ?? this.count) - cell.start;
  }

  /** The cells of a row in the columns that they stand in; null where two would stand in one. */
  place(cells: Cells): PlacedCell[] | null {
    if (this.isCounted) return areCounted(cells) ? this.counted(cells) : null;
    const placed: PlacedCell[] = [];
    for (const groups of cells) {
      const start = this.columnOf(extentOf(groups));
      if (start <= (placed.at(-1)?.start ?? -1)) return null;
      placed.push({ groups, start, span: 1 });
    }
    this.note(placed);
    return placed;
  }

  private counted(cells: Cells): PlacedCell[] {
    const placed: PlacedCell[] = [];
    for (const groups of cells) {
      const start = Math.min(groups[0]!.column ?? 0, this.count - 1);
      const last = placed.at(-1);
      if (last && last.start >= start) last.groups = [...last.groups, ...groups];
      else placed.push({ groups, start, span: 1 });
    }
    return placed;
  }

  private columnOf(cell: Extent): number {
    let best = 0;
    let most = shared(cell, this.extents[0]!);
    for (let i = 1; i < this.extents.length; i++) {
      const common = shared(cell, this.extents[i]!);
      if (common <= most) continue;
      most = common;
      best = i;
    }
    return best;
  }

  /** Columns get as wide as what stands in them, as far as the next ones allow. */
  private note(placed: readonly PlacedCell[]): void {
    for (const { groups, start } of placed) {
      const { left, right } = extentOf(groups);
      const column = this.extents[start]!;
      const [before, after] = [this.extents[start - 1], this.extents[start + 1]];
      if (left < column.left) column.left = Math.max(left, before?.right ?? left);
      if (right > column.right) column.right = Math.min(right, Math.max(column.right, after?.left ?? right));
    }
  }
}

/** Whether a line heads columns. */
export const isCaptions = (line: Line, groups: readonly Group[]): boolean =>
  line.kind === 'row' &&
  (line.cells.length > 1 || groups[line.cells[0]![0]!]!.column !== undefined) &&
  line.cells.every((cell) => cell.every((at) => groups[at]!.as === 'header'));
