import type { LinkMark, Mark, Page, RegionMark } from '@gaveta/core/internal';
import { Columns, isCaptions, type PlacedCell } from './columns.ts';
import { type Group, groupsOf, lateWords, linksOver, slotOf } from './groups.ts';
import { type Line, Lines } from './lines.ts';
import {
  type Around,
  type Awaited,
  drawn,
  isPlainText,
  isPlainWords,
  type LinkObject,
  type MarkTags,
  PageTags,
} from './page-tags.ts';
import { Reading } from './reading.ts';
import { Scope } from './scope.ts';
import { fitted, type Shape, shapeOf } from './shapes.ts';
import { cellAttributes, type OpenElement, type StructureTree } from './tree.ts';

/** A table while rows may still come. */
interface OpenTable {
  scope: Scope;
  /** Rows of captions that wait for a first row below them. */
  waiting: { cells: readonly (readonly Group[])[]; around: Around }[];
  /** Once that has come. */
  begun: { columns: Columns; element: OpenElement } | null;
}

/** Says of the marks of pages what they are, as a tree that is read aloud in its order. */
export class Tagger {
  private readonly lines = new Lines();
  /** Of bands, by their names. */
  private readonly shapes = new Map<string, Shape<OpenTable['begun']>>();
  private table: OpenTable | null = null;
  /** By page number. */
  private readonly waiting = new Map<number, PageTags>();

  private readonly reading: Reading;

  constructor(private readonly tree: StructureTree) {
    this.reading = new Reading(tree);
  }

  /** `id`: of the page’s object; `links`: by the places of their marks. */
  page(
    { number, marks, height, late }: Page,
    id: number,
    key: number,
    links: ReadonlyMap<number, LinkObject>,
  ): MarkTags {
    const linkMarks = [...links.keys()].map((at) => ({ mark: marks[at] as LinkMark, at }));
    const page = new PageTags(id, key, height, marks, links, linkMarks);
    const words = lateWords(marks);
    let from = 0;
    for (let at = 0; at < marks.length; at++) {
      const mark = marks[at]!;
      if (mark.kind !== 'region') continue;
      this.block(page, from, at, mark, words);
      from = at + 1;
    }
    this.block(page, from, marks.length, null, words);
    // Captions without a row below them on their page are words.
    if (this.table && !this.table.begun) this.endTable();
    this.reading.unlinked(page);
    if (late && page.awaited.length > 0) this.waiting.set(number, page);
    else this.done(page, new Map());
    return page;
  }

  /** Words of a page that came when the last one was known. */
  late(number: number, marks: readonly Mark[]): MarkTags {
    const page = this.waiting.get(number);
    const of = drawn(marks);
    const types = page?.types ?? [];
    if (!page) return { of, types, spaced: NONE };
    this.waiting.delete(number);
    const held = new Map<Awaited, number[]>();
    for (const [at, mark] of marks.entries()) {
      const slot = slotOf(mark, page.awaited);
      if (!slot) continue;
      const numbers = held.get(slot) ?? [];
      if (!numbers.includes(of[at - 1] ?? -1)) numbers.push(types.push(slot.type) - 1);
      of[at] = types.length - 1;
      held.set(slot, numbers);
    }
    this.done(page, held);
    return { of, types, spaced: NONE };
  }

  /** Nothing comes on a page any more. */
  private done(page: PageTags, words: ReadonlyMap<Awaited, readonly number[]>): void {
    for (const slot of page.awaited) {
      const { id, type, parent, link } = slot;
      const numbers = words.get(slot) ?? [];
      if (link) this.tree.linkIn(link.key, id);
      this.tree.fill(id, type, parent, page, link ? [...numbers, { link: link.id }] : numbers);
    }
    this.tree.pageDone(page.key, page);
  }

  close(): void {
    for (const page of this.waiting.values()) this.done(page, new Map());
    this.endTable();
    this.reading.endContents();
    this.tree.close();
  }

  private block(
    page: PageTags,
    from: number,
    to: number,
    region: RegionMark | null,
    words: ReadonlyMap<number, number>,
  ): void {
    if (region && words.size === 0 && this.likeBefore(page, from, to, region)) return;
    const groups = groupsOf(page.marks, from, to, words);
    if (groups.length === 0) return;
    this.reading.told = [];
    const links = page.linkMarks.filter(({ at }) => at >= from && at < to);
    const over = linksOver(page.marks, from, to, links);
    const around: Around = { page, region, groups, over };
    const lines = this.lines.of(groups, region?.band ?? '', region?.y ?? groups[0]!.y);
    for (const line of lines) this.line(line, around);
    this.reading.endList();
    if (region) this.remember(page, from, to, region);
  }

  /** Tags a band as the one before it of its kind, where it has the same texts. */
  private likeBefore(page: PageTags, from: number, to: number, region: RegionMark): boolean {
    const shape = this.shapes.get(region.band);
    if (!shape || this.reading.hasContents || (this.table?.begun ?? null) !== shape.table) return false;
    if (this.table && !this.table.scope.holds(undefined, region)) return false;
    const marks = fitted(shape, page.marks, from, to, page.spaced);
    if (!marks) return false;
    const { table, cells } = shape;
    if (table) {
      this.tree.row(
        table.element,
        (row) => {
          let column = 0;
          for (const [i, { type, attributes, start, span }] of cells.entries()) {
            for (; column < start; column++) this.tree.leaf('TD', row, page, []);
            this.tree.leaf(type, row, page, page.hold(marks[i]!, type), attributes);
            column = start + span;
          }
          for (; column < table.columns.count; column++) this.tree.leaf('TD', row, page, []);
        },
        table.columns.count,
      );
      return true;
    }
    for (const [i, { type }] of cells.entries()) this.tree.leaf(type, this.tree.top, page, page.hold(marks[i]!, type));
    return true;
  }

  /** Keeps how a band was tagged, where it was nothing but one row of the table, or paragraphs. */
  private remember({ marks, spaced }: PageTags, from: number, to: number, { band }: RegionMark): void {
    const { told } = this.reading;
    const table = this.table?.begun ?? null;
    this.reading.told = null;
    if (!told || told.length === 0 || told.some(({ isCell }) => isCell !== (table !== null)) || (this.table && !table))
      return;
    const cellOf = (place: number): number => told.findIndex((cell) => cell.marks.includes(place));
    const shape = shapeOf(marks, from, to, told, cellOf, spaced, table);
    if (shape) this.shapes.set(band, shape);
  }

  private line(line: Line, around: Around): void {
    const { groups } = around;
    const order = line.kind === 'row' ? line.cells.flat() : line.groups;
    const isList = order.every((at) => groups[at]!.as === 'item' || groups[at]!.as === 'label');
    if (line.kind === 'row' && isCaptions(line, groups)) {
      this.captions(
        line.cells.map((cell) => cell.map((at) => groups[at]!)),
        around,
      );
      return;
    }
    if (!isList && this.inTable(line, around)) return;
    this.endTable();
    const read = order.map((at) => groups[at]!);
    if (line.kind === 'row' && read.every((group) => isPlainWords(group, around))) this.reading.sentence(read, around);
    else this.reading.flow(read, this.tree.top, around);
  }

  private captions(cells: readonly (readonly Group[])[], around: Around): void {
    this.reading.told = null;
    this.reading.endList();
    this.reading.endContents();
    const scope = Scope.of(cells[0]![0]!, around.region);
    const { table } = this;
    if (table && !table.begun && table.scope.isSame(scope)) {
      table.waiting.push({ cells, around });
      return;
    }
    this.endTable();
    this.table = { scope, waiting: [{ cells, around }], begun: null };
  }

  /** Whether a line goes on with the table that is open. */
  private inTable(line: Line, around: Around): boolean {
    const { table } = this;
    if (!table) return false;
    const { groups, region } = around;
    const cells = line.kind === 'row' ? line.cells : line.groups.map((at) => [at]);
    const first = groups[cells[0]![0]!]!;
    if (!table.scope.holds(first, region)) return false;
    if (line.kind === 'flow' && cells.length > 1) return false;
    const row = cells.map((cell) => cell.map((at) => groups[at]!));
    const placed = table.begun ? this.placed(table.begun.columns, table.scope, row) : this.begin(table, row);
    if (!placed || !table.begun) return false;
    const { element, columns } = table.begun;
    this.row(element, columns.count, placed, around);
    return true;
  }

  /** A text alone that stands under the first column heads what follows, as wide as the table. */
  private placed(columns: Columns, scope: Scope, cells: readonly (readonly Group[])[]): PlacedCell[] | null {
    const placed = columns.place(cells);
    const [only] = placed ?? [];
    if (!only || cells.length > 1 || only.start > 0 || scope.isOfItem) return placed;
    return [{ ...only, span: columns.count }];
  }

  /** Begins the element of a table with its captions; gives the cells of its first row, or null where that is none. */
  private begin(table: OpenTable, row: readonly (readonly Group[])[]): PlacedCell[] | null {
    const found = Columns.of(
      table.waiting.map(({ cells }) => cells),
      row,
    );
    if (!found) return null;
    const { columns, heads, first } = found;
    const element = this.tree.begin('Table', this.tree.top);
    table.begun = { columns, element };
    for (const [i, { around }] of table.waiting.splice(0).entries())
      this.row(element, columns.count, heads[i]!, around, true);
    return first;
  }

  private row(
    table: OpenElement,
    count: number,
    cells: readonly PlacedCell[],
    around: Around,
    areCaptions = false,
  ): void {
    this.tree.row(
      table,
      (row) => {
        let column = 0;
        if (areCaptions || this.reading.told?.some(({ isCell }) => isCell)) this.reading.told = null;
        for (const { groups, start, span } of cells) {
          for (; column < start; column++) this.tree.leaf('TD', row, around.page, []);
          const heads = groups.every(({ as }) => as === 'header') ? (areCaptions ? 'Column' : 'Row') : null;
          const type = heads ? 'TH' : 'TD';
          const attributes = cellAttributes(span, heads);
          const [only] = groups;
          const isPlain = groups.length === 1 && only!.as !== 'heading' && isPlainText(only!, around);
          if (isPlain) {
            this.reading.told?.push({ type, attributes, start, span, isCell: true, marks: only!.marks });
            this.tree.leaf(type, row, around.page, around.page.hold(only!.marks, type), attributes);
          } else this.cell(row, groups, attributes, type, around);
          column = start + span;
        }
        for (; column < count; column++) this.tree.leaf('TD', row, around.page, []);
      },
      count,
    );
  }

  private cell(
    row: OpenElement,
    groups: readonly Group[],
    attributes: string,
    type: 'TH' | 'TD',
    around: Around,
  ): void {
    this.reading.told = null;
    const cell = this.tree.begin(type, row, attributes);
    this.reading.flow(groups, cell, around);
    this.reading.endList();
    this.tree.end(cell);
  }

  /** Ends the table that is open; captions that nothing followed are words. */
  private endTable(): void {
    const { table } = this;
    this.table = null;
    if (table?.begun) this.tree.end(table.begun.element);
    // What the band is that ends it says nothing of others of its kind.
    if (table) this.reading.told = null;
    for (const { cells, around } of table?.waiting ?? []) this.reading.flow(cells.flat(), this.tree.top, around);
  }
}

const NONE: ReadonlySet<number> = new Set();
