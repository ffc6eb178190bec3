import { utf16Hex } from '../face.ts';
import type { KitDocument, KitReference } from '../kit.ts';
import { n } from '../numbers.ts';
import { type PdfObjects, Reference } from '../objects.ts';

/** Types of elements (ISO 32000-1, 14.8.4). */
export type ElementType =
  | 'Document'
  | 'P'
  | `H${1 | 2 | 3 | 4 | 5 | 6}`
  | 'L'
  | 'LI'
  | 'Lbl'
  | 'LBody'
  | 'TOC'
  | 'TOCI'
  | 'Reference'
  | 'Table'
  | 'TR'
  | 'TH'
  | 'TD'
  | 'Link'
  | 'Span'
  | 'Figure';

/** Length of an element that holds one thing of one page, besides its type. */
const LEAF = 46;
/** Length of the lines of lists, each a reference, and how many references make a list worth it. */
const LIST = 16;
const LONG_LIST = 24;

/** Entries of a leaf of the tree of parents. */
const ENTRIES = 512;

/** An element while it may still get more in it. */
export interface OpenElement {
  id: number;
  type: ElementType;
  parent: number;
  /** As entries of its dictionary. */
  attributes: string;
  kids: number[];
}

/** What of one page the elements hold. */
export interface TaggedPage {
  /** Number of the page’s object. */
  id: number;
  /** By the numbers of marked content, from 0, the elements that hold it. */
  parents: number[];
}

/** Something in an element that is on a page: marked content by its number, or the object of a link. */
export type Held = number | { link: number };

/** Entries of an element’s dictionary that say what a figure shows and where it stands, with `y` upwards. */
export const figureAttributes = (alternative: string, box: readonly [number, number, number, number]): string =>
  `/Alt<${utf16Hex(alternative)}>/A<</O/Layout/BBox[${box.map(n).join(' ')}]>>`;

/** Those of a cell. `heads`: what it heads. */
export const cellAttributes = (span: number, heads: 'Column' | 'Row' | null): string => {
  if (span === 1 && !heads) return '';
  return `/A<</O/Table${heads ? `/Scope/${heads}` : ''}${span > 1 ? `/ColSpan ${span}` : ''}>>`;
};

/** The tree by which the content of a file is read aloud and taken out (ISO 32000-1, 14.7). It is written as it grows. */
export class StructureTree {
  private readonly root: KitReference;
  readonly top: OpenElement;
  /** Entries of the tree of parents by their keys; each is the number of an object. */
  private readonly entries: number[] = [];

  constructor(
    private readonly document: KitDocument,
    private readonly objects: PdfObjects,
  ) {
    this.root = document.ref({ Type: 'StructTreeRoot' });
    this.top = { id: objects.reserve(1), type: 'Document', parent: this.root.id, attributes: '', kids: [] };
  }

  /** An element that holds others; it is written by {@link end}. */
  begin(type: ElementType, parent: OpenElement, attributes = ''): OpenElement {
    const id = this.objects.reserve(1);
    parent.kids.push(id);
    return { id, type, parent: parent.id, attributes, kids: [] };
  }

  end(element: OpenElement): void {
    const { id, type, parent, attributes, kids } = element;
    if (kids.length >= LONG_LIST && attributes === '') this.endLong(element);
    else
      this.objects.put(
        id,
        `<</S/${type}/P ${parent} 0 R${attributes}/K[${kids.map((kid) => `${kid} 0 R`).join(' ')}]>>`,
      );
  }

  /** An element with so much in it that its list stands apart. */
  private endLong({ id, type, parent, kids }: OpenElement): void {
    const list = this.list(kids);
    this.objects.put(id, `<</S/${type}/P ${parent} 0 R/K ${list} 0 R>>`);
  }

  /** A list of references, as an object of its own. */
  private list(ids: readonly number[]): number {
    const lists = this.objects.ofLength(LIST);
    const list = lists.next();
    lists.object('[').text('[');
    for (const id of ids) lists.line('').reference(id);
    lists.line(']').text(']');
    return list;
  }

  /** A row of a table, whose cells are given by what is to make them. */
  row(table: OpenElement, cells: (row: OpenElement) => void, count: number): void {
    // As long as all rows with so many cells.
    const rows = this.objects.ofLength(48 + count * 12);
    const id = rows.next();
    table.kids.push(id);
    const row: OpenElement = { id, type: 'TR', parent: table.id, attributes: '', kids: [] };
    cells(row);
    rows.object(`TR ${row.kids.length}`).text('<</S/TR/P ').reference(row.parent).text('/K[');
    for (const kid of row.kids) rows.reference(kid).text(' ');
    rows.text(']>>');
  }

  /** An element with what it holds of a page; gives its number. */
  leaf(type: ElementType, parent: OpenElement, page: TaggedPage, held: readonly Held[], attributes = ''): number {
    const [only] = held;
    const leaves =
      attributes === '' && typeof only === 'number' && held.length === 1
        ? this.objects.ofLength(LEAF + type.length)
        : null;
    const id = leaves?.next() ?? this.objects.reserve(1);
    parent.kids.push(id);
    this.hold(id, page, held);
    if (leaves)
      leaves
        .object(type)
        .text(`<</S/${type}/P `)
        .reference(parent.id)
        .text('/Pg ')
        .reference(page.id)
        .text('/K ')
        .number(only as number, 6)
        .text('>>');
    else this.putLeaf(id, type, parent.id, page, held, attributes);
    return id;
  }

  /** An element whose content is marked later: {@link fill} writes it. */
  later(parent: OpenElement): number {
    const id = this.objects.reserve(1);
    parent.kids.push(id);
    return id;
  }

  fill(id: number, type: ElementType, parent: number, page: TaggedPage, held: readonly Held[]): void {
    this.hold(id, page, held);
    this.putLeaf(id, type, parent, page, held, '');
  }

  private hold(id: number, page: TaggedPage, held: readonly Held[]): void {
    for (const one of held) if (typeof one === 'number') page.parents[one] = id;
  }

  private putLeaf(
    id: number,
    type: ElementType,
    parent: number,
    page: TaggedPage,
    held: readonly Held[],
    attributes: string,
  ): void {
    const kids = held.map((one) =>
      typeof one === 'number' ? `${one}` : `<</Type/OBJR/Pg ${page.id} 0 R/Obj ${one.link} 0 R>>`,
    );
    const content = held.length === 0 ? '' : `/Pg ${page.id} 0 R/K[${kids.join(' ')}]`;
    this.objects.put(id, `<</S/${type}/P ${parent} 0 R${attributes}${content}>>`);
  }

  /** A key in the tree of parents: for a page, or for a link. */
  key(): number {
    this.entries.push(0);
    return this.entries.length - 1;
  }

  /** Says which element a link is in. */
  linkIn(key: number, element: number): void {
    this.entries[key] = element;
  }

  /** Says which elements hold what of a page; nothing is marked on it any more. */
  pageDone(key: number, { parents }: TaggedPage): void {
    this.entries[key] = this.list(parents);
  }

  /** Completes it. */
  close(): void {
    const { root, top, objects, entries } = this;
    this.end(top);
    const leaves: string[] = [];
    for (let from = 0; from < entries.length; from += ENTRIES) {
      const id = objects.reserve(1);
      const part = entries.slice(from, from + ENTRIES);
      const pairs = part.flatMap((object, i) => (object === 0 ? [] : [`${from + i} ${object} 0 R`]));
      objects.put(id, `<</Limits[${from} ${from + part.length - 1}]/Nums[${pairs.join(' ')}]>>`);
      leaves.push(`${id} 0 R`);
    }
    const parents = objects.reserve(1);
    objects.put(parents, `<</Kids[${leaves.join(' ')}]>>`);
    Object.assign(root.data, {
      K: new Reference(top.id),
      ParentTree: new Reference(parents),
      ParentTreeNextKey: entries.length,
    });
    // Both are ended with the document.
    this.document._root.data.StructTreeRoot = root;
    this.document._root.data.MarkInfo = this.document.ref({ Marked: true });
  }
}
