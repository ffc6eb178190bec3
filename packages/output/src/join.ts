import type { LinkTarget, Mark, OutlineMark, Page } from '@gaveta/core/internal';

/** A report among others in one file. */
export interface JoinedPart {
  /** Its entry in the outline. */
  title: string;
  /** Its place among them, from 0, and how many pages come before it. */
  index: number;
  offset: number;
}

const targetIn = (to: LinkTarget, { index }: JoinedPart): LinkTarget =>
  'anchor' in to ? { anchor: `${index} ${to.anchor}` } : to;

/** Marks of a report whose anchors are its own, and whose outline lies under its title. */
export const joinedMarks = (marks: readonly Mark[], part: JoinedPart): Mark[] =>
  marks.map((mark): Mark => {
    if (mark.kind === 'anchor') return { ...mark, name: `${part.index} ${mark.name}` };
    if (mark.kind === 'outline') return { ...mark, level: mark.level + 1 };
    if (mark.kind === 'link') return { ...mark, to: targetIn(mark.to, part) };
    return 'to' in mark && mark.to ? { ...mark, to: targetIn(mark.to, part) } : mark;
  });

/** A page of a report in a file of several: numbered on through all of them, and as it says itself in its own. */
export const joinedPage = (page: Page, part: JoinedPart): Page => {
  const { number, partNumber = number } = page;
  const title: OutlineMark = { kind: 'outline', level: 1, title: part.title, x: 0, y: 0 };
  const marks = joinedMarks(page.marks, part);
  return { ...page, number: number + part.offset, partNumber, marks: number === 1 ? [title, ...marks] : marks };
};
