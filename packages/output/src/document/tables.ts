import type { CellNode, DocumentNode, RowNode } from './nodes.ts';

/** Edges of columns that are taken for the same, in points. */
const NEAR = 2.5;
/** Rows that wait for others before their table’s columns are settled. */
const MOST_WAITING = 400;

/** A row with its cells where they stand, before it is known which columns its table has. Lengths in points. */
export interface PlacedRow {
  cells: PlacedCell[];
  height: number;
  keepNext: boolean;
  /** How many headings the row lies under. */
  depth: number;
  /** Free room at its top, which its height holds. */
  above: number;
  /** Free room above it, where it does not follow another row. */
  before: number;
}

export interface PlacedCell {
  x: number;
  width: number;
  /** What stands in it, when it is known where its edges are. */
  nodes: (x: number, width: number) => DocumentNode[];
  fill?: string;
  edges: CellNode['edges'];
  isHeader: boolean;
}

const isHeader = ({ cells }: PlacedRow): boolean => cells.length > 1 && cells.every((cell) => cell.isHeader);

/** Puts rows that follow one another together to tables with columns in common. */
export class Tables {
  private waiting: PlacedRow[] = [];
  /** Left edges of the columns, and the right edge of the last. */
  private edges: number[] = [];
  /** Where cells begin, and the last ends, before the columns are settled; past the first of them. */
  private lefts: number[] = [];
  private first = Number.POSITIVE_INFINITY;
  private right = 0;
  private isBegun = false;
  private hasRows = false;
  private depth = 0;

  constructor(private readonly out: DocumentNode[]) {}

  get isOpen(): boolean {
    return this.isBegun || this.waiting.length > 0;
  }

  /** Whether something that lies so deep goes on with the table that is open. */
  takes(depth: number): boolean {
    return this.isOpen && depth >= this.depth;
  }

  /** Whether a column of the table that is open, but the first, begins there. */
  hasColumnAt(x: number): boolean {
    return (
      this.at(x) > 0 || (!this.isBegun && this.lefts.some((left) => Math.abs(left - x) <= NEAR && left > this.first))
    );
  }

  row(row: PlacedRow): void {
    const heads = isHeader(row);
    if (this.isOpen && ((heads && this.hasRows) || row.depth < this.depth)) this.end();
    if (this.isBegun && !this.fits(row)) this.end();
    if (!this.isOpen) this.depth = row.depth;
    if (!heads) this.hasRows = true;
    if (!this.isBegun) this.note(row);
    this.waiting.push(row);
    if (this.isBegun || this.waiting.length > MOST_WAITING) this.write();
  }

  /** Notes where the cells of a row begin, as long as the columns are not settled. */
  private note({ cells }: PlacedRow): void {
    for (const { x, width } of cells) {
      if (!this.lefts.includes(x)) this.lefts.push(x);
      this.first = Math.min(this.first, x + NEAR);
      this.right = Math.max(this.right, x + width);
    }
  }

  private at(x: number): number {
    return this.edges.findIndex((edge) => Math.abs(edge - x) <= NEAR);
  }

  private fits({ cells }: PlacedRow): boolean {
    const last = cells.at(-1)!;
    return cells.every(({ x }) => this.at(x) >= 0) && last.x + last.width <= this.edges.at(-1)! + NEAR;
  }

  /** Finds the columns of the rows that wait. */
  private settle(): void {
    const edges: number[] = [];
    for (const x of this.lefts.sort((a, b) => a - b)) if (edges.length === 0 || x - edges.at(-1)! > NEAR) edges.push(x);
    edges.push(Math.max(this.right, edges.at(-1)! + 1));
    this.edges = edges;
    const columns = edges.slice(1).map((edge, i) => edge - edges[i]!);
    this.out.push({ kind: 'table', columns, left: edges[0]!, before: this.waiting[0]!.before });
    this.isBegun = true;
  }

  private write(): void {
    if (!this.isBegun) this.settle();
    for (const row of this.waiting.splice(0)) this.out.push(this.placed(row));
  }

  private placed(row: PlacedRow): RowNode {
    const { edges } = this;
    const count = edges.length - 1;
    const starts = row.cells.map(({ x }) => Math.max(0, Math.min(count - 1, this.at(x))));
    const cells: CellNode[] = [];
    const empty = (column: number, span: number): CellNode => ({ column, span, nodes: [], edges: {}, isHeader: false });
    if (starts[0]! > 0) cells.push(empty(0, starts[0]!));
    for (const [i, { nodes, fill, edges: drawn, isHeader: heads }] of row.cells.entries()) {
      const column = starts[i]!;
      const next = starts[i + 1] ?? count;
      const span = Math.max(1, next - column);
      const x = edges[column]!;
      const width = edges[column + span]! - x;
      const content = nodes(x, width);
      cells.push({ column, span, nodes: content, ...(fill ? { fill } : {}), edges: drawn, isHeader: heads });
    }
    return {
      kind: 'row',
      cells,
      height: row.height,
      above: row.above,
      isHeader: isHeader(row),
      keepNext: row.keepNext,
    };
  }

  /** Completes the table that is open. */
  end(): void {
    if (!this.isOpen) return;
    this.write();
    this.out.push({ kind: 'tableEnds' });
    this.isBegun = false;
    this.hasRows = false;
    this.edges = [];
    this.lefts = [];
    this.first = Number.POSITIVE_INFINITY;
    this.right = 0;
  }
}
