import type { Mark, Page, RegionMark, TextMark } from '@gaveta/core/internal';
import { Columns, isCaptions, type PlacedCell } from '../pdf/structure/columns.ts';
import { type Group, groupsOf, lateWords } from '../pdf/structure/groups.ts';
import { type Line, Lines } from '../pdf/structure/lines.ts';
import { Scope } from '../pdf/structure/scope.ts';

/** A row of a table on a slide. */
export interface SlideRow {
  cells: PlacedCell[];
  y: number;
  bottom: number;
  isHeader: boolean;
}

export interface SlideTable {
  columns: Columns;
  rows: SlideRow[];
}

/** What a page says: rows that are tables, and the rest of its texts one by one. */
export interface SlideWords {
  tables: SlideTable[];
  texts: Group[];
}

/** Rows that stand further apart than this many of their heights are no table. */
const FAR = 3;

const rowOf = (cells: PlacedCell[], isHeader: boolean): SlideRow => {
  const groups = cells.flatMap((cell) => cell.groups);
  const y = Math.min(...groups.map((group) => group.y));
  return { cells, y, bottom: Math.max(...groups.map((group) => group.y + group.height)), isHeader };
};

/** Finds the tables of pages, each on its page. */
export class SlideTables {
  private readonly lines = new Lines();
  private table: SlideTable | null = null;
  private waiting: (readonly Group[])[][] = [];
  /** Of the captions that were last. */
  private scope: Scope | null = null;
  private found: SlideWords = { tables: [], texts: [] };

  constructor(private readonly isWanted: boolean) {}

  of({ marks }: Page): SlideWords {
    this.found = { tables: [], texts: [] };
    const late = lateWords(marks);
    let from = 0;
    for (let at = 0; at <= marks.length; at++) {
      const mark = marks[at];
      if (mark && mark.kind !== 'region') continue;
      this.block(marks, from, at, late);
      from = at + 1;
    }
    this.end();
    return this.found;
  }

  private block(marks: readonly Mark[], from: number, to: number, late: ReadonlyMap<number, number>): void {
    const groups = groupsOf(asContent(marks), from, to, late).filter(({ kind }) => kind === 'text');
    if (groups.length === 0) return;
    const last = marks[to];
    const region = last?.kind === 'region' ? last : null;
    for (const line of this.lines.of(groups, region?.band ?? '', groups[0]!.y)) this.line(line, groups, region);
  }

  private line(line: Line, groups: readonly Group[], region: RegionMark | null): void {
    const cells = line.kind === 'row' ? line.cells.map((cell) => cell.map((at) => groups[at]!)) : null;
    if (!cells || !this.isWanted) {
      this.end();
      const order = line.kind === 'row' ? line.cells.flat() : line.groups;
      this.found.texts.push(...order.map((at) => groups[at]!));
    } else if (isCaptions(line, groups)) {
      if (this.table) this.end();
      this.scope = Scope.of(cells[0]![0]!, region);
      this.waiting.push(cells);
    } else if (!this.scope?.holds(cells[0]![0]!, region) || !this.goesOn(cells)) {
      this.end();
      this.found.texts.push(...cells.flat());
    }
  }

  private goesOn(cells: (readonly Group[])[]): boolean {
    if (this.waiting.length > 0) {
      const begun = Columns.of(this.waiting, cells);
      if (!begun) return false;
      const heads = begun.heads.map((row) => rowOf(row, true));
      this.waiting = [];
      this.table = { columns: begun.columns, rows: [...heads, rowOf(begun.first, false)] };
      return true;
    }
    const placed = this.table?.columns.place(cells);
    if (!this.table || !placed) return false;
    const row = rowOf(placed, false);
    const last = this.table.rows.at(-1)!;
    if (row.y - last.bottom > FAR * (row.bottom - row.y) || row.y < last.y) return false;
    this.table.rows.push(row);
    return true;
  }

  private end(): void {
    if (this.table) this.found.tables.push(this.table);
    for (const row of this.waiting.splice(0)) this.found.texts.push(...row.flat());
    this.table = null;
  }
}

/** What stands at the top of each page, or again, is a text of its slide like any other. */
const asContent = (marks: readonly Mark[]): Mark[] =>
  marks.map((mark) => {
    if (mark.kind !== 'text' || mark.as !== 'artifact') return mark;
    const { as: _, ...rest } = mark;
    return rest;
  });

/** The texts of a group. */
export const textsOf = (group: Group, marks: readonly Mark[]): TextMark[] =>
  group.marks.flatMap((at) => {
    const mark = marks[at]!;
    return mark.kind === 'text' ? [mark] : [];
  });
