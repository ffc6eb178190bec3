import type { Mark, MarkKind, Page, TextMark } from '../page/page.ts';

/** Marks that are seen, or lead somewhere. */
const SEEN: ReadonlySet<MarkKind> = new Set<MarkKind>([
  'text',
  'line',
  'rectangle',
  'picture',
  'shape',
  'path',
  'figure',
  'link',
]);

/** Lengths as they are kept: hundredths of a point. */
const rounded = (_: string, value: unknown): unknown =>
  typeof value === 'number' ? Math.round(value * 100) / 100 : value;

/** Without the way to the rows behind a part of a drawing, which is neither seen nor leads anywhere on paper. */
const withoutCell = (mark: Mark): Mark => {
  if (!('to' in mark && mark.to && 'cell' in mark.to)) return mark;
  const { to: _, ...rest } = mark;
  return rest as Mark;
};

/** A page as it is kept, to be held to a later one: what is seen of it, with lengths in hundredths of a point. */
export const keptPage = ({ number, width, height, marks }: Page): Page => {
  const seen = marks.filter(({ kind }) => SEEN.has(kind)).map(withoutCell);
  return JSON.parse(JSON.stringify({ number, width, height, marks: seen }, rounded)) as Page;
};

/** What differs between a page as it was kept and as it is. */
export type Difference =
  | { kind: 'page-missing' | 'page-new'; page: number }
  | { kind: 'page-size'; page: number; was: string; is: string }
  /** At the same place, with other words. */
  | { kind: 'text-changed'; page: number; was: TextMark; is: TextMark }
  /** With the same words, at another place. */
  | { kind: 'text-moved'; page: number; was: TextMark; is: TextMark }
  /** With the same words at the same place, in another font, size or color. */
  | { kind: 'text-look'; page: number; was: TextMark; is: TextMark }
  | { kind: 'text-missing'; page: number; was: TextMark }
  | { kind: 'text-new'; page: number; is: TextMark }
  /** Lines, rectangles, pictures and the like: those that are gone, and those that came. */
  | { kind: 'marks'; page: number; was: Mark[]; is: Mark[] };

/** Points within which a text stands where it stood. */
const NEAR = 0.05;

const sorted = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(sorted)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.entries(value)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([key, one]) => [key, sorted(one)]),
        )
      : value;

/** Both lists without what they have in common. */
const apart = (before: readonly Mark[], after: readonly Mark[]): [Mark[], Mark[]] => {
  const counts = new Map<string, number>();
  const keys = after.map((mark) => JSON.stringify(sorted(mark)));
  for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1);
  const left = before.filter((mark) => {
    const key = JSON.stringify(sorted(mark));
    const count = counts.get(key) ?? 0;
    if (count > 0) counts.set(key, count - 1);
    return count === 0;
  });
  // Of marks that are alike, the last are what is left over.
  const right = after.filter((_, i) => {
    const count = counts.get(keys[i]!)!;
    if (count > 0) counts.set(keys[i]!, count - 1);
    return count > 0;
  });
  return [left, right];
};

const isText = (mark: Mark): mark is TextMark => mark.kind === 'text';

const distance = (a: TextMark, b: TextMark): number =>
  Math.abs(a.y - b.y) * 4 +
  Math.min(
    Math.abs(a.x - b.x),
    Math.abs(a.x + a.width - b.x - b.width),
    Math.abs(a.x + a.width / 2 - b.x - b.width / 2),
  );

/** Takes the nearest out of a list that something holds for. */
const takeNearest = (list: TextMark[], to: TextMark, fits: (one: TextMark) => boolean): TextMark | null => {
  let best = -1;
  for (const [i, one] of list.entries())
    if (fits(one) && (best < 0 || distance(one, to) < distance(list[best]!, to))) best = i;
  return best < 0 ? null : list.splice(best, 1)[0]!;
};

const textDifferences = (page: number, before: TextMark[], after: TextMark[]): Difference[] => {
  const found: Difference[] = [];
  const came = [...after];
  const changed: TextMark[] = [];
  for (const was of before) {
    const is = takeNearest(came, was, ({ text, item }) => text === was.text && item === was.item);
    if (!is) changed.push(was);
    else if (Math.abs(is.x - was.x) > NEAR || Math.abs(is.y - was.y) > NEAR)
      found.push({ kind: 'text-moved', page, was, is });
    else found.push({ kind: 'text-look', page, was, is });
  }
  for (const was of changed) {
    // Of the same item on the same line: where its text ends, begins or has its middle.
    const is = takeNearest(came, was, (one) => one.item === was.item && Math.abs(one.y - was.y) < was.size / 2);
    found.push(is ? { kind: 'text-changed', page, was, is } : { kind: 'text-missing', page, was });
  }
  return [...found, ...came.map((is): Difference => ({ kind: 'text-new', page, is }))];
};

/** The mark that a difference is read at. */
const top = (one: Difference): number =>
  'was' in one && typeof one.was === 'object' && !Array.isArray(one.was)
    ? one.was.y
    : one.kind === 'text-new'
      ? one.is.y
      : Number.POSITIVE_INFINITY;

const size = ({ width, height }: Page): string => `${width.toFixed(1)} x ${height.toFixed(1)}`;

/** What differs between pages of {@link keptPage} as they were and as they are, page by page from top to bottom. */
export const comparePages = (before: readonly Page[], after: readonly Page[]): Difference[] => {
  const now = new Map(after.map((page) => [page.number, page]));
  const then = new Set(before.map(({ number }) => number));
  const found: Difference[] = [];
  for (const was of before) {
    const page = was.number;
    const is = now.get(page);
    if (!is) {
      found.push({ kind: 'page-missing', page });
      continue;
    }
    if (size(was) !== size(is)) found.push({ kind: 'page-size', page, was: size(was), is: size(is) });
    const [gone, came] = apart(was.marks, is.marks);
    const texts = textDifferences(page, gone.filter(isText), came.filter(isText));
    found.push(...texts.sort((a, b) => top(a) - top(b)));
    const [left, right] = [gone, came].map((list) => list.filter((mark) => !isText(mark)));
    if (left!.length + right!.length > 0) found.push({ kind: 'marks', page, was: left!, is: right! });
  }
  for (const { number } of after) if (!then.has(number)) found.push({ kind: 'page-new', page: number });
  return found;
};
