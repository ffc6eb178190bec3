import type { LinkTarget, PictureMark } from '../page/page.ts';
import type { Piece, PieceEdge, PieceSide } from './pieces.ts';

/** A box in a block: from its top left corner, in points. */
export interface ContentBox {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A picture by its hash. `crop`: what of it is not seen at each side, as shares of its width and height. */
export interface PictureContent extends Pick<PictureMark, 'kind' | 'picture' | 'alternative'> {
  crop?: Readonly<Record<PieceSide, number>>;
}

/** Something that a document shows, in its place. */
export interface ContentPart extends ContentBox {
  /** Id of the definition’s item that made it. */
  item?: string;
  content: Exclude<Piece, { kind: 'column' }> | PictureContent;
  /** Where a click on it leads. */
  to?: LinkTarget;
  /** Name by which links lead to it. */
  anchor?: string;
  /** Entry of the outline: its level, from 1, and its title. */
  heading?: { level: number; title: string };
}

/** A coloured box behind what stands on it, or a frame around it. */
export interface ContentFill extends ContentBox {
  fill?: string;
  edge?: PieceEdge;
}

/** A line, straight across or straight down. */
export interface ContentLine extends PieceEdge {
  x: number;
  y: number;
  x2: number;
  y2: number;
}

/** A band of a report, or several side by side. Lengths in points, from its top left corner. */
export interface ContentBlock {
  kind: 'block';
  height: number;
  parts: ContentPart[];
  fills: ContentFill[];
  lines: ContentLine[];
  /** Where the band stands that it is, or each of several beside and below one another; `key` is null for what is no band. */
  bands: (ContentBox & { key: string | null })[];
  /** How many headings it lies under. */
  depth: number;
  /** Stays with what follows it. */
  keepNext: boolean;
  /** Stands again at the top of further pages. */
  repeats: boolean;
  /** Can be opened and closed, and is closed as the reader sees it: what lies under it is folded away. */
  isCollapsed: boolean;
}

/** The paper from here on, and the bands on each of its pages. Lengths in points. */
export interface ContentSection {
  kind: 'section';
  width: number;
  height: number;
  margins: { top: number; right: number; bottom: number; left: number };
  /** Of all pages that have none of their own. */
  header: ContentBlock | null;
  footer: ContentBlock | null;
  /** Of the first page; left out where it has those of all. */
  first?: { header: ContentBlock | null; footer: ContentBlock | null };
  /** Of even pages; left out where they have those of all. */
  even?: { header: ContentBlock | null; footer: ContentBlock | null };
}

/** What is told of a document, in order. */
export type ContentEvent =
  | ContentSection
  | ContentBlock
  /** A new page begins, of a parity where one is asked for. */
  | { kind: 'break'; parity: 'odd' | 'even' | null }
  /** The numbering of pages starts anew. */
  | { kind: 'restart' }
  /** The rows of a drawer under one row around them, or of one of its groups, begin or have ended. */
  | { kind: 'begins'; part: 'drawer' | 'group'; drawer: string /** 0-based, of a group. */; group?: number }
  | { kind: 'ends' };

/** Is told of a document, event by event; what gives a promise is waited for. */
export type ContentListener = (event: ContentEvent) => Promise<void> | void;
