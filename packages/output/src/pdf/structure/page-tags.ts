import type { LinkMark, Mark, RegionMark, SlotMark } from '@gaveta/core/internal';
import { type Group, isDrawn } from './groups.ts';
import type { ElementType, TaggedPage } from './tree.ts';

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
export interface Awaited {
  mark: SlotMark;
  id: number;
  parent: number;
  type: ElementType;
  /** Object of the link around them. */
  link: LinkObject | null;
}

/** Everything that is drawn as decoration. */
export const drawn = (marks: readonly Mark[]): (number | null | undefined)[] =>
  marks.map((mark) => (mark.kind === 'text' || isDrawn(mark) ? null : undefined));

/** One page while it is tagged. */
export class PageTags implements TaggedPage {
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

/** What a line stands among. */
export interface Around {
  page: PageTags;
  /** The band that it is of; null where none is known. */
  region: RegionMark | null;
  groups: readonly Group[];
  /** Links by the marks that stand in them. */
  over: ReadonlyMap<number, number>;
}

/** Whether a group is words that are there, without a link. */
export const isPlainText = ({ kind, isLate, marks }: Group, { over }: Pick<Around, 'over'>): boolean =>
  kind === 'text' && !isLate && (over.size === 0 || !marks.some((at) => over.has(at)));

/** The same of words that are nothing of their own, as a heading or an item of a list is. */
export const isPlainWords = (group: Group, around: Pick<Around, 'over'>): boolean =>
  (group.as === undefined || group.as === 'header') && isPlainText(group, around);
