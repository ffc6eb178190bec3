import type { ContentLine, LinkTarget, PieceEdge, PieceSide, PieceSum, PieceTotal, Value } from '@gaveta/core/internal';
import type { CellLook } from './cell-look.ts';
import {
  NEAR,
  type SheetHeading,
  type WaitingBlock,
  type WaitingEvent,
  type WaitingSheet,
  type WaitingText,
} from './collect.ts';
import { type RowSum, rowSum } from './sums.ts';
import { type RangeTotal, SheetTotals } from './totals.ts';
import { fromWaiting } from './wire.ts';

/** Tops of texts that are taken for one row. */
const NEAR_TOP = 4.5;
/** How far a line may be from the edge of a row that it belongs to. */
const NEAR_LINE = 5;
/** Between a text at the right of its cell and one at the left of the next. */
const LEAST_INDENT = 7;
/** Highest that a row can be (the programs that read it take no more than 409). */
const TALLEST = 400;
/** Free room above a row from which on it is a row of its own. */
const LEAST_GAP = 8;

/** A cell of a sheet. Rows and columns from 0. */
export interface SheetCell {
  column: number;
  /** Columns and rows that it covers. */
  span: number;
  rows: number;
  look: CellLook;
  /** It heads a column or a row. */
  isHeader: boolean;
  /** The same for cells that look the same. */
  lookKey: string;
  /** What it says, in several looks with the place of each. */
  words: WaitingText['t'];
  /** Null where it is nothing but its words. */
  value: Value;
  /** What a program that calculates works out to the same value. */
  formula: RangeTotal | RowSum | null;
  /** Where its text stands on paper, in points. */
  x?: number;
  width?: number;
  /** Tells from which formula its value comes, and the total that it is. */
  source?: string | undefined;
  total?: PieceTotal | undefined;
  sum?: PieceSum | undefined;
  to?: LinkTarget;
  anchor?: string;
}

export interface SheetRow {
  number: number;
  /** Points. */
  height: number;
  /** Under how many headings it lies. */
  level: number;
  /** Folded away with what it lies under. */
  isHidden: boolean;
  /** What lies under it is folded away. */
  isCollapsed: boolean;
  /** It heads the columns below it. */
  isHeader: boolean;
  /** A printed page begins with it. */
  breaks: boolean;
  cells: SheetCell[];
  /** Colours and edges of cells that hold nothing, by column. */
  bare: Map<number, Pick<CellLook, 'fill' | 'edges'>>;
}

/** A picture on a sheet: from a corner, in points from the cell’s own. */
export interface SheetPicture {
  part: number;
  column: number;
  row: number;
  dx: number;
  dy: number;
  /** From the top of the sheet. */
  top: number;
  width: number;
  height: number;
}

interface Laid {
  top: number;
  bottom: number;
  cells: SheetCell[];
  taken: Set<number>;
}

/** Puts what waits on a sheet into its rows and columns. */
export class SheetRows {
  readonly columns: number[];
  readonly pictures: SheetPicture[] = [];
  private readonly totals: SheetTotals;
  private count = 0;
  /** Height of all rows so far, and the tops of those of the block that is being laid. Points. */
  private bottom = 0;
  private readonly tops = new Map<number, number>();
  /** A printed page begins with the next row. */
  private isBreaking = false;
  /** Free room since the last row, in points. */
  private gap = 0;
  /** Depth of what is folded away; null when nothing is. */
  private folded: number | null = null;

  /** `withFormulas`: totals become formulas where they come to the same. */
  constructor(
    private readonly sheet: WaitingSheet,
    private readonly document: { looks: readonly CellLook[]; headings: readonly SheetHeading[] },
    withFormulas: boolean,
  ) {
    this.columns = sheet.columns();
    this.totals = new SheetTotals(withFormulas);
  }

  async *rows(): AsyncGenerator<SheetRow> {
    for await (const row of this.laid()) {
      this.tops.set(row.number, this.bottom);
      this.bottom += row.height;
      yield row;
    }
  }

  private async *laid(): AsyncGenerator<SheetRow> {
    for await (const event of this.sheet.events()) {
      switch (event.kind) {
        case 'begins':
          this.totals.begins(this.count);
          break;
        case 'ends':
          this.totals.ends();
          break;
        case 'break':
          this.isBreaking = this.count > 0;
          break;
        case 'contents':
          yield* this.contents(event);
          break;
        case 'block':
          yield* this.block(event);
          break;
        default:
          event satisfies never;
      }
    }
  }

  private *contents({ levels, x }: Extract<WaitingEvent, { kind: 'contents' }>): Generator<SheetRow> {
    const { looks, headings } = this.document;
    const font = looks.find(({ font: own }) => !own.bold && own.size <= 11)?.font ?? looks[0]?.font;
    if (!font) return;
    this.gap = 0;
    for (const { level, title, anchor } of headings) {
      if (level > levels) continue;
      const look: CellLook = {
        font: { ...font, bold: level === 1 },
        align: 'left',
        stands: 'middle',
        wraps: false,
        turn: 0,
        indent: (level - 1) * 12,
        format: '',
        type: 'text',
        edges: {},
      };
      const column = this.columnAt(x);
      const cell = {
        column,
        span: 1,
        rows: 1,
        look,
        isHeader: false,
        lookKey: `contents ${level}`,
        words: title,
        value: null,
        formula: null,
        to: { anchor },
      };
      const facts = this.facts({ depth: 0 });
      yield { ...facts, height: 16, isCollapsed: false, isHeader: false, cells: [cell], bare: new Map() };
    }
  }

  private columnAt(x: number): number {
    const { columns } = this;
    let [low, high] = [0, columns.length - 2];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (columns[middle]! <= x + NEAR) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** Past the last column that reaches to `x`. */
  private endAt(x: number): number {
    const { columns } = this;
    let end = this.columnAt(x);
    if (columns[end]! < x - NEAR) end++;
    return Math.min(columns.length - 1, end);
  }

  private *block(block: WaitingBlock): Generator<SheetRow> {
    if (this.folded !== null && block.depth <= this.folded) this.folded = null;
    const { texts, pictures, height } = block;
    if (texts.length === 0 && pictures.length === 0 && block.fills.length === 0 && block.lines.length === 0) {
      this.gap += height;
      return;
    }
    const laid = this.lay(block);
    this.tops.clear();
    let y = 0;
    const begun = this.count;
    for (const [i, row] of laid.entries()) {
      this.gap += Math.max(0, row.top - y);
      y = row.bottom;
      let high = row.bottom - row.top;
      if (this.gap >= LEAST_GAP) yield* this.empty(block, this.gap);
      else high += this.gap;
      this.gap = 0;
      yield this.row(block, row, Math.min(TALLEST, high), i === 0);
      if (high > TALLEST) yield* this.empty(block, high - TALLEST);
    }
    this.gap += Math.max(0, height - y);
    for (const { x, y: top, w, h, part } of pictures) this.picture(part, x, top, w, h, laid, begun);
    if (block.isCollapsed) this.folded ??= block.depth;
  }

  private picture(
    part: number,
    x: number,
    y: number,
    width: number,
    height: number,
    laid: readonly Laid[],
    begun: number,
  ): void {
    const column = this.columnAt(x);
    const own = Math.max(
      0,
      laid.findLastIndex(({ top }) => top <= y + 0.5),
    );
    // Rows that only keep free room count as well.
    const spare = this.count - begun - laid.length;
    const row = begun + spare + own;
    const dy = Math.max(0, y - (laid[own]?.top ?? 0));
    const top = (this.tops.get(row) ?? this.bottom) + dy;
    this.pictures.push({ part, column, row, dx: Math.max(0, x - this.columns[column]!), dy, top, width, height });
  }

  private *empty(block: WaitingBlock, height: number): Generator<SheetRow> {
    for (let rest = height; rest > 0; rest -= TALLEST)
      yield {
        ...this.facts(block),
        height: Math.min(TALLEST, rest),
        isCollapsed: false,
        isHeader: false,
        cells: [],
        bare: new Map(),
      };
  }

  private facts({ depth }: Pick<WaitingBlock, 'depth'>): Pick<SheetRow, 'number' | 'level' | 'isHidden' | 'breaks'> {
    const { isBreaking: breaks } = this;
    this.isBreaking = false;
    return { number: this.count++, level: depth, isHidden: this.folded !== null, breaks };
  }

  /** Finds the rows of a block, and the cells of each. */
  private lay({ texts, pictures, height }: WaitingBlock): Laid[] {
    const tops: number[] = [];
    for (const { y } of [...texts, ...pictures].sort((a, b) => a.y - b.y))
      if (tops.length === 0 || y - tops.at(-1)! > NEAR_TOP) tops.push(y);
    if (tops.length === 0) tops.push(0);
    // Below its texts a block has free room, which pictures may stand in.
    const lowest = Math.max(0, ...texts.map(({ y, h }) => y + h));
    const bottom = Math.max(tops.at(-1)! + 1, Math.min(height, lowest) || height);
    const laid = tops.map((top, i): Laid => ({ top, bottom: tops[i + 1] ?? bottom, cells: [], taken: new Set() }));
    const sorted = [...texts].sort((a, b) => a.x - b.x);
    for (const text of sorted) {
      let at = Math.max(
        0,
        laid.findLastIndex(({ top }) => top <= text.y + NEAR_TOP / 2),
      );
      const column = this.columnAt(text.x);
      // What stands in the same place goes below.
      while (laid[at]?.taken.has(column)) at++;
      if (!laid[at])
        laid.push({ top: laid.at(-1)!.bottom, bottom: laid.at(-1)!.bottom + text.h, cells: [], taken: new Set() });
      const row = laid[at]!;
      row.taken.add(column);
      const under = laid.slice(at).findIndex(({ top }) => top >= text.y + text.h - NEAR_TOP);
      const covered = Math.max(1, under < 0 ? laid.length - at : under);
      row.cells.push(this.cell(text, column, covered));
    }
    for (const row of laid) this.fit(row, laid);
    return laid;
  }

  private cell({ x, w, k, t, v, s, o, f, l, a, h, c }: WaitingText, column: number, rows: number): SheetCell {
    const look = this.document.looks[k]!;
    const isLong = look.wraps && h > look.font.size * 2.2 && rows === 1;
    return {
      column,
      x,
      width: w,
      span: Math.max(1, this.endAt(x + w) - column),
      rows,
      look: { ...look, wraps: isLong || (look.wraps && rows > 1) },
      isHeader: c ?? false,
      lookKey: String(k),
      words: t,
      value: v ? fromWaiting(v) : null,
      formula: null,
      source: s,
      total: o,
      sum: f,
      ...(l ? { to: l } : {}),
      ...(a === undefined ? {} : { anchor: a }),
    };
  }

  /** Cells end where the next one begins, and cover no more rows than are free below them. */
  private fit(row: Laid, laid: readonly Laid[]): void {
    const { cells } = row;
    for (const [i, cell] of cells.entries()) {
      const next = cells[i + 1];
      if (next) cell.span = Math.max(1, Math.min(cell.span, next.column - cell.column));
      const from = laid.indexOf(row);
      for (let at = 1; at < cell.rows; at++) {
        const below = laid[from + at];
        const isFree =
          below &&
          !below.cells.some(({ column, span }) => column < cell.column + cell.span && column + span > cell.column);
        if (!isFree) cell.rows = at;
      }
      // Text that fits goes on over empty cells; numbers do not.
      const needs =
        cell.look.align !== 'left' ||
        cell.look.wraps ||
        cell.look.fill !== undefined ||
        (typeof cell.value !== 'string' && cell.value !== null);
      const isFramed = Object.keys(cell.look.edges).length > 0;
      if (!needs && !isFramed && cell.rows === 1) cell.span = 1;
      cell.look.indent = this.indentOf(cell);
      const before = cells[i - 1];
      const touches = before && before.look.align === 'right' && before.column + before.span === cell.column;
      if (touches && cell.look.align === 'left') cell.look.indent = Math.max(cell.look.indent, LEAST_INDENT);
    }
  }

  /** How far a text is from the edge of its cell that it stands at, in points. */
  private indentOf({ x = 0, width = 0, column, span, look }: SheetCell): number {
    const left = this.columns[column]!;
    const right = this.columns[column + span]!;
    const room = look.align === 'right' ? right - x - width : x - left;
    const indent = Math.max(0, room) + look.indent;
    return indent > 3 ? Math.round(indent) : 0;
  }

  private row(block: WaitingBlock, laid: Laid, height: number, isFirst: boolean): SheetRow {
    const facts = this.facts(block);
    const { cells } = laid;
    const bare: SheetRow['bare'] = new Map();
    this.paint(block, laid, bare);
    for (const cell of cells) {
      const own = bare.get(cell.column);
      if (own)
        cell.look = {
          ...cell.look,
          ...(own.fill && !cell.look.fill ? { fill: own.fill } : {}),
          edges: { ...own.edges, ...cell.look.edges },
        };
      bare.delete(cell.column);
    }
    for (const cell of cells) {
      const { indent, wraps, fill = '', edges } = cell.look;
      const drawn = Object.keys(edges).length > 0 ? JSON.stringify(edges) : '';
      cell.lookKey = `${cell.lookKey} ${indent} ${wraps} ${fill} ${drawn}`;
      cell.formula = this.totals.cell(facts.number, cell.column, cell.value, cell.source, cell.total);
    }
    if (this.totals.isWanted)
      for (const cell of cells) if (cell.sum && !cell.formula) cell.formula = rowSum(cell.sum, cell, cells);
    return {
      ...facts,
      height: Math.max(1, height),
      isCollapsed: isFirst && block.isCollapsed,
      isHeader: cells.length > 1 && cells.every((cell) => cell.isHeader),
      cells,
      bare,
    };
  }

  /** Colours behind the cells of a row, and lines along its edges. */
  private paint({ fills, lines }: WaitingBlock, { top, bottom }: Laid, bare: SheetRow['bare']): void {
    const middle = (top + bottom) / 2;
    const each = (from: number, to: number, work: (column: number) => void): void => {
      for (let column = this.columnAt(from); column < this.columns.length - 1; column++) {
        const centre = (this.columns[column]! + this.columns[column + 1]!) / 2;
        if (centre > to) break;
        if (centre >= from) work(column);
      }
    };
    const edged = (column: number, side: PieceSide, edge: PieceEdge): void => {
      const own = bare.get(column);
      bare.set(column, { ...own, edges: { ...own?.edges, [side]: edge } });
    };
    for (const { x, y, width, height, fill, edge } of fills) {
      if (y > middle || y + height < middle) continue;
      if (fill)
        each(x, x + width, (column) =>
          bare.set(column, { ...bare.get(column), fill, edges: bare.get(column)?.edges ?? {} }),
        );
      if (!edge) continue;
      if (Math.abs(y - top) < NEAR_LINE) each(x, x + width, (column) => edged(column, 'top', edge));
      if (Math.abs(y + height - bottom) < NEAR_LINE) each(x, x + width, (column) => edged(column, 'bottom', edge));
    }
    for (const line of lines) {
      const { y, y2 } = line;
      if (Math.abs(y - y2) > 0.5) continue;
      const side = sideOf(line, top, bottom);
      const edge = { width: line.width, color: line.color, isDashed: line.isDashed };
      if (side) each(Math.min(line.x, line.x2), Math.max(line.x, line.x2), (column) => edged(column, side, edge));
    }
  }
}

/** At which edge of a row a line across stands: of two rows it belongs to the one above. */
const sideOf = ({ y }: ContentLine, top: number, bottom: number): 'top' | 'bottom' | null => {
  if (y > top + 0.5 && y <= bottom + NEAR_LINE && y > bottom - NEAR_LINE) return 'bottom';
  return y <= top + 0.5 && y > top - NEAR_LINE && top < NEAR_LINE * 2 ? 'top' : null;
};
