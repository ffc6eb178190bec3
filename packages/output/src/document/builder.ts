import type {
  ContentBlock,
  ContentBox,
  ContentEvent,
  ContentFill,
  ContentLine,
  ContentListener,
  ContentPart,
  ContentSection,
  PieceEdge,
  TextContent,
} from '@gaveta/core/internal';
import { around, type Cut, cut } from './cut.ts';
import type { CellNode, DocumentNode, ParagraphNode } from './nodes.ts';
import { type PlacedCell, Tables } from './tables.ts';

/** How far a line may be from what it belongs to, in points. */
const NEAR_LINE = 6;
/** Room at the bottom of a band that still belongs to its last row. */
const NEAR_BOTTOM = 14;

type Layout = Cut<ContentPart>;

const textOf = ({ content }: ContentPart): TextContent | null => (content.kind === 'text' ? content : null);

const heads = (part: ContentPart): boolean => part.heading !== undefined || textOf(part)?.level !== undefined;

/** All parts in the order in which they are read. */
export const partsOf = (layout: Layout): ContentPart[] =>
  layout.kind === 'one' ? [layout.one] : layout.items.flatMap(partsOf);

/** The parts of a block in order: bands that stand side by side are read one after the other. */
export const layoutOf = ({ parts, bands }: Pick<ContentBlock, 'parts' | 'bands'>): Layout | null => {
  if (parts.length === 0) return null;
  const [only] = bands;
  if (!only || (bands.length === 1 && parts.every((part) => contains(only, part)))) return cut(parts);
  const holding = bands.map((band): ContentBox & { parts: ContentPart[] } => ({ ...band, parts: [] }));
  const rest: ContentPart[] = [];
  const smallest = [...holding].sort((a, b) => a.width * a.height - b.width * b.height);
  for (const part of parts) (smallest.find((band) => contains(band, part))?.parts ?? rest).push(part);
  const units = [
    ...holding.filter((unit) => unit.parts.length > 0),
    ...rest.map((part) => ({ ...around([part]), parts: [part] })),
  ];
  return inside(cut(units, 'row'));
};

const inside = (layout: Cut<ContentBox & { parts: ContentPart[] }>): Layout =>
  layout.kind === 'one' ? cut(layout.one.parts) : { ...layout, items: layout.items.map(inside) };

const contains = (band: ContentBox, { x, y, width, height }: ContentBox): boolean => {
  const [middle, centre] = [x + width / 2, y + height / 2];
  return (
    middle >= band.x - 1 &&
    middle <= band.x + band.width + 1 &&
    centre >= band.y - 1 &&
    centre <= band.y + band.height + 1
  );
};

const isAcross = ({ y, y2 }: ContentLine): boolean => Math.abs(y - y2) < 0.5;

/** The colour behind a box. */
const fillBehind = (box: ContentBox, fills: readonly ContentFill[]): string | undefined =>
  fills.findLast((fill) => fill.fill !== undefined && contains(fill, box))?.fill;

const edgeOf = ({ width, color, isDashed }: PieceEdge): PieceEdge => ({ width, color, isDashed });

/**
 * Makes a document of what is told of a report: paragraphs and tables, in the order in which they are read. Texts side by side are
 * rows; rows that follow one another with the same columns are one table.
 */
export class DocumentBuilder {
  private readonly out: DocumentNode[] = [];
  private readonly tables = new Tables(this.out);
  /** Free room since the last node, in points. */
  private room = 0;
  /** Of what the document stands in. */
  private width = 0;
  /** Depth of the heading whose rows the reader has closed, which are left out; null when there is none. */
  private folded: number | null = null;

  /** What is complete after an event. */
  take(event: ContentEvent): DocumentNode[] {
    switch (event.kind) {
      case 'section':
        this.tables.end();
        this.width = event.width - event.margins.left - event.margins.right;
        this.out.push(event);
        this.room = 0;
        break;
      case 'block':
        this.block(event);
        break;
      case 'break':
      case 'restart':
        this.tables.end();
        this.out.push(event);
        this.room = 0;
        break;
      case 'begins':
      case 'ends':
        break;
      default:
        event satisfies never;
    }
    return this.out.splice(0);
  }

  /** What is still to come when everything has been told. */
  end(): DocumentNode[] {
    this.tables.end();
    return this.out.splice(0);
  }

  private block(block: ContentBlock): void {
    if (this.folded !== null && block.depth > this.folded) return;
    this.folded = block.isCollapsed ? block.depth : null;
    const layout = layoutOf(block);
    const { fills, depth } = block;
    const lines = block.lines.filter(isAcross);
    const items = itemsOf(layout);
    const given = linesOf(items, lines);
    let y = 0;
    for (const [i, item] of items.entries()) {
      const { box } = item;
      this.rules(given.free, y, box.y);
      const above = Math.max(0, box.y - y);
      const isLast = i === items.length - 1;
      const below = isLast ? Math.max(0, block.height - box.y - box.height) : 0;
      const keepNext = !isLast || block.keepNext;
      this.item(item, { above, keepNext, depth, fills, lines, own: given.of[i]! }, below);
      y = box.y + box.height;
    }
    this.rules(given.free, y, block.height + 1);
    const rest = Math.max(0, block.height - y);
    this.room += items.length > 0 && this.tables.isOpen && rest <= NEAR_BOTTOM ? 0 : rest;
  }

  /** Lines across between two heights of a block that belong to nothing. */
  private rules(lines: readonly ContentLine[], from: number, to: number): void {
    for (const line of lines) {
      if (line.y < from || line.y >= to) continue;
      this.tables.end();
      const [x, right] = [Math.min(line.x, line.x2), Math.max(line.x, line.x2)];
      this.out.push({
        kind: 'rule',
        edge: edgeOf(line),
        left: Math.max(0, x),
        right: Math.max(0, this.width - right),
        before: this.room + Math.max(0, line.y - from),
      });
      this.room = 0;
    }
  }

  private item(layout: Layout, place: Place, below: number): void {
    const { tables } = this;
    const hasHeading = partsOf(layout).some(heads);
    if (hasHeading) tables.end();
    if (!isRow(layout, place.depth, tables)) {
      tables.end();
      for (const node of nodesOf(layout, place, 0, this.width)) {
        if ('before' in node && this.room > 0) node.before += this.room;
        this.room = 0;
        this.out.push(node);
      }
      return;
    }
    addRow(layout, place, tables, { room: this.room, below: below <= NEAR_BOTTOM ? below : 0, x: 0 });
    this.room = 0;
    // A heading has the rows below it in a table of their own, which begins with their captions.
    if (hasHeading) tables.end();
  }
}

/** Whether a layout is a row of a table: several side by side, or a text that goes on with the table that is open. */
const isRow = (layout: Layout, depth: number, tables: Tables): boolean => {
  if (layout.kind === 'row') return true;
  const part = layout.kind === 'one' ? layout.one : null;
  const text = part && textOf(part);
  if (!text || heads(part) || text.listed || !tables.takes(depth)) return false;
  // It heads the rows below it, or stands under a column.
  return text.as === 'header' || tables.hasColumnAt(part.x);
};

/** `room`: free room above it besides its own; `x`: of the left edge of what the table stands in. */
const addRow = (
  layout: Layout,
  place: Place,
  tables: Tables,
  { room, below, x }: { room: number; below: number; x: number },
): void => {
  const cells = (layout.kind === 'row' ? layout.items : [layout]).map((item) => {
    const cell = cellOf(item, place);
    return { ...cell, x: cell.x - x, nodes: (at: number, wide: number) => cell.nodes(at + x, wide) };
  });
  const { above, depth } = place;
  // A heading stays with what it stands over; of other rows programs keep whole tables together for it.
  const keepNext = place.keepNext && partsOf(layout).some(heads);
  const isFirst = !tables.isOpen;
  const inner = isFirst ? 0 : room + above;
  const height = layout.box.height + inner + below;
  tables.row({ cells, height, above: inner, depth, keepNext, before: isFirst ? room + above : 0 });
};

const itemsOf = (layout: Layout | null): Layout[] =>
  layout === null ? [] : layout.kind === 'stack' ? layout.items : [layout];

/** Where an item of a block stands. Lengths in points. */
interface Place {
  /** Free room above it. */
  above: number;
  keepNext: boolean;
  depth: number;
  fills: readonly ContentFill[];
  /** All lines across of the block, and those at the edges of the item. */
  lines: readonly ContentLine[];
  own: OwnLines;
}

/** Lines at the top and at the bottom of an item. */
interface OwnLines {
  top: ContentLine[];
  bottom: ContentLine[];
}

/** Gives each line across to the item that it is nearest to; those that are far from all are free. */
const linesOf = (items: readonly Layout[], lines: readonly ContentLine[]): { of: OwnLines[]; free: ContentLine[] } => {
  const of = items.map((): OwnLines => ({ top: [], bottom: [] }));
  const free: ContentLine[] = [];
  for (const line of lines) {
    let best: { distance: number; list: ContentLine[] } | null = null;
    for (const [i, { box }] of items.entries()) {
      const isBeside = Math.min(line.x, line.x2) > box.x + box.width || Math.max(line.x, line.x2) < box.x;
      if (isBeside) continue;
      const toBottom = Math.abs(line.y - box.y - box.height);
      const toTop = Math.abs(line.y - box.y);
      // What is drawn between two belongs to the one above.
      if (toBottom <= NEAR_LINE && (!best || toBottom <= best.distance))
        best = { distance: toBottom, list: of[i]!.bottom };
      if (toTop <= NEAR_LINE && (!best || toTop < best.distance)) best = { distance: toTop, list: of[i]!.top };
    }
    (best?.list ?? free).push(line);
  }
  return { of, free };
};

const edgesFor = ({ x, width }: ContentBox, { top, bottom }: OwnLines): CellNode['edges'] => {
  const across = (lines: readonly ContentLine[]): PieceEdge | undefined => {
    const found = lines.find((line) => {
      const [from, to] = [Math.max(x, Math.min(line.x, line.x2)), Math.min(x + width, Math.max(line.x, line.x2))];
      return to - from > width / 2;
    });
    return found && edgeOf(found);
  };
  const [above, below] = [across(top), across(bottom)];
  return { ...(above ? { top: above } : {}), ...(below ? { bottom: below } : {}) };
};

const cellOf = (layout: Layout, place: Place): PlacedCell => {
  const parts = partsOf(layout);
  const { box } = layout;
  const only = parts.length === 1 ? textOf(parts[0]!) : null;
  const fill = only?.background ?? fillBehind(box, place.fills);
  const own = { top: [], bottom: [] };
  const inner: Place = { ...place, above: 0, own, ...(only ? { fills: [], lines: [] } : {}) };
  return {
    x: box.x,
    width: box.width,
    nodes: (x, width) => nodesOf(layout, inner, x, width, only !== null),
    ...(fill ? { fill } : {}),
    edges: { ...edgesFor(box, place.own), ...only?.border },
    isHeader: parts.every((part) => textOf(part)?.as === 'header'),
  };
};

/**
 * What stands in a place, from `x` on and so wide. `isBare`: its colour and edges are those of the cell that it is in.
 */
const nodesOf = (layout: Layout, place: Place, x: number, width: number, isBare = false): DocumentNode[] => {
  if (layout.kind === 'one') return [paragraph(layout.one, place, x, width, isBare)];
  const nodes: DocumentNode[] = [];
  const tables = new Tables(nodes);
  const items = itemsOf(layout);
  const given = layout.kind === 'stack' ? linesOf(items, place.lines).of : [place.own];
  let y = layout.box.y - place.above;
  for (const [i, item] of items.entries()) {
    const keepNext = place.keepNext || i < items.length - 1;
    const at: Place = { ...place, above: Math.max(0, item.box.y - y), keepNext, own: given[i]! };
    y = item.box.y + item.box.height;
    if (isRow(item, place.depth, tables)) addRow(item, at, tables, { room: 0, below: 0, x });
    else {
      tables.end();
      nodes.push(...nodesOf(item, at, x, width));
    }
  }
  tables.end();
  return nodes;
};

const paragraph = (part: ContentPart, place: Place, x: number, width: number, isBare: boolean): ParagraphNode => {
  const text = textOf(part);
  const fill = isBare ? undefined : (text?.background ?? fillBehind(part, place.fills));
  return {
    kind: 'paragraph',
    part,
    left: Math.max(0, part.x - x + (text?.padding.left ?? 0)),
    right: Math.max(0, x + width - part.x - part.width + (text?.padding.right ?? 0)),
    before: place.above,
    ...(fill ? { fill } : {}),
    edges: isBare ? {} : { ...edgesFor(part, place.own), ...text?.border },
    keepNext: place.keepNext,
  };
};

/** A block by itself as nodes, as that of the top of pages. `width`: of what it stands in, in points. */
export const nodesOfBlock = (block: ContentBlock, width: number): DocumentNode[] => {
  const builder = new DocumentBuilder();
  const margins = { top: 0, right: 0, bottom: 0, left: 0 };
  builder.take({ kind: 'section', width, height: 0, margins, header: null, footer: null });
  return [...builder.take(block), ...builder.end()];
};

/** What the top or the bottom of the first page shows. */
export const nodesOfBand = (section: ContentSection, band: 'header' | 'footer'): DocumentNode[] => {
  const block = section.first?.[band] ?? section[band];
  const { width, margins } = section;
  return block ? nodesOfBlock(block, width - margins.left - margins.right) : [];
};

/** Goes through a report as nodes; `put` is waited for. */
export const throughNodes = async (
  content: (listener: ContentListener) => Promise<void>,
  put: (nodes: readonly DocumentNode[]) => Promise<void>,
): Promise<void> => {
  const builder = new DocumentBuilder();
  await content((event) => put(builder.take(event)));
  await put(builder.end());
};
