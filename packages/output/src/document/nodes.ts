import type { ContentPart, ContentSection, PieceEdge, PieceSide } from '@gaveta/core/internal';

/** A text, a picture, a drawing or a list of contents on lines of its own. Lengths in points. */
export interface ParagraphNode {
  kind: 'paragraph';
  part: ContentPart;
  /** From the left and the right edge of what it stands in. */
  left: number;
  right: number;
  /** Free room above it. */
  before: number;
  fill?: string;
  edges: Partial<Record<PieceSide, PieceEdge>>;
  keepNext: boolean;
}

export interface CellNode {
  /** First column of the table that it covers, from 0, and how many. */
  column: number;
  span: number;
  nodes: DocumentNode[];
  fill?: string;
  edges: Partial<Record<PieceSide, PieceEdge>>;
  /** It heads its column or its row. */
  isHeader: boolean;
}

export interface RowNode {
  kind: 'row';
  cells: CellNode[];
  /** At least, with the free room at its top. */
  height: number;
  above: number;
  /** All of it heads columns. */
  isHeader: boolean;
  keepNext: boolean;
}

/** A table begins; its rows follow. */
export interface TableNode {
  kind: 'table';
  /** Widths of its columns. */
  columns: number[];
  /** From the left edge of what it stands in. */
  left: number;
  before: number;
}

/** What a document is made of, in order. Lengths in points. */
export type DocumentNode =
  | ContentSection
  | ParagraphNode
  | TableNode
  | RowNode
  | { kind: 'tableEnds' }
  /** A line across. */
  | { kind: 'rule'; edge: PieceEdge; left: number; right: number; before: number }
  | { kind: 'break'; parity: 'odd' | 'even' | null }
  | { kind: 'restart' };

/** Everything that nodes show, in order. */
export function* partsIn(nodes: readonly DocumentNode[]): Iterable<ContentPart> {
  for (const node of nodes) {
    if (node.kind === 'paragraph') yield node.part;
    else if (node.kind === 'row') for (const cell of node.cells) yield* partsIn(cell.nodes);
  }
}
