import type { LinkMark, Mark, Page, RegionMark, SlotMark } from '@gaveta/core/internal';
import { Columns, isCaptions, type PlacedCell } from './columns.ts';
import { type Group, groupsOf, isDrawn, lateWords, linksOver, slotOf } from './groups.ts';
import { type Line, Lines } from './lines.ts';
import { Scope } from './scope.ts';
import { fitted, type Shape, type ShapeCell, shapeOf } from './shapes.ts';
import {
  cellAttributes,
  type ElementType,
  figureAttributes,
  type Held,
  type OpenElement,
  type StructureTree,
  type TaggedPage,
} from './tree.ts';

/** How each of some marks is tagged: by the number of its marked content; `null` is decoration, and nothing is drawn of the rest. */
export interface MarkTags {
  of: readonly (number | null | undefined)[];
  /** Types by those numbers. */
  types: readonly ElementType[];
  /** Places of texts that a space ends, since the next one on their line is another. */
  spaced: ReadonlySet<number>;
}

/** The object of a link on the page, and its key in the tree of parents. */
export interface LinkObject {
  id: number;
  key: number;
}

/** Words that come when the last page is known. */
interface Awaited {
  mark: SlotMark;
  id: number;
  parent: number;
  type: ElementType;
  /** Object of the link around them. */
  link: LinkObject | null;
}

/** A table while rows may still come. */
interface OpenTable {
  scope: Scope;
  /** Rows of captions that wait for a first row below them. */
  waiting: { cells: readonly (readonly Group[])[]; around: Around }[];
  /** Once that has come. */
  begun: { columns: Columns; element: OpenElement } | null;
}

/** Everything that is drawn as decoration. */
const drawn = (marks: readonly Mark[]): (number | null | undefined)[] =>
  marks.map((mark) => (mark.kind === 'text' || isDrawn(mark) ? null : undefined));

/** One page while it is tagged. */
class PageTags implements TaggedPage {
  readonly parents: number[] = [];
  readonly of: (number | null | undefined)[];
  readonly types: ElementType[] = [];
  readonly spaced = new Set<number>();
  readonly awaited: Awaited[] = [];
  /** Links that stand in the tree. */
  readonly linked = new Set<number>();

  constructor(
    readonly id: number,
    readonly key: number,
    readonly height: number,
    readonly marks: readonly Mark[],
    readonly links: ReadonlyMap<number, LinkObject>,
    readonly linkMarks: readonly { mark: LinkMark; at: number }[],
  ) {
    this.of = drawn(marks);
  }

  /** Numbers of marked content for marks, which lie beside one another among all or apart. */
  hold(marks: readonly number[], type: ElementType): number[] {
    const numbers: number[] = [];
    let last = -1;
    for (const at of marks) {
      if (!this.follows(last, at)) numbers.push(this.types.push(type) - 1);
      this.of[at] = this.types.length - 1;
      last = at;
    }
    return numbers;
  }

  private follows(before: number, at: number): boolean {
    if (before < 0 || at < before) return false;
    for (let i = at - 1; i > before; i--) if (this.of[i] !== undefined) return false;
    return true;
  }
}

/** Says of the marks of pages what they are, as a tree that is read aloud in its order. */
export class Tagger {
  private readonly lines = new Lines();
  /** Of bands, by their names. */
  private readonly shapes = new Map<string, Shape<OpenTable['begun']>>();
  /** What the band whose turn it is is tagged as; null once it is more than cells or paragraphs. */
  private told: Told[] | null = null;
  private table: OpenTable | null = null;
  private contents: OpenElement | null = null;
  private list: { element: OpenElement; item: string } | null = null;
  /** Level of the last heading, and of the last one in the outline. */
  private level = 0;
  private outlined = 0;
  /** By page number. */
  private readonly waiting = new Map<number, PageTags>();

  constructor(private readonly tree: StructureTree) {}

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
    this.unlinked(page);
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
    this.endContents();
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
    this.told = [];
    const links = page.linkMarks.filter(({ at }) => at >= from && at < to);
    const over = linksOver(page.marks, from, to, links);
    const around: Around = { page, region, groups, over };
    const lines = this.lines.of(groups, region?.band ?? '', region?.y ?? groups[0]!.y);
    for (const line of lines) this.line(line, around);
    this.endList();
    if (region) this.remember(page, from, to, region);
  }

  /** Tags a band as the one before it of its kind, where it has the same texts. */
  private likeBefore(page: PageTags, from: number, to: number, region: RegionMark): boolean {
    const shape = this.shapes.get(region.band);
    if (!shape || this.contents || (this.table?.begun ?? null) !== shape.table) return false;
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
    const { told } = this;
    const table = this.table?.begun ?? null;
    this.told = null;
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
    if (line.kind === 'row' && read.every((group) => isPlainWords(group, around))) this.sentence(read, around);
    else this.flow(read, this.tree.top, around);
  }

  /** Texts of one line, which are read as one paragraph. */
  private sentence(groups: readonly Group[], { page }: Around): void {
    this.endList();
    this.endContents();
    for (const { marks } of groups.slice(0, -1)) page.spaced.add(marks.at(-1)!);
    const marks = groups.flatMap((group) => group.marks);
    this.told?.push({ type: 'P', attributes: '', start: 0, span: 1, isCell: false, marks });
    this.tree.leaf('P', this.tree.top, page, page.hold(marks, 'P'));
  }

  private captions(cells: readonly (readonly Group[])[], around: Around): void {
    this.told = null;
    this.endList();
    this.endContents();
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
        if (areCaptions || this.told?.some(({ isCell }) => isCell)) this.told = null;
        for (const { groups, start, span } of cells) {
          for (; column < start; column++) this.tree.leaf('TD', row, around.page, []);
          const heads = groups.every(({ as }) => as === 'header') ? (areCaptions ? 'Column' : 'Row') : null;
          const type = heads ? 'TH' : 'TD';
          const attributes = cellAttributes(span, heads);
          const [only] = groups;
          const isPlain = groups.length === 1 && only!.as !== 'heading' && isPlainText(only!, around);
          if (isPlain) {
            this.told?.push({ type, attributes, start, span, isCell: true, marks: only!.marks });
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
    this.told = null;
    const cell = this.tree.begin(type, row, attributes);
    this.flow(groups, cell, around);
    this.endList();
    this.tree.end(cell);
  }

  /** Ends the table that is open; captions that nothing followed are words. */
  private endTable(): void {
    const { table } = this;
    this.table = null;
    if (table?.begun) this.tree.end(table.begun.element);
    // What the band is that ends it says nothing of others of its kind.
    if (table) this.told = null;
    for (const { cells, around } of table?.waiting ?? []) this.flow(cells.flat(), this.tree.top, around);
  }

  private endList(): void {
    if (this.list) this.tree.end(this.list.element);
    this.list = null;
  }

  private endContents(): void {
    if (this.contents) this.tree.end(this.contents);
    this.contents = null;
  }

  /** Groups below one another. */
  private flow(groups: readonly Group[], parent: OpenElement, around: Around): void {
    const { told } = this;
    for (const group of groups)
      if (isPlainWords(group, around))
        told?.push({ type: 'P', attributes: '', start: 0, span: 1, isCell: false, marks: group.marks });
      else this.told = null;
    for (const [i, group] of groups.entries()) {
      const isListed = group.as === 'item' || group.as === 'label';
      if (!isListed || (this.list && this.list.item !== group.item)) this.endList();
      if (group.as !== 'entry' && parent === this.tree.top) this.endContents();
      if (group.kind === 'figure') this.figure(group, parent, around);
      else if (isListed) this.listed(group, groups[i - 1], parent, around);
      else if (group.as === 'entry' && parent === this.tree.top) this.entry(group, around);
      else this.text(group.as === 'heading' ? this.headingType(group) : 'P', group, parent, around);
    }
  }

  private headingType({ level }: Group): ElementType {
    const wanted = level && 'outline' in level ? level.outline : this.outlined + (level?.below ?? 1);
    const given = Math.max(1, Math.min(wanted, this.level + 1, 6)) as 1 | 2 | 3 | 4 | 5 | 6;
    this.level = given;
    if (level && 'outline' in level) this.outlined = given;
    return `H${given}`;
  }

  private listed(group: Group, before: Group | undefined, parent: OpenElement, around: Around): void {
    // Its label brought it along.
    if (group.as === 'item' && before?.as === 'label' && before.item === group.item) return;
    this.list ??= { element: this.tree.begin('L', parent), item: group.item };
    const item = this.tree.begin('LI', this.list.element);
    const body = group.as === 'label' ? this.after(group, around) : group;
    if (group.as === 'label') this.text('Lbl', group, item, around);
    if (body) this.text('LBody', body, item, around);
    this.tree.end(item);
  }

  /** The item that a label counts. */
  private after(label: Group, { groups }: Around): Group | undefined {
    return groups.find(({ as, item, part }) => as === 'item' && item === label.item && part === (label.part ?? 0) - 1);
  }

  private entry(group: Group, around: Around): void {
    this.contents ??= this.tree.begin('TOC', this.tree.top);
    const entry = this.tree.begin('TOCI', this.contents);
    this.text('Reference', group, entry, around);
    this.tree.end(entry);
  }

  private figure(group: Group, parent: OpenElement, around: Around): void {
    const { x, y, width, height, alternative } = group;
    const { page, over } = around;
    const box = [x, page.height - y - height, x + width, page.height - y] as const;
    const attributes = figureAttributes(alternative, box);
    this.tree.leaf('Figure', parent, page, page.hold(group.marks, 'Figure'), attributes);
    for (const at of group.marks) {
      const link = over.get(at);
      if (link !== undefined && !page.linked.has(link)) this.link(link, [], parent, around);
    }
  }

  private text(type: ElementType, group: Group, parent: OpenElement, around: Around): void {
    const { page, over } = around;
    if (group.isLate) {
      this.await(type, group, parent, around);
      return;
    }
    if (isPlainText(group, around)) {
      this.tree.leaf(type, parent, page, page.hold(group.marks, type));
      return;
    }
    const element = this.tree.begin(type, parent);
    for (let from = 0; from < group.marks.length; ) {
      const link = over.get(group.marks[from]!);
      let to = from + 1;
      while (to < group.marks.length && over.get(group.marks[to]!) === link) to++;
      const marks = group.marks.slice(from, to);
      if (link === undefined) this.tree.leaf('Span', element, page, page.hold(marks, 'Span'));
      else this.link(link, marks, element, around);
      from = to;
    }
    this.tree.end(element);
  }

  private link(at: number, marks: readonly number[], parent: OpenElement, { page }: Pick<Around, 'page'>): void {
    const { id, key } = page.links.get(at)!;
    const held: Held[] = page.hold(marks, 'Link');
    const isFirst = !page.linked.has(at);
    page.linked.add(at);
    const element = this.tree.leaf('Link', parent, page, isFirst ? [...held, { link: id }] : held);
    if (isFirst) this.tree.linkIn(key, element);
  }

  /** Keeps the place of words that come when the last page is known. */
  private await(type: ElementType, group: Group, parent: OpenElement, { page }: Around): void {
    const middle = group.y + group.height / 2;
    const around = page.linkMarks.find(
      ({ mark, at }) =>
        mark.item === group.item && mark.y <= middle && mark.y + mark.height >= middle && !page.linked.has(at),
    );
    const inner = around ? this.tree.begin(type, parent) : parent;
    const slot: SlotMark = { kind: 'slot', item: group.item, x: group.x, y: group.y, width: 0, height: group.height };
    page.awaited.push({
      mark: slot,
      id: this.tree.later(inner),
      parent: inner.id,
      type: around ? 'Link' : type,
      link: around ? page.links.get(around.at)! : null,
    });
    if (around) {
      page.linked.add(around.at);
      this.tree.end(inner);
    }
  }

  /** Links that no words stand in. */
  private unlinked(page: PageTags): void {
    for (const { at } of page.linkMarks) {
      if (page.linked.has(at)) continue;
      const paragraph = this.tree.begin('P', this.tree.top);
      this.link(at, [], paragraph, { page });
      this.tree.end(paragraph);
    }
  }
}

/** A cell or paragraph that was tagged, with its marks. */
interface Told extends ShapeCell {
  isCell: boolean;
  marks: readonly number[];
}

/** Whether a group is words that are there, without a link. */
const isPlainText = ({ kind, isLate, marks }: Group, { over }: Pick<Around, 'over'>): boolean =>
  kind === 'text' && !isLate && (over.size === 0 || !marks.some((at) => over.has(at)));

/** The same of words that are nothing of their own, as a heading or an item of a list is. */
const isPlainWords = (group: Group, around: Pick<Around, 'over'>): boolean =>
  (group.as === undefined || group.as === 'header') && isPlainText(group, around);

const NONE: ReadonlySet<number> = new Set();

/** What a line stands among. */
interface Around {
  page: PageTags;
  /** The band that it is of; null where none is known. */
  region: RegionMark | null;
  groups: readonly Group[];
  /** Links by the marks that stand in them. */
  over: ReadonlyMap<number, number>;
}
