import { comparePages, type Difference, type TextMark } from '@gaveta/core/internal';
import type { Kept } from './kept.ts';

/** What differs from what is kept: whole pages and marks, and values that have a name. */
export interface Differences {
  pages: Difference[];
  /** In words. */
  totals: string[];
}

const shownValue = (value: string | null | undefined): string =>
  value == null ? 'none' : value === '' ? 'blank' : value;

export const differencesOf = (before: Kept, now: Kept): Differences => {
  const totals: string[] = [];
  for (const name of new Set([...Object.keys(before.totals), ...Object.keys(now.totals)]))
    if (before.totals[name] !== now.totals[name])
      totals.push(`Total “${name}” was ${shownValue(before.totals[name])}, is ${shownValue(now.totals[name])}`);
  if (before.pageCount !== now.pageCount) totals.push(`The run had ${before.pageCount} pages, has ${now.pageCount}`);
  return { pages: comparePages(before.pages, now.pages), totals };
};

const place = ({ x, y }: { x: number; y: number }): string => `${x.toFixed(1)}, ${y.toFixed(1)}`;
const at = (mark: TextMark): string => `${place(mark)} pt`;
const look = ({ font, size, color }: TextMark): string => `${font}, ${size} pt, ${color}`;

/** One difference in words, as `page 2: “12.00” was “13.00” at 312.0, 140.5 pt`. */
export const differenceText = (one: Difference): string => {
  const page = `page ${one.page}`;
  switch (one.kind) {
    case 'page-missing':
      return `${page} is gone`;
    case 'page-new':
      return `${page} is new`;
    case 'page-size':
      return `${page}: the paper was ${one.was} pt, is ${one.is} pt`;
    case 'text-changed':
      return `${page}: “${one.was.text}” became “${one.is.text}” at ${at(one.is)}`;
    case 'text-moved':
      return `${page}: “${one.is.text}” moved from ${place(one.was)} to ${at(one.is)}`;
    case 'text-look': {
      const [was, is] = [look(one.was), look(one.is)];
      return was === is
        ? `${page}: “${one.is.text}” at ${at(one.is)} differs in what is not seen: its width, link or part`
        : `${page}: “${one.is.text}” at ${at(one.is)} was ${was}, is ${is}`;
    }
    case 'text-missing':
      return `${page}: “${one.was.text}” at ${at(one.was)} is gone`;
    case 'text-new':
      return `${page}: “${one.is.text}” at ${at(one.is)} is new`;
    case 'marks':
      return `${page}: lines, boxes, pictures or links differ: ${one.was.length} accepted, ${one.is.length} now`;
    default:
      return one satisfies never;
  }
};
