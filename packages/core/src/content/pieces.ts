import type { LinkTarget, Mark } from '../page/page.ts';
import type { Value } from '../value/value.ts';

/** How a stretch of text looks. */
export interface RunLook {
  family: string;
  /** Points. */
  size: number;
  bold: boolean;
  italic: boolean;
  underline: boolean;
  strike: boolean;
  color: string;
}

/** A stretch of text in one look. */
export interface TextRun {
  text: string;
  look: RunLook;
  /**
   * Stands for the number of its page, of pages, or of pages since their numbering last started anew, which whoever shows the
   * document knows; `text` is empty then.
   */
  field?: 'page' | 'pages' | 'partPages';
  to?: LinkTarget;
}

/** An edge of a box. Points. */
export interface PieceEdge {
  width: number;
  color: string;
  isDashed: boolean;
}

export type PieceSide = 'top' | 'right' | 'bottom' | 'left';

/** A total that a text shows, as far as a spreadsheet can work it out. */
export interface PieceTotal {
  name: 'SUM' | 'COUNT' | 'AVERAGE' | 'MIN' | 'MAX';
  /** `source` of the texts whose values it counts. */
  of: string;
}

/**
 * A number as it is worked out from others. `of`: it may be the value of a text with that `source` as well, which comes first;
 * of a `-` with one part the sign changes. `round`: to so many decimals, halves away from zero.
 */
export type PieceSum =
  | { number: string }
  | { of: string }
  | { of?: string; operator: '+' | '-' | '*' | '/'; parts: readonly PieceSum[] }
  | { of?: string; round: number; part: PieceSum };

/** A text as it is written, before its lines are broken. */
export interface TextContent {
  kind: 'text';
  runs: readonly TextRun[];
  /** Where the text is one value, that value and its number format; a text of several parts has none. */
  value?: Value;
  format?: string;
  /** Tells from which formula the value comes: the same for all rows of a column. */
  source?: string;
  total?: PieceTotal;
  /** How its value is worked out from those beside it, where a spreadsheet can do that. */
  sum?: PieceSum;
  align: 'left' | 'center' | 'right' | 'justify';
  stands: 'top' | 'middle' | 'bottom';
  /** Points. */
  padding: Readonly<Record<PieceSide, number>>;
  /** Distance of lines as a multiple of the type size. */
  spacing: number;
  /** Whether it goes on in further lines; otherwise its type gets smaller or it is cut off. */
  wraps: boolean;
  /** Degrees, clockwise. */
  turn: number;
  background?: string;
  border?: Readonly<Partial<Record<PieceSide, PieceEdge>>>;
  /** Name of the report’s style that it has. */
  style?: string;
  as?: 'heading' | 'header' | 'artifact';
  /** Level of a heading that is in no outline, from 1. */
  level?: number;
  /** An item of a list: what stands before it, and how deep it lies, from 0. */
  listed?: { mark: string; depth: number };
}

/** A picture that is drawn: a chart, a barcode, a gauge. */
export interface DrawingContent {
  kind: 'drawing';
  /** From its top left corner. */
  marks: readonly Mark[];
  alternative: string;
  /** Its numbers as they are shown, where it has any; the first row has the captions of the columns. */
  table: readonly (readonly string[])[];
}

/** Where the headings of the document are listed. */
export interface ContentsList {
  kind: 'contents';
  /** Deepest level that is listed, from 1. */
  levels: number;
}

/** What is laid out beside other things, as one of them. */
export interface ColumnContent {
  kind: 'column';
}

export type Piece = TextContent | DrawingContent | ContentsList | ColumnContent;

/** A piece of a document that goes on living, in its place among the marks of a band. Lengths in points. */
export interface PieceMark {
  kind: 'piece';
  x: number;
  y: number;
  width: number;
  height: number;
  item?: string;
  piece: Piece;
}
