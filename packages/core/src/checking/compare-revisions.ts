import type { Item, Report } from '../definition/schema.ts';
import { type Mark, markExtent, type Page } from '../page/page.ts';
import { comparePages, type Difference, keptPage } from './compare-pages.ts';

/** `apart`: it stands on this page, and not on the other one. */
export type HowMarked = 'changed' | 'apart' | 'moved';

/** A place on a page that differs from the page of the other revision. Lengths in points from the page’s top left corner. */
export interface MarkedPlace {
  /** From 1. */
  page: number;
  x: number;
  y: number;
  width: number;
  height: number;
  how: HowMarked;
}

/** What differs between the pages of two revisions, as places on the pages of each, from top to bottom. */
export interface ComparedPages {
  older: MarkedPlace[];
  newer: MarkedPlace[];
  /** Places that somebody goes through one after the other: each difference once. */
  steps: { page: number; y: number }[];
}

/** A total as it stands on the pages of both; null where it does not. */
export interface ComparedTotal {
  item: Item;
  was: string | null;
  is: string | null;
}

const placeOf = (page: number, mark: Mark, how: HowMarked): MarkedPlace | null => {
  const [top, bottom] = markExtent(mark);
  const x = 'x' in mark ? mark.x : null;
  const width = 'width' in mark ? mark.width : null;
  if (x === null || width === null || !Number.isFinite(top + bottom)) return null;
  return { page, x, y: top, width, height: Math.max(1, bottom - top), how };
};

const placesOf = (one: Difference): { older: MarkedPlace[]; newer: MarkedPlace[] } => {
  const at = (mark: Mark, how: HowMarked): MarkedPlace[] => {
    const place = placeOf(one.page, mark, how);
    return place ? [place] : [];
  };
  switch (one.kind) {
    case 'text-changed':
    case 'text-look':
      return { older: at(one.was, 'changed'), newer: at(one.is, 'changed') };
    case 'text-moved':
      return { older: at(one.was, 'moved'), newer: at(one.is, 'moved') };
    case 'text-missing':
      return { older: at(one.was, 'apart'), newer: [] };
    case 'text-new':
      return { older: [], newer: at(one.is, 'apart') };
    case 'marks':
      return {
        older: one.was.flatMap((mark) => at(mark, 'apart')),
        newer: one.is.flatMap((mark) => at(mark, 'apart')),
      };
    case 'page-size':
    case 'page-missing':
    case 'page-new':
      return { older: [], newer: [] };
    default:
      return one satisfies never;
  }
};

/** Points between two differences that one looks at together. */
const TOGETHER = 40;

/** Holds the pages of two revisions to one another, page by page; a page that only one of them has is marked nowhere. */
export const compareRevisions = (before: readonly Page[], after: readonly Page[]): ComparedPages => {
  const found: ComparedPages = { older: [], newer: [], steps: [] };
  const pages = new Set(after.map(({ number }) => number));
  const both = before.filter(({ number }) => pages.has(number));
  const last = Math.max(0, ...both.map(({ number }) => number));
  for (const one of comparePages(both.map(keptPage), after.filter(({ number }) => number <= last).map(keptPage))) {
    const { older, newer } = placesOf(one);
    found.older.push(...older);
    found.newer.push(...newer);
  }
  // What only moved follows from something else.
  const told = [...found.older, ...found.newer].filter(({ how }) => how !== 'moved');
  for (const { page, y } of (told.length > 0 ? told : found.newer).sort((a, b) => a.page - b.page || a.y - b.y)) {
    const before = found.steps.at(-1);
    if (before?.page !== page || y - before.y > TOGETHER) found.steps.push({ page, y });
  }
  return found;
};

const hasFormula = (item: Item): boolean =>
  item.kind === 'field'
    ? true
    : item.kind === 'text' && item.content.some((piece) => typeof piece === 'object' && 'formula' in piece);

/** A field that counts something, as a figure at the head of a report. */
const isTotal = (item: Item): boolean => item.kind === 'field' && item.formula.includes('(');

/** Items that show totals of all rows: of the report’s footer and of those of its outermost drawers, and figures at its head. */
const totalItems = ({ header, footer, body }: Report): Item[] => [
  ...(header?.items ?? []).filter(isTotal),
  ...body.flatMap((drawer) => (drawer.footer?.items ?? []).filter(hasFormula)),
  ...(footer?.items ?? []).filter(hasFormula),
];

/** The words of an item on the last page that shows it. */
const wordsOf = (pages: readonly Page[], item: string): string | null => {
  for (let i = pages.length - 1; i >= 0; i--) {
    const texts = pages[i]!.marks.flatMap((mark) => (mark.kind === 'text' && mark.item === item ? [mark] : []));
    if (texts.length > 0)
      return texts
        .sort((a, b) => a.y - b.y || a.x - b.x)
        .map(({ text }) => text)
        .join(' ');
  }
  return null;
};

/** The totals of two revisions, in the order in which they stand in the newer one; those that are gone last. */
export const compareTotals = (
  older: { report: Report; pages: readonly Page[] },
  newer: { report: Report; pages: readonly Page[] },
): ComparedTotal[] => {
  const now = totalItems(newer.report);
  const ids = new Set(now.map(({ id }) => id));
  return [...now, ...totalItems(older.report).filter(({ id }) => !ids.has(id))]
    .map((item) => ({ item, was: wordsOf(older.pages, item.id), is: wordsOf(newer.pages, item.id) }))
    .filter(({ was, is }) => was !== null || is !== null);
};
