import type { SlotMark } from '@gaveta/core/internal';
import type { Group } from './groups.ts';
import { type Around, isPlainText, isPlainWords, type PageTags } from './page-tags.ts';
import type { ShapeCell } from './shapes.ts';
import { type ElementType, figureAttributes, type Held, type OpenElement, type StructureTree } from './tree.ts';

/** A cell or paragraph that was tagged, with its marks. */
export interface Told extends ShapeCell {
  isCell: boolean;
  marks: readonly number[];
}

/** Puts what stands below one another into the tree: paragraphs, headings, lists, contents, figures and links. */
export class Reading {
  private contents: OpenElement | null = null;
  private list: { element: OpenElement; item: string } | null = null;
  /** Level of the last heading, and of the last one in the outline. */
  private level = 0;
  private outlined = 0;
  /** What the band whose turn it is is tagged as; null once it is more than cells or paragraphs. */
  told: Told[] | null = null;

  constructor(private readonly tree: StructureTree) {}

  get hasContents(): boolean {
    return this.contents !== null;
  }

  /** Texts of one line, which are read as one paragraph. */
  sentence(groups: readonly Group[], { page }: Around): void {
    this.endList();
    this.endContents();
    for (const { marks } of groups.slice(0, -1)) page.spaced.add(marks.at(-1)!);
    const marks = groups.flatMap((group) => group.marks);
    this.told?.push({ type: 'P', attributes: '', start: 0, span: 1, isCell: false, marks });
    this.tree.leaf('P', this.tree.top, page, page.hold(marks, 'P'));
  }

  endList(): void {
    if (this.list) this.tree.end(this.list.element);
    this.list = null;
  }

  endContents(): void {
    if (this.contents) this.tree.end(this.contents);
    this.contents = null;
  }

  /** Groups below one another. */
  flow(groups: readonly Group[], parent: OpenElement, around: Around): void {
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
  unlinked(page: PageTags): void {
    for (const { at } of page.linkMarks) {
      if (page.linked.has(at)) continue;
      const paragraph = this.tree.begin('P', this.tree.top);
      this.link(at, [], paragraph, { page });
      this.tree.end(paragraph);
    }
  }
}
